import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { PGlite } from '@electric-sql/pglite';
import { join } from 'node:path';
import { demoPlan, soundPlan } from '../../core/testing/plans.ts';
import { memoryStore, migrations, movedClock, root } from '../testing/store.ts';
import { seedDemoSites } from '../folder/seed.ts';
import { dump } from '../keeping/dump.ts';
import { asRefusal } from '../refusal.ts';
import { NotWritable } from './guard.ts';
import { lookThrough } from './integrity.ts';
import { openStore, type Store } from './store.ts';

let store: Store;
let clock: ReturnType<typeof movedClock>;
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
  clock.later(minutes);
};
const planOf = async (id: string, number?: number) => {
  const found = await (number === undefined ? store.read(id) : store.revision(id, number));
  return found.kind === 'found' ? found.saved.plan : undefined;
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
    await store.settled();
    const numbers = (await store.revisions('long')).map(({ revision }) => revision);
    expect(numbers[0]).toBe(801);
    expect(numbers).toEqual(expect.arrayContaining([1, 7]));
    // Eight hours of a save every two minutes, one for each of the about 19 hours before, the first and the one with
    // a record; at most fifty saves have come since the last thinning.
    expect(numbers.length).toBeLessThanOrEqual(240 + 20 + 2 + 50);
    expect(numbers).toEqual(expect.arrayContaining(Array.from({ length: 240 }, (_, index) => 801 - index)));
    const afterOne = await bytes();
    await day(800);
    await store.settled();
    expect(await bytes()).toBeLessThan(afterOne * 1.6);
    expect((await planOf('long', 7))?.site.notes).toContain('save 6');
    expect(await store.revision('long', 8)).toEqual({ kind: 'missing' });
  }, 120_000);

  test('the newest one is always the site as it is', async () => {
    const [newest] = await store.revisions('long');
    expect(await store.read('long')).toMatchObject({ kind: 'found', saved: newest });
    expect(await planOf('long', newest!.revision)).toEqual(await planOf('long'));
  });

  test('a save on a revision of the future, or on a site that is gone, lands nowhere', async () => {
    await store.create('short', noted('as it was'));
    expect(await store.save('short', 9, noted('too far'))).toMatchObject({
      kind: 'stale',
      current: { revision: 1 },
    });
    expect(await store.save('nobody', 1, noted('nowhere'))).toEqual({ kind: 'missing' });
    expect((await planOf('short'))?.site.notes).toBe('as it was');
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

  test('a site goes to the trash with its revisions and records, comes back with them, and is erased by a person only', async () => {
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
    expect(await store.records('leaving')).toBeUndefined();
    expect(await store.save('leaving', 1, noted('too late'))).toEqual({ kind: 'missing' });
    expect(await store.list('leaving', 0, 5)).toMatchObject({ total: 0 });
    expect(await store.trash()).toMatchObject([{ id: 'leaving', revision: 1 }]);
    expect(await store.putBack('leaving')).toBe(true);
    expect(await store.putBack('leaving')).toBe(false);
    expect(await store.records('leaving')).toHaveLength(1);
    await store.remove('leaving');
    expect(await store.erase('quay')).toBe(false);
    expect(await store.erase('leaving')).toBe(true);
    expect(await store.trash()).toEqual([]);
    expect((await database.query("select * from records where site_id = 'leaving'")).rows).toEqual([]);
  });
});

describe('how long something lies in the trash', () => {
  const ripe = async (): Promise<boolean> => (await store.trash())[0]!.ripe;
  const day = 24 * 60;

  test('is told by days of use and by the latest time seen: one wrong reading of the clock ends nothing', async () => {
    await store.create('thrown', noted('x'));
    later(-400 * day);
    await store.remove('thrown');
    later(400 * day);
    await store.tidy();
    expect(await ripe()).toBe(false);
    // A clock that jumps to and fro is a few days of use, and no more.
    for (const days of [4000, -4000, 900, -900]) {
      later(days * day);
      await store.tidy();
    }
    expect(await ripe()).toBe(false);
    for (let used = 0; used < 32; used += 1) {
      later(day);
      await store.tidy();
    }
    expect(await ripe()).toBe(true);
    // Nothing goes by itself.
    later(5 * day);
    await store.tidy();
    expect(await store.trash()).toHaveLength(1);
    await store.erase('thrown');
  });
});

