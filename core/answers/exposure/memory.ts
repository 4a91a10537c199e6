import { single, type PacketBox } from '../../base/net/packet-set.ts';
import { portsOverlap, type PortRange } from '../../base/net/ports.ts';
import { inRange, rangeOf, type AddressRange } from '../../base/net/range.ts';
import type { Plan } from '../../plan/schema.ts';
import { createRouter, type Router } from '../../behaviour/router/router.ts';
import { insideOf } from '../../site/lookups.ts';
import type { Forward, Reach, Site } from '../../site/model.ts';
import { exposureOf, type Passing, type Region } from './exposure.ts';
import { matrixRow, type MatrixRow } from './matrix.ts';
import { sendersOf, type Sender } from './senders.ts';

/**
 * The exposure of a plan that is being edited. A rule between networks is about the packets of one network to what it
 * names, and a forward about those to some ports of a line: after an edit of one of them only these packets are followed
 * again. Anything else that changes changes everything.
 */
export class ExposureMemory {
  #rest = '';
  #before: { readonly plan: Plan; readonly site: Site } | undefined;
  readonly #known = new Map<string, readonly Passing[]>();

  /** The rows of the table, in the order of the senders. `site` is the compiled plan. */
  *rows(plan: Plan, site: Site, down: ReadonlySet<string> = new Set()): Generator<MatrixRow> {
    const rest = JSON.stringify([
      { ...plan, reach: ids(plan.reach), forwards: ids(plan.forwards) },
      [...down],
    ]);
    const before = rest === this.#rest ? this.#before : undefined;
    if (!before) this.#known.clear();
    this.#rest = rest;
    // Rows that are not asked for to the end are not known either.
    this.#before = undefined;
    const router = createRouter(site, down);
    const states = before ? [before, { plan, site }] : [];
    const forwards = before ? changedRows('forwards', before.plan, plan) : [];
    const rules = before ? changedRows('reach', before.plan, plan) : [];
    for (const sender of sendersOf(site)) {
      const key = `${sender.kind} ${sender.id}`;
      const known = this.#known.get(key);
      const passing =
        before && known
          ? again(known, regionsOf(states, forwards, rules, sender), site, sender, down, router)
          : exposureOf(site, sender, down, router);
      this.#known.set(key, passing);
      yield matrixRow(site, sender, passing);
    }
    this.#before = { plan, site };
  }
}

const ids = (rows: readonly { readonly id: string }[]): string[] => rows.map(({ id }) => id);

interface State {
  readonly plan: Plan;
  readonly site: Site;
}

/** Pointers of the rows that are not what they were. */
const changedRows = (list: 'reach' | 'forwards', before: Plan, after: Plan): string[] =>
  after[list].flatMap((row, index) => {
    const known = before[list][index];
    return row === known || JSON.stringify(row) === JSON.stringify(known) ? [] : [`/${list}/${index}`];
  });

/** Where packets of a sender may fare otherwise than before; undefined: everywhere. */
function regionsOf(
  states: readonly State[],
  forwards: readonly string[],
  changed: readonly string[],
  sender: Sender,
): readonly Region[] | undefined {
  const rules = changed.filter((at) =>
    states.some(({ plan }) => sender.kind === 'network' && rowAt(plan, at)?.from === sender.id),
  );
  const regions: Region[] = [];
  for (const { site } of states) {
    for (const at of forwards) {
      const forward = site.forwards.find((each) => each.at === at);
      if (forward) regions.push(...regionsOfForward(forward));
    }
    for (const at of rules) {
      const rule = site.reach.find((each) => each.at === at);
      const destinations = rule ? destinationsOf(rule, site) : [];
      if (!destinations) return undefined;
      regions.push(...destinations.flatMap((each) => regionsOfRule(each, site)));
    }
  }
  return apart(regions);
}

const rowAt = (plan: Plan, at: string): Plan['reach'][number] | undefined =>
  plan.reach[Number(at.split('/')[2])];

