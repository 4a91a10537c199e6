import type { Network, Site } from '../../site/model.ts';
import { routerNetwork, socketName, type Box, type Run, type Socket } from '../../site/wiring.ts';
import { otherEnd, runsBySocket, sentOut, takenUp, type Tag } from './frames.ts';

/** A box that a frame comes to, and what it does with it. */
export interface FrameStep {
  readonly box: Box;
  /** The socket by which it comes in. */
  readonly at: Socket;
  readonly tag: Tag;
  /** Sent on to all of its VLAN, to one socket, or no further; taken by whom it is for, left by whom it is not; dropped. */
  readonly does: 'floods' | 'forwards' | 'stops' | 'takes' | 'leaves' | 'drops';
  readonly says: string;
}

/** One frame from its sender to everywhere that it gets. */
export interface FrameTrip {
  readonly title: string;
  readonly steps: readonly FrameStep[];
  /** Whom it was for has it; for a broadcast always. */
  readonly arrived: boolean;
  /** It came back to a box that had sent it on already: a circle. */
  readonly circle: boolean;
}

/** Who sends and gets frames: a box at the end of the cabling, or a laptop in a socket of a switch. */
interface Station {
  readonly name: string;
  readonly box: Box | undefined;
  readonly socket: Socket;
}

/**
 * What switches remember: the socket of each station by its VLAN (IEEE 802.1Q section 8.8, independent learning). A
 * box that looks at no tags has one memory for all.
 */
type Memory = Map<string, Socket>;

const passes = ({ kind }: Box): boolean => kind === 'bridge' || kind === 'plain';
const memoryKey = (box: Box, vlan: number, { name }: Station): string =>
  `${box.id}\n${box.kind === 'plain' ? '' : vlan}\n${name}`;
const tagText = (tag: Tag): string => (tag === 0 ? 'untagged' : `VLAN ${tag}`);
const portText = ({ name }: Socket): string => (name === '' ? 'a port without a name' : `port ${name}`);

interface Sent {
  readonly from: Station;
  /** Undefined: for everybody. */
  readonly to: Station | undefined;
  readonly tag: Tag;
}

/**
 * A frame put in at a socket, followed through switches that learn: first a broadcast, then the answer of whom it is
 * for, then a frame to it alone (RFC 826 for the first two). Each trip uses what the ones before have taught.
 */
export function followFrame(site: Site, from: Socket, tag: Tag, to?: Box): FrameTrip[] {
  const plugged = runsBySocket(site.wiring);
  const memory: Memory = new Map();
  const sender: Station = passes(from.box)
    ? { name: `a laptop on ${socketName(from)}`, box: undefined, socket: from }
    : { name: from.box.name, box: from.box, socket: from };
  const question = send(site, plugged, memory, { from: sender, to: undefined, tag }, 'to everybody');
  const met = to && question.steps.find(({ box, does }) => box === to && does === 'takes');
  if (!to || !met) return [question];
  const other: Station = { name: to.name, box: to, socket: met.at };
  return [
    question,
    send(site, plugged, memory, { from: other, to: sender, tag: met.tag }, `back to ${sender.name}`),
    send(site, plugged, memory, { from: sender, to: other, tag }, `to ${other.name}`),
  ];
}

