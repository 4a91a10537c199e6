import { formatAddress } from '../../base/net/address.ts';
import { formatPrefix, prefixAround, roleIn } from '../../base/net/prefix.ts';
import { capitalized } from '../../base/text.ts';
import type { Collector } from './collector.ts';
import { nameOf, purposeOf, type Row, type WordToken } from './row.ts';
import { isPrivate, isPublic } from './tokens.ts';
import * as words from './words.ts';

/*
 * Rows of lists: a device, a port forward, an inside network. Each reader says whether the row was one of its own.
 */

/** A list has short rows; a sentence that happens to hold an address is none. */
const isRow = ({ text, cells }: Row): boolean =>
  text.trim().split(/\s+/).length <= (cells.length > 1 ? 24 : 9);

const tied = /\b(?:tied|bound|locked|registered|known|answers?|cloned?|only)\b/i;

/** The MAC address that a line is tied to. */
export function readTiedMac({ text, values }: Row, collector: Collector): boolean {
  const mac = values.find(({ kind }) => kind === 'mac');
  if (mac?.kind !== 'mac' || !tied.test(text)) return false;
  collector.line().tiedMac ??= collector.said(mac.mac);
  collector.mark(mac, 'MAC address that the line answers');
  return false;
}

/** A device with its MAC address: a row of a list, a label, a lease. */
export function readDeviceRow(row: Row, collector: Collector): boolean {
  const { text, values, words: found } = row;
  const mac = values.find(({ kind }) => kind === 'mac');
  if (mac?.kind !== 'mac' || tied.test(text) || !isRow(row)) return false;
  const address = values.find((token) => token.kind === 'address' && isPrivate(token.address));
  const device = found.find((token) => token.kind === 'device');
  const network = found.find((token) => token.kind === 'network');
  const name = collector.asTyped(nameOf(row));
  if (name === '' && !address) return false;
  const purpose =
    device?.kind === 'device' ? device.purpose : network?.kind === 'network' ? network.purpose : 'other';
  collector.facts.devices.push({
    name: collector.said(name || `Device ${mac.mac}`),
    kind: device?.kind === 'device' ? device.what : 'device',
    purpose,
    count: 1,
    mac: collector.said(mac.mac),
    ...(address?.kind === 'address' && { address: collector.said(formatAddress(address.address)) }),
    reserved: address !== undefined && !/\bdynamic\b/i.test(text),
  });
  collector.mark(mac, `MAC address of ${name || 'a device'}`);
  if (address) collector.mark(address, `address of ${name || 'the device'}`);
  if (device) collector.mark(device, `a device: ${device.text}`);
  return true;
}

const bare = /(?<![\w.:/-])\d{2,5}(?:-\d{2,5})?(?![\w.:/%-])/g;

/** A row of the old router's forwards, or a wish that something answers from outside. */
export function readForwardRow(row: Row, collector: Collector): boolean {
  const { text, values, words: found } = row;
  const ports = values.filter((token) => token.kind === 'ports');
  const inside = values.find((token) => token.kind === 'address' && isPrivate(token.address));
  const everybody = words.everybodyWord.test(text);
  const reach = words.reachWord.exec(text);
  const device = found.find((token) => token.kind === 'device');
  const someone =
    found.some(({ kind }) => kind === 'remote') && new RegExp(words.personWord.source, 'i').test(text);
  const sources = values.flatMap((token) =>
    token.kind === 'address' && isPublic(token.address)
      ? [
          token.length === undefined
            ? formatAddress(token.address)
            : formatPrefix(prefixAround(token.address, token.length)),
        ]
      : [],
  );
  const listed = inside && (ports.length > 0 || (/\b(?:tcp|udp)\b/i.test(text) && bare.test(text)));
  bare.lastIndex = 0;
  const wish =
    reach !== null &&
    (everybody || sources.length > 0 || /\b(?:from outside|port.?forward)/i.test(text)) &&
    (device !== undefined || ports.length > 0) &&
    !(someone && ports.length === 0);
  if (!listed && !wish) return false;
  // Figures without a word beside them are ports too, once the row is known to be one of forwards.
  const blank = (line: string, { start, end }: { start: number; end: number }): string =>
    `${line.slice(0, start)}${' '.repeat(end - start)}${line.slice(end)}`;
  const rest = [...ports, ...values.filter(({ kind }) => kind === 'address')].reduce(blank, text);
  const figures = [
    ...ports.flatMap((token) => (token.kind === 'ports' ? [{ at: token.start, port: token.ports }] : [])),
    ...(listed ? [...rest.matchAll(bare)].map(({ index, 0: port }) => ({ at: index, port })) : []),
  ].sort((a, b) => a.at - b.at);
  const [outer = '', inner = outer] = figures.map(({ port }) => port);
  const protocols = new Set((text.match(/\b(?:tcp|udp)\b/gi) ?? []).map((name) => name.toLowerCase()));
  const first = ports[0];
  collector.facts.outside.push({
    target: (device?.text ?? nameOf(row)).slice(0, 100),
    purpose: device?.kind === 'device' ? device.purpose : undefined,
    protocol:
      protocols.size === 2
        ? 'both'
        : protocols.has('udp')
          ? 'udp'
          : first?.kind === 'ports'
            ? first.protocol
            : 'tcp',
    ports: outer,
    insidePorts: inner,
    address: inside?.kind === 'address' ? formatAddress(inside.address) : '',
    sources,
    everybody: everybody && sources.length === 0,
    from: collector.from(),
  });
  for (const token of values)
    if (token.kind === 'ports') collector.mark(token, 'port that was or is to be reached from outside');
    else if (token.kind === 'address')
      collector.mark(
        token,
        isPrivate(token.address)
          ? 'device that is reached from outside'
          : 'outside address that may reach it',
      );
  if (device) {
    if (!inside) readDevice(device, collector);
    collector.mark(device, `${device.text}: to be reached from outside`);
  }
  if (reach)
    collector.mark({ start: reach.index, end: reach.index + reach[0].length }, 'to be reached from outside');
  return true;
}

