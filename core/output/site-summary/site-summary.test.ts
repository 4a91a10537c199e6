import { describe, expect, test } from '@jest/globals';
import { compile } from '../../site/compile.ts';
import { demoPlan } from '../../testing/plans.ts';
import { deskOf, wordsOf } from './site-summary.ts';

describe('what the list shows of a site', () => {
  test('what ends, what is awaited, how much is proven', () => {
    const plan = structuredClone(demoPlan('farrow-sound'));
    plan.uplinks[1]!.activation = 'not-yet';
    plan.forwards[0]!.until = '2026-12-31';
    const desk = deskOf(plan, compile(plan), []);
    expect(desk.awaiting).toEqual([plan.uplinks[1]!.name]);
    expect(desk.dates.map(({ day }) => day)).toEqual([...desk.dates.map(({ day }) => day)].sort());
    expect(desk.dates).toContainEqual({
      day: '2026-12-31',
      says: `the forward "${plan.forwards[0]!.purpose}" ends`,
    });
    expect(desk.proven).toBe(0);
    expect(desk.promises).toBeGreaterThan(10);
  });

  test('a site is found by its people, addresses, serial and MAC numbers, and by no secret', () => {
    const plan = demoPlan('farrow-sound');
    const words = wordsOf(plan);
    for (const word of [
      plan.kit[0]!.serial,
      plan.devices[0]!.address,
      plan.devices[0]!.mac,
      plan.vpn.peers[0]!.person,
      plan.vpn.endpoints[0]!.host,
    ])
      expect(words).toContain(word.toLowerCase());
    expect(words).not.toContain(plan.vpn.secret);
  });
});
