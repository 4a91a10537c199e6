import type { At } from '../../plan/at.ts';
import { onOneLink } from '../../site/link.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { routerNetwork, socketName, type Box, type Run, type Socket } from '../../site/wiring.ts';
import { runRateWorked } from '../../base/worked/cabling.ts';
import { step, worked, type Worked } from '../../base/worked/worked.ts';
import { flood, otherEnd, runsBySocket, sentOut, takenUp, type Hop, type Tag } from './frames.ts';

export const runRate = ({ category, metres, pairs, ends }: Run): Worked<number | null> =>
  runRateWorked({
    category,
    metres,
    pairs,
    ends: ends.flatMap(({ rateMbps }) => rateMbps ?? []),
  });

/** The slowest run of a way, and its rate; undefined where the rate of none is known. */
export function slowestOf(way: readonly Hop[]): { readonly run: Run; readonly mbps: number } | undefined {
  let found: { run: Run; mbps: number } | undefined;
  for (const { run } of way) {
    const mbps = runRate(run).value;
    if (mbps !== null && (!found || mbps < found.mbps)) found = { run, mbps };
  }
  return found;
}

/** Sockets of the router on which a network begins, and the tag of its frames there. */
export function beginningsOf(site: Site, network: Network): { readonly socket: Socket; readonly tag: Tag }[] {
  return routerSockets(site).flatMap((socket) => {
    const port = socket.port!;
    if (port.role !== 'lan') return [];
    if (port.network && onOneLink(site, port.network, network)) return [{ socket, tag: 0 }];
    return network.vlan === null ? [] : [{ socket, tag: network.vlan }];
  });
}

export const routerSockets = ({ wiring }: Site): readonly Socket[] =>
  wiring.boxes.flatMap(({ kind, sockets }) => (kind === 'router' ? sockets.filter(({ port }) => port) : []));

/** How a network gets to a box at the end of the cabling. */
export interface PathTo {
  readonly network: Network;
  readonly box: Box;
  /** The hops from the router; as far as it gets where it does not arrive. */
  readonly way: readonly Hop[];
  readonly arrives: boolean;
  /** The socket at which it ends, and why. */
  readonly stop?: { readonly at: At; readonly says: string };
}

/** A way as a working: each hop with its tag, and whether it arrives. */
export const wayWorked = ({ network, box, way, arrives, stop }: PathTo): Worked<boolean> =>
  worked(
    `Way of ${network.name} to ${box.name}`,
    arrives,
    '',
    [
      ...way.map(({ from, to, tag }) =>
        step(`${socketName(from)} to ${socketName(to)}`, tag === 0 ? 'untagged' : `VLAN ${tag}`),
      ),
      step('arrives', arrives ? 'yes' : 'no'),
    ],
    'IEEE 802.1Q (from memory)',
    stop?.says,
  );

/** The way of a network from the router to a device that is plugged in somewhere. */
export function pathTo(site: Site, network: Network, box: Box): PathTo | undefined {
  const { wiring } = site;
  const plugged = runsBySocket(wiring);
  const starts = beginningsOf(site, network).filter(({ socket }) => plugged.has(socket));
  const arrivals = starts.flatMap(({ socket, tag }) =>
    flood(wiring, socket, tag, plugged).arrivals.filter(({ hop }) => hop.to.box === box),
  );
  // A copy with a tag, which it leaves, says nothing against one without.
  const [arrival] = [...arrivals.filter(({ hop }) => hop.tag === 0), ...arrivals];
  if (arrival?.hop.tag === 0) return { network, box, way: arrival.way, arrives: true };
  if (arrival)
    return {
      network,
      box,
      way: arrival.way,
      arrives: false,
      stop: {
        at: arrival.hop.from.at,
        says: `${socketName(arrival.hop.from)} sends VLAN ${arrival.hop.tag} with its tag, and ${box.name} expects none: make it the untagged VLAN there.`,
      },
    };
  for (const { socket, tag } of starts) {
    const way = physicalWay(socket, box, plugged);
    if (way) return stopped(network, box, way, tag);
  }
  return undefined;
}

