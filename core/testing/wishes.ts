import fc from 'fast-check';
import { forwardSchema, networkSchema, reachSchema, secondSchema, type Plan } from '../plan/schema.ts';
import { demoPlan } from './plans.ts';

export const demoNames = ['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane', 'larch-house'] as const;

/** What is changed in a demo site at random: allowances, forwards, services, grants, rules of lines. */
export const anyWish = fc.record({
  name: fc.constantFrom(...demoNames),
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
  untranslated: fc.boolean(),
  route: fc.option(fc.constantFrom('10.99.0.0/16', '203.0.113.192/28', '172.24.0.128/25')),
  manages: fc.boolean(),
  hub: fc.boolean(),
  hairpin: fc.constantFrom('unknown', 'yes', 'no'),
  ping: fc.boolean(),
  six: fc.constantFrom('none', 'apart', 'twin'),
  block: fc.boolean(),
  shared: fc.boolean(),
  boxes: fc.boolean(),
  second: fc.option(
    fc.record({
      device: fc.nat(),
      protocol: fc.constantFrom('tcp', 'udp', 'both'),
      outside: fc.constantFrom('80', '631', '8000-9003'),
      inside: fc.constantFrom('', '80', '10000-10003'),
      host: fc.constantFrom('192.168.231.9', '192.168.77.9'),
      translates: fc.boolean(),
      route: fc.boolean(),
    }),
  ),
  plug: fc.option(fc.nat()),
});
export type Wish = typeof anyWish extends fc.Arbitrary<infer Value> ? Value : never;

/** Two inside networks with IPv6, one of which may reach the other on one port (RFC 4193); with `twin` on VLANs of IPv4. */
function withSix(plan: Plan, twin: boolean): void {
  const vlans = twin ? plan.networks.flatMap(({ vlan }) => vlan ?? []) : [];
  for (const [index, name] of ['Lab six', 'Desk six'].entries())
    plan.networks.push(
      networkSchema.parse({
        id: `six${index}`,
        name,
        purpose: 'staff',
        vlan: vlans[index] ?? 600 + index,
        prefix: `fd5e:24a1:60c3:${index + 1}::/64`,
        routerAddress: `fd5e:24a1:60c3:${index + 1}::1`,
        dhcp: { enabled: false },
        resolvers: [`fd5e:24a1:60c3:${index + 1}::1`],
      }),
    );
  plan.reach.push(
    reachSchema.parse({ id: 'six', from: 'six0', to: 'six1', protocol: 'tcp', ports: '443-8443' }),
  );
}

/** The first line becomes one with fixed addresses, to which a further prefix is routed that only one network uses. */
function withBlock(plan: Plan): void {
  const uplink = plan.uplinks[0]!;
  if (uplink.handoff.mode === 'routes') return;
  uplink.type = 'static';
  Object.assign(uplink.settings.static, {
    address: '203.0.113.226',
    prefixLength: '30',
    gateway: '203.0.113.225',
    routedBlock: '203.0.113.232/29',
  });
}

/** The first line has some ports of an address that it shares: 8192 to 16383 (RFC 7597 section 5.1). */
function withSharedAddress(plan: Plan): void {
  const uplink = plan.uplinks[0]!;
  if (uplink.handoff.mode === 'routes') return;
  uplink.type = 'map-t';
  Object.assign(uplink.settings['map-t'], {
    delegated: '2001:db8:12:3900::/56',
    ruleIpv6: '2001:db8:10::/45',
    ruleIpv4: '192.0.2.0/24',
    eaBits: 11,
    psidOffset: 0,
  });
}

/** A device in front of every line, each of which forwards some ports. */
export function withBoxes(plan: Plan): void {
  for (const [index, uplink] of plan.uplinks.entries()) {
    const subnet = `192.168.${208 + index}`;
    uplink.type = 'dhcp';
    uplink.settings.dhcp.expectedAddress = `${subnet}.2`;
    Object.assign(uplink.handoff, {
      mode: 'routes',
      insidePrefix: `${subnet}.0/24`,
      insideAddress: '',
      outsideAddress: `203.0.113.${170 + index}`,
      forwards: [{ id: 'some', protocol: 'tcp', ports: '8000-9000' }],
    });
  }
}

/** A device becomes a second router that hands on some ports. */
function withSecond(
  plan: Plan,
  { device, host, outside, inside, protocol, translates, route }: NonNullable<Wish['second']>,
): void {
  const chosen = plan.devices.filter(({ address }) => address !== '')[device % 3];
  if (!chosen) return;
  plan.second.push(
    secondSchema.parse({
      id: 'wish-second',
      network: chosen.network,
      way: 'chained',
      address: chosen.address,
      inside: '192.168.231.1/24',
      translates,
      forwards: [{ id: 'one', protocol, outsidePorts: outside, address: host, insidePorts: inside }],
    }),
  );
  if (route)
    plan.routes.push({ id: 'wish-second', prefix: '192.168.231.0/24', via: chosen.address, notes: '' });
}

/** Every device that has a cable is plugged into a port of another VLAN. */
function plugElsewhere(plan: Plan, pick: number): void {
  for (const run of plan.wiring.runs) {
    const box = run.toDevice === '' ? undefined : plan.kit.find(({ id }) => id === run.fromBox);
    const port = box?.ports.find(({ name }) => name === run.fromPort);
    const network = plan.networks[pick % plan.networks.length]!;
    if (port && network.vlan !== null) port.untagged = network.vlan as never;
  }
}

/** The demo site of a wish, changed as it says. */
export function planOfWish(wish: Wish): Plan {
  const plan = demoPlan(wish.name);
  const pick = <T>(list: readonly T[], index: number): T => list[index % list.length]!;
  for (const [from, to, device, service] of wish.reach) {
    const target = device === null ? undefined : pick(plan.devices, device);
    plan.reach.push(
      reachSchema.parse({
        id: `wish-r${plan.reach.length}`,
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
        id: `wish-u${plan.reach.length}`,
        from: pick(plan.networks, from).id,
        to: pick(plan.networks, to).id,
        ...rule,
      }),
    );
  for (const each of wish.forwards)
    plan.forwards.push(
      forwardSchema.parse({
        id: `wish-f${plan.forwards.length}`,
        purpose: 'random',
        uplink: pick(plan.uplinks, each.line).id,
        device: pick(plan.devices, each.device).id,
        service: '',
        protocol: each.protocol as 'tcp',
        insidePorts: each.inside,
        outsidePorts: each.outside,
        sources: each.sources === '' ? [] : [each.sources],
      }),
    );
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
  for (const group of plan.vpn.groups) group.manages = wish.manages;
  if (wish.route !== null)
    plan.routes.push({
      id: 'wish-route',
      prefix: wish.route,
      via: plan.networks[0]!.prefix.replace(/\d+\/\d+$/, '2'),
      notes: '',
    });
  if (wish.untranslated) plan.uplinks[0]!.sourceNat = false;
  if (wish.boxes) withBoxes(plan);
  if (wish.six !== 'none') withSix(plan, wish.six === 'twin');
  if (wish.block && !wish.boxes) withBlock(plan);
  if (wish.shared && !wish.boxes) withSharedAddress(plan);
  if (wish.second) withSecond(plan, wish.second);
  if (wish.plug !== null) plugElsewhere(plan, wish.plug);
  plan.vpn.hub = wish.hub;
  plan.router.hairpin = wish.hairpin as 'unknown';
  plan.router.pingOutside = wish.ping;
  return plan;
}
