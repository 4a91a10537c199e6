import { formatAddress, address, type Address } from '../net/address.ts';
import { formatPrefix, overlaps, parsePrefix, prefixAround, type Prefix } from '../net/prefix.ts';
import { firstFreeBlock } from '../net/range.ts';
import { valueOf } from '../result.ts';
import type { Network, Site } from '../site/model.ts';
import { arithmetic, step, type Worked, worked } from '../worked/worked.ts';
import { commonBlocks, takenBlocks } from './interface.ts';
import { farSiteSchema, type FarSitePlan } from './settings.ts';
import { reachable } from './which.ts';

/** Where blocks for translation are taken from: private, and rarely what homes and hotels use (common practice, no source). */
const space = valueOf(parsePrefix('172.24.0.0/13'))!;

/** Two networks that use the same addresses, and the blocks under which each side sees the other. */
export interface Translation {
  readonly here: Network;
  readonly there: Network;
  /** Block under which the far network is seen here, and ours there. */
  readonly seenHere: Prefix;
  readonly seenThere: Prefix;
}

export interface Joined {
  /** What the plan of each site needs to hold about the other; made in one step, so they match. */
  readonly here: FarSitePlan;
  readonly there: FarSitePlan;
  readonly calls: 'both' | 'here' | 'there' | 'neither';
  readonly translation: Translation | undefined;
  readonly worked: Worked;
  readonly says: string;
}

const blocksOf = (site: Site): Prefix[] => site.networks.flatMap(({ prefix }) => prefix ?? []);

/** Routes that stay as they are, and the block of a network that has to be seen under another. */
const seen = (site: Site, hidden: Network | undefined, as: Prefix | undefined): string[] =>
  site.networks.flatMap((network) =>
    network === hidden && as ? [formatPrefix(as)] : network.prefix ? [formatPrefix(network.prefix)] : [],
  );

const endpointOf = (site: Site): string => {
  const line = reachable(site, new Set());
  const named = site.vpn.endpoints.find(({ host, line: over }) => host !== '' && (!over || over === line));
  return line ? (named?.host ?? (line.publicAddressKnown ? formatAddress(line.publicAddress) : '')) : '';
};

/** Joins two sites of one customer: the values of both ends, always matching. */
export function joinSites(here: Site, there: Site): Joined {
  // What the two hold about each other already is made anew, so it is not in the way.
  const without = (site: Site, other: Site): Site => ({
    ...site,
    vpn: {
      ...site.vpn,
      sites: site.vpn.sites.filter(({ plan }) => plan.publicKey !== other.vpn.plan.publicKey),
    },
  });
  const taken = [...takenBlocks(without(here, there)), ...takenBlocks(without(there, here))].map(
    ({ prefix }) => prefix,
  );
  taken.push(...commonBlocks.map(([prefix]) => prefix));
  for (const site of [here, there]) if (site.vpn.pool) taken.push(site.vpn.pool);
  const free = (length: number): Prefix | undefined => {
    const found = firstFreeBlock(space, length, taken);
    if (found) taken.push(found);
    return found;
  };
  const clash = here.networks
    .flatMap((mine) => there.networks.map((theirs) => ({ mine, theirs })))
    .find(({ mine, theirs }) => mine.prefix && theirs.prefix && overlaps(mine.prefix, theirs.prefix));
  const seenHere = clash && free(clash.theirs.prefix!.length);
  const seenThere = clash && free(clash.mine.prefix!.length);
  const translation =
    clash && seenHere && seenThere
      ? { here: clash.mine, there: clash.theirs, seenHere, seenThere }
      : undefined;
  const link = free(30);
  const end = (offset: bigint): string => (link ? formatAddress(address(4, link.first + offset)) : '');
  const [hereCalled, thereCalled] = [endpointOf(here), endpointOf(there)];
  const calls =
    hereCalled !== '' && thereCalled !== ''
      ? 'both'
      : thereCalled !== ''
        ? 'here'
        : hereCalled !== ''
          ? 'there'
          : 'neither';
  const entry = (
    far: Site,
    host: string,
    own: string,
    prefixes: string[],
    translated: Prefix | undefined,
    ownTranslated: Prefix | undefined,
  ): FarSitePlan =>
    farSiteSchema.parse({
      id: far.plan.site.name.replace(/[^A-Za-z0-9]+/g, '-').slice(0, 40) || 'site',
      name: far.plan.site.name,
      prefixes,
      endpoint: host,
      port: far.vpn.port,
      publicKey: far.vpn.plan.publicKey,
      address: own,
      translated: translated ? formatPrefix(translated) : '',
      ownTranslated: ownTranslated ? formatPrefix(ownTranslated) : '',
    });
  const who = {
    both: 'Each calls the other; whichever speaks first brings the tunnel up.',
    here: `${here.plan.site.name} calls, for nobody can call it.`,
    there: `${there.plan.site.name} calls, for nobody can call it.`,
    neither:
      'Neither can be called: a hub with a public address that both call, or a public address for one of them.',
  }[calls];
  return {
    here: entry(there, thereCalled, end(2n), seen(there, translation?.there, seenHere), seenHere, seenThere),
    there: entry(here, hereCalled, end(1n), seen(here, translation?.here, seenThere), seenThere, seenHere),
    calls,
    translation,
    says: `${who}${clash ? ` ${clash.mine.name} here and ${clash.theirs.name} there use the same addresses: better renumber one; until then each is seen under another block.` : ''}`,
    worked: worked(
      'Blocks of both sites',
      clash ? 'overlap' : 'apart',
      '',
      [
        step('here', blocksOf(here).map(formatPrefix).join(', ')),
        step('there', blocksOf(there).map(formatPrefix).join(', ')),
        ...(translation
          ? [
              step(`${translation.there.name} is seen here as`, formatPrefix(translation.seenHere)),
              step(`${translation.here.name} is seen there as`, formatPrefix(translation.seenThere)),
            ]
          : []),
        step('they', clash ? 'overlap' : 'are apart'),
      ],
      'RFC 1812 section 5.2.4.3; RFC 3022',
    ),
  };
}

/** The same host under the other block: one-to-one translation keeps the host part (RFC 3022 section 2.1). */
export function translated(host: Address, from: Prefix, to: Prefix): Address | undefined {
  if (host.family !== from.family || from.length !== to.length || from.family !== to.family) return undefined;
  const offset = host.value - from.first;
  return offset < 0n || host.value > from.last ? undefined : address(to.family, to.first + offset);
}

/** The table people need: what a device there is called here. */
export const translationTable = (
  far: Site,
  { there, seenHere }: Translation,
): { name: string; there: string; here: string }[] =>
  far.devices.flatMap((device) => {
    if (device.network !== there || !device.address || !there.prefix) return [];
    const here = translated(
      device.address,
      prefixAround({ family: there.prefix.family, value: there.prefix.first }, there.prefix.length),
      seenHere,
    );
    return here
      ? [{ name: device.name, there: formatAddress(device.address), here: formatAddress(here) }]
      : [];
  });

/** Tunnels that a hub and a full mesh of so many sites need. */
export const tunnelsWorked = (sites: number): Worked =>
  worked(
    'Tunnels of a full mesh',
    (sites * (sites - 1)) / 2,
    'tunnels',
    [
      step('hub and spokes', `${sites} - 1 = ${sites - 1}`),
      step('full mesh', `${sites} × ${sites - 1} / 2 = ${(sites * (sites - 1)) / 2}`),
    ],
    arithmetic,
    sites > 4
      ? 'From five sites on a hub is easier to keep; what passes between spokes goes through it twice.'
      : undefined,
  );
