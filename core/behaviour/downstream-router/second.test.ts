import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { runChecks } from '../../answers/checks/index.ts';
import { formatAddress } from '../../base/net/address.ts';
import { ask } from '../../answers/path/ask.ts';
import { applyPatch } from '../../plan/patch.ts';
import type { Plan } from '../../plan/schema.ts';
import { runSheet } from '../../answers/run-sheet/sheet.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { anyWish, planOfWish } from '../../testing/wishes.ts';
import { bridgeSignal } from './air.ts';
import { compareWays, translationsWorked } from './compare.ts';

const larch = (change: (plan: Plan) => void = () => {}): Plan => {
  const plan = demoPlan('larch-house');
  change(plan);
  return plan;
};
const asked = (plan: Plan, question: string) => good(ask(compile(plan), question));

describe('a second router that translates', () => {
  test('takes a packet through two translations of its own site, and the answer back through both', () => {
    const out = asked(larch(), 'from 192.168.60.20 to internet tcp 443');
    expect(out.hops.filter(({ stage }) => stage === 'source NAT').map(({ node }) => node)).toEqual([
      "Tenant's router",
      'router',
      "provider's box",
    ]);
    expect([out.outcome, out.seenFrom]).toEqual(['delivered', '203.0.113.150']);
    // RFC 3022 section 2.2: what comes back gets the address that sent it.
    expect(out.reply.at(-1)!.after).toContain('> 192.168.60.20:49152');
    const site = compile(larch());
    expect(
      ['access-point', 'chained'].map((way) => translationsWorked(site, way as 'chained').value),
    ).toEqual([2, 3]);
  });

  test('hands on what its own forward names, with its port changed, and nothing else', () => {
    const there = asked(larch(), 'from 198.51.100.3 to copper tcp 8443');
    expect(there.hops.at(-1)!.after).toBe('198.51.100.3:49152 > 192.168.60.10:443 tcp');
    const without = asked(
      larch(({ second }) => void (second[2]!.forwards = [])),
      'from 198.51.100.3 to copper tcp 8443',
    );
    expect([without.outcome, without.hops.at(-1)!.node]).toEqual(['refused', "Tenant's router"]);
    const astray = asked(
      larch(({ second }) => void (second[2]!.forwards[0]!.address = '10.24.50.40')),
      'from 198.51.100.3 to copper tcp 8443',
    );
    expect(astray.says).toContain('not in its own subnet');
  });

  test('every port of a forward has to be handed on, by the same protocol', () => {
    const missed = (change: (plan: Plan) => void): string | undefined =>
      runChecks(compile(larch(change))).find(
        ({ rule, severity }) => rule === 'second-forward' && severity === 'blocker',
      )?.says;
    expect(missed(() => {})).toBeUndefined();
    const service = (plan: Plan) => plan.devices[0]!.services[0]!;
    expect(missed((plan) => void (service(plan).ports = '8443-8445'))).toContain('tcp 8444');
    expect(missed((plan) => void (service(plan).protocol = 'both'))).toContain('udp 8443');
    expect(missed((plan) => void (plan.second[2]!.forwards[0]!.protocol = 'udp'))).toContain('tcp 8443');
  });

  test('a box that is sold as a router passes frames on once it is an access point', () => {
    const plan = larch(({ kit }) => void (kit.find(({ id }) => id === 'upstairs')!.role = 'router'));
    const kinds = new Map(compile(plan).wiring.boxes.map(({ id, kind }) => [id, kind]));
    expect([kinds.get('router'), kinds.get('upstairs'), kinds.get('tenant')]).toEqual([
      'router',
      'bridge',
      'end',
    ]);
  });

  test('without translation it needs a way back, and then every device behind it is met under its own address', () => {
    const routed = (route: boolean): Plan =>
      larch((plan) => {
        plan.second[2]!.translates = false;
        if (route) plan.routes.push({ id: 'r', prefix: '192.168.60.0/24', via: '10.24.52.2', notes: '' });
      });
    const out = asked(routed(true), 'from 192.168.60.20 to internet tcp 443');
    expect([out.outcome, out.hops.filter(({ stage }) => stage === 'source NAT').length]).toEqual([
      'delivered',
      2,
    ]);
    // RFC 1812 section 5.2.4.3: without a route nothing finds back.
    expect(asked(routed(false), 'from 192.168.60.20 to internet tcp 443').outcome).not.toBe('delivered');
    expect(asked(routed(true), 'from router to 192.168.60.20 tcp 80').says).toContain('behind Tenant');
    // Where it translates, a route alone lets nobody in.
    const closed = routed(true);
    closed.second[2]!.translates = true;
    expect(asked(closed, 'from router to 192.168.60.20 tcp 80').outcome).toBe('refused');
    expect(runChecks(compile(routed(true))).map(({ rule }) => rule)).not.toContain('overlap');
    expect(runChecks(compile(routed(false))).map(({ rule }) => rule)).toContain('second-route');
  });

  test('protects nothing of the network in which it is: from behind it all of that network is a neighbour', () => {
    const plan = larch(({ second }) =>
      Object.assign(second[2]!, { network: 'house', address: '10.24.50.7' }),
    );
    const reached = asked(plan, 'from 192.168.60.20 to 10.24.50.40 tcp 80');
    expect([reached.outcome, reached.seenFrom]).toEqual(['delivered', '10.24.50.7']);
    expect(reached.hops.some(({ stage }) => stage === 'policy')).toBe(false);
    // The other way round nobody gets in.
    expect(asked(plan, 'from house to 192.168.60.20 tcp 80').outcome).not.toBe('delivered');
  });
});