function send(
  site: Site,
  plugged: ReadonlyMap<Socket, readonly Run[]>,
  memory: Memory,
  { from, to, tag }: Sent,
  whither: string,
): FrameTrip {
  const steps: FrameStep[] = [];
  const visited = new Set<string>();
  const crossed = new Set<string>();
  let arrived = to === undefined;
  let circle = false;
  const waiting: { readonly at: Socket; readonly tag: Tag }[] = [];
  const leave = (socket: Socket, leaving: Tag): void => {
    for (const run of plugged.get(socket) ?? []) {
      const crossing = `${run.at} ${leaving}`;
      if (crossed.has(crossing)) circle = true;
      else waiting.push({ at: otherEnd(run, socket), tag: leaving });
      crossed.add(crossing);
    }
  };
  // A laptop is in the socket itself; a box at the end of a run sends along it.
  if (from.box === undefined) waiting.push({ at: from.socket, tag });
  else leave(from.socket, tag);
  for (let next = waiting.shift(); next !== undefined; next = waiting.shift()) {
    const { at, tag: came } = next;
    if (!passes(at.box)) {
      const end = atTheEnd(site, at, came, to);
      if (end.does === 'takes' && to) arrived = true;
      steps.push(end);
      continue;
    }
    const vlan = takenUp(at, came);
    const { box } = at;
    const name = socketName(at);
    if (vlan === undefined) {
      steps.push({
        box,
        at,
        tag: came,
        does: 'drops',
        says: `${name} is no member of VLAN ${came}: dropped.`,
      });
      continue;
    }
    const visit = `${box.id} ${vlan}`;
    if (visited.has(visit)) {
      circle = true;
      continue;
    }
    visited.add(visit);
    memory.set(memoryKey(box, vlan, from), at);
    const known = to && memory.get(memoryKey(box, vlan, to));
    const outs = box.sockets.flatMap((socket) => {
      const leaving = socket === at || (known && socket !== known) ? undefined : sentOut(socket, vlan);
      const laptop = to?.box === undefined && socket === to?.socket;
      return leaving === undefined || (!plugged.has(socket) && !laptop) ? [] : [{ socket, leaving, laptop }];
    });
    const inWords =
      came !== 0 ? `with VLAN ${came}` : box.kind === 'plain' ? 'untagged' : `untagged, into VLAN ${vlan}`;
    const outWords = outs
      .map(({ socket, leaving }) => `${portText(socket)} (${tagText(leaving)})`)
      .join(', ');
    const learns = `${name} takes it up ${inWords}, and remembers ${from.name} there.`;
    steps.push({
      box,
      at,
      tag: came,
      does: outs.length === 0 ? 'stops' : known ? 'forwards' : 'floods',
      says:
        known === at
          ? `${learns} ${to!.name} is on the same port: no further.`
          : outs.length === 0
            ? `${learns} None of its other cables carries this VLAN: no further.`
            : known
              ? `${learns} It knows ${to!.name}: out of ${outWords} only.`
              : `${learns} Out of ${outWords}.`,
    });
    for (const { socket, leaving, laptop } of outs)
      if (laptop) {
        arrived = true;
        steps.push({
          box,
          at: socket,
          tag: leaving,
          does: 'takes',
          says: `${to!.name} has it, ${tagText(leaving)}.`,
        });
      } else leave(socket, leaving);
  }
  return { title: `${from.name}, ${tagText(tag)}, ${whither}`, steps, arrived, circle };
}

/** What a box at the end of the cabling does with a frame. */
function atTheEnd(site: Site, at: Socket, tag: Tag, to: Station | undefined): FrameStep {
  const { box } = at;
  const name = socketName(at);
  const ended = (does: FrameStep['does'], says: string): FrameStep => ({ box, at, tag, does, says });
  if (to && to.box !== box) return ended('leaves', `${name} discards it: it is addressed to another.`);
  if (box.kind === 'line') return ended('takes', `${name} has it: on to the provider, ${tagText(tag)}.`);
  if (at.port?.role === 'wan')
    return ended(
      'takes',
      `${name} has it, as a packet of ${at.port.line?.name ?? 'no line'}, ${tagText(tag)}.`,
    );
  if (at.port) {
    const network: Network | undefined = routerNetwork(at.port, tag, site.networks);
    return network
      ? ended('takes', `${name} has it: network ${network.name}, ${tagText(tag)}.`)
      : ended(
          'drops',
          `${name} has no network ${tag === 0 ? 'without a tag' : `with VLAN ${tag}`}: dropped.`,
        );
  }
  return tag === 0
    ? ended('takes', `${name} has it.`)
    : ended('drops', `${name} expects no tag, and this one has VLAN ${tag}: dropped.`);
}
