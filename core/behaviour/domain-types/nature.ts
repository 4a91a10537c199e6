import type { Site } from '../../site/model.ts';

/** What kind of work a step is. */
export interface Nature {
  /** Where the hands are: "desk", "cupboard", "router" (its page), "network:ID", "outside"; empty where it does not matter. */
  readonly place: string;
  /** Share of its time that passes by itself. */
  readonly waitShare: number;
  /** What nothing else may use before the wait is over: "router", "line:ID". */
  readonly busy: readonly string[];
  readonly uses: readonly string[];
  /** Steps of one group are finished before another group begins: a line is measured while it alone carries traffic. */
  readonly group: string;
  /** Ids of networks that stand still meanwhile. */
  readonly interrupts: readonly string[];
  /** Id of the line that must carry the default route meanwhile. */
  readonly route: string;
}

type Given = Partial<Nature>;
/** As the author of a step says it; what concerns the whole site is asked of it. Shares are common practice, no source. */
export type StepNature = Given | ((site: Site) => Given);

export const natureOf = (site: Site, nature: StepNature): Nature => ({
  place: '',
  waitShare: 0,
  busy: [],
  uses: [],
  group: '',
  interrupts: [],
  route: '',
  ...(typeof nature === 'function' ? nature(site) : nature),
});

export const atDesk: Given = { place: 'desk' };
export const atCupboard: Given = { place: 'cupboard' };
export const atFarEnd: Given = { place: 'far end' };
export const atAntenna: Given = { place: 'antenna' };
export const inRooms: Given = { place: 'rooms' };
export const withPeople: Given = { place: 'people' };
/** On a page of the router, which goes on meanwhile. */
export const onPage: Given = { place: 'router', uses: ['router'] };
/** The router starts again, and nothing else can be done with it meanwhile. */
export const restarting: Given = { ...onPage, waitShare: 0.8, busy: ['router'] };
/** Somebody else has to answer first. */
export const askedFor: Given = { ...atDesk, waitShare: 0.8 };

interface Named {
  readonly id: string;
}
/** Every line. */
export const linesOf = (site: Site): string[] => site.lines.map(({ id }) => `line:${id}`);
/** The router and every line: what a test needs that is about the whole way. */
export const allOf = (site: Site): string[] => ['router', ...linesOf(site)];
/** Every network stands still. */
export const everybody = (site: Site): string[] => site.networks.map(({ id }) => id);

/** At what the line ends in, which then takes its time to come up. */
export const lineWaits = ({ id }: Named, waitShare: number): Given => ({
  ...atCupboard,
  waitShare,
  busy: [`line:${id}`],
  uses: [`line:${id}`],
});
/** What a line is measured by, while it alone carries the traffic. */
export const overLine = ({ id }: Named): Given => ({
  place: 'router',
  group: `line:${id}`,
  route: id,
  uses: [`line:${id}`],
});
/** A cable is pulled while the line carries the traffic. */
export const pulling =
  ({ id }: Named): StepNature =>
  (site) => ({ ...atCupboard, uses: allOf(site), interrupts: everybody(site), route: id });
export const fromOutside: StepNature = (site) => ({ place: 'outside', uses: allOf(site) });
/** At a second router, all of whose steps come one after another. */
export const atSecond = ({ id }: Named): Given => ({
  place: `second:${id}`,
  uses: [`second:${id}`],
  group: `second:${id}`,
});
