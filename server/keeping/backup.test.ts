import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { mergePlans, type Plan } from '../../core/index.ts';
import { soundPlan } from '../../core/testing/plans.ts';
import type { Store } from '../store/store.ts';
import { memoryStore, type movedClock } from '../testing/store.ts';
import { Vault } from '../vault/vault.ts';
import { NoBackup, readBackupFile } from './backup-file.ts';
import { bringIn, compareBackup, divergence, settleDivergence } from './bring-in.ts';
import { backUp, backupsToDrop } from './daily.ts';
import { relationOf } from './relation.ts';

const folder = mkdtempSync(join(tmpdir(), 'netter-backup-'));
const cheap = { memoryKiB: 8, passes: 1, lanes: 1 };
const now = new Date('2026-03-02T09:00:00Z');
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Laptop {
  readonly store: Store;
  readonly clock: ReturnType<typeof movedClock>;
  readonly vault: Vault;
}
const laptop = async (): Promise<Laptop> => {
  const { store, clock } = await memoryStore();
  return { store, clock, vault: new Vault(store.vault, { clocks: clock, cost: cheap }) };
};
const noted = (notes: string, town = 'Evenham'): Plan =>
  soundPlan((plan) => {
    plan.site.notes = notes;
    plan.site.town = town;
  });
const planOf = async ({ store }: Laptop, id: string): Promise<Plan | undefined> => {
  const found = await store.read(id);
  return found.kind === 'found' ? found.saved.plan : undefined;
};
let files = 0;
const backupOf = async ({ store }: Laptop): Promise<string> => {
  const path = join(folder, `backup-${(files += 1)}.jsonl.gz`);
  await backUp(store, path, 'test', now);
  return path;
};
const record = (subject: string, revision: number) =>
  ({ kind: 'tick', subject, initials: 'AB', reading: '4 of 4', seenFrom: '', revision }) as const;

let one: Laptop;
let two: Laptop;
beforeAll(async () => {
  [one, two] = [await laptop(), await laptop()];
  await one.store.create('quay', noted('first'));
  one.clock.later(1);
  await one.store.save('quay', 1, noted('second'));
  await one.store.addRecord('quay', record('kit', 2));
  await one.store.keep('quay', 1, 'print');
  await one.store.create('thrown', noted('away'));
  await one.store.remove('thrown');
  await one.store.templates.put('Town fibre', soundPlan().uplinks[0]!);
  await one.vault.make('harbour lantern quietly seven otters');
  await one.vault.put('quay', 'fibre', 'line-p4ss');
  await one.vault.put('quay', 'gone', 'removed-p4ss');
  await one.vault.remove('quay', 'gone');
}, 60_000);
afterAll(async () => {
  await one.store.close();
  await two.store.close();
});

describe('the file', () => {
  test('any tool reads it: gzip, JSON, and a hash that a general tool computes as well', async () => {
    const path = await backupOf(one);
    expect(statSync(path).mode & 0o777).toBe(0o600);
    const unpacked = spawnSync('gzip', ['-dc', path], { encoding: 'utf8' }).stdout;
    const lines = unpacked.trimEnd().split('\n');
    const end = JSON.parse(lines.at(-1)!) as { lines: number; sha256: string };
    expect(end.lines).toBe(lines.length - 1);
    const before = unpacked.slice(0, unpacked.trimEnd().lastIndexOf('\n') + 1);
    expect(spawnSync('sha256sum', { input: before, encoding: 'utf8' }).stdout.slice(0, 64)).toBe(end.sha256);
    expect(unpacked).not.toMatch(/line-p4ss|removed-p4ss|otters/);
  });

  test('cut short or changed anywhere, it is refused in a sentence, and never half taken', async () => {
    const whole = readFileSync(await backupOf(one));
    const path = join(folder, 'hurt.jsonl.gz');
    const refused = async (): Promise<unknown> => {
      try {
        for await (const _ of readBackupFile(path));
        return undefined;
      } catch (error) {
        return error;
      }
    };
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: whole.length - 1 }),
        fc.integer({ min: 1, max: 255 }),
        async (at, by) => {
          const changed = Buffer.from(whole);
          changed[at]! ^= by;
          writeFileSync(path, changed);
          const error = await refused();
          // What the compression does not look at (a flag, a time in its head) changes nothing that is read.
          if (error === undefined) expect(gunzipSync(changed)).toEqual(gunzipSync(whole));
          else expect(error).toBeInstanceOf(NoBackup);
          writeFileSync(path, whole);
          truncateSync(path, at);
          expect(await refused()).toBeInstanceOf(NoBackup);
        },
      ),
      { numRuns: 60 },
    );
    // Whoever changes a line and leaves the rest is found out by the hash.
    writeFileSync(path, gzipSync(gunzipSync(whole).toString().replace('"second"', '"better"')));
    expect(String(await refused())).toMatch(/damaged/);
    writeFileSync(path, 'no gzip at all');
    expect(String(await refused())).toMatch(/not a backup/);
  });
});

