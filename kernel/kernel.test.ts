import { expect, test } from '@jest/globals';
import { compile } from '../core/site/compile.ts';
import { demoPlan } from '../core/testing/plans.ts';
import { compareWithKernel, isConfused } from './compare.ts';
import { whyNot } from './lab.ts';

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
    expect(arrived).toBeGreaterThan(5);
  },
  60_000,
);

onLinux(
  'a rule that the files do not have is a difference that is found',
  async () => {
    const site = compile(demoPlan('farrow-sound'));
    // The stages of the router think that everything may pass; the files on the router do not.
    const open = {
      ...site,
      reach: site.networks.flatMap((from) =>
        site.networks
          .filter((to) => to !== from)
          .map((network) => ({
            ...site.reach[0]!,
            from,
            to: { kind: 'network' as const, network, device: undefined },
          })),
      ),
    };
    const { differences } = await compareWithKernel(open, 30, 5, site);
    expect(differences.length).toBeGreaterThan(0);
    expect(differences[0]!.kernel).toBe('nothing arrives');
  },
  60_000,
);

test('a line and a network with one subnet are not asked about', () => {
  expect(isConfused(compile(demoPlan('hollin-edge')))).toBe(true);
  expect(isConfused(compile(demoPlan('farrow-sound')))).toBe(false);
});
