import { addressKey, addressOfKey } from '../../base/net/address.ts';
import { protocolsOf, single, type PacketRow } from '../../base/net/packet-set.ts';
import { contains } from '../../base/net/prefix.ts';
import { rangeOf } from '../../base/net/range.ts';
import { admits } from '../../site/allowed.ts';
import type { Line, Site } from '../../site/model.ts';
import { translated } from '../remote-access/translation.ts';
import { goesOn, stops, type Side, type Stage } from './decision.ts';
import { forwardTable, type ForwardTable } from './forward-table.ts';

export interface DestinationTable {
  /** What an address of the router itself belongs to, by the key of the address. */
  readonly own: ReadonlyMap<bigint, Side>;
  /** The complete forwards of each line. */
  readonly forwards: ReadonlyMap<Line, ForwardTable>;
  /** Whether packets from inside are forwarded too. */
  readonly hairpin: boolean;
}

export function destinationTable(site: Site): DestinationTable {
  const own = new Map<bigint, Side>();
  for (const network of site.networks)
    if (network.routerAddress) own.set(addressKey(network.routerAddress), { kind: 'network', network });
  for (const line of site.lines) own.set(addressKey(line.address), { kind: 'line', line });
  for (const host of [site.vpn.routerAddress, site.vpn.routerAddress6])
    if (host && site.vpn.way !== 'none') own.set(addressKey(host), { kind: 'client', peer: undefined });
  const complete = site.forwards.filter(({ inside, outside }) => inside && outside);
  return {
    own,
    hairpin: site.router.hairpin,
    forwards: new Map(
      site.lines.map((line) => [line, forwardTable(complete.filter((rule) => rule.line === line))]),
    ),
  };
}

/** Forwards at the outside addresses (RFC 3022 section 2.2), for packets from inside too (RFC 4787 REQ-9). */
export const destinationNat = (table: DestinationTable): Stage<DestinationTable> => ({
  name: 'destination NAT',
  table,
  decide: ({ own, forwards, hairpin }, passage) => {
    const { header, ingress } = passage;
    if (ingress.kind === 'tunnel') {
      const { far } = ingress;
      const row = far.translations.find(
        ({ of, seen }) => of === 'here' && contains(seen, header.destination),
      );
      const destination = row && translated(header.destination, row.seen, row.real);
      return destination
        ? goesOn('destination NAT', passage, { kind: 'translated-here', far, row }, row.at, {
            ...passage,
            header: { ...header, destination },
          })
        : goesOn('destination NAT', passage, { kind: 'no-outside-address' }, undefined);
    }
    const holder = own.get(addressKey(header.destination));
    if (holder?.kind !== 'line')
      return goesOn('destination NAT', passage, { kind: 'no-outside-address' }, undefined);
    const { line } = holder;
    if (ingress.kind !== 'line' && !hairpin)
      return goesOn('destination NAT', passage, { kind: 'no-hairpin', line }, '/router/hairpin');
    const rules = forwards.get(line)!;
    const count = rules.size;
    const rule = header.protocol === 'icmp' ? undefined : rules.find(header.protocol, header.destinationPort);
    if (!rule) return goesOn('destination NAT', passage, { kind: 'no-forward', line, count }, undefined);
    const found = { rule, line, count };
    if (ingress.kind === 'line' && !admits(rule.allowed, header.source))
      return stops(
        'destination NAT',
        passage,
        { kind: 'source-refused', ...found },
        `${rule.at}/sources`,
        'refused',
      );
    if (!rule.device?.address)
      return stops('destination NAT', passage, { kind: 'forward-lost', ...found }, rule.at, 'dropped');
    const shifted = rule.inside!.first + (header.destinationPort - rule.outside!.first);
    return goesOn('destination NAT', passage, { kind: 'forwarded', ...found }, rule.at, {
      ...passage,
      header: {
        ...header,
        destination: rule.device.address,
        destinationPort: Math.min(shifted, rule.inside!.last),
      },
      forward: rule,
      hairpin: ingress.kind === 'line' ? undefined : line,
    });
  },
  rows: ({ own, forwards }, ingress) => {
    if (ingress.kind === 'tunnel')
      return ingress.far.translations.flatMap(({ of, seen }) =>
        of === 'here' ? [{ destination: rangeOf(seen) }] : [],
      );
    return [
      ...[...own.keys()].map((key) => ({ destination: single(addressOfKey(key)) })),
      ...[...forwards].flatMap(([line, { rules }]) =>
        rules.flatMap(({ outside, protocol, allowed }): PacketRow[] => {
          const row = {
            destination: single(line.address),
            protocols: protocolsOf(protocol),
            ports: outside!,
          };
          return ingress.kind === 'line' && allowed.kind === 'some'
            ? allowed.prefixes.map((prefix) => ({ ...row, source: rangeOf(prefix) }))
            : [row];
        }),
      ),
    ];
  },
});
