import { formatAddress, parseAddress, sameAddress, type Address } from '../../base/net/address.ts';
import { hasPort, protocolsMeet, type Protocol } from '../../base/net/ports.ts';
import { contains, hostsOf } from '../../base/net/prefix.ts';
import { firstFreeBeside, rangeBetween } from '../../base/net/range.ts';
import { bad, ok, valueOf, type Result } from '../../base/result.ts';
import { slug } from '../../base/text.ts';
import { heldAddresses } from '../../site/lookups.ts';
import type { Device, Line, Network, Site } from '../../site/model.ts';
import { isChained, type ChainedRouter } from '../../site/second.ts';
import type { FarSite, Peer } from '../../site/vpn.ts';
import { noHost } from '../../site/no-host.ts';
import type { WifiNetwork } from '../../site/wifi.ts';
import { apartOn, isWired, wiredElsewhere } from '../../behaviour/wiring/where.ts';
import type { Flow, Origin } from './packet.ts';
import type { Header } from '../../base/net/packet.ts';

/** A question about one packet, in words. */
export interface Query {
  readonly from: string;
  readonly to: string;
  readonly protocol: Protocol;
  /** 0 for ICMP. */
  readonly port: number;
  readonly sizeBytes: number;
  /** Names of lines that are down. */
  readonly down: readonly string[];
}

/** A small packet: what opens a connection. */
const openingBytes = 60;
/** First port of the dynamic range (RFC 6335 section 6). */
const clientPort = 49152;

const example =
  'Write it like: from office to tide-logger tcp 8443, or: from internet to 203.0.113.9 tcp 8443 when fibre is down.';

/** Most characters of a question; a name has 200 at most. */
const longestQuestion = 600;

/** Services that people ask for by name (IANA service name and port number registry). */
const namedServices: Readonly<Record<string, string>> = {
  http: 'tcp 80',
  https: 'tcp 443',
  ssh: 'tcp 22',
  telnet: 'tcp 23',
  ftp: 'tcp 21',
  dns: 'udp 53',
  ntp: 'udp 123',
  snmp: 'udp 161',
  smtp: 'tcp 25',
  imap: 'tcp 143',
  smb: 'tcp 445',
  ipp: 'tcp 631',
  rtsp: 'tcp 554',
  rdp: 'tcp 3389',
  sip: 'udp 5060',
  mqtt: 'tcp 1883',
  modbus: 'tcp 502',
};

/** "tcp/8443", "8443/tcp", "tcp port 8443", "port 8443" and "ssh" as "tcp 8443". */
const inUsualForm = (text: string): string =>
  text
    .replace(/ (tcp|udp)(?:\/| port )(\d{1,6})$/i, ' $1 $2')
    .replace(/ (?:port )?(\d{1,6})[/ ](tcp|udp)$/i, ' $2 $1')
    .replace(/ port (\d{1,6})$/i, ' tcp $1')
    .replace(/ ([a-z]+)$/i, (whole, word: string) => {
      const named = Object.hasOwn(namedServices, word.toLowerCase());
      return named ? ` ${namedServices[word.toLowerCase()]}` : whole;
    });