describe('from one laptop to another', () => {
  test('everything comes: sites, revisions, records, trash, templates, the sealed vault; and again changes nothing', async () => {
    const path = await backupOf(one);
    expect(await compareBackup(two.store, path)).toMatchObject({
      sites: [
        { id: 'quay', relation: 'new', revision: 2, secrets: 1 },
        { id: 'thrown', relation: 'new' },
      ],
      vault: 'new',
      templates: 1,
      damaged: [],
    });
    expect(await bringIn(two.store, path)).toMatchObject({
      added: 2,
      secrets: 1,
      secretsLeft: 0,
      templates: 1,
    });
    expect(await planOf(two, 'quay')).toEqual(noted('second'));
    expect(await two.store.revisions('quay')).toEqual(await one.store.revisions('quay'));
    expect(await two.store.records('quay')).toMatchObject([{ subject: 'kit', revision: 2 }]);
    expect(await two.store.trash()).toMatchObject([{ id: 'thrown' }]);
    await two.vault.unlock('harbour lantern quietly seven otters');
    expect(await two.vault.reveal('quay', 'fibre')).toBe('line-p4ss');
    expect(await two.vault.trash('quay')).toMatchObject([{ name: 'gone' }]);
    const before = await backupOf(two);
    expect(await bringIn(two.store, path)).toMatchObject({ added: 0, updated: 0, unchanged: 2, secrets: 0 });
    const lines = (file: string): string =>
      createHash('sha256')
        .update(gunzipSync(readFileSync(file)))
        .digest('hex');
    expect(lines(await backupOf(two))).toBe(lines(before));
  });

  test('what went on there is brought forward; what went on here stays', async () => {
    one.clock.later(10);
    await one.store.save('quay', 2, noted('third'));
    const path = await backupOf(one);
    expect(await bringIn(two.store, path)).toMatchObject({ updated: 1, unchanged: 1, diverged: [] });
    expect(await planOf(two, 'quay')).toEqual(noted('third'));
    two.clock.later(20);
    await two.store.save('quay', 3, noted('fourth'));
    expect(await bringIn(two.store, path)).toMatchObject({ updated: 0, unchanged: 2 });
    expect(await planOf(two, 'quay')).toEqual(noted('fourth'));
  });

  test('changed on both: nothing is overwritten, both histories are kept, and after the merge it goes both ways', async () => {
    one.clock.later(30);
    await one.store.save('quay', 3, noted('third', 'Oddham'));
    await one.store.addRecord('quay', record('power', 4));
    const path = await backupOf(one);
    expect(await bringIn(two.store, path)).toMatchObject({ updated: 0, diverged: ['quay'] });
    expect(await planOf(two, 'quay')).toEqual(noted('fourth'));
    const both = (await divergence(two.store, path, 'quay'))!;
    expect(both.base).toEqual(noted('third'));
    const merge = mergePlans(both.base, (await planOf(two, 'quay'))!, both.theirs);
    expect(merge.conflicts).toEqual([]);
    expect(await settleDivergence(two.store, path, 'quay', 3, merge.resolve({}))).toBeUndefined();
    expect(await settleDivergence(two.store, path, 'quay', 4, merge.resolve({}))).toBe(6);
    expect(await planOf(two, 'quay')).toEqual(noted('fourth', 'Oddham'));
    expect((await two.store.revisions('quay')).map(({ revision }) => revision)).toEqual([6, 5, 4, 3, 2, 1]);
    // Their fourth is the fifth here, and its record says so.
    expect(await two.store.records('quay')).toMatchObject([
      { revision: 2 },
      { subject: 'power', revision: 5 },
    ]);
    expect(await bringIn(two.store, path)).toMatchObject({ diverged: [], unchanged: 2 });
    // And back: the first laptop takes the merge without a question.
    expect(await bringIn(one.store, await backupOf(two))).toMatchObject({ updated: 1, diverged: [] });
    expect(await planOf(one, 'quay')).toEqual(noted('fourth', 'Oddham'));
    expect(await bringIn(two.store, await backupOf(one))).toMatchObject({ updated: 0, diverged: [] });
  });

  test('a vault with another passphrase: its secrets come only with that, and one that stands here stays', async () => {
    const three = await laptop();
    await three.store.create('quay', noted('elsewhere'));
    await three.vault.make('granite pelican under violet Tuesday');
    await three.vault.put('quay', 'fibre', 'mine');
    const path = await backupOf(one);
    expect((await compareBackup(three.store, path)).vault).toBe('other');
    expect(await bringIn(three.store, path)).toMatchObject({ secrets: 0, secretsLeft: 2 });
    await expect(
      bringIn(three.store, path, (row) => three.vault.adopt(row, 'wrong words')),
    ).rejects.toMatchObject({
      code: 'wrong-passphrase',
    });
    const adopt = (row: Parameters<Vault['adopt']>[0]) =>
      three.vault.adopt(row, 'harbour lantern quietly seven otters');
    expect(await bringIn(three.store, path, adopt)).toMatchObject({ secrets: 0, secretsLeft: 0 });
    expect(await three.vault.reveal('quay', 'fibre')).toBe('mine');
    const [gone] = await three.vault.trash('quay');
    await three.vault.putBack('quay', gone!.id);
    expect(await three.vault.reveal('quay', 'gone')).toBe('removed-p4ss');
    await three.store.close();
  }, 120_000);

  test('a damaged revision is named in the backup, and the rest is in it', async () => {
    const four = await memoryStore();
    await four.store.create('hurt', noted('first'));
    await four.store.save('hurt', 1, noted('second'));
    await four.store.settled();
    await four.database.query("update revisions set plan = '7' where number = 2");
    const path = join(folder, 'named.jsonl.gz');
    await backUp(four.store, path, 'test', now);
    const five = await laptop();
    await bringIn(five.store, path);
    expect(await five.store.read('hurt')).toMatchObject({ kind: 'damaged', newestReadable: 1 });
    await four.store.close();
    await five.store.close();
  }, 120_000);
});