describe('what goes wrong', () => {
  test('a damaged revision: the site is named, the rest works, and it goes on from the newest that can be read', async () => {
    await store.create('hurt', noted('first'));
    await store.save('hurt', 1, noted('second'));
    await store.save('hurt', 2, noted('third'));
    await store.settled();
    // As a failing disk leaves it: text that is no plan.
    await database.query(
      `update revisions set plan = '{"format":"nett"}' where site_id = 'hurt' and number = 3`,
    );
    const damaged = { kind: 'damaged', revision: 3, newestReadable: 2 };
    expect(await store.read('hurt')).toEqual(damaged);
    expect(await store.save('hurt', 2, noted('on top of nothing'))).toEqual(damaged);
    expect(await planOf('long')).toBeDefined();
    expect(await store.recover('long')).toBeUndefined();
    expect(await store.recover('hurt')).toMatchObject({ revision: 4 });
    expect((await planOf('hurt'))?.site.notes).toBe('second');
    await database.query("delete from revisions where site_id = 'hurt' and number = 4");
    expect(await store.read('hurt')).toEqual({ kind: 'damaged', revision: 4, newestReadable: 2 });
  });

  test('a lost row of a site: its revisions are found again, backed up, and give it its row back', async () => {
    const { store: torn, database: tornDatabase } = await memoryStore();
    await torn.create('quay', noted('first'));
    await torn.save('quay', 1, noted('second'));
    await torn.create('whole', noted('x'));
    await torn.settled();
    // As a truncated table leaves it: the row is gone, and nothing that referred to it.
    await tornDatabase.exec("set session_replication_role = replica; delete from sites where id = 'quay'");
    await tornDatabase.exec('set session_replication_role = origin');
    expect(await torn.orphans()).toEqual(['quay']);
    expect(await torn.read('quay')).toEqual({ kind: 'damaged', revision: 2, newestReadable: 2 });
    expect(await lookThrough(torn, 5_000)).toMatchObject({ damaged: [{ id: 'quay', newestReadable: 2 }] });
    const kinds: string[] = [];
    for await (const entry of dump(torn.db)) kinds.push(entry.kind === 'site' ? entry.id : entry.kind);
    expect(kinds).toEqual(expect.arrayContaining(['whole', 'quay', 'damaged']));
    expect(await torn.recover('quay')).toMatchObject({ revision: 2 });
    expect(await torn.read('quay')).toMatchObject({ kind: 'found', saved: { revision: 2 } });
    expect(await torn.read('never')).toEqual({ kind: 'missing' });
    await torn.close();
  }, 30_000);

  test('the list finds any word inside a plan, narrows to what is due, and sorts', async () => {
    const { store: desk } = await memoryStore({ clock: () => new Date('2026-11-26T12:00:00Z') });
    const quay = structuredClone(demoPlan('farrow-sound'));
    quay.forwards[0]!.until = '2026-12-10';
    await desk.create('farrow', quay);
    await desk.create('weir', demoPlan('weir-street'));
    await desk.settled();
    const found = async (...query: Parameters<typeof desk.list>): Promise<string[]> =>
      (await desk.list(...query)).rows.map(({ id }) => id);
    expect(await found(quay.devices[0]!.address, 0, 5)).toEqual(['farrow']);
    expect(await found(quay.kit[0]!.serial.toLowerCase(), 0, 5)).toEqual(['farrow']);
    expect(await found(`${quay.site.name} ${quay.site.town}`, 0, 5)).toEqual(['farrow']);
    expect(await found('100%', 0, 5)).toEqual([]);
    expect(await found('', 0, 5, 'due')).toEqual(['farrow']);
    expect(await found('', 0, 5, 'all', 'name')).toEqual(['farrow', 'weir']);
    expect(await desk.due()).toMatchObject({ all: 2, due: 1, unproven: 2 });
    // A record counts: it is looked at again, though the plan did not change.
    const before = (await desk.list('farrow', 0, 1)).rows[0]!.unproven;
    expect(before).toBeGreaterThan(0);
    expect((await desk.habits()).probes).toContain('192.0.2.54');
    await desk.close();
  }, 30_000);

  test('what follows a save cannot fail it, nor is it waited for', async () => {
    let finish = (): void => {};
    const { store: slow } = await memoryStore({
      count: () => new Promise((_, reject) => (finish = () => reject(new Error('too heavy')))),
    });
    await slow.create('heavy', noted('x'));
    expect((await slow.list('', 0, 5)).rows[0]).toMatchObject({ blockers: null, warnings: null });
    expect(await slow.save('heavy', 1, noted('y'))).toMatchObject({ kind: 'saved' });
    finish();
    finish();
    expect((await slow.list('', 0, 5)).rows[0]).toMatchObject({ revision: 2, blockers: null });
  }, 30_000);

  test('nothing is written where it may not be, whatever writes, and reading goes on', async () => {
    let full = false;
    const { store: guardedStore } = await memoryStore({
      mayWrite: () => {
        if (full) throw new NotWritable('disk-full', 'Not saved: the disk is full.');
      },
    });
    await guardedStore.create('kept', noted('x'));
    await guardedStore.settled();
    full = true;
    const tries: (() => Promise<unknown>)[] = [
      () => guardedStore.save('kept', 1, noted('y')),
      () => guardedStore.create('more', noted('z')),
      () => guardedStore.remove('kept'),
      () => guardedStore.setFact('a', 'b'),
      () => guardedStore.templates.put('t', noted('').uplinks[0]!),
      () => guardedStore.vault.make({ salt: '', cost: { memoryKiB: 8, passes: 1, lanes: 1 }, sealedKey: '' }),
      () => guardedStore.tidy(),
    ];
    for (const attempt of tries)
      expect(asRefusal(await attempt().catch((error: unknown) => error))).toMatchObject({
        status: 507,
        code: 'disk-full',
      });
    expect(await guardedStore.read('kept')).toMatchObject({ kind: 'found', saved: { revision: 1 } });
    full = false;
    expect(await guardedStore.save('kept', 1, noted('y'))).toMatchObject({ kind: 'saved' });
  }, 30_000);

  test('a clock that jumps back a year: the newest save is still first, and nothing new is thinned', async () => {
    later(-365 * 24 * 60);
    await store.create('after-the-jump', noted('x'));
    expect((await store.list('', 0, 1)).rows[0]).toMatchObject({ id: 'after-the-jump' });
    later(365 * 24 * 60);
  });

  test('a revision that a print or a file names is kept', async () => {
    expect(await store.keep('long', 9, 'print')).toBe(true);
    expect(await store.keep('long', 9, 'print')).toBe(true);
    expect(await store.keep('nobody', 9, 'file')).toBe(false);
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
    await store.settled();
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
  const plan = (await planOf('older'))!;
  expect(plan).toEqual(noted('from before'));
  expect((await planOf('older', 1))?.vpn.way).toBe('none');
  expect(await store.save('older', 1, plan)).toMatchObject({ kind: 'saved' });
});

describe('a new data folder', () => {
  test('gets the demo sites once: one that was deleted stays deleted', async () => {
    await seedDemoSites(store, join(root, 'demo'));
    expect((await planOf('hollin-edge'))?.site.name).toBe('Hollin Edge campsite');
    await store.remove('hollin-edge');
    await seedDemoSites(store, join(root, 'demo'));
    expect(await store.read('hollin-edge')).toEqual({ kind: 'missing' });
    expect(await planOf('weir-street')).toBeDefined();
  });

  test('is brought up to date once: opening it again changes nothing', async () => {
    const before = await store.list('', 0, 1000);
    const again = await openStore(database, { migrations, clock: clock.now });
    expect(await again.list('', 0, 1000)).toEqual(before);
    expect(await again.fact('demo-sites')).toContain('weir-street');
  });
});
