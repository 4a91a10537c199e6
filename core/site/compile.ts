import { onceWhile } from '../base/once.ts';
import { asAt } from '../plan/at.ts';
import { addressKey, formatAddress, parseAddress, type Address } from '../base/net/address.ts';
import { formatPorts, type PortRange } from '../base/net/ports.ts';
import { contains, containsPrefix, formatPrefix, prefixAround, type Prefix } from '../base/net/prefix.ts';
import { rangeBetween, rangeOf, subtractRanges } from '../base/net/range.ts';
import { wayPorts } from '../plan/catalogue/vpn.ts';
import { ownerAt } from '../plan/labels.ts';
import type { Plan, PlanValues } from '../plan/schema.ts';
import { valuesOf } from '../plan/values.ts';
import { valueOf } from '../base/result.ts';
import { compileFailover } from './compile-failover.ts';
import { compileLine } from './compile-line.ts';
import { compileVpn } from './compile-vpn.ts';
import { compileSecond, isChained, type Second } from './second.ts';
import { compileWifi } from './wifi.ts';
import { compileWiring } from './wiring.ts';
import type {
  AllowedSources,
  Contradiction,
  AnswersInside,
  Device,
  Forward,
  Kit,
  Line,
  NamedPrefix,
  Network,
  Reach,
  ReachTarget,
  Route,
  RouterService,
  Service,
  Site,
  StaticRoute,
} from './model.ts';

const prefix = (text: string, length: number): Prefix => {
  const host = parseAddress(text);
  if (!host.ok) throw new Error(host.problem.says);
  return prefixAround(host.value, length);
};

/** RFC 5737: for documentation, on no host of the internet. */
const documentationBlocks = ['198.51.100.0', '192.0.2.0', '203.0.113.0'].map((text) => prefix(text, 24));
const everything = { 4: prefix('0.0.0.0', 0), 6: prefix('::', 0) } as const;

/**
 * Reads everything the plan says, once: every field by the catalogue with its usual value, every reference, the route
 * table. Nothing that hangs on a site is the plan itself. Never fails.
 */
