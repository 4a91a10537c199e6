import { expect, test } from '@jest/globals';
import { missChance } from './failover.ts';
import { worked } from './worked.ts';

test('a figure carries no noise of binary fractions, and what is no finite number stays what it is', () => {
  expect(worked('x', 0.1 + 0.2, '', [], '').value).toBe(0.3);
  expect(worked('x', 1e21, '', [], '').value).toBe(1e21);
  expect(worked('x', Infinity, '', [], '').value).toBe(Infinity);
  expect(worked('x', '1.10', '', [], '').value).toBe('1.10');
});

/** No run of `losses` in `probes` tries, by going through every outcome. */
function counted(share: number, losses: number, probes: number): number {
  let chance = 0;
  for (let bits = 0; bits < 2 ** probes; bits += 1) {
    const tries = Array.from({ length: probes }, (_, place) => (bits >> place) & 1);
    if (tries.join('').includes('1'.repeat(losses))) continue;
    chance += tries.reduce((product, lost) => product * (lost ? share : 1 - share), 1);
  }
  return chance;
}

test('the chance that a dead stretch is missed, beside every outcome of twelve probes', () => {
  for (const losses of [1, 2, 3, 5])
    for (const share of [0.1, 0.5, 0.9])
      expect(missChance(share, losses, 12)).toBeCloseTo(counted(share, losses, 12), 12);
});

test('at its edges: too few probes miss it for certain, a line that loses all is never missed, one that loses none always', () => {
  expect(missChance(0.5, 4, 3)).toBe(1);
  expect(missChance(1, 3, 100_000)).toBe(0);
  expect(missChance(0, 3, 100_000)).toBe(1);
  // Far out it falls by the same share at each probe.
  const [a, b, c] = [5000, 5001, 5002].map((probes) => missChance(0.2, 3, probes));
  expect(b! / a!).toBeCloseTo(c! / b!, 9);
});
