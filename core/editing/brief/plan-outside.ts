import { typedAddress } from '../../wan-types/facts.ts';
import { freePool } from '../../behaviour/remote-access/interface.ts';
import { rankWays } from '../../behaviour/remote-access/which.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import {
  deviceSchema,
  forwardSchema,
  serviceSchema,
  vpnEndpointSchema,
  vpnGroupSchema,
  type DevicePlan,
  type Plan,
} from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { capitalized } from '../../base/text.ts';
import type { Facts, Purpose } from '../../intake/letter/facts.ts';
import { freeHost } from './plan-inside.ts';
import type { Told } from './plan.ts';

interface Tools {
  readonly newId: () => string;
  readonly tell: Told;
}

/** Purposes of which a remote user reaches single devices only, never the whole network. */
const single: readonly Purpose[] = ['cameras', 'plant', 'voice', 'payment', 'management'];

/** Port forwards for what has to answer from outside, each with its device and service. */
export function withForwards(plan: Plan, facts: Facts, { newId, tell }: Tools): Plan {
  const devices = [...plan.devices];
  const forwards = [...plan.forwards];
  const [first] = plan.uplinks;
  for (const wish of facts.opened) {
    if (wish.way !== 'forward' || !first) continue;
    const index = deviceFor(plan, devices, wish, newId);
    if (index < 0) continue;
    const ports = wish.insidePorts || wish.ports || '443';
    const service = serviceSchema.parse({
      id: newId(),
      name: capitalized(wish.target || 'Service').slice(0, 60),
      protocol: wish.protocol,
      ports,
    });
    devices[index] = { ...devices[index]!, services: [...devices[index]!.services, service] };
    const id = newId();
    tell(`/forwards/${id}/outsidePorts`, wish.from);
    tell(`/forwards/${id}/sources`, wish.from);
    forwards.push(
      forwardSchema.parse({
        id,
        purpose: capitalized(wish.target || `Port ${wish.ports}`).slice(0, 200),
        uplink: first.id,
        device: devices[index]!.id,
        service: service.id,
        protocol: wish.protocol,
        insidePorts: ports,
        outsidePorts: wish.ports === wish.insidePorts ? '' : wish.ports,
        sources: wish.sources,
      }),
    );
  }
  return { ...plan, devices, forwards };
}

/** The device of a wish: at its address, else the one of its name; made where there is none. An address stays with it. */
function deviceFor(
  plan: Plan,
  devices: DevicePlan[],
  wish: Facts['opened'][number],
  newId: () => string,
): number {
  const known = devices.findIndex(
    ({ address, name }) =>
      (wish.address !== '' && address === wish.address) ||
      (wish.address === '' &&
        wish.target !== '' &&
        name.toLowerCase().startsWith(wish.target.toLowerCase().replace(/s$/, ''))),
  );
  const network =
    plan.networks.find(({ purpose }) => purpose === (wish.purpose ?? 'staff')) ?? plan.networks[0];
  if (!network) return -1;
  if (known >= 0) {
    const device = devices[known]!;
    if (device.address === '') devices[known] = { ...device, ...fixedIn(plan, devices, device.network) };
    return known;
  }
  const made =
    wish.address !== '' ? { addressing: 'fixed', address: wish.address } : fixedIn(plan, devices, network.id);
  devices.push(
    deviceSchema.parse({
      id: newId(),
      name: capitalized(wish.target || 'Device').slice(0, 100),
      network: network.id,
      ...made,
    }),
  );
  return devices.length - 1;
}

/** A free address of a network, set on the device until its MAC address is known. */
function fixedIn(plan: Plan, devices: readonly DevicePlan[], networkId: string): Partial<DevicePlan> {
  const network = plan.networks.find(({ id }) => id === networkId);
  const free = network && freeHost(network, new Set(devices.map(({ address }) => address)));
  return free ? { addressing: 'fixed', address: free } : {};
}

/** Remote access for the people who come in: the best way for this site, a group for each, and what it may reach. */
export function withRemoteAccess(plan: Plan, facts: Facts, { newId, tell }: Tools): Plan {
  if (facts.remote.length === 0) return plan;
  const site = compile(plan);
  const [best] = rankWays(site).filter(({ way }) => !['none', 'forward', 'dated'].includes(way));
  const way = best?.way ?? 'wireguard';
  const pool = freePool(site);
  const devices = [...plan.devices];
  const groups = facts.remote.map(({ person, targets, from }) => {
    const id = newId();
    tell(`/vpn/groups/${id}/name`, from);
    const wished = person === facts.remote[0]!.person ? facts.opened.filter(({ way }) => way === 'vpn') : [];
    const purposes: readonly Purpose[] = targets.length > 0 || wished.length > 0 ? targets : ['staff'];
    const grants = purposes.flatMap(
      (purpose: Purpose): { id: string; network?: string; device?: string }[] => {
        const network = plan.networks.find((each) => each.purpose === purpose);
        if (!network) return [];
        if (!single.includes(purpose)) return [{ id: newId(), network: network.id }];
        return devices.flatMap((device, index) => {
          if (device.network !== network.id) return [];
          if (device.address === '') devices[index] = { ...device, ...fixedIn(plan, devices, network.id) };
          return [{ id: newId(), device: device.id }];
        });
      },
    );
    // What is reached through remote access in place of a port forward, by whoever comes in first.
    const reached = wished.flatMap((wish) => {
      const index = deviceFor(plan, devices, wish, newId);
      return index < 0 ? [] : [{ id: newId(), device: devices[index]!.id }];
    });
    return vpnGroupSchema.parse({ id, name: person, grants: [...grants, ...reached] });
  });
  tell('/vpn/way', facts.remote[0]!.from);
  tell('/vpn/pool', 'Usual value: a free private subnet that home networks rarely have.');
  const [first] = plan.uplinks;
  const fixed = facts.endpoint?.value ?? (first ? typedAddress(first) : '');
  if (facts.endpoint) tell('/vpn/endpoints', facts.endpoint.from);
  return {
    ...plan,
    devices,
    vpn: {
      ...plan.vpn,
      way,
      pool: way === 'wireguard' && pool ? formatPrefix(pool) : '',
      groups,
      endpoints:
        first && fixed !== ''
          ? [vpnEndpointSchema.parse({ id: newId(), uplink: first.id, host: fixed })]
          : [],
    },
  };
}