export function compile(plan: Plan): Site {
  const { values, problems } = valuesOf(plan);
  const lines = values.uplinks.map((uplink, index) => compileLine(uplink, index));
  const networks = values.networks.map((network, index) => compileNetwork(network, index));
  const networkById = new Map(networks.map((network) => [network.id, network]));
  const lineById = new Map(lines.map((line) => [line.id, line]));
  const devices = values.devices.map((device, index) =>
    compileDevice(device, index, networkById.get(device.network)),
  );
  const deviceById = new Map(devices.map((device) => [device.id, device]));
  const unclear = new Set(problems.map(({ at }) => at));
  const { reach, brokenReach, contradictions } = compileReach(values, networkById, deviceById, unclear);
  const forwards = values.forwards.map((forward, index): Forward => {
    const at = `/forwards/${index}` as const;
    const device = deviceById.get(forward.device);
    const service = device?.services.find((candidate) => candidate.id === forward.service);
    const named = forward.service === '' ? forward.insidePorts : service?.ports;
    const unclearMeaning =
      service !== undefined &&
      contradicts(service, { protocol: forward.protocol, ports: forward.insidePorts }, 'tcp');
    if (unclearMeaning)
      contradictions.push({
        at,
        own: [
          [`${at}/protocol`, 'tcp'],
          [`${at}/insidePorts`, ''],
        ],
        with: service!.name,
      });
    const inside = unclearMeaning ? undefined : named;
    return {
      at,
      id: forward.id,
      name:
        forward.purpose ||
        (service ? `${service.name} on ${device?.name}` : (device?.name ?? 'unnamed forward')),
      line: lineById.get(forward.uplink),
      device,
      deviceNamed: forward.device !== '',
      service,
      serviceNamed: forward.service !== '',
      protocol: service?.protocol ?? forward.protocol,
      inside,
      outside: plan.forwards[index]!.outsidePorts.trim() === '' ? inside : forward.outsidePorts,
      allowed: allowedSources(forward.sources, unclear.has(`${at}/sources`)),
      until: forward.until.trim(),
      acceptedBy: forward.acceptedBy.trim(),
    };
  });
  const services = values.router.services.flatMap((service, index): RouterService[] => {
    const at = `/router/services/${index}` as const;
    const { protocol, ports, outside } = service;
    const name = service.name || 'unnamed service';
    return ports
      ? [
          {
            at,
            portsAt: `${at}/ports`,
            name,
            protocol,
            ports,
            outside,
            inside: answersInside(service.inside, ports),
            role: isCommon(ports) ? 'common' : 'management',
          },
        ]
      : [];
  });
  const staticRoutes = values.routes.map(({ prefix: to, via }, index): StaticRoute => ({
    at: `/routes/${index}`,
    prefix: to,
    via,
  }));
  const kit = values.kit.map((item, index) => ({ ...item, at: `/kit/${index}` as const }));
  const second = compileSecond(values.second, kit, networks);
  const prefixes = namedPrefixes(lines, networks, staticRoutes, second);
  const ports = values.router.ports.map((port, index) => ({
    at: `/router/ports/${index}` as const,
    id: port.id,
    name: port.name,
    role: port.role,
    built: port.built,
    line: lineById.get(port.uplink),
    network: networkById.get(port.network),
    rateMbps: port.rateMbps,
  }));

  return {
    demo: values.demo,
    about: values.site,
    visit: values.visit,
    contacts: values.contacts,
    kit,
    lines,
    networks,
    devices,
    forwards,
    deviceAt: new Map(
      devices.flatMap((device) => (device.address ? [[addressKey(device.address), device] as const] : [])),
    ),
    services: [...services, ...tunnelServices(values)],
    reach,
    brokenReach,
    contradictions,
    reachIds: new Set(values.reach.map(({ id }) => id)),
    exceptions: values.exceptions.map((row, index) => ({ ...row, at: `/exceptions/${index}` as const })),
    equipment: equipmentOf(
      lines,
      // What stands behind the router is not in front of it, whatever address it was found with.
      kit.filter((item) => !second.some(({ box }) => box === item)),
      networks,
    ),
    staticRoutes,
    routes: sortRoutes([
      ...connectedRoutes(networks, lines),
      ...staticRoutes.flatMap((route) => routeOver(route, networks, lines)),
      ...unusedRoutes(networks, lines),
      ...defaultRoutes(lines),
    ]),
    prefixes,
    failover: compileFailover(values.failover, lines, networks, plan.failover),
    vpn: compileVpn(values.vpn, lines, networks, devices),
    wifi: compileWifi(values.wifi, kit, networks),
    second,
    wiring: compileWiring(values.wiring, { kit, ports, lines, devices, second }),
    entered: values,
    problems: problems.map((problem) => ({
      ...problem,
      at: asAt(problem.at),
      owner: ownerAt(plan, problem.at),
    })),
    router: {
      kit: kit.find(({ role }) => role === 'router'),
      factory: values.router.factoryAddress,
      factoryDhcp: values.router.factoryDhcp,
      adminNetwork: networkById.get(values.router.adminNetwork) ?? networks[0],
      ports,
      hairpin: values.router.hairpin !== 'no',
      facts: values.router,
      limits: values.router.limits,
    },
    outsider: outsiderFor(prefixes, lines),
  };
}

const compileNetwork = onceWhile((network: PlanValues['networks'][number], index: number): Network => {
  const { enabled, from, to } = network.dhcp;
  return {
    ...network,
    at: `/networks/${index}` as const,
    name: network.name || 'unnamed network',
    unnamed: network.name.trim() === '',
    pool: enabled && from && to && from.family === to.family ? rangeBetween(from, to) : undefined,
  };
});

