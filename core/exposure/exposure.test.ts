import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { address } from '../net/address.ts';
import { holds } from '../net/packet-set.ts';
import { everyAddress } from '../net/packet-set.ts';
import { ask } from '../path/ask.ts';
import { follow } from '../path/follow.ts';
import { reachSchema, type Plan } from '../plan/schema.ts';
import { createRouter } from '../router/router.ts';
import { compile } from '../site/compile.ts';
import { demoPlan, good } from '../testing/plans.ts';
import { compareReach } from './compare.ts';
import { reachesOf, reachedName } from './describe.ts';
import { exposure, type Passing } from './exposure.ts';
import { entrancesOf, sendersOf } from './senders.ts';

const names = ['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane'] as const;

/** What is changed in a demo site at random: allowances, forwards, services, grants, rules of lines. */
const anyWish = fc.record({
  name: fc.constantFrom(...names),
  reach: fc.array(fc.tuple(fc.nat(), fc.nat(), fc.option(fc.nat()), fc.option(fc.nat())), { maxLength: 4 }),
  rules: fc.array(
    fc.record({
      from: fc.nat(),
      to: fc.nat(),
      action: fc.constantFrom('allow', 'refuse'),
      destination: fc.constantFrom('network', 'internet', 'equipment'),
      prefixes: fc.constantFrom([], ['203.0.113.0/24', '2001:db8:7::/48'], ['0.0.0.0/0'], ['nonsense']),
      protocol: fc.constantFrom('any', 'tcp', 'udp', 'both', 'icmp'),
      ports: fc.constantFrom('', '25', '440-9000', '0'),
    }),
    { maxLength: 4 },
  ),
  forwards: fc.array(
    fc.record({
      device: fc.nat(),
      line: fc.nat(),
      protocol: fc.constantFrom('tcp', 'udp', 'both'),
      outside: fc.constantFrom('', '80', '8000-8010', '443', '53'),
      inside: fc.constantFrom('80', '631', '8443', '9000-9003'),
      sources: fc.constantFrom('', '198.51.100.0/28', 'nonsense', '0.0.0.0/0'),
    }),
    { maxLength: 3 },
  ),
  outside: fc.boolean(),
  inside: fc.constantFrom('usual', 'all', 'managed'),
  refused: fc.option(fc.constantFrom('25', '8000-9000')),
  tunnel: fc.constantFrom('split', 'full', 'near'),
  hub: fc.boolean(),
});
type Wish = typeof anyWish extends fc.Arbitrary<infer Value> ? Value : never;

function planOfWish(wish: Wish): Plan {
  const plan = demoPlan(wish.name);
  const pick = <T>(list: readonly T[], index: number): T => list[index % list.length]!;
  for (const [from, to, device, service] of wish.reach) {
    const target = device === null ? undefined : pick(plan.devices, device);
    plan.reach.push(
      reachSchema.parse({
        id: `r${plan.reach.length}`,
        from: pick(plan.networks, from).id,
        to: target?.network ?? pick(plan.networks, to).id,
        device: target?.id ?? '',
        service:
          target && service !== null && target.services.length > 0 ? pick(target.services, service).id : '',
      }),
    );
  }
  for (const { from, to, ...rule } of wish.rules)
    plan.reach.unshift(
      reachSchema.parse({
        id: `u${plan.reach.length}`,
        from: pick(plan.networks, from).id,
        to: pick(plan.networks, to).id,
        ...rule,
      }),
    );
  for (const each of wish.forwards)
    plan.forwards.push({
      id: `f${plan.forwards.length}`,
      purpose: 'random',
      uplink: pick(plan.uplinks, each.line).id,
      device: pick(plan.devices, each.device).id,
      service: '',
      protocol: each.protocol as 'tcp',
      insidePorts: each.inside,
      outsidePorts: each.outside,
      sources: each.sources === '' ? [] : [each.sources],
    });
  for (const service of plan.router.services) {
    service.outside = wish.outside;
    service.inside = wish.inside as 'usual';
  }
  if (wish.refused !== null)
    plan.failover.rules.unshift({
      id: 'refuse',
      network: '',
      protocol: 'tcp',
      ports: wish.refused,
      lines: [],
      says: 'refused',
    } as never);
  for (const group of plan.vpn.groups)
    if (wish.tunnel === 'split' || wish.tunnel === 'full') group.tunnel = wish.tunnel as never;
  plan.vpn.hub = wish.hub;
  return plan;
}

const between = (first: bigint, last: bigint, pick: number): bigint =>
  first + (BigInt(Math.floor(pick * 1e9)) * (last - first)) / 1_000_000_000n;

