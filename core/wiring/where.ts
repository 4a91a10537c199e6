import { addressKey } from '../net/address.ts';
import { contains } from '../net/prefix.ts';
import type { Device, Network, Site } from '../site/model.ts';
import { socketName, type Run, type Socket } from '../site/wiring.ts';
import { networksAt } from './paths.ts';

/** A device is plugged in where its network is not. */
export interface Misplaced {
  readonly device: Device;
  /** The network that is at its port; undefined where none arrives. */
  readonly network: Network | undefined;
  readonly run: Run;
  /** The port into which it is plugged. */
  readonly socket: Socket;
  readonly at: string;
  readonly says: string;
}

const known = new WeakMap<Site, ReadonlyMap<Device, Misplaced>>();

/** Devices that the cabling puts somewhere else than the plan does; those whose cabling is not entered are none. */
export function misplaced(site: Site): ReadonlyMap<Device, Misplaced> {
  const before = known.get(site);
  if (before) return before;
  const found = new Map<Device, Misplaced>();
  for (const run of site.wiring.runs)
    for (const [index, end] of run.ends.entries()) {
      const { device } = end.box;
      const socket = run.ends[1 - index]!;
      if (!device?.network || socket.box.kind === 'end') continue;
      const there = networksAt(site, end, 0);
      const [network] = there;
      // Where no network at all arrives, the cabling may simply not be entered as far as the router.
      if (network === undefined || there.includes(device.network)) continue;
      found.set(device, {
        device,
        network,
        run,
        socket,
        at: run.at,
        says: `${device.name} is plugged into ${socketName(socket)}, where ${network.name} is, and not ${device.network.name}`,
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