const compileDevice = onceWhile(
  (device: PlanValues['devices'][number], index: number, network: Network | undefined): Device => {
    const at = `/devices/${index}` as const;
    return {
      ...device,
      at,
      name: device.name || 'unnamed device',
      unnamed: device.name.trim() === '',
      network,
      address: device.addressing === 'automatic' ? undefined : device.address,
      typedAddress: device.address,
      services: device.services.map(({ id, name, protocol, ports }, place): Service => ({
        id,
        at: `${at}/services/${place}`,
        name: name || (ports ? `${protocol} ${formatPorts(ports)}` : protocol),
        protocol,
        ports,
      })),
    };
  },
);

/** Who may use a forward, from its readable sources and whether one of them is not. */
function allowedSources(prefixes: readonly Prefix[], incomplete: boolean): AllowedSources {
  if (prefixes.length === 0)
    return incomplete
      ? { kind: 'nobody', says: 'nobody: its source list cannot be read' }
      : { kind: 'everybody', says: 'everybody' };
  const says = prefixes.map(formatPrefix).join(', ');
  return areAll(prefixes)
    ? { kind: 'everybody', says: `everybody: ${says} is every address` }
    : { kind: 'some', prefixes, incomplete, says };
}

/** Whether prefixes together are every IPv4 address, in whatever pieces they were written. */
const areAll = (prefixes: readonly Prefix[]): boolean =>
  subtractRanges([rangeOf(everything[4])], prefixes.map(rangeOf)).length === 0;

/** Protocols and ports that a row names beside a service, as far as they are not left at what means "the service's". */
interface Named {
  readonly protocol: string;
  readonly ports: PortRange | undefined;
}

/** Whether a row names a protocol or ports of its own that the service beside them does not have. */
function contradicts(service: Service, row: Named, unsaid = 'any'): boolean {
  const protocolsOf = (name: string): readonly string[] => (name === 'both' ? ['tcp', 'udp'] : [name]);
  const own = protocolsOf(service.protocol);
  const otherProtocol =
    row.protocol !== unsaid && protocolsOf(row.protocol).some((each) => !own.includes(each));
  const otherPorts =
    row.ports !== undefined &&
    (row.ports.first !== service.ports?.first || row.ports.last !== service.ports?.last);
  return otherProtocol || otherPorts;
}

function compileReach(
  values: PlanValues,
  networkById: ReadonlyMap<string, Network>,
  deviceById: ReadonlyMap<string, Device>,
  unclear: ReadonlySet<string>,
): { reach: Reach[]; brokenReach: `/reach/${number}`[]; contradictions: Contradiction[] } {
  const reach: Reach[] = [];
  const contradictions: Contradiction[] = [];
  const brokenReach: `/reach/${number}`[] = [];
  for (const [index, row] of values.reach.entries()) {
    const at = `/reach/${index}` as const;
    const from = networkById.get(row.from);
    const inside = row.destination === 'network';
    const device = inside ? deviceById.get(row.device) : undefined;
    const service = device?.services.find((candidate) => candidate.id === row.service);
    const to = reachTarget(row, networkById, device);
    // A rule that names what is gone, or whose limits cannot be read, allows nothing: never more than was meant.
    const gone = inside && ((row.device !== '' && !device) || (row.service !== '' && !service));
    const unread =
      unclear.has(`${at}/ports`) ||
      (row.destination === 'internet' && row.prefixes.length === 0 && unclear.has(`${at}/prefixes`));
    if (!from || !to || gone || unread || (service && !service.ports)) {
      brokenReach.push(at);
      continue;
    }
    // A row means what all that stands in it says together. Where that is nothing, it allows nothing and refuses both.
    const meanings = service ? (contradicts(service, row) ? [service, row] : [service]) : [row];
    if (meanings.length > 1) {
      contradictions.push({
        at,
        own: [
          [`${at}/protocol`, 'any'],
          [`${at}/ports`, ''],
        ],
        with: service!.name,
      });
      if (row.action === 'allow') continue;
    }
    for (const what of meanings) {
      const ports = what.protocol === 'icmp' ? undefined : what.ports;
      const protocols =
        what.protocol === 'any'
          ? ports && (['tcp', 'udp'] as const)
          : what.protocol === 'both'
            ? (['tcp', 'udp'] as const)
            : [what.protocol];
      const services =
        what === service
          ? ` for ${service.name}`
          : ports
            ? ` on ${protocols!.join(', ')} ${formatPorts(ports)}`
            : protocols
              ? ` by ${protocols.join(', ').replace('icmp', 'ping')}`
              : '';
      const says = `${from.name} may ${row.action === 'allow' ? '' : 'not '}reach ${targetText(to)}${services}`;
      const { id, action, limitMbps } = row;
      reach.push({ at, id, action, from, to, protocols, ports, limitMbps, says });
    }
  }
  return { reach, brokenReach, contradictions };
}

