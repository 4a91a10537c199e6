import type { VlanRange } from '../base/net/vlan.ts';
import type { PlanValues } from '../plan/schema.ts';
import type { Device, Kit, Line, Network, RouterPort } from './parts.ts';
import type { Second } from './second.ts';

type RunValues = PlanValues['wiring']['runs'][number];

/** VLANs of a socket that passes frames on; IEEE 802.1Q calls `untagged` its PVID. */
export interface SocketVlans {
  readonly untagged: number;
  readonly tagged: readonly VlanRange[];
}

/** A port of the router or of a box; where nobody listed it, the run that ends there. */
export type SocketAt =
  `/router/ports/${number}` | `/kit/${number}/ports/${number}` | `/wiring/runs/${number}`;
type BoxAt = `/kit/${number}` | `/devices/${number}`;

/** A port of a box, into which a cable is plugged: here a socket, since a port is a number of TCP elsewhere. */
export interface Socket {
  readonly at: SocketAt;
  /** Id of its row; empty where nobody listed it. */
  readonly id: string;
  readonly box: Box;
  readonly name: string;
  readonly rateMbps: number | null;
  readonly vlans: SocketVlans;
  readonly poe: 'none' | 'gives' | 'takes';
  readonly poeClass: number | null;
  /** On the router: what the port is for. */
  readonly port?: RouterPort;
}

/**
 * A box in the cabling. A bridge passes frames on by their VLAN, a plain one as they are; the router looks into them;
 * a line's box has the provider behind it; an end has nothing behind it.
 */
export interface Box {
  readonly at: BoxAt;
  readonly id: string;
  readonly name: string;
  readonly kind: 'router' | 'bridge' | 'plain' | 'line' | 'end';
  readonly spanningTree: boolean;
  readonly kit: Kit | undefined;
  readonly device: Device | undefined;
  readonly sockets: Socket[];
}

export interface Run extends RunValues {
  readonly at: `/wiring/runs/${number}`;
  /** What it is called where it is spoken of: its label, or its ends. */
  readonly name: string;
  readonly ends: readonly [Socket, Socket];
}

export interface Transit {
  readonly at: `/wiring/transits/${number}`;
  readonly id: string;
  readonly line: Line | undefined;
  readonly vlan: number | null;
}

export interface Wiring {
  readonly boxes: readonly Box[];
  readonly runs: readonly Run[];
  /** Runs of which an end is not known yet. */
  readonly loose: readonly string[];
  readonly transits: readonly Transit[];
}

const noVlans: SocketVlans = { untagged: 1, tagged: [] };
const passing = new Set(['switch', 'access-point', 'other']);

const kindOf = (kit: Kit, router: Kit | undefined, second: ReadonlyMap<Kit, Second['way']>): Box['kind'] => {
  if (kit === router) return 'router';
  // A second router that routes is the end of the network that it is plugged into.
  if (second.get(kit) === 'chained') return 'end';
  if (kit.role === 'modem' || kit.role === 'ont') return 'line';
  // A router that is an access point passes frames on, whatever is printed on it.
  if (!passing.has(kit.role) && !second.has(kit)) return 'end';
  const told = kit.ports.some(({ untagged, tagged }) => untagged !== 1 || tagged.length > 0);
  return kit.vlanSupport === 'aware' || (kit.vlanSupport === 'unknown' && told) ? 'bridge' : 'plain';
};

/** Boxes, their sockets and the runs between them, resolved. */
export function compileWiring(
  values: PlanValues['wiring'],
  {
    kit,
    ports,
    lines,
    devices,
    second,
  }: {
    readonly kit: readonly Kit[];
    readonly ports: readonly RouterPort[];
    readonly lines: readonly Line[];
    readonly devices: readonly Device[];
    readonly second: readonly Second[];
  },
): Wiring {
  const router = kit.find(({ role }) => role === 'router');
  const ways = new Map(second.flatMap(({ way, box }) => (box ? [[box, way] as const] : [])));
  const boxes = kit.flatMap((item): Box[] => {
    if (item.role === 'power') return [];
    const box: Box = {
      at: item.at,
      id: item.id,
      name: item.model || item.role,
      kind: kindOf(item, router, ways),
      spanningTree: item.spanningTree,
      kit: item,
      device: undefined,
      sockets: [],
    };
    if (item === router)
      for (const port of ports)
        box.sockets.push({ ...bare(box, port.name, port.at), id: port.id, rateMbps: port.rateMbps, port });
    for (const [index, socket] of item.ports.entries())
      box.sockets.push({
        at: `${item.at}/ports/${index}`,
        id: socket.id,
        box,
        name: socket.name,
        rateMbps: socket.rateMbps,
        vlans: { untagged: socket.untagged, tagged: socket.tagged },
        poe: socket.poe,
        poeClass: socket.poeClass,
      });
    return [box];
  });
  const boxById = new Map(boxes.map((box) => [box.id, box]));
  const ends = new Map<Device, Box>();
  const endOf = (device: Device): Box => {
    const known = ends.get(device);
    if (known) return known;
    const box: Box = {
      at: device.at,
      id: `device ${device.id}`,
      name: device.name,
      kind: 'end',
      spanningTree: false,
      kit: undefined,
      device,
      sockets: [],
    };
    ends.set(device, box);
    boxes.push(box);
    return box;
  };
  const deviceById = new Map(devices.map((device) => [device.id, device]));
  const loose: string[] = [];
  const runs = values.runs.flatMap((row, index): Run[] => {
    const at = `/wiring/runs/${index}` as const;
    const device = deviceById.get(row.toDevice);
    const from = boxById.get(row.fromBox);
    const to = boxById.get(row.toBox) ?? (device && endOf(device));
    if (!from || !to) {
      loose.push(at);
      return [];
    }
    const pair = [socketOf(from, row.fromPort, at), socketOf(to, row.toPort, at)] as const;
    return [
      {
        ...row,
        at,
        name: row.label.trim() || `${socketName(pair[0])} to ${socketName(pair[1])}`,
        ends: pair,
      },
    ];
  });
  return {
    boxes,
    runs,
    loose,
    transits: values.transits.map(({ id, uplink, vlan }, index) => ({
      id,
      at: `/wiring/transits/${index}`,
      line: lines.find(({ id }) => id === uplink),
      vlan,
    })),
  };
}

const bare = (box: Box, name: string, at: SocketAt): Socket => ({
  at,
  id: '',
  box,
  name,
  rateMbps: null,
  vlans: noVlans,
  poe: 'none',
  poeClass: null,
});

/** The socket of a box by its name; one that nobody listed is there all the same, without settings. */
function socketOf(box: Box, name: string, at: SocketAt): Socket {
  const wanted = name.trim();
  const known = wanted === '' ? undefined : box.sockets.find((socket) => socket.name.trim() === wanted);
  if (known) return known;
  const made = bare(box, wanted, at);
  box.sockets.push(made);
  return made;
}

/** A socket where it is spoken of: "Switch 3". */
export const socketName = ({ box, name }: Socket): string => (name === '' ? box.name : `${box.name} ${name}`);

/** The network of frames without a tag on a port of the router, and what comes with one. */
export const routerNetwork = (
  port: RouterPort,
  tag: number,
  networks: readonly Network[],
): Network | undefined => {
  if (port.role !== 'lan') return undefined;
  return tag === 0
    ? port.network
    : networks.find((network) => network.vlan === tag && network !== port.network);
};
