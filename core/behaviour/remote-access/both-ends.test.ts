import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { formatAddress, type Address } from '../../base/net/address.ts';
import { contains, formatPrefix, parsePrefix } from '../../base/net/prefix.ts';
import { follow } from '../../answers/path/follow.ts';
import { ask } from '../../answers/path/ask.ts';
import type { Flow, Trace } from '../../answers/path/packet.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { addr, demoPlan, good } from '../../testing/plans.ts';
import { natSeconds, uniqueLocalPool } from './interface.ts';
import { joinSites } from './join.ts';
import { translated } from './translation.ts';

/** A branch of its own name and address, with staff networks in these thirds of 10.90.x.0/24. */
function branch(name: string, thirds: readonly number[]): Plan {
  const plan = demoPlan('weir-street');
  plan.site.name = name;
  plan.vpn.publicKey = plan.vpn.publicKey.replace('C', name[0]!);
  plan.vpn.pool = '';
  plan.vpn.peers = [];
  plan.vpn.endpoints[0]!.host = `${name.toLowerCase()}.libraries.example`;
  plan.vpn.sites = [];
  plan.devices = [];
  plan.networks = thirds.map((third) => ({
    ...plan.networks[0]!,
    id: `n${third}`,
    name: `Staff ${third}`,
    prefix: `10.90.${third}.0/24`,
    routerAddress: `10.90.${third}.1`,
    dhcp: { ...plan.networks[0]!.dhcp, enabled: false },
  }));
  return plan;
}

/** Two plans that hold each other. */
function joinedPlans(a: Plan, b: Plan): [Plan, Plan] {
  const { plans } = joinSites([compile(a), compile(b)]);
  return [a, b].map((plan, index) => ({
    ...plan,
    vpn: { ...plan.vpn, sites: [...plans[index]!.sites] },
  })) as [Plan, Plan];
}

/** The same, compiled. */
const joined = (a: Plan, b: Plan): [Site, Site] => joinedPlans(a, b).map(compile) as [Site, Site];

const hostOf = (block: string, offset: number): Address => {
  const { family, first } = good(parsePrefix(block));
  return { family, value: first + BigInt(offset) };
};

const sent = (site: Site, network: string, source: Address, destination: Address): Trace => {
  const from = site.networks.find(({ id }) => id === network)!;
  const flow: Flow = {
    origin: { kind: 'inside', network: from, name: 'a device' },
    header: {
      protocol: 'tcp',
      source,
      sourcePort: 50_000,
      destination,
      destinationPort: 443,
      sizeBytes: 60,
    },
    down: new Set(),
  };
  return follow(site, flow);
};
const ends = (trace: Trace): [string, string] => [
  formatAddress(trace.arrived!.source),
  formatAddress(trace.arrived!.destination),
];

describe('both ends of a tunnel', () => {
  const thirds = fc.uniqueArray(fc.integer({ min: 0, max: 5 }), { minLength: 1, maxLength: 3 });

  test('what leaves one site is what the other answers, and the answer comes back to who asked (any subnets)', () => {
    fc.assert(
      fc.property(
        thirds,
        thirds,
        fc.integer({ min: 2, max: 254 }),
        fc.integer({ min: 2, max: 254 }),
        (a, b, mine, theirs) => {
          const [here, there] = joined(branch('Anchor', a), branch('Beacon', b));
          const asker = hostOf(`10.90.${a[0]}.0/24`, mine);
          const asked = hostOf(`10.90.${b[0]}.0/24`, theirs);
          // What the other end is called here: its block as this plan has it.
          const far = here.vpn.sites[0]!;
          const as = far.translations.find(({ of, real }) => of === 'there' && contains(real, asked));
          const called = as ? translated(asked, as.real, as.seen)! : asked;
          const out = sent(here, `n${a[0]}`, asker, called);
          expect(out.outcome).toBe('delivered');
          const [source, destination] = ends(out);
          expect(destination).toBe(formatAddress(asked));
          // The other end answers to the source it saw; its own plan brings that back to the asker.
          const back = sent(there, `n${b[0]}`, asked, addr(source));
          expect(back.outcome).toBe('delivered');
          expect(ends(back)).toEqual([formatAddress(called), formatAddress(asker)]);
          // The reply that Ask shows is that same packet.
          expect(formatAddress(out.answered!.destination)).toBe(formatAddress(asker));
          expect(formatAddress(out.answered!.source)).toBe(formatAddress(called));
        },
      ),
      { numRuns: 60 },
    );
  });

  test('the router of a joined site reaches it too, and a network that is not joined is told so', () => {
    const [here] = joined(branch('Anchor', [1, 2]), branch('Beacon', [2]));
    const far = here.vpn.sites[0]!;
    const block = formatPrefix(far.prefixes[0]!).replace(/0\/24$/, '9');
    expect(good(ask(here, `from router to ${block} ping`)).outcome).toBe('delivered');
    const [plan] = joinedPlans(branch('Anchor', [1, 2]), branch('Beacon', [2]));
    plan.vpn.sites[0]!.networks = ['n1'];
    const apart = compile(plan);
    const answer = good(ask(apart, `from staff-2 to ${block} tcp 443`));
    expect(answer).toMatchObject({ outcome: 'refused' });
    expect(answer.says).toContain('is not connected with Beacon');
  });
});

describe('the way in itself', () => {
  const outcome = (change: (plan: Plan) => unknown, question: string): string => {
    const plan = demoPlan('farrow-sound');
    change(plan);
    return good(ask(compile(plan), question)).outcome;
  };

  test.each<[way: Plan['vpn']['way'], question: string, wanted: string]>([
    ['wireguard', 'from internet to fibre udp 51820', 'delivered'],
    ['wireguard', 'from internet to fibre udp 51821', 'refused'],
    ['wireguard', 'from internet to fibre tcp 51820', 'refused'],
    ['ikev2', 'from internet to fibre udp 500', 'delivered'],
    ['ikev2', 'from internet to fibre udp 4500', 'delivered'],
    ['tls', 'from internet to fibre tcp 443', 'delivered'],
    ['none', 'from internet to fibre udp 51820', 'refused'],
    ['mesh', 'from internet to fibre udp 51820', 'refused'],
  ])('%s: %s is %s', (way, question, wanted) =>
    expect(outcome((plan) => (plan.vpn.way = way), question)).toBe(wanted),
  );

  test('on cellular it cannot be called, whatever is open (RFC 6598)', () => {
    expect(outcome(() => {}, 'from internet to cellular udp 51820')).toBe('impossible');
  });

  test('a pool for IPv6 is fd and 40 random bits, one subnet of 64 (RFC 4193 section 3.1)', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 5, maxLength: 5 }), (random) => {
        const pool = uniqueLocalPool(random);
        const hex = pool.first.toString(16).padStart(32, '0');
        expect(pool).toMatchObject({ family: 6, length: 64 });
        expect(hex.slice(0, 2)).toBe('fd');
        expect(hex.slice(2, 12)).toBe(Buffer.from(random).toString('hex'));
        expect(hex.slice(16)).toBe('0'.repeat(16));
        expect(formatPrefix(good(parsePrefix(formatPrefix(pool))))).toBe(formatPrefix(pool));
      }),
    );
    expect(natSeconds.promised).toBe(120);
  });
});