describe('the three ways', () => {
  test('choosing any of them leaves no blocker about addresses or DHCP, on any site', () =>
    fc.assert(
      fc.property(anyWish, fc.nat(), fc.nat(), (wish, network, way) => {
        const plan = planOfWish({ ...wish, second: null });
        plan.second = [
          {
            ...demoPlan('larch-house').second[0]!,
            id: 'new',
            box: '',
            network: plan.networks[network % plan.networks.length]!.id,
            way: 'undecided',
            address: '',
            dhcp: true,
          },
        ];
        const site = compile(plan);
        const option = compareWays(site, site.second[0]!)[way % 3]!;
        const changed = compile(good(applyPatch(plan, option.patch)));
        const added = runChecks(changed).filter(
          ({ rule, at, severity }) =>
            severity === 'blocker' && at.startsWith('/second') && rule !== 'second-cable',
        );
        const full = changed.second[0]!.address === undefined;
        expect(full ? [] : added.map(({ says }) => says)).toEqual([]);
      }),
      { numRuns: 40 },
    ));

  test('each says the same topics, and one is recommended with its reason', () => {
    const site = compile(larch());
    for (const second of site.second) {
      const options = compareWays(site, second);
      const topics = options.map(({ consequences }) => consequences.map(({ topic }) => topic));
      expect(topics[1]).toEqual(topics[0]);
      expect(topics[2]).toEqual(topics[0]);
      expect(options.filter(({ recommended }) => recommended).map(({ reason }) => reason !== '')).toEqual([
        true,
      ]);
    }
    // Where no cable is, nothing else is left.
    expect(compareWays(site, site.second[1]!).find(({ recommended }) => recommended)!.way).toBe('bridge');
  });

  test('what they promise on paper is what the checks refuse', () => {
    const site = compile(larch());
    const bridge = compareWays(site, site.second[0]!).find(({ way }) => way === 'bridge')!;
    const chosen = runChecks(compile(good(applyPatch(larch(), bridge.patch))));
    // The upstairs box serves guests as well, and a bridge carries one network.
    expect(bridge.consequences.find(({ topic }) => topic === 'Networks on it')!.weight).toBe('breaks');
    expect(chosen.find(({ rule }) => rule === 'second-open')?.severity).toBe('blocker');
  });
});

