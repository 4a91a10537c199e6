import { describe, expect, test } from '@jest/globals';
import { demoPlan, soundPlan } from '../testing/plans.ts';
import { figuresText } from './figures.ts';

describe('what folded figures say', () => {
  const plan = soundPlan((each) => {
    each.uplinks[0]!.mtuBytes = 1492;
    each.uplinks[0]!.watch.intervalSeconds = null;
  });

  test('a value with its unit, a usual value where nobody set one, the word for a state', () => {
    expect(figuresText(plan, ['/uplinks/0/mtuBytes', '/uplinks/0/sourceNat'])).toBe(
      'MTU 1492 bytes · source NAT on',
    );
    expect(figuresText(plan, ['/uplinks/0/watch/intervalSeconds'])).toBe('Probe interval 10 s');
    expect(figuresText(plan, ['/uplinks/0/shapeDownMbps'])).toBe('Shaped rate, download not shaped');
  });

  test('what is empty and has no usual value is left out, and nothing at all says so', () => {
    expect(figuresText(plan, ['/uplinks/0/notes', '/uplinks/0/mtuBytes'])).toBe('MTU 1492 bytes');
    expect(figuresText(plan, ['/uplinks/0/notes'])).toBe('nothing entered');
  });

  test('a place that the plan does not have says nothing', () => {
    expect(figuresText(demoPlan('weir-street'), ['/uplinks/7/mtuBytes', '/nowhere'])).toMatch(
      /what the WAN type carries|nothing entered/,
    );
  });
});
