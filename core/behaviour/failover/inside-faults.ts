import type { Site } from '../../site/model.ts';
import { socketName, type Box, type Run, type Socket } from '../../site/wiring.ts';
import type { WifiRadio } from '../../site/wifi.ts';
import { flood } from '../wiring/frames.ts';
import { beginningsOf, linePaths, runRate } from '../wiring/paths.ts';
import { storm } from '../wiring/storm.ts';
import { channelRules } from '../wifi/countries.ts';
import { planChannels } from '../wifi/channels.ts';
import { heardOn } from '../wifi/now.ts';
import { roomName } from '../wifi/coverage.ts';
import { radarWaitWorked } from '../../base/worked/wifi.ts';
import { grouped } from '../../base/worked/worked.ts';

/** Something inside that fails. */
export interface InsideFault {
  readonly key: string;
  readonly title: string;
  readonly kind: 'run' | 'box' | 'loop' | 'radar';
}

/** What it means: what stands still, what goes on, and for how long. */
export interface InsideOutcome {
  readonly kind: 'nothing' | 'part' | 'all';
  readonly says: string;
  /** Devices, names and lines that are gone meanwhile. */
  readonly lost: readonly string[];
  /** Frames under way after each hop, where it is a storm. */
  readonly frames: readonly number[];
  readonly remedy: string;
}

/** Convergence of spanning tree: two forward delays and the age of what was heard (IEEE 802.1D section 17.14). */
const spanningTreeSeconds = 50;
/** A channel on which a radar was heard is left for so long (ETSI EN 301 893, from memory). */
const radarMinutes = 30;

const passes = ({ kind }: Box): boolean => kind === 'bridge' || kind === 'plain';

/** Two ports of a box that are in one VLAN, between which somebody could plug a cable. */
function looseEnds(site: Site, box: Box): readonly [Socket, Socket] | undefined {
  const used = new Set(site.wiring.runs.flatMap(({ ends }) => ends));
  const free = box.sockets.filter((socket) => !used.has(socket));
  for (const [index, one] of free.entries()) {
    const other = free.slice(index + 1).find(({ vlans }) => vlans.untagged === one.vlans.untagged);
    if (other) return [one, other];
  }
  return undefined;
}

/** Radios that listen for radar where they work. */
const hearsRadar = ({ band, channel, width }: WifiRadio): boolean =>
  band === '5' && channel !== null && radarWaitWorked(channel, width).value > 0;

/** Everything inside that can be let fail on this site. */
export function insideFaults(site: Site): InsideFault[] {
  const { wiring, wifi } = site;
  const served = new Set(wifi.radios.map(({ box }) => box));
  return [
    ...wiring.runs.map((run): InsideFault => ({
      key: `run ${run.id}`,
      title: `The cable ${run.name} is pulled`,
      kind: 'run',
    })),
    ...wiring.boxes
      .filter(
        ({ kind, kit }) =>
          passes({ kind } as Box) || (kit !== undefined && served.has(kit) && kind !== 'router'),
      )
      .map((box): InsideFault => ({ key: `box ${box.id}`, title: `${box.name} is dead`, kind: 'box' })),
    ...wiring.boxes
      .filter((box) => passes(box) && looseEnds(site, box) !== undefined)
      .map((box): InsideFault => ({
        key: `loop ${box.id}`,
        title: `A person plugs both ends of a cable into ${box.name}`,
        kind: 'loop',
      })),
    ...wifi.radios.filter(hearsRadar).map((radio): InsideFault => ({
      key: `radar ${radio.id}`,
      title: `${radio.name} hears a radar`,
      kind: 'radar',
    })),
  ];
}

/** Lets one of them fail. */
export function rehearseInside(site: Site, { key, kind }: InsideFault): InsideOutcome | undefined {
  const id = key.slice(key.indexOf(' ') + 1);
  if (kind === 'run') {
    const run = site.wiring.runs.find((each) => each.id === id);
    return run && without(site, [run], undefined);
  }
  const box = site.wiring.boxes.find((each) => each.id === id);
  if (kind === 'box')
    return (
      box &&
      without(
        site,
        site.wiring.runs.filter(({ ends }) => ends.some((end) => end.box === box)),
        box,
      )
    );
  if (kind === 'loop') return box && loop(site, box);
  const radio = site.wifi.radios.find((each) => each.id === id);
  return radio && radar(site, radio);
}

/** What is reached over the cabling: devices and access points on their networks, and the router by each line. */
function reached(site: Site): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  for (const network of site.networks)
    for (const { socket, tag } of beginningsOf(site, network)) {
      const { visits, arrivals } = flood(site.wiring, socket, tag);
      for (const { box } of visits) found.set(`${network.id} ${box.id}`, `${box.name}, for ${network.name}`);
      for (const { hop } of arrivals)
        if (hop.tag === 0 && hop.to.box.kind === 'end')
          found.set(`${network.id} ${hop.to.box.id}`, `${hop.to.box.name}, on ${network.name}`);
    }
  for (const { line } of linePaths(site)) found.set(`line ${line.id}`, `the line ${line.name}`);
  return found;
}

/** Names that nobody serves any more, and rooms whose radio is gone. */
function airLost(site: Site, gone: (radio: WifiRadio) => boolean): string[] {
  const { networks, radios, rooms } = site.wifi;
  const left = radios.filter((radio) => !gone(radio));
  return [
    ...networks
      .filter(
        (network) =>
          radios.some((radio) => radio.networks.includes(network)) &&
          !left.some((radio) => radio.networks.includes(network)),
      )
      .map(({ ssid }) => `the Wi-Fi network ${ssid}, everywhere`),
    ...rooms
      .filter(({ radio }) => radio !== undefined && gone(radio))
      .map((room) => `Wi-Fi in ${roomName(room)}, as far as no other radio gets there`),
  ];
}

