import type { Site } from '../../site/model.ts';
import { sharedRunWorked } from '../../base/worked/cabling.ts';
import { poeBudgetWorked } from '../../base/worked/power.ts';
import type { Worked } from '../../base/worked/worked.ts';
import { runLoads } from '../../behaviour/wiring/load.ts';
import { pathTo, runRate, wayWorked } from '../../behaviour/wiring/paths.ts';

/** What a run carries, what it is to carry, and the way of the network to the device at its end. */
export function ofRun(site: Site, index: number): Worked[] {
  const run = site.wiring.runs.find(({ at }) => at === `/wiring/runs/${index}`);
  if (!run) return [];
  const load = runLoads(site).find((each) => each.run === run);
  const [line] = load && load.serves.length > 0 ? load.carries : [];
  const device = run.ends[1].box.device;
  const path = device?.network && pathTo(site, device.network, run.ends[1].box);
  return [
    runRate(run),
    ...(load && line
      ? [sharedRunWorked(line.rateDownMbps ?? 0, line.rateUpMbps ?? 0, load.capacityMbps)]
      : []),
    ...(path ? [wayWorked(path)] : []),
  ];
}

/** What is left of a box's power over its ports. */
export function ofPoe(site: Site, index: number): Worked[] {
  const box = site.wiring.boxes.find(({ at }) => at === `/kit/${index}`);
  const budget = box?.kit?.poeWatts;
  const classes = (box?.sockets ?? []).flatMap(({ poe, poeClass }) =>
    poe === 'gives' && poeClass !== null ? [poeClass] : [],
  );
  return budget === null || budget === undefined || classes.length === 0
    ? []
    : [poeBudgetWorked(budget, classes)];
}