/** A device that is spoken of without its address. */
export function readDevice(token: WordToken, collector: Collector): void {
  if (token.kind !== 'device') return;
  const known = collector.facts.devices.find((each) => each.kind === token.what && !each.mac);
  const listed = collector.facts.devices.filter((each) => each.kind === token.what && each.mac);
  if (known) known.count = Math.max(known.count, token.count);
  // "the cameras" after a list of them speaks of those.
  else if (token.count > listed.length)
    collector.facts.devices.push({
      name: collector.said(capitalized(token.what)),
      kind: token.what,
      purpose: token.purpose,
      count: Math.max(1, token.count - listed.length),
      reserved: false,
    });
  collector.mark(
    token,
    token.count > 1 ? `${token.count} devices: ${token.what}` : `a device: ${token.what}`,
  );
}

/** An inside network with its VLAN or its subnet. */
export function readNetworkRow(row: Row, collector: Collector): boolean {
  const { text, values, words: found } = row;
  const subnet = values.find(
    (token) =>
      token.kind === 'address' &&
      isPrivate(token.address) &&
      token.length !== undefined &&
      token.length <= 30,
  );
  const vlan = values.find(({ kind }) => kind === 'vlan');
  const ofLine =
    /\b(?:internet|wan|pppoe|data on|provider|uplink)\b/i.test(text) ||
    found.some(({ kind }) => kind === 'medium' || kind === 'type');
  if (ofLine || (!subnet && !vlan)) return false;
  const who = found.find((token) => token.kind === 'network' || token.kind === 'device');
  const inside = /\b(?:lan|local|inside|internal|subnet|network)\b/i.test(`${text} ${collector.label}`);
  if (subnet?.kind === 'address') {
    const box = /\b(?:modem|landlord|in front|behind|their|hotel|building)\b/i.test(text);
    if (box || (who === undefined && vlan === undefined && !inside)) return false;
    const name = nameOf(row) || (who?.kind === 'network' ? who.name : 'Office');
    const network = collector.network(who && 'purpose' in who ? who.purpose : purposeOf(name), name);
    const prefix = prefixAround(subnet.address, subnet.length!);
    network.prefix ??= collector.said(formatPrefix(prefix));
    if (roleIn(prefix, subnet.address) === 'host')
      network.routerAddress ??= collector.said(formatAddress(subnet.address));
    if (vlan?.kind === 'vlan') network.vlan ??= collector.said(vlan.id);
    collector.mark(subnet, `subnet of ${network.name.value}`);
    if (vlan) collector.mark(vlan, `VLAN of ${network.name.value}`);
    if (who) collector.mark(who, `network ${network.name.value}`);
    return true;
  }
  // In a provider's letter a VLAN for calls or television is the line's, not a network of the site.
  if (vlan?.kind !== 'vlan' || !who || !isRow(row)) return false;
  if (who.kind === 'network' && who.purpose === 'voice' && collector.facts.networks.length === 0)
    return false;
  const network = collector.network(
    'purpose' in who ? who.purpose : 'other',
    nameOf(row) || (who.kind === 'network' ? who.name : capitalized(who.text)),
  );
  network.vlan ??= collector.said(vlan.id);
  collector.mark(vlan, `VLAN of ${network.name.value}`);
  collector.mark(who, `network ${network.name.value}`);
  return true;
}