/** Reads "from X to Y [tcp|udp|ping] [port] [size N] [when L is down]". Without a service it is tcp 443. */
export function parseQuery(text: string): Result<Query> {
  if (text.length > longestQuestion)
    return bad(
      'query',
      `A question has at most ${longestQuestion} characters; this has ${text.length}. ${example}`,
    );
  const asked = text.replace(/\s+/g, ' ').trim();
  const words = asked.toLowerCase();
  const begin = words.startsWith('from ') ? 5 : 0;
  const middle = words.indexOf(' to ', begin + 1);
  if (middle < 0) return bad('query', `The question has no "from … to …". ${example}`);
  const from = asked.slice(begin, middle);
  let rest = asked.slice(middle + 4);
  const down: string[] = [];
  const when = rest.toLowerCase().indexOf(' when ');
  if (when >= 0) {
    const named = rest.slice(when + 6);
    const end = / (?:is|are) down$/i.exec(named);
    if (!end) return bad('query', `After "when", name a line and "is down". ${example}`);
    down.push(
      ...named
        .slice(0, end.index)
        .split(/ ?(?:,|\band\b) ?/i)
        .filter((name) => name !== ''),
    );
    rest = rest.slice(0, when);
  }
  let sizeBytes = openingBytes;
  const size = / (?:size |with )?(\d{1,5}) bytes$/i.exec(rest) ?? / size (\d{1,5})$/i.exec(rest);
  if (size) {
    sizeBytes = Number(size[1]);
    if (sizeBytes < 28 || sizeBytes > 65535)
      return bad('query', `A packet has 28 to 65535 bytes, not ${sizeBytes}.`);
    rest = rest.slice(0, size.index);
  }
  rest = inUsualForm(rest);
  const service = / (?:(tcp|udp)(?: (\d{1,6}))?|(ping|icmp))$/i.exec(rest);
  let protocol: Protocol = 'tcp';
  let port = 443;
  if (service) {
    rest = rest.slice(0, service.index);
    protocol = service[3] !== undefined ? 'icmp' : (service[1]!.toLowerCase() as Protocol);
    if (protocol === 'icmp') port = 0;
    else if (service[2] === undefined) return bad('query', `Which ${protocol} port? ${example}`);
    else {
      port = Number(service[2]);
      if (port < 1 || port > 65535)
        return bad('query', `${service[2]} is not a port; ports go from 1 to 65535.`);
    }
  }
  if (rest.trim() === '') return bad('query', `The question has no destination. ${example}`);
  return ok({ from, to: rest.trim(), protocol, port, sizeBytes, down });
}

/** What a name in a question stands for on this site. */
type Endpoint =
  | { kind: 'internet' }
  | { kind: 'router' }
  | { kind: 'network'; network: Network; wifi?: WifiNetwork }
  | { kind: 'device'; device: Device }
  | { kind: 'line'; line: Line }
  | { kind: 'second'; second: ChainedRouter }
  | { kind: 'site'; far: FarSite }
  | { kind: 'client'; peer: Peer }
  | { kind: 'address'; address: Address };

function findEndpoint(site: Site, typed: string): Result<Endpoint> {
  const name = slug(typed);
  // "the barn", as people say it.
  const bare = name.replace(/^the-(?=.)/, '');
  const named = (text: string): boolean => name !== '' && [name, bare].includes(slug(text));
  if (['internet', 'outside', 'the-internet', 'anywhere'].includes(name)) return ok({ kind: 'internet' });
  const device = site.devices.find((each) => named(each.name));
  if (device) return ok({ kind: 'device', device });
  const network = site.networks.find((each) => named(each.name));
  if (network) return ok({ kind: 'network', network });
  const line = site.lines.find((each) => named(each.name));
  if (line) return ok({ kind: 'line', line });
  const second = site.second.filter(isChained).find((each) => named(behindName(each)) || named(each.name));
  if (second) return ok({ kind: 'second', second });
  if (bare === 'router') return ok({ kind: 'router' });
  // Whoever joins a Wi-Fi network, or is in a room that it serves, is on the network behind it.
  const wifi =
    site.wifi.networks.find((each) => named(each.ssid)) ??
    site.wifi.rooms.find((each) => named(each.name))?.wifi;
  if (wifi?.network) return ok({ kind: 'network', network: wifi.network, wifi });
  const address = boxAddress(site, named);
  if (address) return ok({ kind: 'address', address });
  const purpose = site.networks.find((each) => each.purpose === bare);
  if (purpose) return ok({ kind: 'network', network: purpose });
  const far = site.vpn.sites.find((each) => named(each.name));
  if (far) return ok({ kind: 'site', far });
  const peer = site.vpn.peers.find((each) => named(each.name) || each.id === typed);
  if (peer && site.vpn.way !== 'none') return ok({ kind: 'client', peer });
  const parsed = parseAddress(typed);
  if (parsed.ok) return ok({ kind: 'address', address: parsed.value });
  if (/^[\d.:/]+$/.test(typed)) return parsed;
  const known = [...site.networks, ...site.devices, ...site.lines].map((each) => slug(each.name));
  const shown = known.slice(0, 12).join(', ');
  return bad(
    'unknown-name',
    `Nothing on this site is called "${typed}". Known: internet, router${shown ? `, ${shown}` : ''}${known.length > 12 ? ' …' : ''}, or any address.`,
  );
}

