import { bad, ok, type Result } from '../result.ts';
import { practice, step, type Worked, worked } from '../worked/worked.ts';

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
/** Typical loss of a splitter by its ways (common practice; ITU-T G.671 has the maxima). */
const splitterDb: Readonly<Record<number, number>> = {
  1: 0,
  2: 3.7,
  4: 7.3,
  8: 10.5,
  16: 13.8,
  32: 17.1,
  64: 20.5,
};
/** At most, by TIA-568.3 and ITU-T G.652.D. */
const connectorMaxDb = 0.75;
const spliceMaxDb = 0.3;
const fibreMaxDbPerKm = 0.4;
const connectorTypicalDb = 0.3;
const spliceTypicalDb = 0.1;

export interface OpticalRoute {
  readonly system: string;
  readonly lengthKm: number;
  readonly connectors: number;
  readonly splices: number;
  readonly splitterWays: number;
  /** What the far end sends, where the provider said. */
  readonly sentDbm: number | undefined;
}

export interface OpticalBudget {
  readonly system: OpticalSystem;
  readonly typicalLossDb: number;
  readonly maximumLossDb: number;
  /** Received power that is to be expected, lowest to highest. */
  readonly expectedDbm: readonly [lowest: number, highest: number];
  readonly worked: Worked;
}

const hundredths = (value: number): number => Math.round(value * 100) / 100;

/** What should arrive at the ONT: sent power less the losses of the route, typical and at most. */
export function opticalBudget(route: OpticalRoute): Result<OpticalBudget> {
  const system = opticalSystems.find(({ name }) => name === route.system);
  if (!system)
    return bad(
      'optical-system',
      `"${route.system}" is none of ${opticalSystems.map(({ name }) => name).join(', ')}.`,
    );
  const split = splitterDb[route.splitterWays];
  if (split === undefined)
    return bad(
      'splitter',
      `A splitter has 2, 4, 8, 16, 32 or 64 ways (1 for none), not ${route.splitterWays}.`,
    );
  const perKm = typicalDbPerKm[system.nanometres];
  const typical = hundredths(
    route.lengthKm * perKm + route.connectors * connectorTypicalDb + route.splices * spliceTypicalDb + split,
  );
  const maximum = hundredths(
    route.lengthKm * fibreMaxDbPerKm +
      route.connectors * connectorMaxDb +
      route.splices * spliceMaxDb +
      split * 1.1,
  );
  const sent = route.sentDbm === undefined ? system.sendDbm : ([route.sentDbm, route.sentDbm] as const);
  const expectedDbm = [hundredths(sent[0] - maximum), hundredths(sent[1] - typical)] as const;
  return ok({
    system,
    typicalLossDb: typical,
    maximumLossDb: maximum,
    expectedDbm,
    worked: worked(
      'Loss of the optical route',
      typical,
      'dB',
      [
        step(`${route.lengthKm} km at ${perKm} dB`, hundredths(route.lengthKm * perKm)),
        step(
          `${route.connectors} connectors at ${connectorTypicalDb} dB`,
          hundredths(route.connectors * connectorTypicalDb),
        ),
        step(
          `${route.splices} splices at ${spliceTypicalDb} dB`,
          hundredths(route.splices * spliceTypicalDb),
        ),
        step(route.splitterWays > 1 ? `splitter 1:${route.splitterWays}` : 'no splitter', split),
        step('at the limits of the standards', `${maximum} dB`),
        step('sent', sent[0] === sent[1] ? `${sent[0]} dBm` : `${sent[0]} to ${sent[1]} dBm`),
        step('to be expected', `${expectedDbm[0]} to ${expectedDbm[1]} dBm`),
        step('loss, typical', `${typical} dB`),
      ],
      `${system.source}, ITU-T G.652.D, TIA-568.3; typical values: ${practice}`,
    ),
  });
}

export type OpticalVerdict = 'dark' | 'too-weak' | 'weak' | 'as-expected' | 'strong' | 'overload';

/** A measured power against the window of the system and against what the route should give. */
export function judgeOptical(
  budget: OpticalBudget,
  measuredDbm: number,
): { verdict: OpticalVerdict; says: string } {
  const [lowest, highest] = budget.system.hearDbm;
  const [least, most] = budget.expectedDbm;
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
  if (measuredDbm > most + 1)
    return {
      verdict: 'strong',
      says: `${measuredDbm} dBm is more than this route should let through: the route is shorter, or the splitter smaller, than written here.`,
    };
  return {
    verdict: 'as-expected',
    says: `${measuredDbm} dBm is inside the window and as this route should give it.`,
  };
}
