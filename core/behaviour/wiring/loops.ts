import { holdsVlan } from '../../base/net/vlan.ts';
import type { Run, Socket, Wiring } from '../../site/wiring.ts';
import { otherEnd, runsBySocket, sentOut, takenUp, type Hop, type Tag } from './frames.ts';

/** Runs along which a frame comes back to where it was, and goes round for ever. */
export interface Loop {
  readonly hops: readonly Hop[];
  /** A box in it blocks one of its sockets, so that it is a spare way and no loop (IEEE 802.1D section 17). */
  readonly blocked: boolean;
}

/** The hops that follow when a frame has come along one. */
function after(hop: Hop, plugged: ReadonlyMap<Socket, readonly Run[]>): Hop[] {
  const vlan = takenUp(hop.to, hop.tag);
  if (vlan === undefined) return [];
  return hop.to.box.sockets.flatMap((out) => {
    const tag = out === hop.to ? undefined : sentOut(out, vlan);
    return tag === undefined
      ? []
      : (plugged.get(out) ?? []).map((run): Hop => ({ run, from: out, to: otherEnd(run, out), tag }));
  });
}

/** VLANs that something in the cabling says; a range of a thousand in which none is used is none. */
export function vlansInUse(wiring: Wiring, others: readonly number[] = []): readonly number[] {
  const found = new Set(others);
  for (const { sockets, kind } of wiring.boxes)
    if (kind === 'bridge')
      for (const { vlans } of sockets) {
        found.add(vlans.untagged);
        for (const { first, last } of vlans.tagged)
          if (last - first < 64) for (let id = first; id <= last; id += 1) found.add(id);
      }
  return [...found].sort((a, b) => a - b);
}

/**
 * Every loop of the cabling, one for each run that closes one. A hop is a run, a direction and a tag; a loop is a
 * circle of hops that follow one another. Each hop is looked at once, so that the work grows with runs times VLANs.
 */
export function loopsOf(wiring: Wiring, networkVlans: readonly number[] = []): readonly Loop[] {
  const plugged = runsBySocket(wiring);
  const vlans = vlansInUse(wiring, networkVlans);
  const state = new Map<string, 'open' | 'done'>();
  const keyOf = ({ run, from, to, tag }: Hop): string =>
    `${run.at} ${from === to || run.ends[0] === from ? 0 : 1} ${tag}`;
  const loops = new Map<string, Loop>();
  const take = (hops: readonly Hop[]): void => {
    const key = [...new Set(hops.map(({ run }) => run.at))].sort().join(' ');
    if (!loops.has(key)) loops.set(key, { hops, blocked: hops.some(({ to }) => to.box.spanningTree) });
  };
  const follow = (first: Hop): void => {
    if (state.has(keyOf(first))) return;
    const trail: { readonly hop: Hop; readonly key: string; readonly next: Hop[] }[] = [];
    const enter = (hop: Hop): void => {
      const key = keyOf(hop);
      state.set(key, 'open');
      trail.push({ hop, key, next: after(hop, plugged) });
    };
    enter(first);
    for (let top = trail.at(-1); top !== undefined; top = trail.at(-1)) {
      const hop = top.next.pop();
      if (!hop) {
        state.set(top.key, 'done');
        trail.pop();
        continue;
      }
      const key = keyOf(hop);
      const known = state.get(key);
      if (known === undefined) enter(hop);
      else if (known === 'open')
        take(trail.slice(trail.findIndex((each) => each.key === key)).map((each) => each.hop));
    }
  };
  for (const socket of plugged.keys()) {
    const tags: readonly Tag[] =
      socket.box.kind === 'bridge'
        ? [0, ...vlans.filter((vlan) => holdsVlan(socket.vlans.tagged, vlan))]
        : socket.box.kind === 'plain'
          ? [0, ...vlans]
          : [];
    for (const run of plugged.get(socket)!)
      for (const tag of tags) follow({ run, from: socket, to: otherEnd(run, socket), tag });
  }
  return [...loops.values()];
}