test('a bridge over a distance is expected between free space and a building all the way', () => {
  const site = compile(
    larch(({ second }) => Object.assign(second[1]!, { metres: 40, sight: 'unknown', signal: null })),
  );
  const { low, high } = bridgeSignal(site, site.second[1]!)!;
  // ITU-R P.525: 20 log 5180 + 20 log 0.04 + 32.4 = 78.7 dB; ITU-R P.1238: 20 log 5180 + 33 log 40 - 28 = 99.2 dB.
  expect([23 - high, 23 - low].map((each) => Number(each.toFixed(1)))).toEqual([78.7, 99.2]);
});

test('in clear sight it is free space less aim and weather; a gain adds; walls keep to the model of a building', () => {
  const over = (change: Partial<Plan['second'][number]>) => {
    const site = compile(
      larch(({ second }) => Object.assign(second[1]!, { metres: 40, signal: null, ...change })),
    );
    const { low, high } = bridgeSignal(site, site.second[1]!)!;
    return [high, low].map((each) => Number(each.toFixed(1)));
  };
  // 23 dBm EIRP; ITU-R P.525 78.7 dB; ITU-R P.1238 with N = 28: 74.3 + 44.9 - 28 = 91.1 dB, N = 33: 99.2 dB.
  expect(over({ sight: 'clear' })).toEqual([-55.7, -65.7]);
  expect(over({ sight: 'clear', gain: 13 })).toEqual([-42.7, -52.7]);
  expect(over({ sight: 'walls' })).toEqual([-68.1, -76.2]);
});

describe('the order of work', () => {
  const order = (name: string): ((id: string) => number) => {
    const ids = runSheet(compile(demoPlan(name))).map(({ id }) => id);
    return (id) => {
      expect(ids).toContain(id);
      return ids.indexOf(id);
    };
  };

  test('a second box is set alone before its cable, the first radio before those that follow', () => {
    const place = order('larch-house');
    for (const id of ['upstairs', 'tenant'])
      expect(place(`second-alone:${id}`)).toBeLessThan(place(`second-cable:${id}`));
    expect(place('second-address:upstairs')).toBeLessThan(place('switch:upstairs'));
    expect(place('radio:hall5')).toBeLessThan(place('radio:barn5'));
    expect(place('radio:barn5')).toBeLessThan(place('second-join:barn'));
    // Two that come with one address are never on the wire together.
    expect(place('second-cable:upstairs')).toBeLessThan(place('second-alone:barn'));
  });

  test('the far switch comes before the near one, and the router moves when both carry the line', () => {
    const place = order('weir-street');
    expect(place('switch:switch-cellar')).toBeLessThan(place('switch:switch-rack'));
    expect(place('switch:switch-rack')).toBeLessThan(place('transit:cable'));
    expect(place('transit:cable')).toBeLessThan(place('router-moves'));
    expect(place('router-moves')).toBeLessThan(place('uplink:cable'));
  });
});

test('a device that is plugged in elsewhere is met where it is plugged in', () => {
  const plan = demoPlan('weir-street');
  const port = plan.kit.find(({ id }) => id === 'switch-rack')!.ports.find(({ name }) => name === '5')!;
  const { network } = plan.devices.find(({ id }) => id === 'counter-1')!;
  const other = plan.networks.find(({ id, vlan }) => id !== network && vlan !== null)!;
  port.untagged = other.vlan as never;
  const site = compile(plan);
  const device = site.devices.find(({ id }) => id === 'counter-1')!;
  const from = asked(plan, 'from counter-at-the-main-door to internet tcp 443');
  // IEEE 802.1Q: the PVID of the port decides, so DHCP gives it an address of that network.
  expect(from.hops[0]!.before).toContain(other.prefix.split('.').slice(0, 2).join('.'));
  // Nobody answers at the address that was kept for it.
  expect(asked(plan, `from router to ${formatAddress(device.address!)} ping`)).toMatchObject({
    outcome: 'dropped',
    says: expect.stringContaining('is plugged in where'),
  });
});
