import { wayTitles } from '../plan/catalogue/vpn.ts';
import type { Line, Site } from '../site/model.ts';
import type { Peer } from '../site/vpn.ts';
import type { WayName } from '../plan/schema.ts';

/** One way in, with what speaks for and against it on this site. */
export interface RankedWay {
  readonly way: Exclude<WayName, 'none'>;
  readonly title: string;
  readonly fits: boolean;
  /** Whether that is known: a way that waits to be called depends on an address that somebody has to note. */
  readonly known: boolean;
  readonly score: number;
  readonly reasons: readonly string[];
}

const callable = (line: Line): boolean => line.inbound === 'direct' || line.inbound === 'by-box';

/** Whether anybody outside can begin anything while these lines are down. */
export const reachable = (site: Site, down: ReadonlySet<string>): Line | undefined =>
  site.lines.find((line) => !down.has(line.id) && callable(line));

/** Ways for which a device needs an app of its own, and the one that most systems have built in (common practice, no source). */
const needsApp: ReadonlySet<WayName> = new Set(['wireguard', 'tls', 'mesh', 'hub']);

/** Devices that cannot use a way, by what may be put on them. */
export const unableTo = (site: Site, way: WayName): readonly Peer[] =>
  site.vpn.peers.filter(
    ({ revoked, takes }) =>
      !revoked && (needsApp.has(way) ? takes !== 'any' : way === 'ikev2' ? takes === 'browser' : false),
  );

/** What keeps plain forwards from giving people what their groups need; and how many doors it would take. */
function doors(site: Site): { readonly says: string; readonly can: boolean } {
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
        : `It would take ${services.size} open ${services.size === 1 ? 'door' : 'doors'}: ${[...services].slice(0, 4).join(', ')}${services.size > 4 ? ' …' : ''}.`,
  };
}

/**
 * Ranks the ways in from what the plan knows: whether the site can be called, on which line, who may coordinate, what
 * the box encrypts, what may be put on people's devices, what their groups need. With lines down it is the ranking of
 * that hour.
 */
export function rankWays(site: Site, down: ReadonlySet<string> = new Set()): RankedWay[] {
  const { vpn } = site;
  const line = reachable(site, down);
  const lines = site.lines.filter(({ id }) => !down.has(id));
  const named = vpn.endpoints.some(({ host }) => host.trim() !== '');
  const doubtful = lines.filter(({ inbound }) => inbound === 'unknown');
  const known = line !== undefined || (doubtful.length === 0 && lines.length > 0);
  const called: string = line
    ? `The site accepts connections from outside over ${line.name}${line.inbound === 'by-box' ? ', through the device in front' : ''}.`
    : lines.length === 0
      ? site.lines.length === 0
        ? 'No line is known yet.'
        : 'No line is up.'
      : doubtful.length > 0
        ? `Whether the site accepts connections from outside is not known yet: note the address that ${doubtful.map(({ name }) => name).join(' and ')} gets from the provider.`
        : `Nobody outside can call the site: ${lines.map(({ name, translators }) => `${name} is behind ${translators.includes('carrier') ? 'carrier NAT' : 'a box that hands nothing on'}`).join(', ')}.`;
  const lasting = line?.publicAddressKnown || named || site.failover.dynamicName !== '';
  const boxCan = (what: 'wireguard' | 'ikev2' | 'tls'): number =>
    vpn.boxEncrypts.length === 0 ? 0 : vpn.boxEncrypts.includes(what) ? 2 : -6;
  const boxSays = (what: 'wireguard' | 'ikev2' | 'tls'): string[] =>
    vpn.boxEncrypts.length === 0
      ? ['Look on the sheet of the router whether it speaks this.']
      : [vpn.boxEncrypts.includes(what) ? 'The router speaks it.' : 'The router does not speak it.'];
  const direct = (
    way: 'wireguard' | 'ikev2' | 'tls',
    base: number,
    reasons: readonly string[],
  ): RankedWay => ({
    way,
    title: wayTitles[way],
    fits: line !== undefined && boxCan(way) >= 0,
    known,
    score: base + (line ? 4 : known ? -20 : 1) + (lasting ? 1 : -1) + boxCan(way),
    reasons: [
      called,
      ...boxSays(way),
      ...(line && !lasting ? ['Its address may change: give it a name that follows.'] : []),
      ...reasons,
    ],
  });
  const outside = vpn.outsideService;
  const opened = doors(site);
  const ranked: RankedWay[] = [
    direct('wireguard', 6, [
      'One key a device, nothing to log in to, comes back by itself when a telephone changes networks.',
    ]),
    direct('ikev2', 4, [
      'Telephones and desktops have it built in; needs UDP 500 and 4500 and, best, certificates (RFC 7296, RFC 3948).',
    ]),
    direct('tls', 2, [
      'Passes networks that let nothing but web pages out; slower, TCP inside TCP where UDP is refused.',
    ]),
    {
      way: 'mesh',
      title: wayTitles.mesh,
      fits: lines.length > 0 && outside !== 'refused',
      known: lines.length > 0,
      score: 3 + (line || !known ? 0 : 6) + (outside === 'allowed' ? 2 : outside === 'refused' ? -20 : -1),
      reasons: [
        'Leaves outward only, so carrier NAT does not matter.',
        'Somebody else holds the keys to the door, and knows who comes and when.',
        ...(outside === 'refused'
          ? ['This customer allows no outside service.']
          : outside === 'unknown'
            ? ['Ask whether an outside service may coordinate.']
            : []),
      ],
    },
    {
      way: 'hub',
      title: wayTitles.hub,
      fits: lines.length > 0,
      known: lines.length > 0,
      score: 2 + (line || !known ? 0 : 5),
      reasons: [
        'Both ends call a machine of your own with a public address; carrier NAT does not matter.',
        'One more machine to keep up, patch and pay.',
      ],
    },
    {
      way: 'forward',
      title: wayTitles.forward,
      fits: line !== undefined && opened.can,
      known: known || !opened.can,
      score: (line ? -4 : -20) - (opened.can ? 0 : 8),
      reasons: [
        called,
        'The last resort: the service is open to the whole internet, and will be attacked.',
        ...(opened.says ? [opened.says] : []),
      ],
    },
    {
      way: 'dated',
      title: wayTitles.dated,
      fits: false,
      known: true,
      score: -100,
      reasons: [
        'Refused: the password of PPTP is found within a day from what is overheard (MS-CHAPv2), and bare L2TP encrypts nothing (RFC 2661 section 9).',
      ],
    },
  ];
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
