import { needs } from '../../wan-types/facts.ts';
import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import { contains, formatPrefix, prefixAround, roleIn, type Prefix } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import { lineName, type Assigned, type Collector } from './collector.ts';
import type { LineFacts } from './facts.ts';
import { isCarrier, isPrivate, isPublic, type ValueToken } from './tokens.ts';

type Token<Kind extends ValueToken['kind']> = Extract<ValueToken, { kind: Kind }>;

type Meaning = 'gateway' | 'dns' | 'other' | 'routed' | 'first' | 'last' | 'usable' | 'network' | 'address';

/** What the words before an address make it (common practice, no source). */
const meanings: readonly (readonly [RegExp, Meaning])[] = [
  [
    /gate ?way|default route|next[ -]?hop|def(?:ault)?\.? gw|\bgw\b|default router|(?:provider|our|far)(?:'s)? (?:end|side|router)|\(pe\)/gi,
    'gateway',
  ],
  [/\bdns\b|name ?servers?|resolvers?/gi, 'dns'],
  [/\b(?:ntp|time|sip|mail|smtp|proxy|tftp|syslog|radius|outbound) ?(?:servers?|proxy|host)?\b/gi, 'other'],
  [/wildcard|broadcast/gi, 'other'],
  [/routed|additional|further|extra|second (?:block|range|subnet)|public (?:block|subnet|range)/gi, 'routed'],
  [/\b(?:start|first|begin|from)\b/gi, 'first'],
  [/\b(?:end|last)\b/gi, 'last'],
  [/usable/gi, 'usable'],
  [/subnet|network|range|block|prefix|cidr/gi, 'network'],
  [/\b(?:ip|ipv4|address|addr)\b|\(ce\)/gi, 'address'],
];

/** The meaning that stands nearest to the address; "DNS server address" is about the DNS server. */
function meaningOf(label: string): Meaning | undefined {
  let best: { at: number; means: Meaning } | undefined;
  for (const [form, means] of meanings)
    for (const { index, 0: text } of label.matchAll(form)) {
      const weak = means === 'address' || means === 'network';
      const at = index + text.length + (weak ? 0 : 20);
      if (!best || at > best.at) best = { at, means };
    }
  return best?.means;
}

const ofInside = /\b(?:lan|local|inside|internal|dhcp|pool|leases?)\b/i;
const ofBox = /\b(?:modem|provider|landlord|in front|behind|their|hotel|building|box)\b/i;

/** An IPv4 address outside a row of a list: of a line, of what stands in front of it, or of the inside. */
export function readAddress(
  token: Token<'address'>,
  label: string,
  after: string,
  collector: Collector,
): void {
  const words = `${label} ${collector.label}`;
  // "Use 192.0.2.10 and 192.0.2.11 for DNS": what it is stands behind it.
  const behind = /^(?:\s*(?:,|and|or)\s*[\d.]+)*\s+(?:for|as|is|are)\s+(.{2,40})/i.exec(after)?.[1] ?? '';
  const means =
    meaningOf(label) ?? (behind === '' ? undefined : meaningOf(behind)) ?? meaningOf(collector.label);
  if (means === 'other') return;
  const current = collector.current;
  if (isPrivate(token.address)) {
    const isBehind =
      current?.medium?.value === 'router' || current?.box?.value === 'routes' || ofBox.test(words);
    if (ofInside.test(words)) readInside(token, means, collector);
    else if (isBehind && means !== 'dns') readBox(token, means, collector);
    else if (current?.type && needs(current.type.value, 'address')) readLine(token, means, collector);
    return;
  }
  if (isCarrier(token.address)) {
    const to = collector.line();
    to.carrierNat ??= collector.said(true);
    return collector.mark(token, `${lineName(to)} is behind carrier-grade NAT`);
  }
  if (isPublic(token.address)) readLine(token, means, collector);
}

/** The side of a box in front that looks at the router. */
function readBox(token: Token<'address'>, means: Meaning | undefined, collector: Collector): void {
  const to = collector.line();
  const prefix = prefixAround(token.address, token.length ?? 24);
  to.insidePrefix ??= collector.said(formatPrefix(prefix));
  if (means !== 'network' && roleIn(prefix, token.address) === 'host')
    to.insideAddress ??= collector.said(formatAddress(token.address));
  to.box ??= collector.said('routes' as const);
  collector.mark(token, `the box in front of ${lineName(to)}`);
}

/** An address of the inside of the router that is there today. */
function readInside(token: Token<'address'>, means: Meaning | undefined, collector: Collector): void {
  if (means === 'dns') return;
  const network = collector.facts.networks[0] ?? collector.network('staff', 'Office');
  const text = formatAddress(token.address);
  if (means === 'first' || means === 'last') {
    network[means === 'first' ? 'poolFrom' : 'poolTo'] ??= collector.said(text);
    return collector.mark(token, `DHCP pool of ${network.name.value}`);
  }
  if (token.length !== undefined)
    network.prefix ??= collector.said(formatPrefix(prefixAround(token.address, token.length)));
  if (
    token.length === undefined ||
    roleIn(prefixAround(token.address, token.length), token.address) === 'host'
  )
    network.routerAddress ??= collector.said(text);
  collector.mark(token, `router's address in ${network.name.value}`);
}

/** An address of a line, as the provider assigned it. */
function readLine(token: Token<'address'>, means: Meaning | undefined, collector: Collector): void {
  const to = collector.line();
  const text = formatAddress(token.address);
  const mark = (says: string): void => collector.mark(token, `${says} of ${lineName(to)}`);
  if (means === 'dns') {
    const known = to.resolvers?.value ?? [];
    if (!known.includes(text) && known.length < 4)
      to.resolvers = { value: [...known, text], from: to.resolvers?.from ?? collector.from() };
    return mark('DNS server');
  }
  if (means === 'gateway') {
    if (to.gateway !== undefined && to.gateway.value !== text) return;
    to.gateway = collector.said(text);
    if (token.length !== undefined) to.prefixLength ??= collector.said(token.length);
    return mark('gateway');
  }
  if (token.length !== undefined) {
    const prefix = prefixAround(token.address, token.length);
    collector.assign(to, token.address, token.length);
    const known = to.address ?? to.block ?? to.gateway;
    const isHost = token.length >= 31 || roleIn(prefix, token.address) === 'host';
    if (means === 'routed' || (known && !isHost && to.prefixLength)) {
      to.routedBlock ??= collector.said(formatPrefix(prefix));
      return mark('routed subnet');
    }
    to.prefixLength ??= collector.said(token.length);
    if (isHost) to.address ??= collector.said(text);
    else to.block ??= collector.said(formatPrefix(prefix));
    return mark(isHost ? 'address and mask' : 'subnet');
  }
  if (means === 'network') {
    to.network ??= collector.said(text);
    return mark('subnet');
  }
  if (means === 'usable' || means === 'first') {
    to.usable ??= collector.said(text);
    return mark('first usable address');
  }
  if (means === 'last') return;
  to.address ??= collector.said(text);
  if (to.address.value === text) mark('address');
}

/**
 * The gateway lies in the subnet of the line: where several subnets were assigned, the one that holds it is the line's,
 * and another is routed to it, whatever the order in which the text has them.
 */
export function chooseSubnet(line: LineFacts, assigned: readonly Assigned[]): void {
  const gateway = line.gateway && valueOf(parseAddress(line.gateway.value));
  if (!gateway || assigned.length < 2) return;
  const own = assigned.find(({ address, length }) => contains(prefixAround(address, length), gateway));
  const other = assigned.find((each) => each !== own);
  if (!own || !other || line.prefixLength?.value === own.length) return;
  const prefix = prefixAround(own.address, own.length);
  line.prefixLength = { value: own.length, from: own.from };
  delete line.address;
  delete line.block;
  if (roleIn(prefix, own.address) === 'host' || own.length >= 31)
    line.address = { value: formatAddress(own.address), from: own.from };
  else line.block = { value: formatPrefix(prefix), from: own.from };
  line.routedBlock = { value: formatPrefix(prefixAround(other.address, other.length)), from: other.from };
}

/** A mask belongs to the address before it. */
export function readMask(token: Token<'mask'>, label: string, collector: Collector): void {
  const network = collector.facts.networks.find(({ routerAddress, prefix }) => routerAddress && !prefix);
  const host = network && valueOf(parseAddress(network.routerAddress!.value));
  if (network && host && !/\b(?:wan|internet|public)\b/i.test(label)) {
    network.prefix = collector.said(formatPrefix(prefixAround(host, token.length)));
    return collector.mark(token, `mask of ${network.name.value}: /${token.length}`);
  }
  const to = collector.line();
  to.prefixLength ??= collector.said(token.length);
  if (to.prefixLength.value === token.length)
    collector.mark(token, `mask of ${lineName(to)}: /${token.length}`);
}

/** The subnet that two addresses begin and end: 203.0.113.8 to 203.0.113.15 is a /29. */
function blockBetween(first: Address, last: Address): Prefix | undefined {
  const bits = (last.value - first.value + 1n).toString(2);
  const prefix = /^10+$/.test(bits) ? prefixAround(first, 33 - bits.length) : undefined;
  return prefix && roleIn(prefix, first) === 'network' ? prefix : undefined;
}

/** A range of addresses: a DHCP pool, or what may be used of a line's subnet. */
export function readRange(token: Token<'range'>, label: string, text: string, collector: Collector): void {
  const from = valueOf(parseAddress(token.from));
  const last = valueOf(parseAddress(token.to));
  const block = from && last && blockBetween(from, last);
  if (from && isPublic(from) && block) {
    const to = collector.line();
    to.block ??= collector.said(formatPrefix(block));
    to.prefixLength ??= collector.said(block.length);
    return collector.mark(token, `subnet of ${lineName(to)}`);
  }
  if (from && isPublic(from)) {
    const to = collector.line();
    to.usable ??= collector.said(token.from);
    return collector.mark(token, `usable addresses of ${lineName(to)}`);
  }
  if (!/\b(?:dhcp|pool|range|lease|lan|clients?)\b/i.test(`${text} ${label} ${collector.label}`)) return;
  const network = collector.facts.networks.at(-1) ?? collector.network('staff', 'Office');
  network.poolFrom ??= collector.said(token.from);
  network.poolTo ??= collector.said(token.to);
  collector.mark(token, `DHCP pool of ${network.name.value}`);
}
