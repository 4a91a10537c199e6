import type { At } from '../plan/at.ts';
import { formatAddress } from '../base/net/address.ts';
import { formatPrefix } from '../base/net/prefix.ts';
import { titleAt } from '../plan/places.ts';
import type { Line } from './model.ts';

/** A place on the way of a line, with what is known there. */
export interface Station {
  readonly key: string;
  readonly name: string;
  /** Empty where nobody knows it. */
  readonly value: string;
  readonly note: string;
  readonly at: At;
}

/** The stations of a line, from the provider to the inside. */
export function stationsOf(line: Line): Station[] {
  const { at, box } = line;
  const stations: Station[] = [];
  const outsideAt: At = box?.routes ? `${at}/handoff/outsideAddress` : line.addressAt;
  const carrier = line.translators.includes('carrier');
  stations.push(
    carrier
      ? {
          key: 'carrier',
          name: 'Carrier NAT',
          value: formatAddress(line.lineAddress),
          note: `${line.lineClass}: no connections from outside`,
          at: outsideAt,
        }
      : {
          key: 'provider',
          name: 'Provider',
          value:
            line.gateway && !box?.routes
              ? formatAddress(line.gateway)
              : line.lineAddressKnown
                ? formatAddress(line.lineAddress)
                : '',
          note:
            line.gateway && !box?.routes
              ? 'gateway'
              : line.lineClass === 'unknown'
                ? 'address not known yet'
                : `${line.lineClass} address`,
          at: outsideAt,
        },
  );
  if (box)
    stations.push(
      box.routes
        ? {
            key: 'box',
            name: box.name,
            value: box.prefix ? formatPrefix(box.prefix) : '',
            note:
              box.forwards.length > 0
                ? `routes, forwards ${box.forwards.length === 1 ? 'one port' : `${box.forwards.length} ports`}`
                : 'routes: a second translation',
            at: `${at}/handoff/insidePrefix`,
          }
        : {
            key: 'box',
            name: box.name,
            value: 'bridged',
            note: 'passes packets unchanged',
            at: `${at}/handoff/mode`,
          },
    );
  stations.push({
    key: 'port',
    name: 'Router, WAN port',
    value: line.addressKnown ? formatAddress(line.address) : '',
    note: line.addressKnown
      ? line.prefix
        ? `in ${formatPrefix(line.prefix)}`
        : `by ${(/\(([^()]+)\)/.exec(titleAt('/uplinks/*/type', line.type)) ?? [])[1] ?? 'itself'}`
      : 'gets its address automatically',
    at: line.addressAt,
  });
  stations.push({
    key: 'inside',
    name: 'Inside',
    value: `up to ${line.mtuBytes} bytes`,
    note: line.sourceNat ? 'leaves with the WAN address' : 'leaves untranslated',
    at: `${at}/mtuBytes` as const,
  });
  return stations;
}
