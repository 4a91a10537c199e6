import { describe, expect, test } from '@jest/globals';
import { exposure } from '../exposure/exposure.ts';
import { networkSchema, type Plan } from '../../plan/schema.ts';
import { runChecks } from '../checks/index.ts';
import { compile } from '../../site/compile.ts';
import { linkOf } from '../../site/link.ts';
import type { Site } from '../../site/model.ts';
import { compiledCopy, boxInFront, demoPlan, good, soundPlan } from '../../testing/plans.ts';
import { misplaced } from '../../behaviour/wiring/where.ts';
import { ask } from './ask.ts';
import { flowOf, parseQuery } from './query.ts';

/* Where subnets, links and lines end: addresses that nobody has, packets that no link carries, neighbours in front. */

const outcome = (site: Site, question: string): string => good(ask(site, question)).outcome;
const refusal = (site: Site, question: string): string => {
  const flow = flowOf(site, good(parseQuery(question)));
  return flow.ok ? '' : flow.problem.says;
};

describe('the first and the last address of a subnet (RFC 919, RFC 1122 section 3.2.1.3)', () => {
  const joined = compile(demoPlan('mill-lane'));
  const house = compile(demoPlan('larch-house'));
  const sound = compile(soundPlan());
  test.each([
    ['from office to 10.24.30.0 tcp 80', sound],
    ['from guests to 10.24.10.255 tcp 443', sound],
    // The neighbour itself sends there, and gets no answer of anybody's.
    ['from office to 10.24.10.255 udp 137', sound],
    // The subnet of the line: .8 and .11 of 203.0.113.8/30.
    ['from office to 203.0.113.8 tcp 443', sound],
    ['from router to 203.0.113.11 udp 53', sound],
    ['from staff to 172.24.1.0 tcp 443', joined],
    ['from staff to 172.24.1.255 tcp 443', joined],
    ['from staff to 10.61.40.15 tcp 443', joined],
  ])('%s', (question, site) => expect(['dropped', 'refused']).toContain(outcome(site, question)));

  test('nobody sends from one', () => {
    for (const [site, host] of [
      [sound, '10.24.10.0'],
      [sound, '10.24.30.255'],
      [joined, '172.24.1.255'],
    ] as const)
      expect(refusal(site, `from ${host} to internet tcp 443`)).toMatch(/no host has it/);
  });

  test('none of them is a witness of what can be reached, and none is in a set of what is', () => {
    for (const site of [sound, joined, house])
      for (const { boxes, witness, reached } of exposure(site)) {
        if (reached.kind === 'internet') continue;
        expect(refusal(site, witness)).toBe('');
        for (const { name, prefix } of [
          ...site.prefixes.filter(({ role }) => role !== 'route'),
          ...site.vpn.sites.flatMap(({ name: of, prefixes }) =>
            prefixes.map((each) => ({ name: of, prefix: each })),
          ),
        ])
          if (prefix.family === 4 && prefix.length < 31)
            for (const value of [prefix.first, prefix.last])
              expect([
                name,
                boxes.some(({ destination: { first, last } }) => first <= value && value <= last),
              ]).toEqual([name, false]);
      }
  });

  test('a subnet of two addresses has no such ones (RFC 3021)', () => {
    const site = compile(
      soundPlan((plan) => {
        plan.uplinks[0]!.settings.static.prefixLength = '31';
        plan.uplinks[0]!.settings.static.gateway = '203.0.113.8';
      }),
    );
    expect(outcome(site, 'from office to 203.0.113.8 tcp 443')).toBe('delivered');
  });
});

