import { describe, expect, test } from '@jest/globals';
import { demoPlan, soundPlan } from '../testing/plans.ts';
import { comparePlans } from './compare.ts';
import { figuresText, valueText } from './figures.ts';

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

  test('a reference is said by the name of its row, in the line of a card and in a table of changes', () => {
    expect(figuresText(plan, ['/router/adminNetwork'])).not.toMatch(/[0-9a-f]{8}/);
    const farrow = demoPlan('farrow-sound');
    const other = structuredClone(farrow);
    const [was, is] = farrow.devices.filter(({ id }) => id !== '').map(({ id, name }) => ({ id, name }));
    farrow.forwards[0]!.device = was!.id;
    other.forwards[0]!.device = is!.id;
    other.uplinks[0]!.type = 'static';
    const changes = comparePlans(farrow, other).map(({ says }) => says);
    expect(changes).toContainEqual([was!.name, is!.name]);
    expect(changes.some(([, after]) => /static/i.test(after))).toBe(true);
    expect(valueText(farrow, '/reach/-', farrow.reach[0])).not.toContain('passengers');
    expect(valueText(plan, '/forwards/0/device', 'bab53703')).toBe('one that is gone');
  });
});
