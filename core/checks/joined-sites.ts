import { formatPrefix, overlaps, samePrefix } from '../net/prefix.ts';
import type { Check, Finding } from '../site/finding.ts';
import type { Site } from '../site/model.ts';
import { takenBlocks } from '../vpn/interface.ts';
import { parseKey } from '../vpn/keys.ts';
import type { FarSite } from '../vpn/model.ts';
import { endOf, endOfFar, tunnelStates } from '../vpn/tunnel-states.ts';
import { step, worked } from '../worked/worked.ts';
import { note, said } from './note.ts';

/** What keeps a joined site apart, or loses it when a line fails. */
export const joinedSites: Check = {
  name: 'joined sites',
  run: (site) =>
    site.vpn.plan.way === 'none'
      ? []
      : site.vpn.sites.flatMap((far) => [
          ...values(far),
          ...blocks(site, far),
          ...translations(site, far),
          ...states(site, far),
        ]),
};

function values(far: FarSite): Finding[] {
  const found: Finding[] = [];
  const key = far.plan.publicKey.trim();
  if (key === '' || !parseKey(key).ok)
    found.push(
      note(
        'site-key',
        'blocker',
        `${far.at}/publicKey`,
        key === ''
          ? `The key of ${far.name} is not known yet: without it there is no tunnel.`
          : `The key of ${far.name} is no key: 43 letters and digits, then "=".`,
        said('Length', String(key.length)),
      ),
    );
  if (far.prefixes.length === 0)
    found.push(
      note(
        'site-no-routes',
        'blocker',
        `${far.at}/prefixes`,
        `No block of ${far.name} is written down: nothing is sent into the tunnel.`,
        said('Routes', 'none'),
      ),
    );
  if (far.networks.length === 0)
    found.push(
      note(
        'site-nothing-joined',
        'warning',
        `${far.at}/networks`,
        `No network of this site is joined with ${far.name}: guests and payment stay apart unless they are ticked.`,
        said('Networks joined', 'none'),
      ),
    );
  return found;
}

function blocks(site: Site, far: FarSite): Finding[] {
  const others = takenBlocks({
    ...site,
    vpn: { ...site.vpn, sites: site.vpn.sites.filter((each) => each !== far) },
  });
  const own = site.vpn.pool ? [{ prefix: site.vpn.pool, name: 'the pool of travellers' }] : [];
  const clash = [...others, ...own]
    .map((mine) => ({ mine, theirs: far.prefixes.find((prefix) => overlaps(prefix, mine.prefix)) }))
    .find(({ theirs }) => theirs);
  return clash?.theirs
    ? [
        note(
          'site-overlap',
          'blocker',
          `${far.at}/prefixes`,
          `${far.name} uses ${formatPrefix(clash.theirs)}, and so does ${clash.mine.name}: packets go to one of the two. Renumber one, or join the two anew, which gives each a block under which the other sees it.`,
          worked(
            'Blocks of both sites',
            'overlap',
            '',
            [step('here', formatPrefix(clash.mine.prefix)), step('there', formatPrefix(clash.theirs))],
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
      [step('own block', formatPrefix(each.real)), step('seen as', formatPrefix(each.seen))],
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
            `${formatPrefix(each.real)} is translated for ${far.name}, and no network of this site has that block any more. Join the two anew.`,
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
        `${site.plan.site.name} and ${far.name}: ${whole!.says}`,
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
      `${state.when[0]!.toUpperCase()}${state.when.slice(1)}, the tunnel to ${far.name} ${state.up === 'no' ? 'stays down' : 'waits for somebody'}. ${state.says}`,
      state.worked,
    ),
  );
}
