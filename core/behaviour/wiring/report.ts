import type { Network, Site } from '../../site/model.ts';
import { socketName, type Run } from '../../site/wiring.ts';
import type { Worked } from '../../base/worked/worked.ts';
import type { Hop } from './frames.ts';
import { runLoads, type RunLoad } from './load.ts';
import { loopsOf, type Loop } from './loops.ts';
import { linePaths, pathTo, runRate, slowestOf, type LinePath, type PathTo } from './paths.ts';

/** A run with what it carries. */
export interface RunReport {
  readonly run: Run;
  readonly rate: Worked<number | null>;
  readonly load: RunLoad | undefined;
}

/** The cabling worked out: every run, every way, every circle. */
export interface WiringReport {
  readonly runs: readonly RunReport[];
  readonly lines: readonly LinePath[];
  readonly ways: readonly PathTo[];
  readonly loops: readonly Loop[];
}

export function wiringReport(site: Site): WiringReport {
  const loads = new Map(runLoads(site).map((load) => [load.run, load]));
  return {
    runs: site.wiring.runs.map((run) => ({ run, rate: runRate(run), load: loads.get(run) })),
    lines: linePaths(site),
    ways: site.wiring.boxes.flatMap((box) => {
      const way = box.device?.network && pathTo(site, box.device.network, box);
      return way ? [way] : [];
    }),
    loops: loopsOf(site.wiring, vlansOf(site.networks)),
  };
}

export const vlansOf = (networks: readonly Network[]): readonly number[] =>
  networks.flatMap(({ vlan }) => vlan ?? []);

/** A hop in words: "Switch 8 to Router LAN, VLAN 20". */
export const hopText = ({ from, to, tag }: Hop): string =>
  `${socketName(from)} to ${socketName(to)}, ${tag === 0 ? 'untagged' : `VLAN ${tag}`}`;

/** The report as plain data, for other programs. */
export function wiringData(site: Site): unknown {
  const { runs, lines, ways, loops } = wiringReport(site);
  const slowest = (way: readonly Hop[]): unknown => {
    const found = slowestOf(way);
    return found ? { run: found.run.name, mbps: found.mbps } : null;
  };
  return {
    runs: runs.map(({ run, rate, load }) => ({
      name: run.name,
      from: socketName(run.ends[0]),
      to: socketName(run.ends[1]),
      mbps: rate.value,
      because: rate.steps.map(({ says, value }) => `${says}: ${value}`),
      source: rate.source,
      load: load
        ? { there: load.there, back: load.back, carries: load.carries.map(({ name }) => name) }
        : null,
    })),
    lines: lines.map(({ line, box, way }) => ({
      line: line.name,
      box: box.name,
      way: way.map(hopText),
      slowest: slowest(way),
    })),
    ways: ways.map(({ network, box, way, arrives, stop }) => ({
      network: network.name,
      to: box.name,
      arrives,
      way: way.map(hopText),
      slowest: slowest(way),
      ...(stop && { stops: stop.says }),
    })),
    loops: loops.map(({ hops, blocked }) => ({
      runs: [...new Set(hops.map(({ run }) => run.name))],
      blocked,
    })),
  };
}
