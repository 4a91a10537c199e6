import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { PGlite } from '@electric-sql/pglite';
import { join } from 'node:path';
import { soundPlan } from '../../core/testing/plans.ts';
import { memoryStore, migrations, root } from '../testing/store.ts';
import { seedDemoSites } from './seed.ts';
import { openStore, type Store } from './store.ts';

let store: Store;
let clock: { now: Date };
let database: PGlite;
beforeAll(async () => {
  ({ store, clock, database } = await memoryStore());
}, 60_000);
afterAll(() => store.close());

const noted = (notes: string) =>
  soundPlan((plan) => {
    plan.site.notes = notes;
  });
const later = (minutes: number): void => {
  clock.now = new Date(clock.now.getTime() + minutes * 60_000);
};
const bytes = async (): Promise<number> => {
  const { rows } = await database.query<{ size: string }>(
    "select pg_total_relation_size('revisions')::text as size",
  );
  return Number(rows[0]!.size);
};

describe('revisions', () => {
  test('a long day of typing is thinned, what records refer to stays, and the folder stops growing', async () => {
    await store.create('long', noted('first'));
    const record = {
      kind: 'tick',
      subject: 'kit',
      initials: 'AB',
      reading: '',
      seenFrom: '',
      revision: 7,
    } as const;
    let base = 1;
    const day = async (saves: number): Promise<void> => {
      for (let save = 0; save < saves; save += 1) {
        later(2);
        const result = await store.save(
          'long',
          base,
          noted(`save ${base} ${'and a line of notes '.repeat(40)}`),
        );
        expect(result.kind).toBe('saved');
        base += 1;
      }
    };
    await day(20);
    await store.addRecord('long', record);
    await day(780);
    const numbers = (await store.revisions('long')).map(({ revision }) => revision);
    expect(numbers[0]).toBe(801);
    expect(numbers).toEqual(expect.arrayContaining([1, 7]));
    // A hundred of the newest, one for each of the about 27 hours, the first and the one with a record; at most
    // fifty saves have come since the last thinning.
    expect(numbers.length).toBeLessThanOrEqual(100 + 28 + 2 + 50);
    const afterOne = await bytes();
    await day(800);
    expect(await bytes()).toBeLessThan(afterOne * 1.6);
    expect((await store.revision('long', 7))?.plan.site.notes).toContain('save 6');
    expect(await store.revision('long', 8)).toBeUndefined();
  }, 120_000);

  test('the newest one is always the site as it is', async () => {
    const [newest] = await store.revisions('long');
    const now = await store.read('long');
    expect(now?.revision).toBe(newest!.revision);
    expect((await store.revision('long', newest!.revision))?.plan).toEqual(now?.plan);
  });

  test('a save on a revision of the future, or on a site that is gone, lands nowhere', async () => {
    await store.create('short', noted('as it was'));
    expect(await store.save('short', 9, noted('too far'))).toMatchObject({
      kind: 'stale',
      current: { revision: 1 },
    });
    expect(await store.save('nobody', 1, noted('nowhere'))).toEqual({ kind: 'missing' });
    expect((await store.read('short'))?.plan.site.notes).toBe('as it was');
    expect(
      await store.addRecord('nobody', {
        kind: 'tick',
        subject: 'kit',
        initials: 'AB',
        reading: '',
        seenFrom: '',
        revision: 1,
      }),
    ).toBeUndefined();
  });

  test('a site takes its revisions and records with it', async () => {
    await store.create('leaving', noted('x'));
    await store.addRecord('leaving', {
      kind: 'evidence',
      subject: 'internet:office',
      initials: 'AB',
      reading: '',
      rung: 'page',
      seenFrom: '',
      revision: 1,
    });
    expect(await store.remove('leaving')).toBe(true);
    expect(await store.remove('leaving')).toBe(false);
    expect(await store.revisions('leaving')).toEqual([]);
    expect(await store.records('leaving')).toEqual([]);
  });
});

describe('the list', () => {
  test('shows the last saved first, counts what the checks find, and pages without gaps', async () => {
    for (let index = 0; index < 25; index += 1) {
      later(1);
      await store.create(
        `page-${index}`,
        soundPlan((plan) => {
          plan.site.name = `Pier ${index}`;
          plan.site.town = index % 2 === 0 ? 'Evenham' : 'Oddham';
          if (index === 3) plan.networks[1]!.prefix = plan.networks[0]!.prefix;
        }),
      );
    }
    const seen: string[] = [];
    for (let offset = 0; offset < 25; offset += 10)
      seen.push(...(await store.list('pier', offset, 10)).rows.map(({ id }) => id));
    expect(seen).toEqual(Array.from({ length: 25 }, (_, index) => `page-${24 - index}`));
    expect(await store.list('evenham', 0, 50)).toMatchObject({ total: 13 });
    const spoiled = (await store.list('Pier 3', 0, 5)).rows.find(({ name }) => name === 'Pier 3');
    expect(spoiled!.blockers).toBeGreaterThan(0);
    expect((await store.list('Pier 4', 0, 5)).rows[0]).toMatchObject({ blockers: 0 });
    expect(await store.list('%', 0, 5)).toEqual({ rows: [], total: 0 });
  });
});

test('a plan that an earlier version saved opens with what came since, and is saved again', async () => {
  await store.create('older', noted('from before'));
  // As it lay there before a line was watched and anybody came in from outside.
  await database.query(
    `update revisions set plan = ((plan::jsonb - 'failover' - 'vpn') #- '{uplinks,0,watch}' #- '{uplinks,0,failures}')::json
     where site_id = 'older'`,
  );
  const found = (await store.read('older'))!;
  expect(found.plan).toEqual(noted('from before'));
  expect((await store.revision('older', 1))!.plan.vpn.way).toBe('none');
  expect(await store.save('older', 1, found.plan)).toMatchObject({ kind: 'saved' });
});

describe('a new data folder', () => {
  test('gets the demo sites once: one that was deleted stays deleted', async () => {
    await seedDemoSites(store, join(root, 'demo'));
    expect((await store.read('hollin-edge'))?.plan.site.name).toBe('Hollin Edge campsite');
    await store.remove('hollin-edge');
    await seedDemoSites(store, join(root, 'demo'));
    expect(await store.read('hollin-edge')).toBeUndefined();
    expect(await store.read('weir-street')).toBeDefined();
  });

  test('is brought up to date once: opening it again changes nothing', async () => {
    const before = await store.list('', 0, 1000);
    const again = await openStore(database, migrations, () => clock.now);
    expect(await again.list('', 0, 1000)).toEqual(before);
    expect(await again.fact('demo-sites')).toContain('weir-street');
  });
});
