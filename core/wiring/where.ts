import { addressKey } from '../net/address.ts';
import { contains } from '../net/prefix.ts';
import type { Device, Network, Site } from '../site/model.ts';
import { networksAt, pathTo, type PathTo } from './paths.ts';

/** A device is plugged in where its network is not: the one law by which checks, packets and exposure go. */
export interface Misplaced {
  readonly device: Device;
  /** The network that is at its port; undefined where none arrives. */
  readonly network: Network | undefined;
  /** The way of its own network, as far as it gets. */
  readonly path: PathTo;
  readonly at: string;
  readonly says: string;
}

const known = new WeakMap<Site, ReadonlyMap<Device, Misplaced>>();

/**
 * Devices that the cabling puts somewhere else than the plan does, or nowhere. Those whose cabling is not entered as
 * far as the router are none: nothing is known of them.
 */
export function misplaced(site: Site): ReadonlyMap<Device, Misplaced> {
  const before = known.get(site);
  if (before) return before;
  const found = new Map<Device, Misplaced>();
  for (const box of site.wiring.boxes) {
    const { device } = box;
    const path = device?.network && pathTo(site, device.network, box);
    if (!device?.network || !path || path.arrives || !path.stop) continue;
    const [network] = box.sockets.flatMap((socket) => networksAt(site, socket, 0));
    const run = site.wiring.runs.find(({ ends }) => ends.some((end) => end.box === box));
    const elsewhere = network !== undefined && network !== device.network && run !== undefined;
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
  known.set(site, found);
  return found;
}

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
