import type { At } from '../../plan/at.ts';
import { address, addressKey } from '../../base/net/address.ts';
import { difference, intersection, joinBoxes, type PacketBox } from '../../base/net/packet-set.ts';
import type { AddressRange } from '../../base/net/range.ts';
import type { Device, Network, Site } from '../../site/model.ts';
import { hostsText, reachedName, servicesText, shifted } from './describe.ts';
import { exposure, type Passing } from './exposure.ts';

/** Something that one plan lets through and another does not. */
export interface ReachChange {
  readonly kind: 'opens' | 'closes';
  readonly from: string;
  readonly to: string;
  readonly services: string;
  /** "opens tcp 9100 from Visitors to Tills" */
  readonly says: string;
  /** The rule that lets it through, in the plan that does. */
  readonly at: At | undefined;
  /** A question that Ask answers with one of these packets, on the plan that lets it through. */
  readonly witness: string;
}

/** Packets between the same two parties, with addresses counted from the start of their networks. */
interface Relation {
  readonly boxes: PacketBox[];
  readonly passing: Passing;
  readonly to: (range: AddressRange) => string;
}

/**
 * What a change of the plan opens and closes. A network that is renumbered and a device that moves are the same
 * parties as before: what they may do is compared, not under which address.
 */
export function compareReach(before: Site, after: Site): ReachChange[] {
  const moved = movedDevices(before, after);
  const [old, young] = [before, after].map((site) => relations(site, exposure(site), moved)) as [
    Map<string, Relation>,
    Map<string, Relation>,
  ];
  const changes: ReachChange[] = [];
  for (const [kind, these, those] of [
    ['opens', young, old],
    ['closes', old, young],
  ] as const)
    for (const [key, relation] of these) {
      const left = joinBoxes(difference(joinBoxes(relation.boxes), those.get(key)?.boxes ?? []));
      changes.push(...described(kind, relation, left));
    }
  return changes;
}

function described(
  kind: ReachChange['kind'],
  { passing, to }: Relation,
  boxes: readonly PacketBox[],
): ReachChange[] {
  const groups = new Map<string, PacketBox[]>();
  for (const box of boxes) {
    const name = to(box.destination);
    groups.set(name, [...(groups.get(name) ?? []), box]);
  }
  return [...groups].map(([name, group]) => {
    const services = servicesText(group);
    return {
      kind,
      from: passing.sender.name,
      to: name,
      services,
      says: `${kind} ${services} from ${passing.sender.name} to ${name}`,
      at: passing.at,
      witness: passing.witness,
    };
  });
}

/** Devices that have another address in their network than before, and the addresses that they left and took. */
interface Moved {
  readonly ids: ReadonlySet<string>;
  /** By id of the network, counted from its start. */
  readonly places: ReadonlyMap<string, readonly bigint[]>;
}

function movedDevices(before: Site, after: Site): Moved {
  const old = new Map(before.devices.map((device) => [device.id, device]));
  const ids = new Set<string>();
  const places = new Map<string, bigint[]>();
  for (const device of after.devices) {
    const was = old.get(device.id);
    if (!was || placeOf(was) === placeOf(device)) continue;
    ids.add(device.id);
    for (const { network, address: host } of [was, device])
      if (network && host)
        places.set(network.id, [...(places.get(network.id) ?? []), host.value - base(network)]);
  }
  return { ids, places };
}

const placeOf = ({ network, address: host }: Device): string =>
  network && host ? `${network.id} ${host.value - base(network)}` : '';

const base = (network: Network | undefined): bigint => network?.prefix?.first ?? 0n;

const nowhere = (family: AddressRange['family']): AddressRange => ({ family, first: 0n, last: 0n });

function relations(site: Site, passings: readonly Passing[], moved: Moved): Map<string, Relation> {
  const found = new Map<string, Relation>();
  const put = (key: string, box: PacketBox, passing: Passing, to: Relation['to']): void => {
    const known = found.get(key);
    if (known) known.boxes.push(box);
    else found.set(key, { boxes: [box], passing, to });
  };
  for (const passing of passings) {
    const { sender, reached, boxes, shift } = passing;
    const own = sender.kind === 'network' ? base(sender.network) : undefined;
    // Neighbours see one another whatever the router does.
    if (sender.kind === 'network' && reached.kind === 'network' && reached.network === sender.network)
      continue;
    for (const box of boxes) {
      // A group's packets are taken with the address of one of its people; the others fare alike.
      const source =
        own !== undefined
          ? shifted(box.source, -own)
          : sender.kind === 'internet'
            ? box.source
            : nowhere(box.source.family);
      const key = `${sender.kind} ${sender.id}`;
      if (reached.kind !== 'network') {
        const keep = reached.kind === 'internet' || reached.kind === 'in-front' || reached.kind === 'site';
        put(
          `${key} ${reached.kind} ${reached.kind === 'site' ? reached.far.id : ''}`,
          { ...box, source, destination: keep ? box.destination : nowhere(box.destination.family) },
          passing,
          () => reachedName(reached),
        );
        continue;
      }
      const { network } = reached;
      const arrives = shifted(box.destination, shift);
      if (shift !== 0n) {
        // Through a forward or another subnet: a device is the party, or the addresses that it stands for.
        const device =
          arrives.first === arrives.last
            ? site.deviceAt.get(addressKey(address(arrives.family, arrives.first)))
            : undefined;
        put(
          `${key} ${device ? `device ${device.id}` : `translated ${network.id}`}`,
          {
            ...box,
            source,
            destination: device ? nowhere(arrives.family) : shifted(arrives, -base(network)),
          },
          passing,
          device ? () => device.name : (range) => hostsText(site, network, shifted(range, base(network))),
        );
        continue;
      }
      const at = (value: bigint): PacketBox => ({
        ...box,
        destination: { family: box.destination.family, first: value, last: value },
      });
      for (const { id, name, network: home, address: host } of site.devices) {
        if (!moved.ids.has(id) || home !== network || !host) continue;
        const slice = intersection(box, at(host.value));
        const here = nowhere(host.family);
        if (slice) put(`${key} moved ${id}`, { ...slice, source, destination: here }, passing, () => name);
      }
      const holes = (moved.places.get(network.id) ?? []).map((place) => at(base(network) + place));
      const rest = difference([box], holes);
      for (const each of rest)
        put(
          `${key} network ${network.id}`,
          { ...each, source, destination: shifted(each.destination, -base(network)) },
          passing,
          (range) => hostsText(site, network, shifted(range, base(network))),
        );
    }
  }
  return found;
}