function without(site: Site, runs: readonly Run[], dead: Box | undefined): InsideOutcome {
  const cut: Site = {
    ...site,
    wiring: { ...site.wiring, runs: site.wiring.runs.filter((run) => !runs.includes(run)) },
  };
  const before = reached(site);
  const after = reached(cut);
  const gone = new Set([...before].filter(([key]) => !after.has(key)).map(([key]) => key));
  const offWire = (radio: WifiRadio): boolean => {
    const box = site.wiring.boxes.find(({ kit }) => kit !== undefined && kit === radio.box);
    if (!box) return false;
    if (box === dead) return true;
    const own = [...before.keys()].filter((key) => key.endsWith(` ${box.id}`));
    return own.length > 0 && own.every((key) => gone.has(key));
  };
  const lost = [
    ...[...before].filter(([key]) => gone.has(key)).map(([, name]) => name),
    ...airLost(site, offWire),
  ];
  // What has more than one way keeps one: spanning tree opens it.
  const circle =
    site.wiring.boxes.some(({ spanningTree }) => spanningTree) && lost.length === 0 && runs.length > 0;
  const lines = [...before.keys()].filter((key) => key.startsWith('line '));
  const allLines =
    lines.length > 0 && site.lines.length === lines.length && lines.every((key) => gone.has(key));
  return {
    kind: lost.length === 0 ? 'nothing' : allLines || gone.size === before.size ? 'all' : 'part',
    says:
      lost.length === 0
        ? circle
          ? `Nothing stays cut off: another way is there. Until spanning tree has opened it, up to ${spanningTreeSeconds} s pass.`
          : 'Nothing that is entered here hangs on it.'
        : `${lost.length === 1 ? 'One thing stands' : `${lost.length} things stand`} still until it is mended.`,
    lost,
    frames: [],
    remedy:
      lost.length === 0
        ? ''
        : dead
          ? 'A spare of the same kind with its settings on file; its ports are listed in the record.'
          : 'A second run of its own way, with spanning tree on at both ends; the label says which cable it is.',
  };
}

function loop(site: Site, box: Box): InsideOutcome | undefined {
  const pair = looseEnds(site, box);
  if (!pair) return undefined;
  const [one, other] = pair;
  if (box.spanningTree)
    return {
      kind: 'nothing',
      says: `Spanning tree blocks one of the two ports within ${spanningTreeSeconds} s: everything goes on.`,
      lost: [],
      frames: [],
      remedy: 'The page of the switch shows the blocked port: find the cable, and take it out.',
    };
  const run: Run = {
    ...emptyRun,
    at: '/wiring/runs/0',
    name: 'the cable',
    ends: pair,
  };
  const closed = { ...site.wiring, runs: [...site.wiring.runs, run] };
  const mbps = Math.min(
    ...pair.map(({ rateMbps }) => rateMbps ?? 1000),
    ...site.wiring.runs.map((each) => runRate(each).value ?? 1000).filter((each) => each > 0),
  );
  const { steps, framesPerSecond } = storm(closed, one, 0, mbps);
  const vlan = one.vlans.untagged;
  const networks = site.networks.filter((network) =>
    beginningsOf(site, network).some(({ socket, tag }) =>
      flood(site.wiring, socket, tag).visits.some((visit) => visit.box === box && visit.vlan === vlan),
    ),
  );
  return {
    kind: 'all',
    says: `A broadcast between ${socketName(one)} and ${socketName(other)} goes round for ever: ${grouped(framesPerSecond)} frames a second on every port of VLAN ${vlan}, until the cable is out.`,
    lost: networks.map(({ name }) => `${name}, wherever it is`),
    frames: steps.slice(0, 12).map(({ frames }) => frames),
    remedy: `Spanning tree on ${box.name}, or its loop protection: then one port is blocked and nobody notices.`,
  };
}

const emptyRun: Omit<Run, 'at' | 'name' | 'ends'> = {
  id: 'loop',
  label: '',
  fromBox: '',
  fromPort: '',
  toBox: '',
  toDevice: '',
  toPort: '',
  category: 'unknown',
  metres: null,
  pairs: 4,
  shielded: false,
};

function radar(site: Site, radio: WifiRadio): InsideOutcome {
  const { radios } = site.wifi;
  const rest = radios.filter((each) => each !== radio);
  // The channel is closed, with everything that touches it: one without radar is the sure one.
  const plan = planChannels(
    [radio],
    [...heardOn(site), ...asHeard(rest)],
    false,
    channelRules(site.about.country),
  );
  const to = plan.choices[0]!.channel;
  const wait = radarWaitWorked(to, radio.width).value;
  const lost = airLost(site, (each) => each === radio);
  return {
    kind: lost.length > 0 ? 'part' : 'nothing',
    says: `It leaves channel ${radio.channel} within ten seconds and stays away for ${radarMinutes} minutes. On channel ${to} it sends again ${wait === 0 ? 'at once: nothing has to be listened for there' : `after ${wait} s of listening`}.`,
    lost,
    frames: [],
    remedy: `Where Wi-Fi may not be away, set it to channel ${to} now.`,
  };
}

/** Own radios beside it, as loud as they usually are to each other (common practice, no source). */
const asHeard = (radios: readonly WifiRadio[]) =>
  radios.flatMap(({ band, channel, width }) =>
    channel === null ? [] : [{ ssid: '', band, channel, width, signalDbm: -70 }],
  );
