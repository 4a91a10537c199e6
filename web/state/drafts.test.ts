import { beforeEach, describe, expect, test } from '@jest/globals';
import { emptyPlan, type Plan } from '../../core/index.ts';
import { Drafts, leftToTake, type Draft, type DraftStorage } from './drafts.ts';

let kept: Map<string, string>;
let storage: DraftStorage;
beforeEach(() => {
  kept = new Map();
  storage = {
    getItem: (key) => kept.get(key) ?? null,
    setItem: (key, value) => void kept.set(key, value),
    removeItem: (key) => void kept.delete(key),
    key: (index) => [...kept.keys()][index] ?? null,
    get length() {
      return kept.size;
    },
  };
});

const plan = (name: string): Plan => {
  let count = 0;
  return emptyPlan(name, () => `row-${(count += 1)}`);
};
const alive =
  (...windows: string[]) =>
  async () =>
    new Set(windows);

describe('what was typed and not saved', () => {
  test('is left behind by a window that crashed, until another window has it', async () => {
    new Drafts('quay', 'one', storage).keep({ revision: 4, plan: plan('Pier') });
    const later = new Drafts('quay', 'two', storage);
    const [left] = await later.left(alive('two'));
    expect(left?.draft).toEqual({ revision: 4, plan: plan('Pier') });
    expect(await later.left(alive('two'))).toHaveLength(1);
    left?.drop();
    expect(await later.left(alive('two'))).toEqual([]);
  });

  test('stays with a window that lives, and with its own site', async () => {
    new Drafts('quay', 'one', storage).keep({ revision: 4, plan: plan('Pier') });
    new Drafts('other', 'gone', storage).keep({ revision: 1, plan: plan('Elsewhere') });
    expect(await new Drafts('quay', 'two', storage).left(alive('one', 'two'))).toEqual([]);
    expect(kept.size).toBe(2);
  });

  test('goes when the server has it', () => {
    const drafts = new Drafts('quay', 'one', storage);
    drafts.keep({ revision: 4, plan: plan('Pier') });
    drafts.drop();
    expect(kept.size).toBe(0);
  });

  test('cut short or of no plan, it is dropped and harms nothing', async () => {
    for (const text of ['{"revision":4,"plan":{"for', '{}', 'null', '{"revision":"4","plan":{}}'])
      kept.set(`netter-draft quay gone-${text.length}`, text);
    expect(await new Drafts('quay', 'two', storage).left(alive('two'))).toEqual([]);
    expect(kept.size).toBe(0);
  });

  test('a browser that keeps nothing does not hold up typing', async () => {
    const full: DraftStorage = {
      ...storage,
      length: 0,
      setItem: () => {
        throw new DOMException('full', 'QuotaExceededError');
      },
    };
    expect(() => new Drafts('quay', 'one', full).keep({ revision: 1, plan: plan('x') })).not.toThrow();
    expect(await new Drafts('quay', 'one', undefined).left(alive())).toEqual([]);
  });
});

describe('a save that was under way when its window went', () => {
  const revisions = new Map([
    [4, plan('Pier')],
    [5, plan('Pier 5')],
    [6, plan('Pier 6')],
  ]);
  const left = (draft: Draft, newest = 6) => leftToTake(draft, newest, async (at) => revisions.get(at));

  test('arrived, and nothing was typed since: nothing is left, whatever others saved after it', async () => {
    expect(await left({ revision: 4, plan: plan('Pier 5'), sent: plan('Pier 5') })).toBeUndefined();
    expect(await left({ revision: 4, plan: plan('Pier 5'), sent: plan('Pier 5') }, 5)).toBeUndefined();
  });

  test('arrived, and typing went on: what was typed goes on from it', async () => {
    expect(await left({ revision: 4, plan: plan('Pier 5b'), sent: plan('Pier 5') }, 5)).toEqual({
      draft: { revision: 5, plan: plan('Pier 5b') },
      base: plan('Pier 5'),
    });
  });

  test('never arrived: it is held against what came since', async () => {
    const draft = { revision: 4, plan: plan('Mine'), sent: plan('Mine') };
    expect(await left(draft)).toEqual({ draft, base: plan('Pier') });
    expect(await left({ revision: 6, plan: plan('Mine'), sent: plan('Mine') })).toMatchObject({
      base: undefined,
    });
    expect(await left({ revision: 9, plan: plan('Mine') })).toMatchObject({ base: undefined });
  });
});
