import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { soundPlan } from '../../core/testing/plans.ts';
import type { Draft, Drafts } from './drafts.ts';
import { setAt } from './edit.ts';
import { SiteSession } from './session.ts';

interface Sent {
  readonly base: number;
  readonly plan: ReturnType<typeof soundPlan>;
}

let sent: Sent[];
let answer: (body: Sent) => { status: number; body: unknown };
const original = globalThis.fetch;

beforeEach(() => {
  jest.useFakeTimers();
  sent = [];
  answer = ({ base }) => ({ status: 200, body: { revision: base + 1, savedAt: '2026-03-02T09:00:00Z' } });
  globalThis.fetch = (async (_url: unknown, { body }: { body: string }) => {
    const request = JSON.parse(body) as Sent;
    const { status, body: reply } = answer(request);
    sent.push(request);
    return new Response(JSON.stringify(reply), { status });
  }) as unknown as typeof fetch;
});
afterEach(() => {
  jest.useRealTimers();
  globalThis.fetch = original;
});

const open = (): SiteSession =>
  new SiteSession({ id: 'x', revision: 4, savedAt: '2026-03-02T08:00:00Z', plan: soundPlan() });
const name = (session: SiteSession): string => session.snapshot().plan.site.name;
const type = (session: SiteSession, ...texts: string[]): void =>
  texts.forEach((text) => session.edit('/site/name', text));

describe('an open site', () => {
  test('saves by itself after a pause, once for many keystrokes, on the revision it is based on', async () => {
    const session = open();
    type(session, 'P', 'Pi', 'Pier');
    expect(session.snapshot().save.kind).toBe('unsaved');
    await jest.advanceTimersByTimeAsync(700);
    expect(sent.map(({ base, plan }) => [base, plan.site.name])).toEqual([[4, 'Pier']]);
    expect(session.snapshot()).toMatchObject({ revision: 5, save: { kind: 'saved' } });
    type(session, 'Pier 2');
    await session.flush();
    expect(sent.at(-1)).toMatchObject({ base: 5, plan: { site: { name: 'Pier 2' } } });
  });

  test('takes over what another window saved, but nothing while something is typed here', async () => {
    const session = open();
    const theirs = (revision: number, name: string) => {
      const plan = setAt(soundPlan(), '/site/name', name);
      session.follow({ id: 'x', revision, savedAt: '2026-03-02T10:00:00Z', plan });
    };
    theirs(6, 'Quay');
    expect(name(session)).toBe('Quay');
    expect(session.snapshot()).toMatchObject({ revision: 6, save: { kind: 'saved' } });
    theirs(5, 'older');
    expect(name(session)).toBe('Quay');
    type(session, 'typed here');
    theirs(7, 'theirs');
    expect(name(session)).toBe('typed here');
    await session.flush();
    expect(sent).toEqual([expect.objectContaining({ base: 6 })]);
  });

  test('what is typed while a save is under way is saved next', async () => {
    const session = open();
    type(session, 'A');
    const first = session.flush();
    type(session, 'AB');
    await first;
    expect(session.snapshot().save.kind).toBe('unsaved');
    await jest.advanceTimersByTimeAsync(700);
    expect(sent.map(({ plan }) => plan.site.name)).toEqual(['A', 'AB']);
  });

  test('a save that arrived while its answer was lost is no conflict with oneself', async () => {
    const session = open();
    const arrives = answer;
    answer = () => ({ status: 502, body: {} });
    type(session, 'A');
    await session.flush();
    const arrived = sent.at(-1)!.plan;
    answer = (body) =>
      body.base === 4
        ? { status: 409, body: { current: { revision: 5, savedAt: '2026-03-02T09:00:00Z', plan: arrived } } }
        : arrives(body);
    type(session, 'AB');
    await session.flush();
    expect(session.snapshot()).toMatchObject({ revision: 5, save: { kind: 'unsaved' } });
    await jest.advanceTimersByTimeAsync(700);
    expect(session.snapshot()).toMatchObject({ revision: 6, save: { kind: 'saved' } });
    expect(sent.at(-1)).toMatchObject({ base: 5, plan: { site: { name: 'AB' } } });
  });

  test('typing on in one field is one step of undo, another field or leaving it begins a new one', () => {
    const session = open();
    type(session, 'P', 'Pi', 'Pier');
    session.edit('/site/town', 'Quay');
    session.settle();
    session.edit('/site/town', 'Quayside');
    const steps: string[] = [];
    while (session.snapshot().canUndo) {
      session.undo();
      steps.push(`${name(session)}/${session.snapshot().plan.site.town}`);
    }
    expect(steps).toEqual(['Pier/Quay', 'Pier/Larch Quay', 'Test site/Larch Quay']);
    session.redo();
    session.redo();
    session.redo();
    expect(session.snapshot()).toMatchObject({
      canRedo: false,
      plan: { site: { name: 'Pier', town: 'Quayside' } },
    });
    session.undo();
    type(session, 'Other');
    expect(session.snapshot().canRedo).toBe(false);
  });

  test('undoing back to what the server has needs no save', async () => {
    const session = open();
    type(session, 'Pier');
    session.undo();
    expect(session.snapshot().save.kind).toBe('saved');
    await jest.advanceTimersByTimeAsync(2000);
    expect(sent).toEqual([]);
  });

  test('a stale save stops the autosave until a person has chosen, and then goes on from theirs', async () => {
    const theirs = {
      revision: 9,
      savedAt: '2026-03-02T08:30:00Z',
      plan: soundPlan((plan) => {
        plan.site.town = 'There';
      }),
    };
    answer = () => ({
      status: 409,
      body: { error: 'stale', at: '', says: 'Saved elsewhere.', current: theirs },
    });
    const session = open();
    type(session, 'Here');
    await session.flush();
    expect(session.snapshot().save).toMatchObject({ kind: 'conflict', theirs: { revision: 9 } });
    type(session, 'Here, typed on');
    await jest.advanceTimersByTimeAsync(5000);
    expect(sent).toHaveLength(1);
    answer = ({ base }) => ({ status: 200, body: { revision: base + 1, savedAt: '2026-03-02T09:00:00Z' } });
    session.settleConflict(session.snapshot().plan, { ...theirs, id: 'x' });
    await jest.advanceTimersByTimeAsync(700);
    expect(sent.at(-1)).toMatchObject({ base: 9, plan: { site: { name: 'Here, typed on' } } });
    expect(session.snapshot()).toMatchObject({ revision: 10, save: { kind: 'saved' } });
  });

  test('a server that does not answer is asked again, and nothing typed is lost', async () => {
    answer = () => {
      throw new TypeError('no connection');
    };
    const session = open();
    type(session, 'Pier');
    await session.flush();
    expect(session.snapshot().save).toMatchObject({
      kind: 'failed',
      says: expect.stringContaining('kept in this browser'),
    });
    answer = ({ base }) => ({ status: 200, body: { revision: base + 1, savedAt: '2026-03-02T09:00:00Z' } });
    await jest.advanceTimersByTimeAsync(4100);
    expect(session.snapshot()).toMatchObject({ revision: 5, save: { kind: 'saved' } });
    expect(name(session)).toBe('Pier');
  });

  test('a fix that does not fit any more is refused with a sentence and changes nothing', () => {
    const session = open();
    expect(session.patch([{ op: 'replace', path: '/networks/9/vlan', value: 3 }])).toMatch(
      /does not fit this plan any more/,
    );
    expect(session.snapshot().canUndo).toBe(false);
    expect(session.patch([{ op: 'replace', path: '/networks/0/vlan', value: 33 }])).toBeUndefined();
    expect(session.snapshot().plan.networks[0]!.vlan).toBe(33);
  });
});

