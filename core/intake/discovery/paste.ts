import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import { addressesIn, ipv4InText } from '../../base/net/find.ts';
import { parseMac } from '../../base/net/mac.ts';
import { parseLength } from '../../base/net/prefix.ts';
import { rateOf } from '../../base/net/rate.ts';
import { valueOf } from '../../base/result.ts';
import { parseTools } from '../readings/tools.ts';
import type { WanTypeName } from '../../plan/schema.ts';
import { asText, longestPasted } from '../../base/text.ts';
import { specialFirst } from '../../wan-types/index.ts';
import type { Heard } from '../../behaviour/wifi/channels.ts';
import { parseScan } from '../../behaviour/wifi/scan.ts';

/** A host that a list of leases or neighbours names. */
export interface SeenHost {
  readonly address: Address;
  readonly mac: string;
  readonly name: string;
  /** The list says that the address is kept for it. */
  readonly reserved: boolean;
}

/** A row of a table of port forwards. */
export interface SeenForward {
  readonly name: string;
  readonly protocol: 'tcp' | 'udp' | 'both';
  readonly outside: string;
  readonly inside: string;
  readonly host: Address;
}

/** What a page of a box says about the box. */
export interface SeenPage {
  readonly model: string;
  readonly firmware: string;
  readonly lanAddress: Address | undefined;
  readonly lanLength: number | undefined;
  readonly poolFrom: Address | undefined;
  readonly poolTo: Address | undefined;
  readonly wanType: WanTypeName | undefined;
  readonly user: string;
  readonly vlan: number | undefined;
  readonly mtu: number | undefined;
  readonly wanAddress: Address | undefined;
  readonly wanLength: number | undefined;
  readonly wanGateway: Address | undefined;
  readonly resolvers: readonly Address[];
  readonly downMbps: number | undefined;
  readonly upMbps: number | undefined;
}

/** What one paste says: of the laptop, of the hosts around it, and of a box whose page it is. */
export interface Paste {
  readonly laptop: readonly { readonly address: Address; readonly length: number | undefined }[];
  readonly gateways: readonly Address[];
  /** Who gave the laptop its address, as far as the listing says. */
  readonly dhcpServers: readonly Address[];
  readonly hops: readonly (Address | undefined)[];
  readonly outside: Address | undefined;
  readonly hosts: readonly SeenHost[];
  readonly forwards: readonly SeenForward[];
  readonly page: SeenPage;
  /** Wi-Fi networks of a scan. */
  readonly heard: readonly Heard[];
  /** Lines from which nothing was taken. */
  readonly unused: readonly string[];
}

const macText = /(?<![\w:.-])(?:[0-9a-f]{1,2}([:-]))(?:[0-9a-f]{1,2}\1){4}[0-9a-f]{1,2}(?![\w:])/i;

const addressIn = (text: string): Address | undefined => addressesIn(text)[0];
const numberIn = (text: string): number | undefined => {
  const found = /(?<![\w.])\d{1,6}(?![\w.])/.exec(text)?.[0];
  return found === undefined ? undefined : Number(found);
};

/** Twelve digits, whatever stood between them and however short an octet was written. */
function macIn(line: string): { text: string; found: string } | undefined {
  const found = macText.exec(line)?.[0];
  const parsed =
    found &&
    valueOf(
      parseMac(
        found
          .split(/[:-]/)
          .map((octet) => octet.padStart(2, '0'))
          .join(':'),
      ),
    );
  return parsed ? { text: parsed.text, found: found! } : undefined;
}

/** Words of listings that are no name of a host. */
const noName =
  /^(?:dev|eth\d*|en\d+|wlan\d*|br\S*|lan\d*|lladdr|reachable|stale|delay|permanent|failed|dynamic|static|reserved|fixed|at|on|ether|\[ether\]|ifscope|expires?|active|online|offline|never|infinite|days?|h|min|s|via|yes|no|\?|-|\*)$/i;

