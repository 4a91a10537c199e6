import { formatAddress } from '../../base/net/address.ts';
import { classify } from '../../base/net/classify.ts';
import { firstOf, formatPrefix, hostsOf, lastOf, roleIn } from '../../base/net/prefix.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Network, Site } from '../../site/model.ts';
import { freeBlock, renumber } from '../../site/renumber.ts';
import { addressWorked, subnetWorked } from '../../base/worked/addresses.ts';
import { noHost } from './classes.ts';

/** An inside network's block and the router's place in it. */
export const insideBlock: Check = {
  name: 'inside-block',
  run: (site) => site.networks.flatMap((network) => [...notPrivate(site, network), ...routerPlace(network)]),
};

function notPrivate(site: Site, network: Network): Finding[] {
  const { prefix } = network;
  if (!prefix) return [];
  const ends = [firstOf(prefix), lastOf(prefix)].map((host) => classify(host).class);
  const inside = ['private', 'unique-local'];
  if (ends.every((name) => inside.includes(name))) return [];
  // What no host can have is a finding of its own.
  if (ends.some((name) => noHost.includes(name))) return [];
  const to =
    prefix.family === 4 && prefix.length >= 8 ? freeBlock(site, prefix.length, network.vlan) : undefined;
  const odd = classify(ends[0] !== undefined && inside.includes(ends[0]) ? lastOf(prefix) : firstOf(prefix));
  return [
    {
      rule: 'not-private',
      severity: 'warning',
      at: `${network.at}/prefix`,
      says:
        odd.class === 'carrier-shared'
          ? `${network.name} uses carrier-shared addresses: as soon as a line brings one of the same range, the two collide.`
          : `${network.name} uses ${formatPrefix(prefix)}, which is not private space. That is right only if your provider routes it to this site; if not, the owner of those addresses can no longer be reached from here.`,
      why: addressWorked(
        ends[0] !== undefined && inside.includes(ends[0]) ? lastOf(prefix) : firstOf(prefix),
      ),
      ...(to && {
        fix: {
          says: `Move ${network.name} to ${formatPrefix(to)}, host parts kept`,
          patch: renumber(site, network, to),
        },
      }),
      source: 'RFC 1918 section 3',
    },
  ];
}

function routerPlace(network: Network): Finding[] {
  const { prefix, routerAddress } = network;
  if (!prefix || !routerAddress) return [];
  const role = roleIn(prefix, routerAddress);
  if (role === 'host') return [];
  const first = formatAddress(hostsOf(prefix).first);
  return [
    {
      rule: 'router-address',
      severity: 'blocker',
      at: `${network.at}/routerAddress`,
      says:
        role === 'outside'
          ? `The router's address ${formatAddress(routerAddress)} is not in ${formatPrefix(prefix)}: no device on ${network.name} could reach its gateway.`
          : `The router's address ${formatAddress(routerAddress)} is the ${role} address of ${formatPrefix(prefix)}, which no host can hold.`,
      why: subnetWorked(prefix),
      fix: replacing(`Give the router the first host, ${first}`, `${network.at}/routerAddress`, first),
      source: 'RFC 1122 sections 3.2.1.3 and 3.3.1.1',
    },
  ];
}
