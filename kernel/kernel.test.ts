import { expect, test } from '@jest/globals';
import { compile } from '../core/site/compile.ts';
import { demoPlan } from '../core/testing/plans.ts';
import { compareWithKernel, isConfused } from './compare.ts';
import { whyNot } from './lab.ts';
import { plantedPlan, wrongFiles } from './planted.ts';

const reason = whyNot();
const onLinux = reason === undefined ? test : test.skip;

// The whole comparison is `npm run kernel`; here a part of it, where namespaces may be made.
onLinux.each(['farrow-sound', 'mill-lane', 'larch-house'])(
  `%s: the kernel and Ask agree${reason === undefined ? '' : ` (left out, no namespaces here: ${reason})`}`,
  async (name) => {
    const site = compile(demoPlan(name));
    const { questions, arrived, differences } = await compareWithKernel(site, 20, 5);
    expect(differences).toEqual([]);
    expect(questions).toBe(20 * (site.lines.length + 1));
    expect(arrived).toBeGreaterThan(3);
  },
);

// One of the mistakes made on purpose; `npm run kernel -- --planted` makes them all.
onLinux.each(['what is refused on a line goes another way'])(
  'a mistake in the files is found: %s',
  async (name) => {
    const { differences } = await compareWithKernel(compile(plantedPlan()), 120, 5, wrongFiles[name]);
    expect(differences).toHaveLength(1);
  },
);

test('a line and a network with one subnet are not asked about', () => {
  expect(isConfused(compile(demoPlan('hollin-edge')))).toBe(true);
  expect(isConfused(compile(demoPlan('farrow-sound')))).toBe(false);
});
