import { onceWhile } from '../base/once.ts';
import { address, parseAddress } from '../base/net/address.ts';
import type { Prefix } from '../base/net/prefix.ts';
import type { VpnValues } from '../plan/schema.ts';
import { valueOf } from '../base/result.ts';
import type { Device, Line, Network } from './model.ts';
import type { FarSite, Grant, Group, Peer, Translation, Vpn } from './vpn.ts';

const firstHost = (prefix: Prefix | undefined) =>
  prefix && address(prefix.family, prefix.first + (prefix.last > prefix.first ? 1n : 0n));

/** Guests and payment stay apart from other sites unless somebody says otherwise (common practice, no source). */
export const joinedNetworks = (
  networks: readonly Network[],
  chosen: readonly string[] = [],
): readonly Network[] =>
  networks.filter(({ id, purpose }) =>
    chosen.length > 0 ? chosen.includes(id) : purpose !== 'guests' && purpose !== 'payment',
  );

/** Resolves the remote access part of a plan. A grant whose target is gone grants nothing. */
export function compileVpn(
  settings: VpnValues,
  lines: readonly Line[],
  networks: readonly Network[],
  devices: readonly Device[],
): Vpn {
  const groups = settings.groups.map((group, index) =>
    compileGroup(
      group,
      index,
      ...group.grants.map((grant) => devices.find(({ id }) => id === grant.device)),
      ...group.grants.map((grant) => networks.find(({ id }) => id === grant.network)),
    ),
  );
  return {
    ...settings,
    routerAddress: firstHost(settings.pool),
    routerAddress6: firstHost(settings.pool6),
    endpoints: settings.endpoints.map((endpoint, index) => ({
      at: `/vpn/endpoints/${index}`,
      line: lines.find(({ id }) => id === endpoint.uplink),
      host: endpoint.host.trim(),
      address: valueOf(parseAddress(endpoint.host)),
    })),
    groups,
    peers: settings.peers.map((peer, index) =>
      compilePeer(
        peer,
        index,
        groups.find(({ id }) => id === peer.group),
      ),
    ),
    sites: settings.sites.map((site, index) => compileFarSite(site, index, networks)),
  };
}

const compilePeer = onceWhile(
  (peer: VpnValues['peers'][number], index: number, group: Group | undefined): Peer => ({
    ...peer,
    at: `/vpn/peers/${index}`,
    group,
    name: [peer.person, peer.name || peer.system].filter((part) => part !== '').join(', '),
    deviceName: peer.name,
    revoked: peer.revoked.trim() !== '',
    revokedOn: peer.revoked,
  }),
);

/** Of a group, its place, and what its grants name: the device of each, then the network of each. */
const compileGroup = onceWhile(
  (
    group: VpnValues['groups'][number],
    index: number,
    ...named: readonly (Device | Network | undefined)[]
  ): Group => {
    const at = `/vpn/groups/${index}` as const;
    const brokenGrants: string[] = [];
    const grants = group.grants.flatMap((grant, place): Grant[] => {
      const device = named[place] as Device | undefined;
      const network = device?.network ?? (named[group.grants.length + place] as Network | undefined);
      const service = device?.services.find(({ id }) => id === grant.service);
      const to = `${at}/grants/${place}` as const;
      if (!network || (grant.device !== '' && !device) || (grant.service !== '' && !service?.ports)) {
        brokenGrants.push(to);
        return [];
      }
      const says = service
        ? `${service.name} of ${device!.name}`
        : device
          ? `all of ${device.name}`
          : `all of ${network.name}`;
      return [{ at: to, network, device, service, ports: service?.ports, says }];
    });
    return { ...group, at, name: group.name || 'unnamed group', grants, brokenGrants };
  },
);

function compileFarSite(
  site: VpnValues['sites'][number],
  index: number,
  networks: readonly Network[],
): FarSite {
  const at = `/vpn/sites/${index}` as const;
  return {
    ...site,
    at,
    name: site.name || 'another site',
    networks: joinedNetworks(networks, site.networks),
    translations: site.translations.flatMap(({ of, network, real, seen }, place): Translation[] =>
      real && seen
        ? [{ at: `${at}/translations/${place}`, of, network: network || 'a network', real, seen }]
        : [],
    ),
  };
}
