import type { Socket, Wiring } from '../../site/wiring.ts';
import { otherEnd, runsBySocket, sentOut, takenUp, type Tag } from './frames.ts';
import { vlansInUse } from './loops.ts';

/** Bits on the wire of the smallest frame: 64 bytes, preamble of 8 and gap of 12 (IEEE 802.3 clause 4). */
const smallestFrameBits = (64 + 8 + 12) * 8;

export interface StormStep {
  /** Frames on all runs at once. */
  readonly frames: number;
}

export interface Storm {
  readonly steps: readonly StormStep[];
  /** Frames are still under way when a network without a circle has long been silent. */
  readonly endless: boolean;
  /** What one broadcast of the smallest size becomes on a run of the slowest rate in the circle, in frames a second. */
  readonly framesPerSecond: number;
}

/** Frames beyond which it is a storm, however long it goes on. */
const mostFrames = 4096;

/**
 * One broadcast that is put in at a socket, passed on hop by hop by boxes that know no circle: each sends what comes in
 * on one socket out of every other one. In a circle it goes round for ever, and where circles meet it multiplies.
 */
export function storm(wiring: Wiring, from: Socket, tag: Tag, rateMbps = 1000): Storm {
  const plugged = runsBySocket(wiring);
  // Without a circle no frame goes along a run twice in one direction with one tag.
  const longest = 2 * wiring.runs.length * (vlansInUse(wiring, [tag]).length + 1) + 1;
  const steps: StormStep[] = [];
  let frames: { readonly socket: Socket; readonly tag: Tag }[] = [{ socket: from, tag }];
  while (frames.length > 0 && steps.length <= longest && frames.length < mostFrames) {
    const next: typeof frames = [];
    for (const frame of frames)
      for (const run of plugged.get(frame.socket) ?? []) {
        const to = otherEnd(run, frame.socket);
        const vlan = takenUp(to, frame.tag);
        if (vlan === undefined) continue;
        for (const out of to.box.sockets) {
          if (out === to) continue;
          const leaving = sentOut(out, vlan);
          if (leaving !== undefined && plugged.has(out)) next.push({ socket: out, tag: leaving });
        }
      }
    steps.push({ frames: frames.length });
    frames = next;
  }
  return {
    steps,
    endless: frames.length > 0,
    framesPerSecond: Math.floor((rateMbps * 1_000_000) / smallestFrameBits),
  };
}