/** The address of an access point, a switch or the box in front of the router, by the name of the box. */
function boxAddress({ second, kit, lines }: Site, named: (text: string) => boolean): Address | undefined {
  return (
    second.find((each) => each.address && named(each.name))?.address ??
    kit.flatMap(({ model, adminAddress }) =>
      named(model) ? (valueOf(parseAddress(adminAddress)) ?? []) : [],
    )[0] ??
    lines.find(({ box }) => box?.address && named(box.name))?.box?.address
  );
}

/** "behind-tenants-router": somebody behind a second router; the router itself may be a device of that name. */
export const behindName = ({ name }: Pick<ChainedRouter, 'name'>): string => slug(`behind ${name}`);

/** Every word a question about this site can use for an end. */
export const endpointNames = (site: Site): string[] => [
  'internet',
  'router',
  ...[...site.networks, ...site.devices, ...site.lines].map((each) => slug(each.name)),
  ...site.second.filter(isChained).map(behindName),
  ...site.wifi.networks.flatMap(({ ssid, network }) => (network && slug(ssid) !== '' ? [slug(ssid)] : [])),
  ...site.vpn.sites.map((each) => slug(each.name)),
  ...(site.vpn.way === 'none' ? [] : site.vpn.peers.map((each) => slug(each.name))),
];

/** An address somebody on this network may have: from its pool where it has one, never a registered device's. */
export function sampleHost(site: Site, network: Network): Address | undefined {
  if (!network.prefix) return undefined;
  const hosts = hostsOf(network.prefix);
  const range =
    network.pool && contains(network.prefix, { family: network.pool.family, value: network.pool.first })
      ? network.pool
      : rangeBetween(hosts.first, hosts.last);
  return firstFreeBeside([range], heldAddresses(site), network.routerAddress);
}

/** Turns a question into a packet on this site. */
export function flowOf(site: Site, query: Query): Result<Flow> {
  const from = findEndpoint(site, query.from);
  if (!from.ok) return from;
  const to = findEndpoint(site, query.to);
  if (!to.ok) return to;
  const down = new Set<string>();
  for (const name of query.down) {
    const line = site.lines.find((each) => slug(each.name) === slug(name));
    if (!line)
      return bad(
        'unknown-line',
        `No uplink is called "${name}". Uplinks: ${site.lines.map((each) => each.name).join(', ') || 'none yet'}.`,
      );
    down.add(line.id);
  }
  const start = originOf(site, from.value);
  if (!start.ok) return start;
  const { origin, source } = start.value;
  const target = destinationOf(site, to.value, query, origin, down);
  if (!target.ok) return target;
  const aimed: Origin = origin.kind === 'outside' ? { ...origin, line: target.value.line } : origin;
  const six = origin.kind === 'client' && target.value.destination.family === 6 && origin.peer.address6;
  const header: Header = {
    protocol: query.protocol,
    source: six || source,
    sourcePort: query.protocol === 'icmp' ? 0 : clientPort,
    destination: target.value.destination,
    destinationPort: target.value.port ?? query.port,
    sizeBytes: query.sizeBytes,
  };
  if (sameAddress(header.source, header.destination))
    return bad('same-ends', 'Both ends are the same address; there is nothing to follow.');
  return ok({ origin: aimed, header, down });
}