describe('who can reach what', () => {
  test('the set says of any packet what following that packet says', () =>
    fc.assert(
      fc.property(
        anyWish,
        fc.array(
          fc.record({
            sender: fc.nat(),
            entrance: fc.nat(),
            box: fc.nat(),
            source: fc.double({ min: 0, max: 1, noNaN: true }),
            destination: fc.double({ min: 0, max: 1, noNaN: true }),
            anywhere: fc.boolean(),
            protocol: fc.constantFrom('tcp' as const, 'udp' as const, 'icmp' as const),
            port: fc.oneof(
              fc.integer({ min: 1, max: 65_535 }),
              fc.constantFrom(53, 80, 81, 443, 631, 8000, 8002, 8003, 8004, 8010, 8443, 9000, 9003, 51820),
            ),
          }),
          { minLength: 40, maxLength: 40 },
        ),
        fc.nat(),
        (wish, tries, failing) => {
          const site = compile(planOfWish(wish));
          const line = site.lines[failing % (site.lines.length + 1)];
          const down = new Set(line ? [line.id] : []);
          const router = createRouter(site, down);
          const passing = exposure(site, down);
          const senders = sendersOf(site);
          for (const each of tries) {
            const sender = senders[each.sender % senders.length]!;
            const entrances = entrancesOf(site, sender, router, down);
            const entrance = entrances[each.entrance % entrances.length];
            if (!entrance) continue;
            const targets = [
              ...entrance.rows.flatMap((row) => row.destination ?? []),
              everyAddress(4),
            ].filter((range) =>
              entrance.destinations.some(
                (whole) =>
                  whole.family === range.family && whole.first <= range.first && range.last <= whole.last,
              ),
            );
            const aimed = each.anywhere
              ? entrance.destinations
              : targets.length > 0
                ? targets
                : entrance.destinations;
            const target = aimed[each.box % aimed.length]!;
            const source = entrance.sources.find(({ family }) => family === target.family);
            if (!source) continue;
            const header = {
              protocol: each.protocol,
              source: address(source.family, between(source.first, source.last, each.source)),
              sourcePort: each.protocol === 'icmp' ? 0 : 49152,
              destination: address(target.family, between(target.first, target.last, each.destination)),
              destinationPort: each.protocol === 'icmp' ? 0 : each.port,
              sizeBytes: 60,
            };
            const { reached } = follow(site, { origin: entrance.origin, header, down }, router);
            const found = passing.filter(
              (one) => one.sender.id === sender.id && one.boxes.some((box) => holds(box, header)),
            );
            expect(found.map((one) => reachedName(one.reached))).toEqual(
              reached ? [reachedName(reached)] : [],
            );
          }
        },
      ),
      { numRuns: Number(process.env.NETTER_RUNS ?? 60) },
    ));

  test('nothing passes between two parties that no rule names, but what inside may do outside and a ping of the router', () =>
    fc.assert(
      fc.property(anyWish, (wish) => {
        for (const { at, sender, reached } of exposure(compile(planOfWish(wish))))
          if (at === undefined)
            expect([
              'internet',
              'in-front',
              'router',
              ...(sender.kind === 'internet' ? [] : ['network']),
            ]).toContain(reached.kind);
      }),
      { numRuns: 10 },
    ));

  test.each(names)('%s: the packet that is named passes, by Ask, with each line up and down', (name) => {
    const site = compile(demoPlan(name));
    for (const down of [[], ...site.lines.map((line) => [line])]) {
      const found = exposure(site, new Set(down.map(({ id }) => id)));
      expect(found.length).toBeGreaterThan(0);
      for (const { witness } of found)
        expect([witness, good(ask(site, witness)).outcome]).toEqual([
          witness,
          expect.stringMatching(/^(delivered|hairpin)$/),
        ]);
    }
  });

  const of = (passing: readonly Passing[], from: string) => (plan: Plan) =>
    reachesOf(
      compile(plan),
      passing.filter(({ sender }) => sender.name === from),
    ).map(({ to, services }) => `${to}: ${services}`);

  test('Farrow Sound, by hand: from the internet one service and the tunnel; from the tills the printer', () => {
    const plan = demoPlan('farrow-sound');
    const passing = exposure(compile(plan));
    expect(of(passing, 'Internet')(plan)).toEqual(['Tide logger: tcp 8443', 'the router: udp 51820']);
    expect(of(passing, 'Tickets')(plan)).toContain('Office printer: tcp 631');
    expect(of(passing, 'Gate contractor')(plan)).toEqual([
      'the router: tcp 53; udp 53',
      'Gate controller: tcp 443',
    ]);
    // With the fibre down the cellular line is behind carrier NAT: nothing comes in.
    expect(of(exposure(compile(plan), new Set(['fibre'])), 'Internet')(plan)).toEqual([]);
  });

  test('from another site that knows a subnet as another: the router behind it answers as under its own address', () => {
    const site = compile(demoPlan('mill-lane'));
    const ask53 = { protocol: 'tcp' as const, source: address(4, 0x0a3d2801n), destinationPort: 53 };
    const passes = (host: bigint): boolean =>
      exposure(site).some(
        ({ sender, boxes }) =>
          sender.kind === 'site' &&
          boxes.some((box) => holds(box, { ...ask53, destination: address(4, host) })),
      );
    // Staff is 10.61.10.0/24 here and 172.24.0.0/24 there; .1 is the router.
    expect([passes(0x0a3d0a01n), passes(0xac180001n)]).toEqual([true, true]);
    // Under either name it is the same subnet of this site.
    const staff = reachesOf(
      site,
      exposure(site).filter(({ sender }) => sender.kind === 'site'),
    ).filter(({ to }) => to === 'Staff');
    expect(staff).toEqual([{ to: 'Staff', services: 'everything' }]);
  });

  test('from another site: what is connected, and through a hub the third', () => {
    const plan = demoPlan('weir-street');
    const text = (): string[] => of(exposure(compile(plan)), 'Mill Lane branch library')(plan);
    expect(text()).toEqual(expect.arrayContaining(['Staff: everything', 'Door counter: everything']));
    expect(text().join()).not.toContain('Reading room');
    plan.vpn.sites.push({ ...plan.vpn.sites[0]!, id: 'third', name: 'Third', prefixes: ['10.99.0.0/24'] });
    expect(text().join()).not.toContain('Third');
    plan.vpn.hub = true;
    expect(text()).toContain('Third: everything');
  });
});

