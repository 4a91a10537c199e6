import { expect, test } from '@jest/globals';
import { soundPlan } from '../../core/testing/plans.ts';
import { memoryStore, migrations } from '../testing/store.ts';
import { Later } from './later.ts';
import { openStore } from './store.ts';

/** Longer than any test runs. */
const never = 1_000_000;

test('what was put off is done once, the last of its name, as soon as it is wanted', async () => {
  const later = new Later();
  const done: string[] = [];
  const all = new Promise<void>((resolve) => {
    const work = (name: string) => async (): Promise<void> => void done.push(name);
    later.putOff('quay', never, work('first'));
    later.putOff('mill', never, work('mill'));
    later.putOff('quay', never, async () => {
      done.push('second');
      resolve();
    });
  });
  expect(done).toEqual([]);
  later.wanted();
  await all;
  await later.settled();
  expect(done.sort()).toEqual(['mill', 'second']);
});

test('nothing that was put off begins after the end', async () => {
  const later = new Later();
  let begun = false;
  later.putOff('quay', 0, async () => void (begun = true));
  await later.end();
  await new Promise((resolve) => setTimeout(resolve, 5));
  later.wanted();
  await later.settled();
  expect(begun).toBe(false);
});

test('a site is not counted at each save; one that was not counted at the end is counted after the next start', async () => {
  const seen: string[] = [];
  const count: NonNullable<Parameters<typeof memoryStore>[0]>['count'] = async (plan) => {
    seen.push(plan.site.notes);
    return { blockers: 3, warnings: 4, desk: null };
  };
  const noted = (notes: string) => soundPlan((plan) => void (plan.site.notes = notes));
  const { store, database } = await memoryStore({
    count: async () => ({ blockers: null, warnings: null, desk: null }),
  });
  await store.create('quay', noted('first'));
  await store.save('quay', 1, noted('second'));
  const next = await openStore(database, { migrations, count });
  await next.settled();
  await next.settled();
  expect(seen).toEqual(['second']);
  await next.save('quay', 2, noted('third'));
  await next.save('quay', 3, noted('fourth'));
  await next.settled();
  expect(seen).toEqual(['second', 'fourth']);
  expect((await next.list('', 0, 10)).rows).toMatchObject([{ id: 'quay', blockers: 3, warnings: 4 }]);
  await next.close();
});