/** The runs from a socket to a box, whatever VLAN they carry. */
function physicalWay(
  from: Socket,
  to: Box,
  plugged: ReadonlyMap<Socket, readonly Run[]>,
): readonly Omit<Hop, 'tag'>[] | undefined {
  const waiting: { readonly socket: Socket; readonly way: readonly Omit<Hop, 'tag'>[] }[] = [
    { socket: from, way: [] },
  ];
  const seen = new Set<Box>([from.box]);
  for (let next = waiting.shift(); next !== undefined; next = waiting.shift())
    for (const run of plugged.get(next.socket) ?? []) {
      const end = otherEnd(run, next.socket);
      const way = [...next.way, { run, from: next.socket, to: end }];
      if (end.box === to) return way;
      if (seen.has(end.box) || (end.box.kind !== 'bridge' && end.box.kind !== 'plain')) continue;
      seen.add(end.box);
      for (const socket of end.box.sockets) if (socket !== end) waiting.push({ socket, way });
    }
  return undefined;
}

/** Where on a way a VLAN ends: the first socket that is no member of it. */
function stopped(network: Network, box: Box, way: readonly Omit<Hop, 'tag'>[], first: Tag): PathTo {
  const gone: Hop[] = [];
  let tag = first;
  const stop = (socket: Socket, vlan: number): PathTo => ({
    network,
    box,
    way: gone,
    arrives: false,
    stop: {
      at: socket.at,
      says: `${socketName(socket)} does not carry VLAN ${vlan}, so ${network.name} ends there and ${box.name} is not on it.`,
    },
  });
  for (const hop of way) {
    gone.push({ ...hop, tag });
    if (hop.to.box === box) break;
    const vlan = takenUp(hop.to, tag);
    if (vlan === undefined) return stop(hop.to, tag);
    const out = way[gone.length]?.from;
    const leaving = out && sentOut(out, vlan);
    if (out && leaving === undefined) return stop(out, vlan);
    tag = leaving ?? tag;
  }
  return { network, box, way: gone, arrives: true };
}

/** The way of a line from its box to the router, where both are in the cabling. */
export interface LinePath {
  readonly line: Line;
  readonly box: Box;
  readonly way: readonly Hop[];
}

/** Follows each line's box to the port of the router at which its frames come in. */
export function linePaths(site: Site): readonly LinePath[] {
  const { wiring } = site;
  const plugged = runsBySocket(wiring);
  return wiring.boxes
    .filter(({ kind }) => kind === 'line')
    .flatMap((box) =>
      box.sockets
        .filter((socket) => plugged.has(socket))
        .flatMap((socket): LinePath[] =>
          [0, ...site.lines.flatMap(({ vlan }) => vlan ?? [])].flatMap((tag) =>
            flood(wiring, socket, tag, plugged).arrivals.flatMap(({ hop, way }): LinePath[] => {
              const line = hop.to.port?.role === 'wan' ? hop.to.port.line : undefined;
              return line ? [{ line, box, way }] : [];
            }),
          ),
        ),
    )
    .filter((path, index, all) => all.findIndex(({ line }) => line === path.line) === index);
}

/** The networks of the router that a frame from a socket at the edge gets into; more than one where VLANs run together. */
export const networksAt = (site: Site, socket: Socket, tag: Tag): Network[] =>
  flood(site.wiring, socket, tag).arrivals.flatMap(({ hop }) =>
    hop.to.port ? (routerNetwork(hop.to.port, hop.tag, site.networks) ?? []) : [],
  );

/** The network that a VLAN of a box is, where it comes from the router. */
export const networkOfVlan = (site: Site, box: Box, vlan: number): Network | undefined =>
  site.networks.find((network) =>
    beginningsOf(site, network).some(({ socket, tag }) =>
      flood(site.wiring, socket, tag).visits.some((visit) => visit.box === box && visit.vlan === vlan),
    ),
  );