function originOf(site: Site, from: Endpoint): Result<{ origin: Origin; source: Address }> {
  const outside = (source: Address, name: string): Result<{ origin: Origin; source: Address }> =>
    ok({ origin: { kind: 'outside', name, line: undefined }, source });
  const inside = (
    network: Network,
    source: Address,
    name: string,
    wifi = isWired(site, source) ? undefined : apartOn(site, network),
  ): Result<{ origin: Origin; source: Address }> =>
    ok({
      origin: { kind: 'inside', network, name, ...(wifi?.isolation && { apart: wifi }) },
      source,
    });
  switch (from.kind) {
    case 'internet':
      return outside(site.outsider, 'internet');
    case 'router':
      return ok({ origin: { kind: 'router' }, source: site.networks[0]?.routerAddress ?? site.outsider });
    case 'line':
      return outside(site.outsider, `outside, over ${from.line.name}`);
    case 'site': {
      const { far } = from;
      const [prefix] = far.prefixes;
      return prefix
        ? ok({ origin: { kind: 'site', far, name: far.name }, source: hostsOf(prefix).first })
        : bad('no-host', `No subnet of ${far.name} is entered yet.`);
    }
    case 'client': {
      const { peer } = from;
      const source = peer.address ?? peer.address6;
      return source
        ? ok({ origin: { kind: 'client', peer, name: peer.name }, source })
        : bad('no-host', `${peer.name} has no address in the tunnel yet.`);
    }
    case 'network': {
      const source = sampleHost(site, from.network);
      return source
        ? inside(from.network, source, `a device on ${from.network.name}`, from.wifi)
        : bad(
            'no-host',
            `${from.network.name} has no readable subnet with a free host yet, so nobody there can send.`,
          );
    }
    case 'device': {
      const { device } = from;
      if (!device.network) return bad('no-network', `${device.name} is on no network yet.`);
      // Plugged in somewhere else, it gets an address of the network that is there.
      const elsewhere = wiredElsewhere(site, device);
      if (elsewhere && !elsewhere.network)
        return bad('not-connected', `${device.name} reaches nothing. ${elsewhere.says}`);
      const network = elsewhere?.network ?? device.network;
      const own = network === device.network || device.addressing === 'fixed' ? device.address : undefined;
      const source = own ?? sampleHost(site, network);
      return source
        ? inside(network, source, device.name)
        : bad('no-host', `${device.name} has no address yet.`);
    }
    case 'second':
      return behind(site, from.second, undefined);
    case 'address': {
      const none = noHost(site, from.address);
      if (none) return bad('no-host', `${formatAddress(from.address)} sends nothing: ${none.says}.`);
      const second = site.second.filter(isChained).find((each) => contains(each.inside.prefix, from.address));
      if (second) return behind(site, second, from.address);
      const network = site.networks.find((each) => each.prefix && contains(each.prefix, from.address));
      const device = site.devices.find((each) => each.address && sameAddress(each.address, from.address));
      const far = site.vpn.sites.find(({ prefixes }) =>
        prefixes.some((prefix) => contains(prefix, from.address)),
      );
      if (!network && far) return ok({ origin: { kind: 'site', far, name: far.name }, source: from.address });
      const line = site.lines.find(({ prefix }) => prefix && contains(prefix, from.address));
      if (!network && line) {
        const { box } = line;
        const own = box?.address && sameAddress(box.address, from.address) ? box.name : undefined;
        const name = own ?? `a device between ${box?.name ?? 'the provider'} and the router`;
        return sameAddress(line.address, from.address)
          ? bad('own-address', `${formatAddress(from.address)} is the router itself: ask from the router.`)
          : ok({ origin: { kind: 'in-front', line, name }, source: from.address });
      }
      if (!network) return outside(from.address, 'outside');
      // By its address or by its name: a device is where the cabling puts it.
      if (device && wiredElsewhere(site, device)) return originOf(site, { kind: 'device', device });
      return inside(network, from.address, device?.name ?? `a device on ${network.name}`);
    }
  }
}

/** Somebody behind a second router: the first free address of its own subnet. */
function behind(
  { outsider }: Site,
  second: ChainedRouter,
  typed: Address | undefined,
): Result<{ origin: Origin; source: Address }> {
  const { first, last } = hostsOf(second.inside.prefix);
  const source = typed ?? firstFreeBeside([rangeBetween(first, last)], new Set(), second.inside.host);
  return ok({
    origin: { kind: 'behind', second, name: `a device behind ${second.name}` },
    source: source ?? outsider,
  });
}

