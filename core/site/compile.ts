import { addressKey, formatAddress, parseAddress, type Address } from '../net/address.ts';
import { classify, reachableFromOutside } from '../net/classify.ts';
import { parseMac } from '../net/mac.ts';
import { parsePorts } from '../net/ports.ts';
import {
  contains,
  formatPrefix,
  hostsOf,
  parseInterface,
  parsePrefix,
  prefixAround,
  type Prefix,
} from '../net/prefix.ts';
import { firstFreeAddress, rangeBetween } from '../net/range.ts';
import type { Plan, UplinkPlan } from '../plan/schema.ts';
import { bad, ok, type Result } from '../result.ts';
import { uplinkType } from '../uplinks/index.ts';
import { compileFailover } from './compile-failover.ts';
import { compileVpn } from './compile-vpn.ts';
import { usualPort } from '../vpn/model.ts';
import { FormReader } from './form-reader.ts';
import type {
  Device,
  Forward,
  Inbound,
  Line,
  NamedPrefix,
  Network,
  Reach,
  Route,
  RouterService,
  Service,
  Site,
  Translator,
} from './model.ts';

const must = <T>(result: Result<T>): T => {
  if (!result.ok) throw new Error(result.problem.says);
  return result.value;
};

const documentationBlocks = ['198.51.100.0/24', '192.0.2.0/24', '203.0.113.0/24'].map((text) =>
  must(parsePrefix(text)),
);
/** Where a packet from inside is looked at when the line's own address is not known yet. */
const unknownLineAddress = must(parseAddress('192.0.2.1'));
const everything = must(parsePrefix('0.0.0.0/0'));

