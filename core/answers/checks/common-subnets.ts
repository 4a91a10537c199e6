import { formatPrefix, overlaps } from '../../base/net/prefix.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Network, Site } from '../../site/model.ts';
import { freeBlock, renumber } from '../../site/renumber.ts';
import { commonBlocks } from '../../behaviour/remote-access/interface.ts';
import { overlapWorked } from '../../base/worked/addresses.ts';
import { note } from './note.ts';

/** Subnets of this site that homes, hotels and telephones use as well, where remote users or other sites need them. */
export const commonSubnets: Check = {
  name: 'common subnets',
  run: (site) => {
    const needed = neededFromAfar(site);
    return site.networks.flatMap((network) => (needed.has(network) ? clash(site, network) : []));
  },
};

/** Networks that somebody reaches through a tunnel. */
const neededFromAfar = ({ vpn }: Site): ReadonlySet<Network> =>
  new Set(
    vpn.way === 'none'
      ? []
      : [
          ...vpn.groups
            .filter((group) => vpn.peers.some((peer) => !peer.revoked && peer.group === group))
            .flatMap(({ grants }) => grants.map(({ network }) => network)),
          ...vpn.sites.flatMap(({ networks, translations }) =>
            networks.filter(
              ({ prefix }) =>
                prefix && !translations.some(({ of, real }) => of === 'here' && real.first === prefix.first),
            ),
          ),
        ],
  );

function clash(site: Site, network: Network): Finding[] {
  const { prefix, name, at } = network;
  const common = prefix && commonBlocks.find(([block]) => overlaps(block, prefix));
  if (!common) return [];
  const [block, who] = common;
  const to = freeBlock(site, prefix.length, network.vlan);
  return [
    note(
      'subnet-common',
      'warning',
      `${at}/prefix`,
      `${name} uses ${formatPrefix(prefix)}, which ${who} use too (${formatPrefix(block)}): a remote user in such a network cannot reach this site through the tunnel, because these addresses are local there.`,
      overlapWorked(prefix, block, [name, who]),
      to && {
        says: `Move ${name} to ${formatPrefix(to)}, host parts kept`,
        patch: renumber(site, network, to),
      },
    ),
  ];
}
