import { formatPrefix, overlaps, samePrefix, type Prefix } from '../../base/net/prefix.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { parseKey } from '../../behaviour/remote-access/keys.ts';
import type { FarSite } from '../../site/vpn.ts';
import { endOf, endOfFar, tunnelStates } from '../../behaviour/remote-access/tunnel-states.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** What keeps a joined site apart, or loses it when a line fails. */
export const joinedSites: Check = {
  name: 'site-to-site',
  run: (site) => {
    if (site.vpn.way === 'none') return [];
    const clashes = firstClashes(site);
    return site.vpn.sites.flatMap((far) => [
      ...values(far),
      ...blocks(far, clashes.get(far.at)),
      ...translations(site, far),
      ...states(site, far),
    ]);
  },
};

function values(far: FarSite): Finding[] {
  const found: Finding[] = [];
  const key = far.publicKey.trim();
  if (key === '' || !parseKey(key).ok)
    found.push(
      note(
        'site-key',
        'blocker',
        `${far.at}/publicKey`,
        key === ''
          ? `The key of ${far.name} is not known yet: without it there is no tunnel.`
          : `The key of ${far.name} is not valid: a WireGuard key is 43 letters and digits, then "=".`,
        said('Length', String(key.length)),
      ),
    );
  if (far.prefixes.length === 0)
    found.push(
      note(
        'site-no-routes',
        'blocker',
        `${far.at}/prefixes`,
        `No subnet of ${far.name} is entered: nothing is sent into the tunnel.`,
        said('Routes', 'none'),
      ),
    );
  if (far.networks.length === 0)
    found.push(
      note(
        'site-nothing-joined',
        'warning',
        `${far.at}/networks`,
        `No network of this site is connected to ${far.name}: guest and payment networks are left out unless they are ticked.`,
        said('Networks connected', 'none'),
      ),
    );
  return found;
}

interface Claim {
  readonly prefix: Prefix;
  readonly name: string;
  readonly owner: string;
}
interface Clash {
  readonly mine: Claim;
  readonly theirs: Claim;
}

/**
 * For each far site the first of its blocks that somebody else uses too. Blocks are inside one another or apart, so
 * one walk in the order of their beginnings, with those that are still open on a stack, meets every pair of owners.
 */
function firstClashes(site: Site): ReadonlyMap<string, Clash> {
  const theirs = new Set<Claim>();
  const claims: Claim[] = [
    ...site.prefixes.map(({ prefix, name }) => ({ prefix, name, owner: '' })),
    ...(site.vpn.pool ? [{ prefix: site.vpn.pool, name: 'the pool of remote users', owner: '' }] : []),
  ];
  for (const far of site.vpn.sites) {
    for (const prefix of far.prefixes) {
      const claim = { prefix, name: far.name, owner: far.at };
      theirs.add(claim);
      claims.push(claim);
    }
    for (const { seen } of far.translations) claims.push({ prefix: seen, name: far.name, owner: far.at });
  }
  claims.sort(
    ({ prefix: a }, { prefix: b }) =>
      a.family - b.family || (a.first < b.first ? -1 : a.first > b.first ? 1 : a.length - b.length),
  );
  const found = new Map<string, Clash>();
  const note = (one: Claim, other: Claim): void => {
    if (theirs.has(one) && !found.has(one.owner)) found.set(one.owner, { mine: other, theirs: one });
  };
  const open: Claim[] = [];
  for (const claim of claims) {
    while (open.length > 0 && !overlaps(open.at(-1)!.prefix, claim.prefix)) open.pop();
    // A block inside one of the same owner meets whatever that one meets.
    for (const other of [...open].reverse()) {
      if (other.owner === claim.owner) continue;
      note(claim, other);
      note(other, claim);
      break;
    }
    if (open.at(-1)?.owner !== claim.owner || theirs.has(claim) !== theirs.has(open.at(-1)!))
      open.push(claim);
  }
  return found;
}

function blocks(far: FarSite, clash: Clash | undefined): Finding[] {
  return clash
    ? [
        note(
          'site-overlap',
          'blocker',
          `${far.at}/prefixes`,
          `${far.name} uses ${formatPrefix(clash.theirs.prefix)}, and so does ${clash.mine.name}: packets reach only one of the two. Renumber one, or connect the two again, which translates each to a subnet of its own.`,
          worked(
            'Subnets of both sites',
            'overlap',
            '',
            [step('here', formatPrefix(clash.mine.prefix)), step('there', formatPrefix(clash.theirs.prefix))],
            'RFC 1812 section 5.2.4.3',
          ),
        ),
      ]
    : [];
}

/** One to one means that both blocks have one length, and that the own one exists. */
function translations(site: Site, far: FarSite): Finding[] {
  return far.translations.flatMap((each): Finding[] => {
    const why = worked(
      'One to one',
      each.real.length === each.seen.length ? 'fits' : 'does not fit',
      '',
      [step('own subnet', formatPrefix(each.real)), step('seen as', formatPrefix(each.seen))],
      'RFC 3022 section 2.1',
    );
    if (each.real.length !== each.seen.length)
      return [
        note(
          'site-translation-size',
          'blocker',
          `${each.at}/seen`,
          `${formatPrefix(each.real)} does not fit one to one into ${formatPrefix(each.seen)}: the two need one length.`,
          why,
        ),
      ];
    const stands = site.networks.some(({ prefix }) => prefix && samePrefix(prefix, each.real));
    return each.of === 'here' && !stands
      ? [
          note(
            'site-translation-gone',
            'blocker',
            `${each.at}/real`,
            `${formatPrefix(each.real)} is translated for ${far.name}, and no network of this site has that subnet any more. Connect the two again.`,
            why,
          ),
        ]
      : [];
  });
}

function states(site: Site, far: FarSite): Finding[] {
  const [here, there] = [endOf(site), endOfFar(far)];
  const [whole, ...failed] = tunnelStates(here, there, site.vpn.keepAliveSeconds);
  if (whole!.up === 'no')
    return [
      note(
        'site-neither-calls',
        'blocker',
        `${far.at}/endpoint`,
        `${site.about.name} and ${far.name}: ${whole!.says}`,
        whole!.worked,
      ),
    ];
  // An end with one line has nothing to go over to, and knows it.
  const ends = [here, there];
  const lost = failed.filter(
    ({ up }, index) => up !== 'itself' && (index === 2 ? false : ends[index]!.lines.length > 1),
  );
  return lost.map((state) =>
    note(
      'site-not-followed',
      'warning',
      `${far.at}/backupEndpoint`,
      `${state.when[0]!.toUpperCase()}${state.when.slice(1)}, the tunnel to ${far.name} ${state.up === 'no' ? 'stays down' : 'waits until it is started by hand'}. ${state.says}`,
      state.worked,
    ),
  );
}
