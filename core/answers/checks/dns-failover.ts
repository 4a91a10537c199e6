import { sameAddress } from '../../base/net/address.ts';
import { contains } from '../../base/net/prefix.ts';
import { type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Line, Site } from '../../site/model.ts';
import { note, said } from './note.ts';

/** DNS servers that answer over one line only. */
export const dnsFailover: Check = {
  name: 'DNS over both lines',
  run: (site) => (site.lines.length < 2 ? [] : names(site)),
};

function names(site: Site): Finding[] {
  const found: Finding[] = [];
  const ownerOf = (host: Line['address']): Line | undefined =>
    site.lines.find(
      ({ resolvers, prefix }) =>
        resolvers.some((each) => sameAddress(each, host)) || (prefix && contains(prefix, host)),
    );
  for (const network of site.networks) {
    const owners = network.resolvers.map(ownerOf);
    const owner = owners[0];
    if (owner && owners.every((each) => each === owner))
      found.push(
        note(
          'resolver-one-line',
          'warning',
          `${network.at}/resolvers`,
          `${network.name} uses the DNS servers of ${owner.name} only. Most providers answer their own customers only: over another line no name resolves.`,
          said('DNS servers answer over', owner.name),
        ),
      );
  }
  const { resolvers } = site.failover;
  const own = site.failover.ownResolvers;
  const owners = own.map(ownerOf);
  if (resolvers === 'own' && own.length === 0)
    found.push(
      note(
        'no-own-resolver',
        'warning',
        '/failover/ownResolvers',
        'The router is set to DNS servers of your own, and none is entered.',
        said('DNS servers', 'none'),
      ),
    );
  if (resolvers === 'own' && owners[0] && owners.every((each) => each === owners[0]))
    found.push(
      note(
        'resolver-one-line',
        'warning',
        '/failover/ownResolvers',
        `The router uses DNS servers of ${owners[0].name} only: over another line no name resolves.`,
        said('DNS servers answer over', owners[0].name),
      ),
    );
  return found;
}
