import { holdsVlan } from '../../base/net/vlan.ts';
import type { Box, Run, Socket, Wiring } from '../../site/wiring.ts';

/** The tag of a frame on a cable: a VLAN ID, or 0 for none (IEEE 802.1Q). */
export type Tag = number;

/**
 * The VLAN in which a box takes up a frame that comes in on a socket with a tag; undefined where it drops it. A plain
 * box keeps the tag as it is (common practice, no source); a bridge drops what its socket is no member of (IEEE 802.1Q
 * section 8.6.2, ingress filtering).
 */
export function takenUp({ box, vlans }: Socket, tag: Tag): number | undefined {
  if (box.kind === 'plain') return tag;
  if (box.kind !== 'bridge') return undefined;
  if (tag === 0) return vlans.untagged;
  return holdsVlan(vlans.tagged, tag) ? tag : undefined;
}

/** The tag with which a box sends a frame of a VLAN out of a socket; undefined where it does not. */
export function sentOut({ box, vlans }: Socket, vlan: number): Tag | undefined {
  if (box.kind === 'plain') return vlan;
  if (box.kind !== 'bridge') return undefined;
  if (vlan === vlans.untagged) return 0;
  return holdsVlan(vlans.tagged, vlan) ? vlan : undefined;
}

/** A run as a frame goes along it. */
export interface Hop {
  readonly run: Run;
  readonly from: Socket;
  readonly to: Socket;
  readonly tag: Tag;
}

/** A box that a frame gets to, in one of its VLANs, and the way to it. */
export interface Visit {
  readonly box: Box;
  readonly vlan: number;
  readonly way: readonly Hop[];
}

/** Where a frame ends: at the router, at a line's box, at a device; and whether it is dropped at a socket. */
export interface Arrival {
  readonly hop: Hop;
  readonly way: readonly Hop[];
}

export interface Flood {
  readonly visits: readonly Visit[];
  readonly arrivals: readonly Arrival[];
  readonly drops: readonly Arrival[];
}

/** The runs of every socket. */
export function runsBySocket({ runs }: Wiring): ReadonlyMap<Socket, readonly Run[]> {
  const found = new Map<Socket, Run[]>();
  for (const run of runs)
    for (const end of new Set(run.ends)) found.set(end, [...(found.get(end) ?? []), run]);
  return found;
}

export const otherEnd = (run: Run, socket: Socket): Socket =>
  run.ends[0] === socket ? run.ends[1] : run.ends[0];

/**
 * Follows a broadcast that leaves a socket, through every box that passes it on, until it has been everywhere once.
 * Breadth first, so that each way is the one with the fewest hops; a box learns the sender's socket from it
 * (IEEE 802.1Q section 8.7), which is why the answer takes the same way back.
 */
export function flood(wiring: Wiring, from: Socket, tag: Tag, plugged = runsBySocket(wiring)): Flood {
  const visits = new Map<string, Visit>();
  const arrivals: Arrival[] = [];
  const drops: Arrival[] = [];
  const waiting: { readonly socket: Socket; readonly tag: Tag; readonly way: readonly Hop[] }[] = [
    { socket: from, tag, way: [] },
  ];
  const crossed = new Set<string>();
  for (let next = waiting.shift(); next !== undefined; next = waiting.shift()) {
    for (const run of plugged.get(next.socket) ?? []) {
      const to = otherEnd(run, next.socket);
      // A run carries a frame once; what comes back along it is what a circle sends.
      const crossing = `${run.at} ${next.tag}`;
      const hop: Hop = { run, from: next.socket, to, tag: next.tag };
      if (crossed.has(crossing)) continue;
      crossed.add(crossing);
      const way = [...next.way, hop];
      const vlan = takenUp(to, next.tag);
      if (to.box.kind !== 'bridge' && to.box.kind !== 'plain') {
        arrivals.push({ hop, way });
        continue;
      }
      if (vlan === undefined) {
        drops.push({ hop, way });
        continue;
      }
      const key = `${to.box.id} ${vlan}`;
      if (visits.has(key)) continue;
      visits.set(key, { box: to.box, vlan, way });
      for (const out of to.box.sockets) {
        if (out === to) continue;
        const leaving = sentOut(out, vlan);
        if (leaving !== undefined) waiting.push({ socket: out, tag: leaving, way });
      }
    }
  }
  return { visits: [...visits.values()], arrivals, drops };
}
