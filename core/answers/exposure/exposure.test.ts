import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { address } from '../../base/net/address.ts';
import { holds } from '../../base/net/packet-set.ts';
import { everyAddress } from '../../base/net/packet-set.ts';
import { ask } from '../path/ask.ts';
import { follow } from '../path/follow.ts';
import { reachSchema, type Plan } from '../../plan/schema.ts';
import { createRouter } from '../../behaviour/router/router.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { anyWish, demoNames, planOfWish } from '../../testing/wishes.ts';
import { compareReach } from './compare.ts';
import { reachesOf, reachedName } from './describe.ts';
import { exposure, type Passing } from './exposure.ts';
import { entrancesOf, sendersOf } from './senders.ts';

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

  test.each(demoNames)('%s: the packet that is named passes, by Ask, with each line up and down', (name) => {
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
