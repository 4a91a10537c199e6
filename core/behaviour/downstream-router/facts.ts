import { sameAddress } from '../../base/net/address.ts';
import type { Forward, Network, Site } from '../../site/model.ts';
import type { Second } from '../../site/second.ts';
import { beginningsOf, slowestOf } from '../wiring/paths.ts';
import { flood } from '../wiring/frames.ts';

/** The networks whose Wi-Fi it is to serve, by its radios. */
export const networksWanted = ({ wifi }: Site, { box }: Second): Network[] => [
  ...new Set(
    wifi.radios
      .filter((radio) => box !== undefined && radio.box === box)
      .flatMap(({ networks }) => networks.flatMap(({ network }) => network ?? [])),
  ),
];

/** Whether it keeps networks with a tag apart (IEEE 802.1Q). */
export const passesTags = ({ box }: Second): boolean => box?.vlanSupport === 'aware';

/** Forwards of the router that lead to its address. */
export const forwardsTo = ({ forwards }: Site, { address }: Second): Forward[] =>
  forwards.filter(({ device }) => address && device?.address && sameAddress(device.address, address));

/** The cable to it, where the cabling is entered: its slowest run, and what is not so. */
export function wayOfCable(site: Site, { network, box }: Second): { rate: number | undefined; says: string } {
  const there = site.wiring.boxes.find(({ kit }) => kit !== undefined && kit === box);
  const wired = there && site.wiring.runs.some(({ ends }) => ends.some((end) => end.box === there));
  if (!network || !there || !wired) return { rate: undefined, says: '' };
  for (const { socket, tag } of beginningsOf(site, network)) {
    const { visits, arrivals } = flood(site.wiring, socket, tag);
    const way =
      visits.find(({ box: each }) => each === there)?.way ??
      arrivals.find(({ hop }) => hop.to.box === there)?.way;
    if (way) {
      const slowest = slowestOf(way);
      return { rate: slowest?.mbps, says: slowest ? `The slowest run is ${slowest.run.name}.` : '' };
    }
  }
  return { rate: undefined, says: `In the cabling as entered, ${network.name} does not arrive at it.` };
}