function reachTarget(
  { destination, to, prefixes }: PlanValues['reach'][number],
  networkById: ReadonlyMap<string, Network>,
  device: Device | undefined,
): ReachTarget | undefined {
  if (destination === 'equipment') return { kind: 'equipment' };
  if (destination === 'internet') return { kind: 'internet', prefixes };
  const network = networkById.get(to);
  return network && { kind: 'network', network, device };
}

const targetText = (to: ReachTarget): string =>
  to.kind === 'network'
    ? (to.device?.name ?? to.network.name)
    : to.kind === 'equipment'
      ? 'equipment in front of the router'
      : to.prefixes.length === 0
        ? 'the internet'
        : `${to.prefixes.map(formatPrefix).join(', ')} on the internet`;

/** The subnets of boxes in front, and the addresses at which equipment answers that is in no inside network. */
const equipmentOf = (lines: readonly Line[], kit: readonly Kit[], networks: readonly Network[]): Prefix[] => [
  ...lines.flatMap(({ box }) => (box?.routes && box.prefix ? [box.prefix] : [])),
  ...kit.flatMap(({ adminAddress }) => {
    const host = valueOf(parseAddress(adminAddress));
    const inside = host && networks.some(({ prefix: block }) => block && contains(block, host));
    return host && !inside ? [prefixAround(host, host.family === 4 ? 32 : 128)] : [];
  }),
];

/** Names, addresses and time are for every network (common practice, no source); pages and shells are not. */
const forAll: readonly number[] = [53, 67, 123, 546, 547, 853, 5353];

const isCommon = ({ first, last }: PortRange): boolean => first === last && forAll.includes(first);

const answersInside = (
  chosen: PlanValues['router']['services'][number]['inside'],
  ports: PortRange,
): AnswersInside => (chosen === 'usual' ? (isCommon(ports) ? 'all' : 'managed') : chosen);

/** The row of the table that a static route makes: none where its next hop is on no known subnet, or the router itself. */
function routeOver(
  { at, prefix: to, via }: StaticRoute,
  networks: readonly Network[],
  lines: readonly Line[],
): Route[] {
  if (!to || !via) return [];
  const network = networks.find((candidate) => candidate.prefix && contains(candidate.prefix, via));
  const line = lines.find((candidate) => candidate.prefix && contains(candidate.prefix, via));
  const says = `static route ${formatPrefix(to)} via ${formatAddress(via)}`;
  // No router takes itself as the next hop.
  if (network?.routerAddress?.value === via.value || line?.address.value === via.value) return [];
  if (network) return [{ at, prefix: to, target: { kind: 'via', via, network }, says }];
  return line ? [{ at, prefix: to, target: { kind: 'line', line, onLink: false }, says }] : [];
}

