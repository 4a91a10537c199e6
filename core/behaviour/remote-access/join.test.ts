import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Address } from '../../base/net/address.ts';
import { contains, formatPrefix, overlaps, parsePrefix } from '../../base/net/prefix.ts';
import { ask } from '../../answers/path/ask.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { block, demoPlan, good } from '../../testing/plans.ts';
import { bestHub, joinSites, tunnelsWorked, type Joined } from './join.ts';
import { translated, translationTable } from './translation.ts';
import { endOf, tunnelStates, type TunnelEnd } from './tunnel-states.ts';

const siteOf = (name: string, change: (plan: Plan) => void = () => {}): Site => {
  const plan = demoPlan(name);
  change(plan);
  return compile(plan);
};
const weir = siteOf('weir-street');
const mill = siteOf('mill-lane');
/** A third branch: Weir Street once more, under another name, key and address. */
const quay = siteOf('weir-street', (plan) => {
  plan.site.name = 'Quay branch library';
  plan.vpn.sites = [];
  plan.vpn.pool = '10.63.60.0/24';
  plan.vpn.publicKey = mill.vpn.publicKey.replace('M', 'Q');
  plan.vpn.endpoints[0]!.host = 'quay.libraries.example';
});
const planOf = (joined: Joined, site: Site) => joined.plans.find((each) => each.site === site)!;

describe('both ends', () => {
  test('say the same, whichever is asked, and joined again they get the same values', () => {
    const [one, two] = [joinSites([weir, mill]), joinSites([mill, weir])];
    for (const site of [weir, mill]) expect(planOf(one, site)).toEqual(planOf(two, site));
    // What stands in the demo plans was made so.
    expect(demoPlan('weir-street').vpn.sites).toEqual(planOf(one, weir).sites);
    expect(demoPlan('mill-lane').vpn.sites).toEqual(planOf(one, mill).sites);
    const [here, there] = [planOf(one, weir).sites[0]!, planOf(one, mill).sites[0]!];
    expect([here.publicKey, there.publicKey]).toEqual([mill.vpn.publicKey, weir.vpn.publicKey]);
    const shown = (of: 'here' | 'there', from: typeof here) =>
      from.translations.filter((each) => each.of === of).map(({ real, seen }) => [real, seen]);
    expect(shown('here', here)).toEqual(shown('there', there));
    expect(shown('there', here)).toEqual(shown('here', there));
  });

  test('guests stay apart, until somebody ticks them', () => {
    expect(weir.vpn.sites[0]!.networks.map(({ name }) => name)).toEqual(['Staff', 'Door counter']);
    const open = siteOf('weir-street', (plan) => {
      plan.vpn.sites[0]!.networks = plan.networks.map(({ id }) => id);
    });
    expect(planOf(joinSites([open, mill]), mill).sites[0]!.prefixes).toContain('10.61.32.0/23');
    expect(planOf(joinSites([weir, mill]), mill).sites[0]!.prefixes).not.toContain('10.61.32.0/23');
  });

  test('subnets that both use are seen under others, each free at every site, host part kept', () => {
    const { seen } = joinSites([weir, mill]);
    expect(seen.map(({ network }) => network.name)).toEqual(['Staff', 'Staff']);
    for (const { as } of seen)
      for (const taken of [...weir.networks, ...mill.networks].flatMap(({ prefix }) => prefix ?? []))
        expect(overlaps(taken, as!)).toBe(false);
    const there = seen.find(({ site }) => site === mill)!;
    const [row] = translationTable(mill, there.network, there.as!);
    expect(row).toMatchObject({ name: 'Lending terminal', own: '10.61.10.30' });
    expect(row!.elsewhere.split('.').at(-1)).toBe('30');
  });

  test('any two sites: what one reaches of the other never meets its own subnets (random subnets)', () => {
    const host = fc.tuple(fc.integer({ min: 0, max: 3 }), fc.integer({ min: 22, max: 26 }));
    fc.assert(
      fc.property(
        fc.array(host, { minLength: 1, maxLength: 3 }),
        fc.array(host, { minLength: 1, maxLength: 3 }),
        (a, b) => {
          const made = (name: string, rows: typeof a): Site =>
            siteOf('mill-lane', (plan) => {
              plan.site.name = name;
              plan.vpn.sites = [];
              plan.vpn.publicKey = name;
              plan.networks = rows.map(([third, length], index) => ({
                ...plan.networks[0]!,
                id: `n${index}`,
                prefix: formatPrefix(
                  good(
                    parsePrefix(
                      `10.90.${(third >> (24 - Math.min(24, length))) << (24 - Math.min(24, length))}.0/${length}`,
                    ),
                  ),
                ),
              }));
            });
          const sites = [made('one', a), made('two', b)];
          const joined = joinSites(sites);
          for (const [index, site] of sites.entries())
            for (const text of planOf(joined, site).sites[0]!.prefixes) {
              const reached = block(text);
              for (const own of site.networks.flatMap(({ prefix }) => prefix ?? []))
                expect(overlaps(own, reached)).toBe(false);
              // It leads to exactly one network of the other end, as it is or one to one.
              const far = sites[1 - index]!;
              const as = joined.seen.filter((each) => each.site === far).flatMap((each) => each.as ?? []);
              const real = far.networks.flatMap(({ prefix }) => prefix ?? []);
              expect([...as, ...real].some((each) => formatPrefix(each) === text)).toBe(true);
            }
        },
      ),
      { numRuns: 60 },
    );
  });

  test('translation there and back is the same host, and nothing outside the subnet is translated', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 255 }), (offset) => {
        const [from, to] = [block('10.61.10.0/24'), block('172.24.3.0/24')];
        const host: Address = { family: 4, value: from.first + BigInt(offset) };
        expect(translated(translated(host, from, to)!, to, from)).toEqual(host);
        expect(translated({ family: 4, value: from.last + 1n + BigInt(offset) }, from, to)).toBeUndefined();
      }),
    );
  });
});

