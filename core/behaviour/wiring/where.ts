import { once } from '../../base/once.ts';
import type { At } from '../../plan/at.ts';
import { addressKey, parseAddress, type Address } from '../../base/net/address.ts';
import { contains } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import { onOneLink } from '../../site/link.ts';
import type { Device, Network, Site } from '../../site/model.ts';
import type { WifiNetwork } from '../../site/wifi.ts';
import { networksAt, pathTo, type PathTo } from './paths.ts';

/** A device is plugged in where its network is not: the one law by which checks, packets and exposure go. */
export interface Misplaced {
  readonly device: Device;
  /** The network that is at its port; undefined where none arrives. */
  readonly network: Network | undefined;
  /** The way of its own network, as far as it gets. */
  readonly path: PathTo;
  readonly at: At;
  readonly says: string;
}

/**
 * Devices that the cabling puts somewhere else than the plan does, or nowhere. Those whose cabling is not entered as
 * far as the router are none: nothing is known of them.
 */
export const misplaced = once((site: Site): ReadonlyMap<Device, Misplaced> => {
  const found = new Map<Device, Misplaced>();
  for (const box of site.wiring.boxes) {
    const { device } = box;
    const path = device?.network && pathTo(site, device.network, box);
    if (!device?.network || !path || path.arrives || !path.stop) continue;
    const [network] = box.sockets.flatMap((socket) => networksAt(site, socket, 0));
    const run = site.wiring.runs.find(({ ends }) => ends.some((end) => end.box === box));
    const elsewhere = network !== undefined && !onOneLink(site, network, device.network) && run !== undefined;
    found.set(device, {
      device,
      network: elsewhere ? network : undefined,
      path,
      at: elsewhere ? `${run.at}/toPort` : path.stop.at,
      says: elsewhere
        ? `${device.name} is plugged in where ${network.name} is, and the plan has it on ${device.network.name}: it gets an address of ${network.name}. ${path.stop.says}`
        : path.stop.says,
    });
  }
  return found;
});

/** Where the cabling puts a device, when that is not its network. */
export const wiredElsewhere = (site: Site, device: Device): Misplaced | undefined =>
  misplaced(site).get(device);

/** Addresses of devices that the cabling puts on another network: nobody answers at them. */
export const lostAddresses = (site: Site): ReadonlySet<bigint> =>
  new Set(
    [...misplaced(site).keys()].flatMap(({ address, network }) =>
      address && network?.prefix && contains(network.prefix, address) ? [addressKey(address)] : [],
    ),
  );

/** Addresses of what stands at a cable: devices at a socket, switches, access points and second routers. */
const wiredOf = once((site: Site): ReadonlyMap<bigint, Address> => {
  const addresses = [
    ...site.wiring.boxes.map(({ device }) => device?.address),
    ...site.second.map(({ address }) => address),
    ...site.kit.map(({ adminAddress }) => valueOf(parseAddress(adminAddress))),
  ];
  return new Map(addresses.flatMap((each) => (each ? [[addressKey(each), each] as const] : [])));
});

/** Whether something at a cable has this address. */
export const isWired = (site: Site, address: Address): boolean => wiredOf(site).has(addressKey(address));

/** The Wi-Fi name that keeps devices on a network apart: every name by which they join it does. */
export function apartOn(site: Site, network: Network): WifiNetwork | undefined {
  const names = site.wifi.networks.filter((each) => each.network === network);
  return names.every(({ isolation }) => isolation) ? names[0] : undefined;
}

/** What stands at a cable on a network whose Wi-Fi keeps devices apart, and is reached from it all the same. */
export const wiredOn = (site: Site, { prefix }: Network): Address[] =>
  [...wiredOf(site).values()].filter((each) => prefix && contains(prefix, each));
