import { wayTitles } from '../../plan/catalogue/vpn.ts';
import type { WayName } from '../../plan/schema.ts';
import type { Site } from '../../site/model.ts';
import type { Peer } from '../../site/vpn.ts';
import { methodOf, methods } from './methods/index.ts';
import type { Fit, MethodName, Situation } from './methods/type.ts';
import { reachable } from './reachable.ts';

/** One method of remote access, with what speaks for and against it on this site. */
export interface RankedWay extends Fit {
  readonly way: MethodName;
  readonly title: string;
}

/** Devices that cannot use a method, by what may be installed on them. */
export function unableTo(site: Site, way: WayName): readonly Peer[] {
  const client = methodOf(way)?.client;
  return site.vpn.peers.filter(
    ({ revoked, software }) =>
      !revoked &&
      (client === 'app' ? software !== 'any' : client === 'built-in' ? software === 'browser' : false),
  );
}

function situationOf(site: Site, down: ReadonlySet<string>): Situation {
  const line = reachable(site, down);
  const lines = site.lines.filter(({ id }) => !down.has(id));
  const doubtful = lines.filter(({ inbound }) => inbound === 'unknown');
  const inbound = line
    ? `The site accepts connections from outside over ${line.name}${line.inbound === 'by-box' ? ', through the device in front' : ''}.`
    : lines.length === 0
      ? site.lines.length === 0
        ? 'No line is known yet.'
        : 'No line is up.'
      : doubtful.length > 0
        ? `Whether the site accepts connections from outside is not known yet: note the address that ${doubtful.map(({ name }) => name).join(' and ')} gets from the provider.`
        : `No connection can be opened from outside: ${lines.map(({ name, translators }) => `${name} is behind ${translators.includes('carrier') ? 'carrier NAT' : 'a device that forwards nothing'}`).join(', ')}.`;
  return {
    site,
    lines,
    line,
    known: line !== undefined || (doubtful.length === 0 && lines.length > 0),
    inbound,
    lasting:
      line?.publicAddressKnown === true ||
      site.vpn.endpoints.some(({ host }) => host.trim() !== '') ||
      site.failover.dynamicName !== '',
  };
}

/**
 * Ranks the methods of remote access from what the plan knows: whether the site accepts connections from outside, on
 * which line, who may coordinate, what the router encrypts, what may be installed on devices, what the groups need.
 * With lines down it is the ranking of that hour.
 */
export function rankWays(site: Site, down: ReadonlySet<string> = new Set()): RankedWay[] {
  const situation = situationOf(site, down);
  const ranked = methods.map(({ name, fit }): RankedWay => ({
    way: name,
    title: wayTitles[name],
    ...fit(situation),
  }));
  const people = site.vpn.peers.filter(({ revoked }) => !revoked).length;
  return ranked
    .map((each) => {
      const unable = unableTo(site, each.way);
      if (unable.length === 0) return each;
      const names = `${unable
        .slice(0, 3)
        .map(({ name }) => name)
        .join('; ')}${unable.length > 3 ? ' …' : ''}`;
      return {
        ...each,
        fits: each.fits && unable.length < people,
        score: each.score - (8 * unable.length) / people,
        reasons: [
          ...each.reasons,
          unable.length === people
            ? 'No device may take the app that it needs.'
            : `${unable.length} of ${people} devices may not take the app that it needs: ${names}.`,
        ],
      };
    })
    .sort((a, b) => b.score - a.score);
}