describe('three sites', () => {
  test('a mesh has a tunnel for each pair, a hub one less than sites (arithmetic)', () => {
    expect(tunnelsWorked(4).value).toBe(6);
    expect(tunnelsWorked(4).steps[0]!.value).toBe('4 - 1 = 3');
    expect(joinSites([weir, mill, quay]).tunnels).toHaveLength(3);
    expect(joinSites([weir, mill, quay], 'hub').tunnels).toHaveLength(2);
  });

  test('through the hub every spoke reaches every other, under subnets that are nobody else’s', () => {
    const joined = joinSites([weir, mill, quay], 'hub', weir);
    expect(joined.plans.filter(({ hub }) => hub).map(({ site }) => site)).toEqual([weir]);
    expect(planOf(joined, mill).sites).toHaveLength(1);
    const [toHub] = planOf(joined, mill).sites;
    const blocks = toHub!.prefixes.map(block);
    for (const { site, as } of joined.seen)
      if (site !== mill) expect(blocks.some((each) => formatPrefix(each) === formatPrefix(as!))).toBe(true);
    for (const [index, one] of blocks.entries())
      for (const two of blocks.slice(index + 1)) expect(overlaps(one, two)).toBe(false);
  });

  test('the hub is the site that can be called on the most lines; where none can, a mesh does not work', () => {
    const shut = (name: string): Site =>
      siteOf('weir-street', (plan) => {
        plan.site.name = name;
        plan.vpn.sites = [];
        Object.assign(plan.uplinks[0]!.handoff, {
          mode: 'routes',
          insidePrefix: '192.168.99.0/24',
          insideAddress: '192.168.99.1',
          outsideAddress: '100.64.3.4',
        });
      });
    const [one, two] = [shut('One'), shut('Two')];
    expect(bestHub([one, mill, two])).toBe(mill);
    expect(joinSites([one, two])).toMatchObject({ works: false });
    expect(joinSites([one, mill, two])).toMatchObject({ works: false });
    expect(joinSites([one, mill, two], 'hub')).toMatchObject({ works: true });
  });
});