describe('what a change opens and closes', () => {
  const changed = (name: string, change: (plan: Plan) => void): string[] => {
    const after = demoPlan(name);
    change(after);
    return compareReach(compile(demoPlan(name)), compile(after)).map(({ says }) => says);
  };

  test('nothing where nothing that decides was changed', () => {
    expect(changed('farrow-sound', (plan) => (plan.site.notes = 'x'))).toEqual([]);
    expect(changed('farrow-sound', (plan) => (plan.networks[0]!.name = 'Back office'))).toEqual([]);
  });

  test('one edit that breaks the separation is one sentence, and the other way round', () => {
    const open = (plan: Plan): void =>
      void plan.reach.push(
        reachSchema.parse({ id: 'x', from: 'passengers', to: 'tickets', device: '', service: '' }),
      );
    expect(changed('farrow-sound', open)).toEqual(['opens everything from Passengers to Tickets']);
    const before = demoPlan('farrow-sound');
    open(before);
    expect(compareReach(compile(before), compile(demoPlan('farrow-sound'))).map(({ says }) => says)).toEqual([
      'closes everything from Passengers to Tickets',
    ]);
  });

  test('a wider source list, a service that answers outside, a grant', () => {
    expect(changed('farrow-sound', (plan) => (plan.forwards[0]!.sources = []))).toEqual([
      'opens tcp 8443 from Internet to Tide logger',
    ]);
    expect(changed('farrow-sound', (plan) => (plan.router.services[0]!.outside = true))).toEqual([
      'opens tcp 443 from Internet to the router',
    ]);
    expect(changed('farrow-sound', (plan) => (plan.vpn.groups[1]!.grants[0]!.service = ''))).toEqual([
      'opens tcp 1-442, 444-65535; all udp ports; ping from Gate contractor to Gate controller',
    ]);
  });

  test('another network opens what it may do, and nothing towards itself', () => {
    const says = changed('mill-lane', (plan) => {
      plan.networks.push({
        ...plan.networks[0]!,
        id: 'new',
        name: 'New',
        prefix: '10.99.0.0/24',
        routerAddress: '10.99.0.1',
      });
    });
    expect(says).toContain('opens everything from New to the internet');
    expect(says.filter((each) => each.endsWith('to New'))).toEqual([]);
  });

  test('a network that is renumbered and a device that moves are the parties that they were', () => {
    expect(
      changed('mill-lane', (plan) => {
        const [network] = plan.networks;
        const move = (text: string): string => text.replace(/^10\.61\.10\./, '10.77.10.');
        network!.prefix = move(network!.prefix);
        network!.routerAddress = move(network!.routerAddress);
        for (const device of plan.devices) device.address = move(device.address);
        for (const row of plan.vpn.sites.flatMap(({ translations }) => translations))
          if (row.of === 'here') row.real = move(row.real);
      }).filter((says) => !says.includes('the router') && !says.includes('internet')),
    ).toEqual([]);
    expect(
      changed('farrow-sound', (plan) => {
        plan.devices.find(({ name }) => name === 'Office printer')!.address = '10.24.10.44';
      }),
    ).toEqual([]);
  });
});