describe('the relation of two histories', () => {
  const history = (letters: string) => [...letters].map((is, index) => ({ number: index + 1, is }));
  test.each([
    ['', 'ab', { kind: 'new' }],
    ['ab', 'ab', { kind: 'same' }],
    ['abc', 'ab', { kind: 'behind' }],
    ['ab', 'abc', { kind: 'ahead', from: 2 }],
    ['abx', 'aby', { kind: 'diverged', from: 2 }],
    ['x', 'y', { kind: 'diverged', from: 0 }],
    // Merged here: theirs came after ours, under other numbers.
    ['abxym', 'aby', { kind: 'behind' }],
    ['aby', 'abxym', { kind: 'ahead', from: 4 }],
  ])('%s here, %s there', (here, there, relation) =>
    expect(relationOf(history(here), history(there))).toEqual(relation),
  );

  test('one side is ahead exactly where the other is behind', () => {
    const letters = fc.string({
      unit: fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'),
      minLength: 1,
      maxLength: 6,
    });
    const distinct = letters.map((text) => history([...new Set(text)].join('')));
    fc.assert(
      fc.property(distinct, distinct, (a, b) => {
        const [there, back] = [relationOf(a, b).kind, relationOf(b, a).kind];
        if (there === 'diverged' || there === 'same') expect(back).toBe(there);
        if (there === 'ahead') expect(back).toBe('behind');
      }),
    );
  });
});

test('seven days and four weeks of daily backups stay; those made by hand always do', () => {
  const name = (days: number): string =>
    `netter-${new Date(now.getTime() - days * 86_400_000).toISOString().slice(0, 10)}.jsonl.gz`;
  const all = Array.from({ length: 60 }, (_, days) => name(days));
  const dropped = new Set(backupsToDrop([...all, 'netter-2020-01-01-101010.jsonl.gz', 'notes.txt']));
  const kept = all.filter((each) => !dropped.has(each));
  expect(kept.slice(0, 7)).toEqual(all.slice(0, 7));
  expect(kept).toHaveLength(7 + 4);
  expect(dropped.size).toBe(60 - 11);
});
