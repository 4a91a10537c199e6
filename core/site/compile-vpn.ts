import { address, parseAddress } from '../net/address.ts';
import { parsePrefix, type Prefix } from '../net/prefix.ts';
import type { Plan } from '../plan/schema.ts';
import { valueOf } from '../result.ts';
import {
  usualKeepAliveSeconds,
  usualPort,
  type Grant,
  type Group,
  type Translation,
  type Vpn,
} from '../vpn/model.ts';
import type { FormReader } from './form-reader.ts';
import type { Device, Line, Network } from './model.ts';

const firstHost = (prefix: Prefix | undefined) =>
  prefix && address(prefix.family, prefix.first + (prefix.last > prefix.first ? 1n : 0n));

/** Guests and payment stay apart from other sites unless somebody says otherwise (common practice, no source). */
export const joinedNetworks = (
  networks: readonly Network[],
  chosen: readonly string[] = [],
): readonly Network[] =>
  networks.filter(({ id, plan: { purpose } }) =>
    chosen.length > 0 ? chosen.includes(id) : purpose !== 'guests' && purpose !== 'payment',
  );

/** Reads the remote access part of a plan. A grant whose target is gone grants nothing. */
export function compileVpn(
  plan: Plan,
  lines: readonly Line[],
  networks: readonly Network[],
  devices: readonly Device[],
  form: FormReader,
): Vpn {
  const settings = plan.vpn;
  const pool = form.read('/vpn/pool', 'Pool', settings.pool, parsePrefix, settings.way === 'wireguard');
  const pool6 = form.read('/vpn/pool6', 'Pool for IPv6', settings.pool6, parsePrefix, false);
  const groups = settings.groups.map((group, index): Group => {
    const at = `/vpn/groups/${index}`;
    return {
      at,
      plan: group,
      name: group.name || 'unnamed group',
      grants: group.grants.flatMap((grant, place): Grant[] => {
        const device = devices.find(({ id }) => id === grant.device);
        const network = device?.network ?? networks.find(({ id }) => id === grant.network);
        if (!network || (grant.device !== '' && !device)) return [];
        const service = device?.services.find(({ id }) => id === grant.service);
        if (grant.service !== '' && !service?.ports) return [];
        return [
          {
            at: `${at}/grants/${place}`,
            network,
            device,
            service,
            ports: service?.ports,
            says: service
              ? `${service.name} of ${device!.name}`
              : device
                ? `all of ${device.name}`
                : `all of ${network.name}`,
          },
        ];
      }),
    };
  });
  return {
    plan: settings,
    pool,
    pool6,
    routerAddress: firstHost(pool),
    routerAddress6: firstHost(pool6),
    port: settings.port ?? usualPort,
    endpoints: settings.endpoints.map((endpoint, index) => ({
      at: `/vpn/endpoints/${index}`,
      line: lines.find(({ id }) => id === endpoint.uplink),
      host: endpoint.host.trim(),
      address: valueOf(parseAddress(endpoint.host)),
    })),
    resolver: form.read('/vpn/resolver', 'Resolver', settings.resolver, parseAddress, false),
    keepAliveSeconds: settings.keepAliveSeconds ?? usualKeepAliveSeconds,
    groups,
    peers: settings.peers.map((peer, index) => {
      const at = `/vpn/peers/${index}`;
      const group = groups.find((each) => each.plan.id === peer.group);
      return {
        at,
        plan: peer,
        id: peer.id,
        name: [peer.person, peer.name || peer.system].filter((part) => part !== '').join(', '),
        group,
        address: form.read(`${at}/address`, 'Address', peer.address, parseAddress, false),
        address6: form.read(`${at}/address6`, 'IPv6 address', peer.address6, parseAddress, false),
        revoked: peer.revoked.trim() !== '',
      };
    }),
    sites: settings.sites.map((site, index) => {
      const at = `/vpn/sites/${index}`;
      return {
        at,
        plan: site,
        name: site.name || 'another site',
        prefixes: form.readAll(`${at}/prefixes`, 'Blocks', site.prefixes, parsePrefix),
        address: form.read(`${at}/address`, 'Address', site.address, parseAddress, false),
        networks: joinedNetworks(networks, site.networks),
        translations: site.translations.flatMap((row, place): Translation[] => {
          const to = `${at}/translations/${place}`;
          const real = form.read(`${to}/real`, 'Own block', row.real, parsePrefix, true);
          const seen = form.read(`${to}/seen`, 'Seen as', row.seen, parsePrefix, true);
          return real && seen
            ? [{ at: to, of: row.of, network: row.network || 'a network', real, seen }]
            : [];
        }),
      };
    }),
  };
}