/** "192.168.1.20 00:00:5e:00:53:21 printer", "? (192.168.1.20) at 0:0:5e:0:53:21 on en0", in any order. */
function hostIn(line: string): SeenHost | undefined {
  const mac = macIn(line);
  const address = mac && addressIn(line);
  if (!mac || !address) return undefined;
  const rest = line.replace(mac.found, ' ').replace(ipv4InText, ' ');
  const name = rest
    .split(/[\s,;|()[\]"]+/)
    .filter((word) => word !== '' && !noName.test(word) && !/^[\d:.T+Z-]+$/.test(word))
    .slice(0, 3)
    .join(' ');
  return { address, mac: mac.text, name, reserved: /\b(?:reserved|fixed|static)\b/i.test(rest) };
}

/** "tide tcp 8443 192.168.1.20 8443": a protocol, an inside address, and one port or two. */
function forwardIn(line: string): SeenForward | undefined {
  const protocol = /\b(tcp\s*(?:\/|\+|&|and)\s*udp|both|tcp|udp)\b/i.exec(line)?.[1]?.toLowerCase();
  const host = addressIn(line);
  if (protocol === undefined || !host || macIn(line)) return undefined;
  const rest = line.replace(ipv4InText, ' ').replace(/\b(?:tcp|udp|both|and)\b/gi, ' ');
  const ports = [...rest.matchAll(/(?<![\w.])\d{1,5}(?:\s?-\s?\d{1,5})?(?![\w.])/g)]
    .map(([found]) => found.replace(/\s/g, ''))
    .filter((port) => port.split('-').every((each) => Number(each) > 0 && Number(each) < 65_536));
  // Rows are often numbered: a small number in front of everything is no port.
  const numbered = /^\s*\d{1,3}[.)\s]/.test(line) && ports.length > 1 && Number(ports[0]) < 100;
  const [outside, inside = outside] = numbered ? ports.slice(1) : ports;
  if (outside === undefined) return undefined;
  const name = rest
    .replace(/\d+(?:\s?-\s?\d+)?/g, ' ')
    .split(/[\s,;|:/>=-]+/)
    .filter(
      (word) => /\p{L}/u.test(word) && !/^(?:on|off|yes|no|wan|lan|any|all|enabled?|active|to)$/i.test(word),
    )
    .slice(0, 4)
    .join(' ');
  return {
    name,
    protocol: protocol === 'tcp' || protocol === 'udp' ? protocol : 'both',
    outside,
    inside: inside!,
    host,
  };
}

type Write = { -readonly [Key in keyof SeenPage]: SeenPage[Key] };
type Rule = readonly [label: RegExp, take: (page: Write, value: string) => boolean];

const set =
  <Key extends keyof SeenPage>(key: Key, read: (value: string) => SeenPage[Key] | undefined) =>
  (page: Write, value: string): boolean => {
    const found = read(value);
    if (found === undefined || found === '') return false;
    page[key] = found;
    return true;
  };
const length = (value: string): number | undefined => valueOf(parseLength(value.trim().replace(/^\//, '')));
const line = (value: string): string => value.trim().slice(0, 200);

/** Labels of the outer side, tried in this order; the same words under a heading of the inner side mean the inside. */
const outer: readonly Rule[] = [
  [
    /\b(?:type|mode|protocol|connection)\b/i,
    set('wanType', (value) => specialFirst.find(({ onPage }) => onPage?.test(value))?.name),
  ],
  [/user|account|login/i, set('user', line)],
  [/vlan|802\.1q/i, set('vlan', numberIn)],
  [/\bmtu\b/i, set('mtu', numberIn)],
  [/\b(?:down(?:stream|load)?|rate down|rx rate)\b/i, set('downMbps', rateOf)],
  [/\b(?:up(?:stream|load)?|rate up|tx rate)\b/i, set('upMbps', rateOf)],
  [/mask|netmask|prefix length/i, set('wanLength', length)],
  [/gateway|router|next hop/i, set('wanGateway', addressIn)],
  [
    /dns|name ?server|resolver/i,
    (page, value) => {
      const found = addressesIn(value);
      page.resolvers = [...page.resolvers, ...found];
      return found.length > 0;
    },
  ],
  [/address|\bip\b/i, set('wanAddress', addressIn)],
];

const inner: readonly Rule[] = [
  [
    /range|pool/i,
    (page, value) => {
      const [from, to] = addressesIn(value);
      if (!from || !to) return false;
      [page.poolFrom, page.poolTo] = [from, to];
      return true;
    },
  ],
  [/start|from|first|begin/i, set('poolFrom', addressIn)],
  [/\bend\b|\bto\b|last/i, set('poolTo', addressIn)],
  [/mask|netmask/i, set('lanLength', length)],
  [/address|\bip\b|router|gateway/i, set('lanAddress', addressIn)],
];

const about: readonly Rule[] = [
  [/^(?:model|product|hardware)/i, set('model', line)],
  [/firmware|software|version/i, set('firmware', line)],
];

const isOuter = /\b(?:wan|internet|external|outside|uplink|ppp\w*|broadband|public)\b/i;
const isInner = /\b(?:lan|local|inside|home|internal|dhcp server|dhcp range|address pool)\b/i;

const emptyPage = (): Write => ({
  model: '',
  firmware: '',
  lanAddress: undefined,
  lanLength: undefined,
  poolFrom: undefined,
  poolTo: undefined,
  wanType: undefined,
  user: '',
  vlan: undefined,
  mtu: undefined,
  wanAddress: undefined,
  wanLength: undefined,
  wanGateway: undefined,
  resolvers: [],
  downMbps: undefined,
  upMbps: undefined,
});

/** How lines begin that tools print, which are read as a whole elsewhere. */
const ofTools =
  /^(?:\d+: \w|inet6? |link\/|valid_lft|default\b|0\.0\.0\.0 |PING|Pinging|traceroute|Tracing|over a max|\d{1,2} +[*<\d]|\d+ packets|rtt |round-trip|---|flags|options|ether |status|media|Ethernet adapter|Windows IP)/i;
/** Labels that one kind of desktop fills up with dots. */
const dotted = /(?: \.){2}/;

/** Longest line of a page that is looked at. */
const longestLine = 400;

/** Label and value of a line: parted by a colon or an equals sign, a tab, or several spaces. */
function pairIn(raw: string): readonly [label: string, value: string] | undefined {
  const text = raw.trim();
  const cuts = [text.indexOf(':'), text.indexOf('='), text.indexOf('\t'), text.indexOf('  ')].filter(
    (at) => at > 0,
  );
  const cut = Math.min(...cuts);
  if (!Number.isFinite(cut) || cut > 48) return undefined;
  const label = text.slice(0, cut).trim();
  const value = text.slice(cut + 1).replace(/^[\s:=]+/, '');
  return /^\p{L}/u.test(label) && value !== '' ? [label, value] : undefined;
}

/** The address alone on a line, or behind words that say that the outside sees it. */
function outsideIn(row: string): Address | undefined {
  const found = /(?:^|[ :])([\d.]{7,15})$/.exec(row)?.[1];
  if (found === undefined) return undefined;
  const words = row.slice(0, row.length - found.length).trim();
  return words === '' || /^(?:outside|my|public|seen)\b/i.test(words)
    ? valueOf(parseAddress(found))
    : undefined;
}

/**
 * Who gave an address (RFC 2132 option 54), as listings of a laptop, logs of clients and captures print it:
 * "DHCP Server . . . : 192.168.1.1", "dhcp-server-identifier 192.168.1.1", "DHCPACK of 192.168.1.20 from 192.168.1.1",
 * "Server-ID (54), length 4: 192.168.1.1", "Address: 192.168.1.20 (DHCP4 via 192.168.1.1)".
 */
function dhcpServerIn(row: string): Address | undefined {
  const from =
    /\bdhcp(?:offer|ack)\b.* from ([\d.]{7,15})/i.exec(row) ?? /\(dhcpv?4 via ([\d.]{7,15})\)/i.exec(row);
  if (from) return valueOf(parseAddress(from[1]!));
  return /dhcp.server|\bserver[-_ ]id(?:entifier)?\b/i.test(row) && !/range|pool/i.test(row)
    ? addressIn(row)
    : undefined;
}

/** Reads one paste. Whatever is in it, nothing fails; what is not understood is handed back. */
export function readPaste(text: string): Paste {
  const tidy = asText(text.slice(0, longestPasted));
  const figures = parseTools(tidy);
  const { heard } = parseScan(tidy, false);
  const page = emptyPage();
  const hosts: SeenHost[] = [];
  const forwards: SeenForward[] = [];
  const dhcpServers: Address[] = [];
  const unused: string[] = [];
  let outside: Address | undefined;
  let side: 'outer' | 'inner' | undefined;
  for (const whole of tidy.split('\n')) {
    const raw = whole.slice(0, longestLine);
    const row = raw.replace(/\s+/g, ' ').trim();
    if (row === '') continue;
    const server = dhcpServerIn(row);
    if (server) {
      dhcpServers.push(server);
      if (!/^address/i.test(row)) continue;
    }
    const seen = outsideIn(row);
    if (seen) {
      outside ??= seen;
      continue;
    }
    if (ofTools.test(row) || dotted.test(row)) continue;
    const neighbour = hostIn(row);
    if (neighbour) {
      hosts.push(neighbour);
      continue;
    }
    const pair = pairIn(raw);
    if (!pair) {
      const forward = forwardIn(row);
      if (forward) forwards.push(forward);
      // A line without a value is a heading.
      else if (row.length < 40 && (isOuter.test(row) || isInner.test(row)))
        side = isInner.test(row) && !/\bwan\b|internet/i.test(row) ? 'inner' : 'outer';
      else unused.push(row);
      continue;
    }
    const [label, value] = pair;
    const named = /\bwan\b/i.test(label)
      ? 'outer'
      : isInner.test(label)
        ? 'inner'
        : isOuter.test(label)
          ? 'outer'
          : undefined;
    const inside = (named ?? side ?? 'outer') === 'inner';
    const rules = about.some(([form]) => form.test(label)) ? about : inside ? inner : outer;
    if (rules.some(([form, take]) => form.test(label) && take(page, value))) continue;
    const forward = forwardIn(row);
    if (forward) forwards.push(forward);
    else unused.push(row);
  }
  const addresses = figures.flatMap((figure) =>
    figure.kind === 'address' ? [{ address: figure.address, length: figure.length }] : [],
  );
  const trace = figures.find((figure) => figure.kind === 'hops');
  return {
    laptop: addresses.filter(({ address }) => address.family === 4),
    gateways: figures.flatMap((figure) => (figure.kind === 'gateway' ? [figure.address] : [])),
    dhcpServers,
    hops: trace?.kind === 'hops' ? trace.hops : [],
    outside,
    hosts,
    forwards,
    page,
    heard,
    // A scan has dozens of lines for each network: what is used of it is the network.
    unused: heard.length > 0 ? [] : unused,
  };
}

const counted = (count: number, what: string): string => `${count} ${what}${count === 1 ? '' : 's'}`;

/** A paste in a few words, for the list of what was pasted. */
export function pasteWords(paste: Paste): string {
  const parts = [
    ...paste.laptop.map(({ address }) => `a laptop at ${formatAddress(address)}`),
    ...(paste.dhcpServers.length > 0
      ? [`a DHCP server at ${[...new Set(paste.dhcpServers.map(formatAddress))].join(' and ')}`]
      : []),
    ...(paste.hops.length > 0 ? [`a trace of ${paste.hops.length} hops`] : []),
    ...(paste.outside ? [`seen from outside as ${formatAddress(paste.outside)}`] : []),
    ...(paste.hosts.length > 0 ? [counted(paste.hosts.length, 'host')] : []),
    ...(paste.heard.length > 0 ? [counted(paste.heard.length, 'Wi-Fi network')] : []),
    ...(paste.forwards.length > 0 ? [counted(paste.forwards.length, 'forward')] : []),
    ...(paste.page.lanAddress ? [`the page of the box at ${formatAddress(paste.page.lanAddress)}`] : []),
    ...(paste.page.wanType || paste.page.wanAddress ? ['the outer side of a box'] : []),
  ];
  return parts.length === 0 ? 'nothing was understood' : parts.join('; ');
}