/** Packets that a forward is about: to the line as the router and as the outside know it. */
const regionsOfForward = ({ line, outside }: Forward): Region[] =>
  line && outside
    ? [line.address, line.publicAddress].map((host) => ({ destination: single(host), ports: outside }))
    : [];

/** The addresses that a rule between networks is about, those behind its neighbours too; undefined where they are not inside. */
function destinationsOf({ to }: Reach, { routes }: Site): AddressRange[] | undefined {
  if (to.kind !== 'network') return undefined;
  if (to.device) return to.device.address ? [single(to.device.address)] : [];
  return routes.flatMap(({ prefix, target }) => (insideOf(target) === to.network ? [rangeOf(prefix)] : []));
}

/** Those packets, and what is turned round to them by a forward. */
const regionsOfRule = (destination: AddressRange, site: Site): Region[] => [
  { destination },
  ...site.forwards
    .filter(({ device }) => device?.address && inRange(destination, device.address))
    .flatMap(regionsOfForward),
];

/** Beyond so many regions everything is computed anew. */
const mostRegions = 400;

/** Regions that do not meet, and together are the same packets; undefined where they are too many to be quick. */
function apart(regions: readonly Region[]): readonly Region[] | undefined {
  if (regions.length > mostRegions) return undefined;
  const found: Region[] = [];
  for (const family of [4, 6] as const) {
    const mine = regions.filter(({ destination }) => destination.family === family);
    const edges = new Set(mine.flatMap(({ destination: { first, last } }) => [first, last + 1n]));
    const starts = [...edges].sort((a, b) => (a < b ? -1 : 1));
    for (const [index, first] of starts.entries()) {
      const next = starts[index + 1];
      const here = mine.filter(({ destination }) => destination.first <= first && first <= destination.last);
      if (next === undefined || here.length === 0) continue;
      const destination = { family, first, last: next - 1n };
      const ports = here.flatMap((each) => each.ports ?? []);
      if (ports.length < here.length) found.push({ destination });
      else found.push(...joinPorts(ports).map((range) => ({ destination, ports: range })));
    }
  }
  return found;
}

function joinPorts(ranges: readonly PortRange[]): PortRange[] {
  const joined: PortRange[] = [];
  for (const range of [...ranges].sort((a, b) => a.first - b.first)) {
    const last = joined.at(-1);
    if (last && range.first <= last.last + 1)
      joined[joined.length - 1] = { first: last.first, last: Math.max(last.last, range.last) };
    else joined.push(range);
  }
  return joined;
}

const holds = ({ destination, ports }: Region, box: PacketBox): boolean =>
  box.destination.family === destination.family &&
  box.destination.first <= destination.last &&
  destination.first <= box.destination.last &&
  (!ports || (box.protocol !== 'icmp' && portsOverlap(box.ports, ports)));

const regionOf = ({ destination, ports, protocol }: PacketBox): Region =>
  protocol === 'icmp' ? { destination } : { destination, ports };

/**
 * What passed, but for these regions, and what passes there now. What arrives in one place by one rule is one row with
 * one example, so that such rows are computed as a whole.
 */
function again(
  known: readonly Passing[],
  regions: readonly Region[] | undefined,
  site: Site,
  sender: Sender,
  down: ReadonlySet<string>,
  router: Router,
): readonly Passing[] {
  if (regions?.length === 0) return known;
  let within = regions;
  let kept = known;
  while (within) {
    const now = within;
    const touched = kept.filter(({ boxes }) => boxes.some((box) => now.some((each) => holds(each, box))));
    if (touched.length > 0) {
      kept = kept.filter((each) => !touched.includes(each));
      within = apart([...now, ...touched.flatMap(({ boxes }) => boxes.map(regionOf))]);
      continue;
    }
    const fresh = exposureOf(site, sender, down, router, now);
    const keys = new Set(fresh.map(({ key }) => key));
    const joined = kept.filter(({ key }) => keys.has(key));
    if (joined.length === 0) return [...kept, ...fresh];
    kept = kept.filter((each) => !joined.includes(each));
    within = apart([...now, ...joined.flatMap(({ boxes }) => boxes.map(regionOf))]);
  }
  return exposureOf(site, sender, down, router);
}