describe('a packet that a link does not carry reaches nobody behind it, the router included (RFC 1191)', () => {
  const line = compile(
    soundPlan((plan) => {
      plan.uplinks[0]!.mtuBytes = 1400;
      plan.router.pingOutside = true;
      plan.vpn.way = 'wireguard';
    }),
  );
  const joined = compile(demoPlan('mill-lane'));
  test.each([
    ['from internet to fibre ping', line, 1400],
    ['from internet to fibre udp 51820', line, 1400],
    ['from office to internet tcp 443', line, 1400],
    ['from router to internet udp 53', line, 1400],
    ['from office to router tcp 443', line, 1500],
    ['from office to server tcp 8443', line, 1500],
    ['from weir-street-library to staff tcp 443', joined, 1420],
    ['from router to weir-street-library tcp 443', joined, 1420],
  ] as const)('%s', (question, site, most) => {
    const fits = outcome(site, `${question} size ${Math.min(most, 1280)}`);
    expect(outcome(site, `${question} size ${most + 100}`)).toBe(fits === 'delivered' ? 'dropped' : fits);
  });
});

describe('a neighbour between the router and the box in front of it', () => {
  const plan = soundPlan((each) => {
    boxInFront(each);
    Object.assign(each.uplinks[0]!, { type: 'dhcp' });
    each.uplinks[0]!.settings.dhcp.expectedAddress = '192.168.8.2';
  });
  const site = compiledCopy(plan);
  test.each([
    ['from 192.168.8.50 to 192.168.8.2 tcp 8443', 'delivered'],
    ['from 192.168.8.50 to fibre tcp 8443', 'delivered'],
    ['from 192.168.8.50 to server tcp 8443', 'delivered'],
    ['from 192.168.8.50 to router tcp 443', 'refused'],
    ['from 192.168.8.50 to fibre tcp 443', 'refused'],
    ['from 192.168.8.50 to 192.168.8.1 tcp 80', 'delivered'],
    ['from 192.168.8.50 to 192.168.8.255 tcp 80', 'dropped'],
    ['from 192.168.8.50 to internet tcp 443', 'delivered'],
    // The box has no way to what is behind the router.
    ['from 192.168.8.50 to 10.24.10.20 tcp 8443', 'dropped'],
    ['from 192.168.8.50 to fibre tcp 8443 when fibre is down', 'dropped'],
    ['from device-in-front to fibre tcp 8443', 'delivered'],
  ])('%s: %s', (question, expected) => expect(outcome(site, question)).toBe(expected));

  test('a forward for some sources keeps him out', () => {
    plan.forwards[0]!.sources = ['198.51.100.0/24'];
    expect(outcome(compile(plan), 'from 192.168.8.50 to fibre tcp 8443')).toBe('refused');
  });
});

describe('a prefix that is routed to the site (RFC 7084, WPD-5; RFC 1812 section 5.2.4.3)', () => {
  const withBlock = (change: (plan: Plan) => void = () => {}): Site =>
    compile(
      soundPlan((plan) => {
        plan.uplinks[0]!.settings.static.routedBlock = '198.51.100.64/28';
        change(plan);
      }),
    );
  test('what nobody here has does not go out again, whoever sends', () => {
    for (const from of ['office', 'router', 'internet', '198.51.100.7'])
      expect([from, outcome(withBlock(), `from ${from} to 198.51.100.70 tcp 443`)]).toEqual([
        from,
        'no-route',
      ]);
  });
  test('a network that takes part of it is nearer', () => {
    const site = withBlock((plan) => {
      plan.networks[1]!.prefix = '198.51.100.64/29';
      plan.networks[1]!.routerAddress = '198.51.100.65';
      plan.networks[1]!.dhcp.enabled = false as never;
    });
    expect(outcome(site, 'from internet to 198.51.100.66 tcp 443')).toBe('refused');
    expect(outcome(site, 'from guests to internet tcp 443')).toBe('delivered');
    expect(outcome(site, 'from office to 198.51.100.75 tcp 443')).toBe('no-route');
  });
  test('it comes over its own line and no other', () => {
    expect(outcome(withBlock(), 'from internet to 198.51.100.70 tcp 443 when fibre is down')).toBe('dropped');
  });
});

