import type { At } from '../../plan/at.ts';
import type { Site } from '../../site/model.ts';
import {
  arithmetic,
  figure,
  grouped,
  practice,
  step,
  worked,
  type Worked,
} from '../../base/worked/worked.ts';

/** How much of what the router can take this plan uses. */
export interface Limit {
  readonly at: At;
  readonly title: string;
  readonly used: number;
  readonly most: number;
  readonly unit: string;
  readonly why: Worked<number>;
}

/** Open flows of a device that is in use: pages, mail, messages and updates at once (common practice, no source). */
const flowsOfDevice = 100;
/** Devices where a network does not say how many it expects (common practice, no source). */
const usualDevices = 10;

/** What the plan uses of each limit that the data sheet of the router gives, tightest first. */
export function limitsOf(site: Site): Limit[] {
  const { limits } = site.router;
  const { networks, lines, vpn, failover } = site;
  const people = networks.reduce((sum, { expectedDevices }) => sum + (expectedDevices ?? usualDevices), 0);
  const down = lines.map(({ rateDownMbps, rateUpMbps }) => (rateDownMbps ?? 0) + (rateUpMbps ?? 0));
  const together =
    failover.sharing === 'order' ? Math.max(0, ...down) : down.reduce((sum, each) => sum + each, 0);
  const nat = lines.some(({ sourceNat }) => sourceNat);
  const reserved = site.devices.filter(({ addressing }) => addressing === 'reserved').length;
  const tunnels =
    (vpn.way === 'none' ? 0 : vpn.peers.filter(({ revoked }) => !revoked).length) + vpn.sites.length;
  const counted = (key: keyof typeof limits, title: string, used: number, what: string): Limit[] =>
    limit(key, title, used, '', [step(what, used)], 'the plan itself');
  const limit = (
    key: keyof typeof limits,
    title: string,
    used: number,
    unit: string,
    steps: readonly ReturnType<typeof step>[],
    source: string,
  ): Limit[] => {
    const most = limits[key];
    if (most === null) return [];
    return [
      {
        at: `/router/limits/${key}` as const,
        title,
        used,
        most,
        unit,
        why: worked(
          title,
          used,
          unit,
          [...steps, step('at most, by its data sheet', grouped(most)), step('used', shareText(used, most))],
          source,
        ),
      },
    ];
  };
  const up = Math.max(0, ...lines.map(({ rateUpMbps }) => rateUpMbps ?? 0));
  return [
    // What remote users and other sites fetch leaves by the upload of the line.
    ...(vpn.encryptionMbps === null || up === 0 || tunnels === 0
      ? []
      : [
          {
            at: '/vpn/encryptionMbps' as const,
            title: 'encryption',
            used: up,
            most: vpn.encryptionMbps,
            unit: 'Mb/s',
            why: worked(
              'encryption',
              up,
              'Mb/s',
              [
                step('upload of the fastest line', `${figure(up)} Mb/s`),
                step('encrypts at most, by its data sheet', `${figure(vpn.encryptionMbps)} Mb/s`),
                step('used', shareText(up, vpn.encryptionMbps)),
              ],
              arithmetic,
            ),
          },
        ]),
    ...counted('vlans', 'VLANs', networks.filter(({ vlan }) => vlan !== null).length, 'networks with a tag'),
    ...counted(
      'scopes',
      'DHCP pools',
      networks.filter(({ dhcp }) => dhcp.enabled).length,
      'networks with a DHCP server',
    ),
    ...counted('tunnels', 'tunnels', tunnels, 'clients and sites'),
    ...counted('forwards', 'port forwards', site.forwards.length, 'port forwards'),
    ...counted('rules', 'rules', site.reach.length, 'rules between networks and outward'),
    ...counted('devices', 'reservations', reserved, 'reserved addresses'),
    ...limit(
      'connections',
      'NAT table',
      people * flowsOfDevice,
      'flows',
      [
        step('devices at once', people),
        step('flows of a device in use', flowsOfDevice),
        step('flows', `${people} × ${flowsOfDevice} = ${people * flowsOfDevice}`),
      ],
      practice,
    ),
    ...(together === 0
      ? []
      : limit(
          nat ? 'natMbps' : 'routedMbps',
          nat ? 'throughput with NAT' : 'throughput',
          together,
          'Mb/s',
          [
            step(
              failover.sharing === 'order'
                ? 'fastest line, down and up together'
                : 'all lines, down and up together',
              `${figure(together)} Mb/s`,
            ),
          ],
          arithmetic,
        )),
  ].sort((a, b) => shareOf(b) - shareOf(a));
}

export const shareOf = ({ used, most }: Pick<Limit, 'used' | 'most'>): number =>
  most === 0 ? (used === 0 ? 0 : Infinity) : used / most;

const shareText = (used: number, most: number): string =>
  most === 0 ? (used === 0 ? 'nothing' : 'more than it has') : `${figure((used / most) * 100, 0)} %`;

/** The limit that is reached first, in one sentence; undefined while the data sheet is not entered. */
export function bindingLimit(site: Site): string | undefined {
  const [first] = limitsOf(site);
  if (!first) return undefined;
  const { title, used, most, unit } = first;
  const amount = `${grouped(used)} of ${grouped(most)}${unit === '' ? '' : ` ${unit}`}`;
  return shareOf(first) > 1
    ? `The router has too little ${title}: ${amount}.`
    : `The first to be used up is the ${title}: ${amount} (${shareText(used, most)}).`;
}
