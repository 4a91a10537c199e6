import type { At } from '../../plan/at.ts';
import { formatAddress, sameAddress } from '../../base/net/address.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import { titleAt } from '../../plan/places.ts';
import { devicesOn } from '../../site/lookups.ts';
import type { Device, Line, Network, Site } from '../../site/model.ts';
import { isChained, type Second } from '../../site/second.ts';

export type PictureKind =
  | 'internet'
  | 'line'
  | 'box'
  | 'router'
  | 'switch'
  | 'network'
  | 'networks'
  | 'second'
  | 'device'
  | 'devices'
  | 'users'
  | 'site';

/** Something of the site, as the picture shows it. */
export interface PictureNode {
  readonly id: string;
  readonly kind: PictureKind;
  readonly title: string;
  /** What stands below the title, a line each. */
  readonly says: readonly string[];
  /** Pointer of what it stands for; empty where the plan has nothing of it. */
  readonly at: At | '';
  /** What is folded into it, by id of their nodes. */
  readonly holds: readonly string[];
}

export interface PictureEdge {
  readonly id: string;
  readonly from: string;
  readonly to: string;
  readonly label: string;
  readonly tunnel: boolean;
}

export interface Picture {
  readonly nodes: readonly PictureNode[];
  readonly edges: readonly PictureEdge[];
}

/** More networks than this fold by purpose, more devices of one network into one, so that the picture stays legible. */
const mostNetworks = 12;
const mostDevices = 4;
/** Devices of all networks together beyond which those of each fold. */
const mostDevicesOfAll = 14;

const networkNode = (network: Network): PictureNode => ({
  id: `network:${network.id}`,
  kind: 'network',
  title: network.name,
  says: [
    network.prefix ? formatPrefix(network.prefix) : 'no subnet yet',
    `${network.vlan === null ? 'untagged' : `VLAN ${network.vlan}`}, ${titleAt('/networks/*/purpose', network.purpose)}`,
  ],
  at: network.at,
  holds: [],
});

const deviceNode = (device: Device): PictureNode => ({
  id: `device:${device.id}`,
  kind: 'device',
  title: device.name,
  says: [device.address ? formatAddress(device.address) : 'dynamic address'],
  at: device.at,
  holds: [],
});

const isItself = ({ address }: Second, device: Device): boolean =>
  address !== undefined && device.address !== undefined && sameAddress(address, device.address);

/** A second router or access point, on the network in which it is. */
const secondNode = (site: Site, second: Second): PictureNode => ({
  id: `second:${second.id}`,
  kind: 'second',
  title: second.name,
  says: [
    second.address ? formatAddress(second.address) : 'no address yet',
    isChained(second)
      ? `routes${second.translates ? ', NAT' : ''}: ${formatPrefix(second.inside.prefix)}`
      : titleAt('/second/*/way', second.way),
  ],
  at: second.at,
  holds: site.devices
    .filter((device) => device.network === second.network && isItself(second, device))
    .map((device) => `device:${device.id}`),
});

function lineNodes(line: Line): { nodes: PictureNode[]; edges: PictureEdge[] } {
  const { id, box, name } = line;
  const end = `line:${id}`;
  const far: PictureNode = {
    id: end,
    kind: 'line',
    title: name,
    says: [
      line.publicAddressKnown ? formatAddress(line.publicAddress) : 'address not known yet',
      line.translators.includes('carrier') ? 'carrier-grade NAT' : titleAt(`${line.at}/type`, line.type),
    ],
    at: line.at,
    holds: [],
  };
  const own = line.addressKnown ? formatAddress(line.address) : '';
  const tag = line.vlan === null ? '' : `VLAN ${line.vlan}`;
  const edge = (from: string, to: string, label: string): PictureEdge => ({
    id: `${from} ${to}`,
    from,
    to,
    label,
    tunnel: false,
  });
  if (!box) return { nodes: [far], edges: [edge('internet', end, ''), edge(end, 'router', tag)] };
  const boxId = `box:${id}`;
  const boxNode: PictureNode = {
    id: boxId,
    kind: 'box',
    title: box.name,
    says: box.routes
      ? ['routes: a second NAT', box.prefix ? formatPrefix(box.prefix) : 'no subnet yet']
      : ['bridged'],
    at: `${line.at}/handoff/mode`,
    holds: [],
  };
  return {
    nodes: [far, boxNode],
    edges: [edge('internet', end, ''), edge(end, boxId, ''), edge(boxId, 'router', box.routes ? own : tag)],
  };
}

/**
 * The site as a picture: the internet, lines with what stands in front, the router, networks, devices, remote users,
 * other sites. Derived from the compiled site alone. What is many folds; `open` are the ids of groups that are not to.
 */