describe('failover of either end', () => {
  const end = (name: string, first: string, second?: string, backSeconds?: number): TunnelEnd => ({
    name,
    lines: [
      { name: 'A', endpoint: first },
      ...(second === undefined ? [] : [{ name: 'B', endpoint: second }]),
    ],
    backSeconds,
    nameSeconds: 300,
  });
  const ups = (here: TunnelEnd, there: TunnelEnd) => tunnelStates(here, there, 25).map(({ up }) => up);
  const seconds = (here: TunnelEnd, there: TunnelEnd) =>
    tunnelStates(here, there, 25).map(({ worked }) => worked.value);

  test('the end that moved sends first: its failover time, one keep-alive', () => {
    // 20 + 25; the other end has one line and cannot move.
    expect(seconds(end('x', 'x.example', '', 20), end('y', 'y.example'))).toEqual(['up', 45, 'down', 'down']);
  });

  test('without keep-alives the peer learns of it 15 s after its own packet stays without an answer', () => {
    // 10 s of keep-alive and 5 s until the next handshake: the protocol's paper, section 6.5, from memory.
    const [, moved] = tunnelStates(end('x', 'x.example', '', 20), end('y', 'y.example'), 0);
    expect(moved!.worked.value).toBe(20 + 15);
  });

  test('with both first lines down the tunnel waits for the slower of both', () => {
    const both = (mine: number, theirs: number): unknown =>
      seconds(end('x', 'x.example', 'x.example', mine), end('y', 'y.example', 'y.example', theirs))[3];
    expect(both(20, 60)).toBe(60 + 300 + 15);
    expect(both(60, 20)).toBe(60 + 300 + 15);
  });

  test('a name that follows is looked up again: switch + name + 15 s of no answer; another address takes a hand', () => {
    const spoke = end('y', '');
    expect(seconds(end('x', 'x.example', 'x.example', 20), spoke)[1]).toBe(20 + 300 + 15);
    expect(ups(end('x', 'x.example', '192.0.2.9', 20), spoke)).toEqual(['itself', 'by-hand', 'no', 'no']);
    expect(ups(end('x', 'x.example', '', 20), spoke)[1]).toBe('no');
  });

  test('neither can be called; nobody notices a dead line', () => {
    expect(ups(end('x', ''), end('y', ''))[0]).toBe('no');
    expect(ups(end('x', 'x.example', 'x.example', undefined), end('y', 'y.example'))[1]).toBe('no');
  });

  test('the order of the ends does not matter', () => {
    const any = fc
      .tuple(
        fc.constantFrom('', 'a.example', 'b.example'),
        fc.option(fc.constantFrom('', 'a.example', 'b.example'), { nil: undefined }),
        fc.option(fc.integer({ min: 1, max: 300 }), { nil: undefined }),
      )
      .map(([first, second, back]) => end('', first, second, back));
    fc.assert(
      fc.property(any, any, (a, b) => {
        const [x, y] = [ups(a, b), ups(b, a)];
        expect([x[0], x[1], x[2], x[3]]).toEqual([y[0], y[2], y[1], y[3]]);
        // No tunnel with a line down where there is none on a day without.
        if (x[0] === 'no' && a.lines[1]?.endpoint === '') expect(x[1]).not.toBe('itself');
      }),
    );
  });

  test('the second branch: 3 × 5 + 1 s of watching, 2 s for the routes, 25 s of keep-alive', () => {
    const states = tunnelStates(endOf(weir), endOf(mill), 25);
    expect(states.map(({ up }) => up)).toEqual(['itself', 'no', 'itself', 'no']);
    expect(states[2]!.worked.value).toBe(16 + 2 + 25);
  });
});

describe('Ask between site-to-site', () => {
  const outcome = (site: Site, question: string) => {
    const { outcome: what, hops, says } = good(ask(site, question));
    return [what, hops.find(({ stops }) => stops)?.stage ?? '', says] as const;
  };
  const far = weir.vpn.sites[0]!;
  const seen = far.translations.find(({ of }) => of === 'there')!.seen;
  const terminal = formatPrefix(seen).replace(/0\/24$/, '30');

  test('staff reach the lending terminal under its other address, and it arrives under its own', () => {
    const [what, , says] = outcome(weir, `from staff to ${terminal} tcp 443`);
    expect(what).toBe('delivered');
    expect(says).toContain('10.61.10.30');
    const { hops } = good(ask(weir, `from staff to ${terminal} tcp 443`));
    const ours = far.translations.find(({ of }) => of === 'here')!;
    const left = hops.find(({ stage, node }) => stage === 'source NAT' && node === 'router')!;
    expect(left.decided).toContain(formatPrefix(ours.seen).replace(/0\/24$/, ''));
  });

  test('guests do not; with the only line down nobody does; too large a packet is told so', () => {
    expect(outcome(weir, `from reading-room to ${terminal} tcp 443`).slice(0, 2)).toEqual([
      'refused',
      'policy',
    ]);
    expect(outcome(weir, `from staff to ${terminal} tcp 443 when cable is down`)[0]).toBe('dropped');
    expect(outcome(weir, `from staff to ${terminal} tcp 443 size 1400`).slice(0, 2)).toEqual([
      'dropped',
      'size',
    ]);
    expect(outcome(mill, 'from staff to 10.61.40.2 tcp 443 when dsl is down')[0]).toBe('delivered');
  });

  test('an inside network wins over a far subnet that is entered by mistake', () => {
    const wrong = siteOf('weir-street', (plan) => {
      plan.vpn.sites[0]!.prefixes = ['10.61.0.0/16'];
    });
    expect(
      contains(wrong.vpn.sites[0]!.prefixes[0]!, good({ ok: true, value: wrong.devices[0]!.address! })),
    ).toBe(true);
    expect(good(ask(wrong, 'from reading-room to staff tcp 443')).outcome).toBe('refused');
  });
});