function destinationOf(
  site: Site,
  to: Endpoint,
  query: Query,
  origin: Origin,
  down: ReadonlySet<string>,
): Result<{ destination: Address; port?: number; line: Line | undefined }> {
  switch (to.kind) {
    case 'internet':
      if (origin.kind === 'outside')
        return bad('same-ends', 'From the internet to the internet does not touch this site.');
      return ok({ destination: site.outsider, line: undefined });
    case 'address':
      return ok({ destination: to.address, line: undefined });
    case 'line':
      return ok({
        // A neighbour meets the router at the address that it has on their subnet.
        destination: meetsRouter(origin, to.line) ? to.line.address : to.line.publicAddress,
        line: to.line,
      });
    case 'site': {
      const [prefix] = to.far.prefixes;
      return prefix
        ? ok({ destination: hostsOf(prefix).first, line: undefined })
        : bad('no-host', `No subnet of ${to.far.name} is entered yet.`);
    }
    case 'client': {
      const destination = to.peer.address ?? to.peer.address6;
      return destination
        ? ok({ destination, line: undefined })
        : bad('no-host', `${to.peer.name} has no address in the tunnel yet.`);
    }
    case 'router': {
      if (origin.kind === 'outside') return toLine(site, undefined, down);
      if (origin.kind === 'in-front') return ok({ destination: origin.line.address, line: undefined });
      const network =
        origin.kind === 'inside'
          ? origin.network
          : origin.kind === 'behind'
            ? origin.second.network
            : site.networks[0];
      return network?.routerAddress
        ? ok({ destination: network.routerAddress, line: undefined })
        : bad('no-router-address', "The router's address on that network is not known yet.");
    }
    case 'second':
      return origin.kind === 'outside' || origin.kind === 'in-front'
        ? toLine(site, undefined, down, origin)
        : ok({
            destination:
              origin.kind === 'behind' && origin.second === to.second
                ? to.second.inside.host
                : to.second.address,
            line: undefined,
          });
    case 'network': {
      const host = sampleHost(site, to.network);
      return host
        ? ok({ destination: host, line: undefined })
        : bad('no-host', `${to.network.name} has no readable subnet yet.`);
    }
    case 'device': {
      const { device } = to;
      if (origin.kind !== 'outside' && origin.kind !== 'in-front') {
        const destination = device.address ?? (device.network && sampleHost(site, device.network));
        return destination
          ? ok({ destination, line: undefined })
          : bad('no-host', `${device.name} has no address yet.`);
      }
      // From outside a device is met at the site's own address, through a forward. The named port may be either side's.
      const toDevice = site.forwards.filter(
        (each) => each.device === device && protocolsMeet(each.protocol, query.protocol),
      );
      const byOutside = toDevice.find((each) => each.outside && hasPort(each.outside, query.port));
      const byInside = toDevice.find((each) => each.inside && hasPort(each.inside, query.port));
      const forward = byOutside ?? byInside;
      const port =
        !byOutside && byInside?.inside && byInside.outside
          ? byInside.outside.first + (query.port - byInside.inside.first)
          : query.port;
      const line = toLine(site, forward?.line, down, origin);
      return line.ok ? ok({ ...line.value, port }) : line;
    }
  }
}

const meetsRouter = (origin: Origin, line: Line): boolean =>
  origin.kind === 'in-front' && origin.line === line;

function toLine(
  site: Site,
  wanted: Line | undefined,
  down: ReadonlySet<string>,
  origin?: Origin,
): Result<{ destination: Address; line: Line | undefined }> {
  if (origin?.kind === 'in-front') return ok({ destination: origin.line.address, line: undefined });
  const line =
    wanted && !down.has(wanted.id) ? wanted : (site.lines.find((each) => !down.has(each.id)) ?? wanted);
  if (!line) return bad('no-line', 'The site has no uplink yet, so nothing outside can be met.');
  return ok({ destination: line.publicAddress, line });
}
