import type { Line, Site } from '../../site/model.ts';
import type { Run, Socket } from '../../site/wiring.ts';
import { flood, runsBySocket, type Hop } from './frames.ts';
import { beginningsOf, linePaths, runRate } from './paths.ts';

/** What a run carries in each direction when the lines are full both ways. */
export interface RunLoad {
  readonly run: Run;
  /** Mb/s from the first end to the second, and back. */
  readonly there: number;
  readonly back: number;
  /** Lines whose provider side goes over it, and lines whose users are behind it. */
  readonly carries: readonly Line[];
  readonly serves: readonly Line[];
  readonly capacityMbps: number | null;
}

/**
 * The most that each run carries: all users of the largest line may sit behind any run that leads to them, and a line
 * that is carried over the cabling passes its runs too. So a line of 300/100 Mb/s whose users all sit behind the run
 * that carries it loads that run with 400 Mb/s each way: download to the router and upload to it together, and back.
 */
export function runLoads(site: Site): readonly RunLoad[] {
  const loads = new Map<Run, { there: number; back: number; carries: Set<Line>; serves: Set<Line> }>();
  const of = (run: Run): { there: number; back: number; carries: Set<Line>; serves: Set<Line> } => {
    const known = loads.get(run) ?? { there: 0, back: 0, carries: new Set(), serves: new Set() };
    loads.set(run, known);
    return known;
  };
  const add = ({ run, from }: Hop, along: number, against: number): void => {
    const load = of(run);
    const forward = run.ends[0] === from;
    load.there += forward ? along : against;
    load.back += forward ? against : along;
  };
  const rates = (line: Line): readonly [down: number, up: number] => [
    line.rateDownMbps ?? 0,
    line.rateUpMbps ?? 0,
  ];
  for (const { line, way } of linePaths(site)) {
    const [down, up] = rates(line);
    // From the line's box to the router: downloads go along, uploads against.
    for (const hop of way) {
      add(hop, down, up);
      of(hop.run).carries.add(line);
    }
  }
  // Users share the lines: over a run to them goes as much as the fastest way to the internet gives.
  const fastest = [...site.lines].sort((a, b) => sum(rates(b)) - sum(rates(a)))[0];
  if (fastest) {
    const [down, up] = rates(fastest);
    const plugged = runsBySocket(site.wiring);
    const used = new Map<Run, Hop>();
    for (const network of site.networks)
      for (const { socket, tag } of beginningsOf(site, network))
        for (const { way } of reachedFrom(site, socket, tag, plugged))
          for (const hop of way) used.set(hop.run, hop);
    for (const hop of used.values()) {
      add(hop, down, up);
      of(hop.run).serves.add(fastest);
    }
  }
  return [...loads].map(([run, { there, back, carries, serves }]) => ({
    run,
    there,
    back,
    carries: [...carries],
    serves: [...serves],
    capacityMbps: runRate(run).value,
  }));
}

const sum = ([a, b]: readonly [number, number]): number => a + b;

function reachedFrom(
  site: Site,
  socket: Socket,
  tag: number,
  plugged: ReadonlyMap<Socket, readonly Run[]>,
): readonly { readonly way: readonly Hop[] }[] {
  const { visits, arrivals } = flood(site.wiring, socket, tag, plugged);
  return [...visits, ...arrivals.filter(({ hop }) => hop.to.box.kind === 'end')];
}