/** Reads everything the plan says, once: addresses, blocks, ports, references, the route table. Never fails. */
export function compile(plan: Plan): Site {
  const form = new FormReader();
  const lines = plan.uplinks.map((uplink, index) => compileLine(uplink, `/uplinks/${index}`, form));
  const networks = plan.networks.map((network, index): Network => {
    const at = `/networks/${index}`;
    const prefix = form.read(`${at}/prefix`, 'Block', network.prefix, parsePrefix, true);
    const from = form.read(
      `${at}/dhcp/from`,
      'Pool from',
      network.dhcp.from,
      parseAddress,
      network.dhcp.enabled,
    );
    const to = form.read(`${at}/dhcp/to`, 'Pool to', network.dhcp.to, parseAddress, network.dhcp.enabled);
    return {
      at,
      plan: network,
      id: network.id,
      name: network.name || 'unnamed network',
      prefix,
      routerAddress: form.read(
        `${at}/routerAddress`,
        "Router's address",
        network.routerAddress,
        parseAddress,
        true,
      ),
      pool:
        network.dhcp.enabled && from && to && from.family === to.family ? rangeBetween(from, to) : undefined,
      resolvers: form.readAll(`${at}/resolvers`, 'Resolvers', network.resolvers, parseAddress),
    };
  });
  const networkById = new Map(networks.map((network) => [network.id, network]));

  const devices = plan.devices.map((device, index): Device => {
    const at = `/devices/${index}`;
    const holdsAddress = device.addressing !== 'automatic';
    const address = form.read(`${at}/address`, 'Address', device.address, parseAddress, holdsAddress);
    return {
      at,
      plan: device,
      id: device.id,
      name: device.name || 'unnamed device',
      mac: form.read(`${at}/mac`, 'MAC address', device.mac, parseMac, device.addressing === 'reserved'),
      network: networkById.get(device.network),
      address: holdsAddress ? address : undefined,
      services: device.services.map((service, place): Service => ({
        id: service.id,
        at: `${at}/services/${place}`,
        name: service.name || `${service.protocol} ${service.ports}`,
        protocol: service.protocol,
        ports: form.read(`${at}/services/${place}/ports`, 'Port', service.ports, parsePorts, true),
      })),
    };
  });
  const deviceById = new Map(devices.map((device) => [device.id, device]));
  const lineById = new Map(lines.map((line) => [line.id, line]));

  const forwards = plan.forwards.map((forward, index): Forward => {
    const at = `/forwards/${index}`;
    const device = deviceById.get(forward.device);
    const service = device?.services.find((candidate) => candidate.id === forward.service);
    const typedInside = form.read(
      `${at}/insidePorts`,
      'Inside port',
      forward.insidePorts,
      parsePorts,
      forward.service === '',
    );
    const inside = forward.service === '' ? typedInside : service?.ports;
    const outside = form.read(`${at}/outsidePorts`, 'Outside port', forward.outsidePorts, parsePorts, false);
    const sources = form.readAll(`${at}/sources`, 'Allowed sources', forward.sources, parseSource);
    return {
      at,
      plan: forward,
      id: forward.id,
      name:
        forward.purpose ||
        (service ? `${service.name} on ${device?.name}` : (device?.name ?? 'unnamed forward')),
      line: lineById.get(forward.uplink),
      device,
      protocol: service?.protocol ?? forward.protocol,
      inside,
      outside: forward.outsidePorts.trim() === '' ? inside : outside,
      sources,
      sourcesUnclear: forward.sources.filter((text) => text.trim() !== '').length !== sources.length,
    };
  });

  const reach = plan.reach.flatMap((allowance, index): Reach[] => {
    const from = networkById.get(allowance.from);
    const to = networkById.get(allowance.to);
    const device = deviceById.get(allowance.device);
    const service = device?.services.find((candidate) => candidate.id === allowance.service);
    // An allowance that names a device or service that is gone allows nothing: never more than was meant.
    const dangling = (allowance.device !== '' && !device) || (allowance.service !== '' && !service);
    if (!from || !to || dangling) return [];
    const says = `${from.name} may reach ${device ? device.name : to.name}${service ? ` for ${service.name}` : ''}`;
    return [{ at: `/reach/${index}`, from, to, device, service, says }];
  });

  const services = plan.router.services.flatMap((service, index): RouterService[] => {
    const at = `/router/services/${index}`;
    const ports = form.read(`${at}/ports`, 'Port', service.ports, parsePorts, true);
    return ports
      ? [
          {
            at,
            portsAt: `${at}/ports`,
            name: service.name || 'unnamed service',
            protocol: service.protocol,
            ports,
            outside: service.outside,
          },
        ]
      : [];
  });

  const staticRoutes = plan.routes.flatMap((route, index): Route[] => {
    const at = `/routes/${index}`;
    const prefix = form.read(`${at}/prefix`, 'Block', route.prefix, parsePrefix, true);
    const via = form.read(`${at}/via`, 'Next hop', route.via, parseAddress, true);
    if (!prefix || !via) return [];
    const network = networks.find((candidate) => candidate.prefix && contains(candidate.prefix, via));
    const line = lines.find((candidate) => candidate.prefix && contains(candidate.prefix, via));
    const says = `static route ${formatPrefix(prefix)} via ${formatAddress(via)}`;
    if (network) return [{ at, prefix, target: { kind: 'via', via, network }, says }];
    return line ? [{ at, prefix, target: { kind: 'line', line, onLink: false }, says }] : [];
  });

  const prefixes = namedPrefixes(plan, lines, networks);
  const kitIndex = plan.kit.findIndex((item) => item.role === 'router');
  readKit(plan, form);
  const factory = form.read(
    '/router/factoryAddress',
    'Address when new',
    plan.router.factoryAddress,
    parseInterface,
    false,
  );

  return {
    plan,
    lines,
    networks,
    devices,
    forwards,
    deviceAt: new Map(
      devices.flatMap((device) => (device.address ? [[addressKey(device.address), device] as const] : [])),
    ),
    services: [...services, ...tunnelServices(plan)],
    reach,
    routes: sortRoutes([...connectedRoutes(networks, lines), ...staticRoutes, ...defaultRoutes(lines)]),
    prefixes,
    failover: compileFailover(plan, lines, networks, form),
    vpn: compileVpn(plan, lines, networks, devices, form),
    problems: form.problems,
    router: {
      kit: plan.kit[kitIndex],
      kitAt: kitIndex < 0 ? '/kit' : `/kit/${kitIndex}`,
      factory,
      adminNetwork: networkById.get(plan.router.adminNetwork) ?? networks[0],
    },
    outsider: outsiderFor(prefixes, lines),
  };
}

