import { bad, ok, type Result } from '../../base/result.ts';
import { equals, figure, practice, shown, step, type Worked, worked } from '../../base/worked/worked.ts';

/** A passive optical system: what its far end sends, and what the ONT can hear. */
export interface OpticalSystem {
  readonly name: string;
  readonly title: string;
  readonly sendDbm: readonly [lowest: number, highest: number];
  readonly hearDbm: readonly [lowest: number, highest: number];
  readonly lossDb: readonly [lowest: number, highest: number];
  /** Downstream wavelength, which decides the loss a kilometre. */
  readonly nanometres: 1490 | 1577;
  readonly source: string;
}

/** From memory, by the standards named. */
export const opticalSystems: readonly OpticalSystem[] = [
  {
    name: 'gpon-b',
    title: 'GPON, class B+',
    sendDbm: [1.5, 5],
    hearDbm: [-27, -8],
    lossDb: [13, 28],
    nanometres: 1490,
    source: 'ITU-T G.984.2 Amd 1',
  },
  {
    name: 'gpon-c',
    title: 'GPON, class C+',
    sendDbm: [3, 7],
    hearDbm: [-30, -8],
    lossDb: [17, 32],
    nanometres: 1490,
    source: 'ITU-T G.984.2 Amd 2',
  },
  {
    name: 'xgs-n1',
    title: 'XGS-PON, class N1',
    sendDbm: [2, 5],
    hearDbm: [-28, -9],
    lossDb: [14, 29],
    nanometres: 1577,
    source: 'ITU-T G.9807.1',
  },
];

/** Typical loss a kilometre at a wavelength (common practice, no source). */
const typicalDbPerKm = { 1490: 0.25, 1577: 0.22 } as const;
/** Ways of one splitter, and its typical loss (common practice). */
const splitterDb: Readonly<Record<number, number>> = {
  2: 3.7,
  4: 7.3,
  8: 10.5,
  16: 13.8,
  32: 17.1,
  64: 20.5,
  128: 23.9,
};
/** Most that a splitter of so many ways may lose: 0.8 + 3.4 log2 N dB (ITU-T G.671, from memory). */
const splitterMaxDb = (ways: number): number => 0.8 + 3.4 * Math.log2(ways);
/** At most, by TIA-568.3 and ITU-T G.652.D. */
const most = { perKmDb: 0.4, connectorDb: 0.75, spliceDb: 0.3 } as const;
const typicalDb = { connector: 0.3, splice: 0.1 } as const;

export interface OpticalRoute {
  readonly system: string;
  readonly lengthKm: number;
  readonly connectors: number;
  readonly splices: number;
  /** Ways of each splitter on the way, one after the other; empty for none. */
  readonly splitters: readonly number[];
  /** What the far end sends, where the provider said. */
  readonly sentDbm: number | undefined;
  /** Losses from data sheets or a measurement, where they are known better than by the usual values. */
  readonly perKmDb?: number;
  readonly connectorDb?: number;
  readonly spliceDb?: number;
  /** Least and most that the receiver takes, where its sheet says otherwise than the class. */
  readonly sensitivityDbm?: number;
  readonly overloadDbm?: number;
}

export interface OpticalBudget {
  readonly system: OpticalSystem;
  readonly typicalLossDb: number;
  readonly maximumLossDb: number;
  /** Received power that is to be expected, lowest to highest. */
  readonly expectedDbm: readonly [lowest: number, highest: number];
  /** How the route stands to the class of the system: within it, or what is wrong. */
  readonly standing: 'fits' | 'too-much' | 'too-little';
  readonly worked: Worked<number>;
}

const hundredths = (value: number): number => Math.round(value * 100) / 100;

/** Splitters of a total ratio, as one: a field that says "1 to 32" is one splitter, or several in a row. */
export const splittersOf = (ways: number): readonly number[] => (ways > 1 ? [ways] : []);

