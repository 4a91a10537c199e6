import { once } from '../base/once.ts';
import type { Network, Site } from './model.ts';

/**
 * The network that stands for the link on which this one is. Two networks of the two address families with one VLAN
 * are one link (RFC 4291 section 2.1: an interface has addresses of both): one interface of the router, one way
 * through the cabling. Of two untagged ones each with a port of its own, each is a link.
 */
export const linkOf = (site: Site, network: Network): Network => linksOf(site).get(network) ?? network;

const linksOf = once((site: Site): ReadonlyMap<Network, Network> => {
  const hasPort = (each: Network): boolean => site.router.ports.some((port) => port.network === each);
  const links = new Map<Network, Network>();
  for (const each of site.networks) {
    const shared = site.networks.find(
      (other) =>
        links.get(other) === other &&
        other.prefix !== undefined &&
        each.prefix !== undefined &&
        other.prefix.family !== each.prefix.family &&
        other.vlan === each.vlan &&
        (each.vlan !== null || !hasPort(each) || !hasPort(other)) &&
        ![...links].some(([member, link]) => link === other && member.prefix?.family === each.prefix?.family),
    );
    links.set(each, shared ?? each);
  }
  return links;
});

/** Whether two networks are the two address families of one link. */
export const onOneLink = (site: Site, one: Network, other: Network): boolean =>
  linkOf(site, one) === linkOf(site, other);
