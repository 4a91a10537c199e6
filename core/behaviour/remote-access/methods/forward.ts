import type { Site } from '../../../site/model.ts';
import { together, type Method } from './type.ts';

/** What keeps plain forwards from giving people what their groups need; and how many it would take. */
function forwardsFor(site: Site): { readonly says: string; readonly can: boolean } {
  const used = site.vpn.groups.filter((group) =>
    site.vpn.peers.some((peer) => !peer.revoked && peer.group === group),
  );
  const wide = used.filter(({ manages, grants }) => manages || grants.some(({ service }) => !service));
  if (wide.length > 0)
    return {
      can: false,
      says: `${wide.map(({ name }) => name).join(', ')}: whole devices, networks or the router itself, which no forward should show.`,
    };
  const services = new Set(used.flatMap(({ grants }) => grants.map(({ says }) => says)));
  return {
    can: true,
    says:
      services.size === 0
        ? ''
        : `It would take ${services.size} port ${services.size === 1 ? 'forward' : 'forwards'}: ${[...services].slice(0, 4).join(', ')}${services.size > 4 ? ' …' : ''}.`,
  };
}

export const forward: Method = {
  name: 'forward',
  client: 'nothing',
  listens: true,
  ownServer: false,
  fit: ({ site, line, known, inbound }) => {
    const opened = forwardsFor(site);
    return {
      fits: line !== undefined && opened.can,
      known: known || !opened.can,
      score: (line ? -4 : -20) - (opened.can ? 0 : 8),
      reasons: [
        inbound,
        'The last resort: the service is open to the whole internet, and will be attacked.',
        ...(opened.says ? [opened.says] : []),
      ],
    };
  },
  entries: () => [],
  install: together,
};