function compileLine(uplink: UplinkPlan, at: string, form: FormReader): Line {
  const type = uplinkType(uplink.type);
  const settingsAt = `${at}/settings/${uplink.type}`;
  const port = type.wanPort(uplink.settings[uplink.type], form.below(settingsAt));
  const { handoff } = uplink;
  const routes = handoff.mode === 'routes';
  const boxPrefix = form.read(
    `${at}/handoff/insidePrefix`,
    "Box's inside block",
    handoff.insidePrefix,
    parsePrefix,
    routes,
  );
  const boxInside = form.read(
    `${at}/handoff/insideAddress`,
    "Box's inside address",
    handoff.insideAddress,
    parseAddress,
    false,
  );
  const boxOutside = form.read(
    `${at}/handoff/outsideAddress`,
    "Box's outside address",
    handoff.outsideAddress,
    parseAddress,
    false,
  );
  const boxForwards = handoff.forwards.flatMap((forward, index) => {
    const ports = form.read(`${at}/handoff/forwards/${index}/ports`, 'Port', forward.ports, parsePorts, true);
    return ports ? [{ protocol: forward.protocol, ports }] : [];
  });
  const box =
    handoff.mode === 'none'
      ? undefined
      : {
          routes,
          name: handoff.name || (routes ? 'box in front' : 'bridged box'),
          prefix: routes ? boxPrefix : undefined,
          address: routes ? (boxInside ?? (boxPrefix && hostsOf(boxPrefix).first)) : undefined,
          outsideAddress: routes ? boxOutside : undefined,
          forwards: boxForwards,
        };

  const behindBox =
    routes && boxPrefix
      ? firstFreeAddress(
          [rangeBetween(hostsOf(boxPrefix).first, hostsOf(boxPrefix).last)],
          box?.address ? [box.address] : [],
        )
      : undefined;
  const address = port.address ?? behindBox ?? unknownLineAddress;
  const lineAddress = routes ? boxOutside : port.address;
  const lineClass = lineAddress ? classify(lineAddress).class : 'unknown';
  const translators: Translator[] = [];
  if (routes) translators.push('box');
  const seenPublic = lineClass !== 'unknown' && reachableFromOutside(lineClass);
  // A public address that is expected says more than a translator that is.
  if (lineClass === 'unknown' ? port.carrierNat : !seenPublic) translators.push('carrier');
  const inbound: Inbound = translators.includes('carrier')
    ? 'impossible'
    : lineClass === 'unknown'
      ? 'unknown'
      : routes
        ? 'by-box'
        : 'direct';

  return {
    at,
    plan: uplink,
    id: uplink.id,
    name: uplink.name || 'unnamed uplink',
    address,
    addressKnown: port.address !== undefined,
    addressAt: `${settingsAt}/${port.addressKey}`,
    prefix: port.prefix ?? (routes ? boxPrefix : undefined),
    gateway: port.gateway ?? box?.address,
    resolvers: port.resolvers,
    resolversOffered: port.resolversOffered,
    box,
    lineAddress: lineAddress ?? unknownLineAddress,
    lineAddressKnown: lineAddress !== undefined,
    lineClass,
    translators,
    inbound,
    publicAddress: lineAddress && inbound !== 'impossible' ? lineAddress : unknownLineAddress,
    publicAddressKnown: lineAddress !== undefined && inbound !== 'impossible',
    sourceNat: uplink.sourceNat,
    mtuBytes: uplink.mtuBytes ?? port.largestBytes ?? 1500,
    largestBytes: port.largestBytes ?? 1500,
    wrappingBytes: (uplink.vlan === null ? 0 : 4) + (port.wrappingBytes ?? 0),
  };
}

/** An allowed source is one address or a block. */
function parseSource(text: string): Result<Prefix> {
  if (text.includes('/')) return parsePrefix(text);
  const host = parseAddress(text);
  if (!host.ok) return host;
  return ok(prefixAround(host.value, host.value.family === 4 ? 32 : 128));
}

const serialForm = /^[A-Za-z0-9][A-Za-z0-9./-]{3,39}$/;

function parseSerial(text: string): Result<string> {
  const typed = text.trim();
  if (serialForm.test(typed)) return ok(typed);
  return bad(
    'serial-form',
    `"${typed}" does not look like a serial number: those have 4 to 40 letters, digits, "-", "." or "/", without spaces.`,
  );
}

function readKit(plan: Plan, form: FormReader): void {
  for (const [index, item] of plan.kit.entries()) {
    form.read(`/kit/${index}/mac`, 'MAC address', item.mac, parseMac, false);
    form.read(`/kit/${index}/serial`, 'Serial number', item.serial, parseSerial, false);
    form.read(`/kit/${index}/adminAddress`, 'Admin address', item.adminAddress, parseAddress, false);
  }
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

const defaultRoutes = (lines: readonly Line[]): Route[] =>
  lines.map((line) => ({
    at: line.at,
    prefix: everything,
    target: { kind: 'line', line, onLink: false },
    says: `default route over ${line.name}`,
  }));

/** What the router itself answers outside because people come in: the ports of the tunnel (RFC 7296 section 2.23). */
function tunnelServices({ vpn }: Plan): RouterService[] {
  const answers = (protocol: RouterService['protocol'], port: number): RouterService => ({
    at: '/vpn/port',
    portsAt: '/vpn/port',
    name: 'tunnel',
    protocol,
    ports: { first: port, last: port },
    outside: true,
  });
  switch (vpn.way) {
    case 'wireguard':
      return [answers('udp', vpn.port ?? usualPort)];
    case 'ikev2':
      return [answers('udp', 500), answers('udp', 4500)];
    case 'tls':
      return [answers('both', 443)];
    default:
      return [];
  }
}

/** Longest first. Equal lengths keep their order, which for default routes is the order of the uplinks. */
const sortRoutes = (routes: Route[]): Route[] => routes.sort((a, b) => b.prefix.length - a.prefix.length);

function namedPrefixes(plan: Plan, lines: readonly Line[], networks: readonly Network[]): NamedPrefix[] {
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
  for (const [index, route] of plan.routes.entries()) {
    const prefix = parsePrefix(route.prefix);
    if (prefix.ok && prefix.value.length > 0)
      found.push({
        at: `/routes/${index}/prefix`,
        role: 'route',
        name: `static route ${index + 1}`,
        prefix: prefix.value,
        owner: `/routes/${index}`,
      });
  }
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