describe('client isolation of a Wi-Fi name', () => {
  const site = compile(demoPlan('larch-house'));
  test('keeps apart what has joined, by its name, its network and an address', () => {
    for (const from of ['larch-house-guests', 'guests', '10.24.51.77'])
      expect([from, outcome(site, `from ${from} to 10.24.51.88 tcp 80`)]).toEqual([from, 'refused']);
    expect(outcome(site, 'from guests to internet tcp 443')).toBe('delivered');
    expect(outcome(site, 'from guests to 10.24.51.1 udp 53')).toBe('delivered');
  });
  test('what stands at a cable is reached, and reaches; so it stands in the set of what is reached', () => {
    const plan = soundPlan((each) => {
      each.kit.push({ ...each.kit[0]!, id: 'ap', role: 'access-point', adminAddress: '10.24.30.5' });
    });
    plan.wifi.networks.push({
      ...demoPlan('larch-house').wifi.networks[0]!,
      network: 'guests',
      isolation: true,
    });
    const held = compile(plan);
    expect(outcome(held, 'from guests to 10.24.30.5 tcp 443')).toBe('delivered');
    expect(outcome(held, 'from 10.24.30.5 to 10.24.30.77 tcp 443')).toBe('delivered');
    expect(outcome(held, 'from guests to 10.24.30.77 tcp 443')).toBe('refused');
    const own = exposure(held).filter(
      ({ sender, reached }) =>
        sender.name === 'Guests' && reached.kind === 'network' && reached.network.name === 'Guests',
    );
    expect(own.length).toBeGreaterThan(0);
    for (const { boxes } of own)
      for (const { source, destination } of boxes)
        expect([source, destination].some(({ first, last }) => first === last)).toBe(true);
  });
  test('a name without it keeps nobody apart', () => {
    expect(outcome(site, 'from house to 10.24.50.88 tcp 80')).toBe('delivered');
  });
});

describe('two networks of the two families with one VLAN are one link (RFC 4291 section 2.1)', () => {
  const twin = (vlan: number | null): Site =>
    compile(
      soundPlan((plan) => {
        plan.networks.push(
          networkSchema.parse({
            ...plan.networks[0]!,
            id: 'office6',
            name: 'Office six',
            vlan,
            prefix: '2001:db8:5:10::/64',
            routerAddress: '2001:db8:5:10::1',
            dhcp: { enabled: false },
            resolvers: ['2001:db8:5:10::1'],
          }),
        );
      }),
    );
  test('they stand for one another, and no check takes their VLAN for a conflict', () => {
    const site = twin(10);
    expect(linkOf(site, site.networks[2]!)).toBe(site.networks[0]);
    expect(runChecks(site).filter(({ says }) => /VLAN/.test(says))).toEqual([]);
    expect(misplaced(site).size).toBe(0);
    const other = twin(40);
    expect(linkOf(other, other.networks[2]!)).toBe(other.networks[2]);
  });
  test('two of one family with one VLAN stay a mistake', () => {
    const site = compile(soundPlan((plan) => (plan.networks[1]!.vlan = 10)));
    expect(linkOf(site, site.networks[1]!)).toBe(site.networks[1]);
    expect(runChecks(site).some(({ says }) => /VLAN/.test(says))).toBe(true);
  });
});

test('lines that share the sessions by weight are all named, whichever is shown', () => {
  const plan = demoPlan('farrow-sound');
  plan.failover.sharing = 'weights';
  plan.failover.rules = [];
  const says = (question: string): string =>
    good(ask(compile(plan), question))
      .hops.map(({ decided }) => decided)
      .join('\n');
  expect(says('from office to internet tcp 443')).toMatch(/may leave by Fibre or Cellular/);
  expect(says('from office to internet tcp 443 when fibre is down')).not.toMatch(/by weight/);
  plan.failover.sharing = 'order';
  expect(says('from office to internet tcp 443')).not.toMatch(/by weight/);
});