export function pictureOf(site: Site, open: ReadonlySet<string> = new Set()): Picture {
  const nodes: PictureNode[] = [];
  const edges: PictureEdge[] = [];
  const join = (from: string, to: string, label = '', tunnel = false): void =>
    void edges.push({ id: `${from} ${to}`, from, to, label, tunnel });
  nodes.push({ id: 'internet', kind: 'internet', title: 'Internet', says: [], at: '', holds: [] });
  for (const line of site.lines) {
    const drawn = lineNodes(line);
    nodes.push(...drawn.nodes);
    edges.push(...drawn.edges);
  }
  nodes.push({
    id: 'router',
    kind: 'router',
    title: 'Router',
    says: [
      site.router.adminNetwork ? `managed from ${site.router.adminNetwork.name}` : 'managed from nowhere yet',
    ],
    at: '/router/adminNetwork',
    holds: [],
  });
  if (site.lines.length === 0) join('internet', 'router');
  if (site.vpn.way !== 'none')
    for (const group of site.vpn.groups) {
      const count = site.vpn.peers.filter((peer) => peer.group === group && !peer.revoked).length;
      const id = `users:${group.id}`;
      nodes.push({
        id,
        kind: 'users',
        title: group.name,
        says: [count === 1 ? '1 device' : `${count} devices`],
        at: group.at,
        holds: [],
      });
      join(id, 'internet', titleAt('/vpn/way', site.vpn.way).replace(/ \(.*/, ''), true);
    }
  for (const far of site.vpn.sites) {
    const id = `site:${far.id}`;
    nodes.push({
      id,
      kind: 'site',
      title: far.name,
      says: far.prefixes.slice(0, 2).map(formatPrefix),
      at: far.at,
      holds: [],
    });
    join(id, 'internet', 'site-to-site', true);
  }
  const folded = site.networks.length > mostNetworks;
  const purposes = new Map<string, Network[]>();
  for (const network of site.networks)
    purposes.set(network.purpose, [...(purposes.get(network.purpose) ?? []), network]);
  for (const [purpose, networks] of purposes) {
    const id = `networks:${purpose}`;
    if (folded && networks.length > 2 && !open.has(id)) {
      nodes.push({
        id,
        kind: 'networks',
        title: titleAt('/networks/*/purpose', purpose).replace(/^./, (letter) => letter.toUpperCase()),
        says: [`${networks.length} networks`],
        at: networks[0]!.at,
        holds: networks.map((network) => `network:${network.id}`),
      });
      join('router', id);
    } else
      for (const network of networks) {
        nodes.push(networkNode(network));
        join('router', `network:${network.id}`);
        const seconds = site.second.filter((each) => each.network === network);
        for (const second of seconds) {
          nodes.push(secondNode(site, second));
          join(`network:${network.id}`, `second:${second.id}`);
        }
        addDevices(site, network, seconds, folded, open, nodes, join);
      }
  }
  return { nodes, edges };
}

function addDevices(
  site: Site,
  network: Network,
  seconds: readonly Second[],
  crowded: boolean,
  open: ReadonlySet<string>,
  nodes: PictureNode[],
  join: (from: string, to: string) => void,
): void {
  // Listed as a device too, so that forwards can lead to it, it is drawn once.
  const devices = devicesOn(site, network).filter(
    (device) => !seconds.some((second) => isItself(second, device)),
  );
  const id = `devices:${network.id}`;
  const few = devices.length <= mostDevices && site.devices.length <= mostDevicesOfAll && !crowded;
  if (devices.length === 0) return;
  if (few || devices.length === 1 || open.has(id))
    for (const device of devices) {
      nodes.push(deviceNode(device));
      join(`network:${network.id}`, `device:${device.id}`);
    }
  else {
    nodes.push({
      id,
      kind: 'devices',
      title: `${devices.length} devices`,
      says: [
        devices
          .slice(0, 2)
          .map(({ name }) => name)
          .join(', ') + (devices.length > 2 ? ' …' : ''),
      ],
      at: devices[0]!.at,
      holds: devices.map((device) => `device:${device.id}`),
    });
    join(`network:${network.id}`, id);
  }
}

/** The node that stands for one that is folded away, or the node itself. */
export function shownAs(picture: Picture, site: Site, id: string): string {
  if (picture.nodes.some((node) => node.id === id)) return id;
  const holder = picture.nodes.find(({ holds }) => holds.includes(id));
  if (holder) return holder.id;
  const device = site.devices.find((each) => `device:${each.id}` === id);
  const network = device?.network;
  return network ? shownAs(picture, site, `network:${network.id}`) : 'router';
}