/** What should arrive at the ONT: sent power less the losses of the route, typical and at most. */
export function opticalBudget(route: OpticalRoute): Result<OpticalBudget> {
  const found = opticalSystems.find(({ name }) => name === route.system);
  if (!found)
    return bad(
      'optical-system',
      `"${route.system}" is none of ${opticalSystems.map(({ name }) => name).join(', ')}.`,
      'system',
    );
  const odd = route.splitters.find((ways) => splitterDb[ways] === undefined);
  if (odd !== undefined)
    return bad(
      'splitter',
      `A splitter has 2, 4, 8, 16, 32, 64 or 128 ways, not ${odd}; several in a row are written 4x8, none is 1.`,
      'ways',
    );
  const [least, highest] = found.hearDbm;
  const system: OpticalSystem = {
    ...found,
    hearDbm: [route.sensitivityDbm ?? least, route.overloadDbm ?? highest],
  };
  const usual = {
    perKm: route.perKmDb ?? typicalDbPerKm[system.nanometres],
    connector: route.connectorDb ?? typicalDb.connector,
    splice: route.spliceDb ?? typicalDb.splice,
  };
  const { lengthKm, connectors, splices, splitters } = route;
  const split = splitters.reduce((sum, ways) => sum + splitterDb[ways]!, 0);
  const parts = [
    lengthKm * usual.perKm,
    connectors * usual.connector,
    splices * usual.splice,
    split,
  ] as const;
  const typical = parts.reduce((sum, part) => sum + part, 0);
  const maximum =
    lengthKm * (route.perKmDb ?? most.perKmDb) +
    connectors * (route.connectorDb ?? most.connectorDb) +
    splices * (route.spliceDb ?? most.spliceDb) +
    splitters.reduce((sum, ways) => sum + splitterMaxDb(ways), 0);
  const sent = route.sentDbm === undefined ? system.sendDbm : ([route.sentDbm, route.sentDbm] as const);
  const expectedDbm = [hundredths(sent[0] - maximum), hundredths(sent[1] - typical)] as const;
  const [fewest, mostLoss] = system.lossDb;
  const standing = typical > mostLoss ? 'too-much' : typical < fewest ? 'too-little' : 'fits';
  const sum = parts.map((part) => figure(part, 3)).join(' + ');
  return ok({
    system,
    typicalLossDb: typical,
    maximumLossDb: maximum,
    expectedDbm,
    standing,
    worked: worked(
      'Loss of the optical route',
      typical,
      'dB',
      [
        step('fibre', `${lengthKm} × ${usual.perKm} ${equals(parts[0], 3)} dB`),
        step('connectors', `${connectors} × ${usual.connector} ${equals(parts[1], 3)} dB`),
        step('splices', `${splices} × ${usual.splice} ${equals(parts[2], 3)} dB`),
        step(
          splitters.length > 0 ? `splitter 1:${splitters.join(' and 1:')}` : 'no splitter',
          `${figure(split, 3)} dB`,
        ),
        step('at the limits of the standards', `${figure(maximum, 2)} dB, rounded`),
        step(`${system.title} allows`, `${fewest} to ${mostLoss} dB`),
        step('sent', sent[0] === sent[1] ? `${sent[0]} dBm` : `${sent[0]} to ${sent[1]} dBm`),
        step('to be expected', `${expectedDbm[0]} to ${expectedDbm[1]} dBm, rounded`),
        step('margin above the least it hears', shown(expectedDbm[0] - system.hearDbm[0], 'dB')),
        step('room below overload', shown(system.hearDbm[1] - expectedDbm[1], 'dB')),
        step('loss, typical', `${sum} ${equals(typical, 3)} dB`),
      ],
      `${system.source}, ITU-T G.652.D, G.671, TIA-568.3 (from memory); typical values: ${practice}`,
      standingSays(standing, typical, system),
    ),
  });
}

/** What the loss of a route means for its class; undefined where it is within it. */
function standingSays(
  standing: OpticalBudget['standing'],
  typical: number,
  { title, lossDb: [fewest, mostLoss] }: OpticalSystem,
): string | undefined {
  if (standing === 'too-much')
    return `${figure(typical)} dB are more than the ${mostLoss} dB that ${title} bears: the line will not hold. A better class, a smaller splitter or fewer joints.`;
  return standing === 'too-little'
    ? `${figure(typical)} dB are less than the ${fewest} dB that ${title} needs: an attenuator belongs in.`
    : undefined;
}

export type OpticalVerdict = 'dark' | 'too-weak' | 'weak' | 'as-expected' | 'strong' | 'overload';

/** A measured power against the window of the system and against what the route should give. */
export function judgeOptical(
  budget: OpticalBudget,
  measuredDbm: number,
): { verdict: OpticalVerdict; says: string } {
  const [lowest, highest] = budget.system.hearDbm;
  const [least, highestExpected] = budget.expectedDbm;
  const clean = 'Clean both connectors, then measure again, before you call the provider.';
  if (measuredDbm <= -40)
    return {
      verdict: 'dark',
      says: `${measuredDbm} dBm is darkness: no light arrives. Look for an unplugged or broken fibre; never into it.`,
    };
  if (measuredDbm > highest)
    return {
      verdict: 'overload',
      says: `${measuredDbm} dBm is more than the ONT bears (${highest} dBm): on a short route it needs an attenuator from the provider.`,
    };
  if (measuredDbm < lowest)
    return {
      verdict: 'too-weak',
      says: `${measuredDbm} dBm is below ${lowest} dBm, the least the ONT hears: the line will be off or come and go. ${clean}`,
    };
  if (measuredDbm < least)
    return {
      verdict: 'weak',
      says: `${measuredDbm} dBm is inside the window, yet ${hundredths(least - measuredDbm)} dB less than the worst this route should give: a dirty connector or a tight bend. ${clean}`,
    };
  if (measuredDbm > highestExpected + 1)
    return {
      verdict: 'strong',
      says: `${measuredDbm} dBm is more than this route should let through: the route is shorter, or the splitter smaller, than written here.`,
    };
  return {
    verdict: 'as-expected',
    says: `${measuredDbm} dBm is inside the window and as this route should give it.`,
  };
}