function connectedRoutes(networks: readonly Network[], lines: readonly Line[]): Route[] {
  const inside = networks.flatMap((network): Route[] =>
    network.prefix
      ? [
          {
            at: `${network.at}/prefix`,
            prefix: network.prefix,
            target: { kind: 'network', network },
            says: `${formatPrefix(network.prefix)} is connected: ${network.name}`,
          },
        ]
      : [],
  );
  const outside = lines.flatMap((line): Route[] =>
    line.prefix
      ? [
          {
            at: line.addressAt,
            prefix: line.prefix,
            target: { kind: 'line', line, onLink: true },
            says: `${formatPrefix(line.prefix)} is connected: ${line.name}`,
          },
        ]
      : [],
  );
  return [...inside, ...outside];
}

/** What the provider sends here beyond the subnets in use: one block may be cut into several networks. */
const unusedRoutes = (networks: readonly Network[], lines: readonly Line[]): Route[] =>
  lines.flatMap((line): Route[] => {
    const { routedBlock: prefix } = line;
    if (!prefix || networks.some((each) => each.prefix && containsPrefix(each.prefix, prefix))) return [];
    return [
      {
        at: `${line.at}/settings/static/routedBlock`,
        prefix,
        target: { kind: 'unused', line },
        says: `${formatPrefix(prefix)} is routed to this site over ${line.name}`,
      },
    ];
  });

const defaultRoutes = (lines: readonly Line[]): Route[] =>
  lines
    .filter((line) => line.defaultRoute)
    .map((line) => ({
      at: line.at,
      prefix: everything[line.address.family],
      target: { kind: 'line', line, onLink: false },
      says: `default route over ${line.name}`,
    }));

/** What the router itself answers outside for remote access: the ports of the tunnel. */
function tunnelServices({ vpn }: PlanValues): RouterService[] {
  const answers = (protocol: RouterService['protocol'], port: number): RouterService => ({
    at: '/vpn/port',
    portsAt: '/vpn/port',
    name: 'tunnel',
    protocol,
    ports: { first: port, last: port },
    outside: true,
    inside: 'all',
    role: 'tunnel',
  });
  return (wayPorts[vpn.way] ?? []).map(([protocol, port]) => answers(protocol, port ?? vpn.port));
}

/** Longest first. Equal lengths keep their order, which for default routes is the order of the uplinks. */
const sortRoutes = (routes: Route[]): Route[] => routes.sort((a, b) => b.prefix.length - a.prefix.length);

function namedPrefixes(
  lines: readonly Line[],
  networks: readonly Network[],
  staticRoutes: readonly StaticRoute[],
  second: readonly Second[],
): NamedPrefix[] {
  const found: NamedPrefix[] = [];
  for (const network of networks)
    if (network.prefix)
      found.push({
        at: `${network.at}/prefix`,
        role: 'network',
        name: network.name,
        prefix: network.prefix,
        owner: network.at,
      });
  for (const line of lines) {
    if (line.box?.prefix)
      found.push({
        at: `${line.at}/handoff/insidePrefix`,
        role: 'box',
        name: `${line.box.name} (${line.name})`,
        prefix: line.box.prefix,
        owner: line.at,
      });
    else if (line.prefix)
      found.push({ at: line.addressAt, role: 'line', name: line.name, prefix: line.prefix, owner: line.at });
  }
  for (const { at, name, inside } of second.filter(isChained))
    found.push({
      at: `${at}/inside` as const,
      role: 'second',
      name: `Subnet of ${name}`,
      prefix: inside.prefix,
      owner: at,
    });
  for (const [index, { at, prefix: to }] of staticRoutes.entries())
    if (to && to.length > 0)
      found.push({
        at: `${at}/prefix` as const,
        role: 'route',
        name: `static route ${index + 1}`,
        prefix: to,
        owner: at,
      });
  return found;
}

function outsiderFor(prefixes: readonly NamedPrefix[], lines: readonly Line[]): Address {
  const free = documentationBlocks.find(
    (block) =>
      !prefixes.some(({ prefix }) => contains(block, { family: prefix.family, value: prefix.first })) &&
      !lines.some((line) => contains(block, line.lineAddress) || contains(block, line.address)),
  );
  const block = free ?? documentationBlocks[0]!;
  return { family: 4, value: block.first + 7n };
}