describe('setting one value', () => {
  test('shares everything else, and is the same object where nothing changes', () => {
    const plan = soundPlan();
    const changed = setAt(plan, '/networks/1/dhcp/from', '10.24.30.30');
    expect(changed.networks[1]!.dhcp.from).toBe('10.24.30.30');
    expect([
      changed.networks[0] === plan.networks[0],
      changed.devices === plan.devices,
      plan.networks[1]!.dhcp.from,
    ]).toEqual([true, true, '10.24.30.20']);
    expect(setAt(plan, '/networks/1/dhcp/from', '10.24.30.20')).toBe(plan);
    // RFC 6901 section 3: ~1 is "/", ~0 is "~".
    expect(setAt({ 'a/b': 1, 'm~n': 2 }, '/a~1b', 7)).toEqual({ 'a/b': 7, 'm~n': 2 });
  });

  test('a server without room is asked again, and has it when there is room', async () => {
    const session = open();
    answer = () => ({ status: 507, body: { error: 'disk-full', says: 'Not saved: the disk is full.' } });
    type(session, 'Pier');
    await session.flush();
    expect(session.snapshot().save).toEqual({ kind: 'failed', says: 'Not saved: the disk is full.' });
    answer = ({ base }) => ({ status: 200, body: { revision: base + 1, savedAt: '2026-03-02T09:00:00Z' } });
    await jest.advanceTimersByTimeAsync(4100);
    expect(session.snapshot()).toMatchObject({ revision: 5, save: { kind: 'saved' } });
  });

  test('what is not saved is kept in the browser until it is, and taken up by the next window', async () => {
    const kept: Draft[] = [];
    let dropped = 0;
    const drafts = {
      keep: (draft: Draft) => kept.push(draft),
      drop: () => (dropped += 1),
    } as unknown as Drafts;
    const session = new SiteSession(
      { id: 'x', revision: 4, savedAt: '2026-03-02T08:00:00Z', plan: soundPlan() },
      drafts,
    );
    type(session, 'Pier');
    await jest.advanceTimersByTimeAsync(200);
    expect(kept.at(-1)).toMatchObject({ revision: 4, plan: { site: { name: 'Pier' } } });
    await jest.advanceTimersByTimeAsync(600);
    expect(dropped).toBe(1);
    const next = open();
    next.takeUp(kept[0]!);
    expect(next.snapshot()).toMatchObject({ plan: { site: { name: 'Pier' } }, save: { kind: 'unsaved' } });
    await jest.advanceTimersByTimeAsync(700);
    expect(sent.at(-1)).toMatchObject({ base: 4, plan: { site: { name: 'Pier' } } });
  });

  test('a draft on an older revision is a conflict with what came since, and nothing is overwritten', () => {
    const session = open();
    const base = soundPlan();
    const typed = setAt(base, '/site/name', 'Pier');
    session.takeUp({ revision: 3, plan: typed }, base);
    expect(session.snapshot().save).toMatchObject({ kind: 'conflict', theirs: { revision: 4 } });
    expect(session.base()).toBe(base);
    expect(sent).toEqual([]);
    const same = open();
    same.takeUp({ revision: 3, plan: same.snapshot().plan });
    expect(same.snapshot().save.kind).toBe('saved');
  });

  test('what is pasted into a line stays one that can be saved', async () => {
    const session = open();
    type(session, 'Pier\r\nPostUp = x\u202e');
    expect(name(session)).toBe('Pier PostUp = x');
  });
});
