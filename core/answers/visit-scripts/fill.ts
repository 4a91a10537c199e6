import { formatAddress, sameAddress } from '../../base/net/address.ts';
import { mustNotReach } from '../path/must-not.ts';
import { emptyFields } from '../../intake/readings/fields.ts';
import { judgeValues } from '../../intake/readings/judge.ts';
import { outsideRefusal, sourceRefusal } from '../../intake/readings/outside.ts';
import type { Site } from '../../site/model.ts';
import type { Values } from '../../behaviour/domain-types/reading.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';
import { originOf, type Origin, type Transcript } from './transcript.ts';

/** What a transcript says in the fields of one step. */
export interface Filled {
  readonly step: RunStep;
  readonly values: Values;
  readonly seenFrom: string;
  /** Every field that the step needs is filled, and none of them is bad. */
  readonly complete: boolean;
}

type Fill = (site: Site, step: RunStep, transcript: Transcript, origin: Origin) => Values | undefined;

const idOf = (step: RunStep): string => step.id.split(':')[1] ?? '';

/** A page that opened, or undefined: a name that is found and an answer of the page's own. */
function pageText({ pages, names }: Transcript): string | undefined {
  const opened = pages.find(({ status }) => /^[23]/.test(status));
  return opened && names.every(({ found }) => found) ? `${opened.page} answered ${opened.status}` : undefined;
}

const some = (values: Record<string, string | undefined>): Values | undefined => {
  const known = Object.entries(values).flatMap(([key, value]) =>
    value === undefined || value === '' ? [] : [[key, value] as const],
  );
  return known.length === 0 ? undefined : Object.fromEntries(known);
};

const text = (host: Origin['address']): string | undefined => host && formatAddress(host);

const onLine =
  (fill: (transcript: Transcript) => Record<string, string | undefined>): Fill =>
  (site, step, transcript, { line, network }) =>
    line?.id === idOf(step) && network === site.router.adminNetwork ? some(fill(transcript)) : undefined;

const gap: Fill = (_site, _step, transcript, { address }) =>
  transcript.gap === undefined
    ? undefined
    : some({ from: text(address), gap: String(transcript.gap), outside: text(transcript.outside) });

/** What goes into the fields of which step, by the first part of its id. A step that is not here is typed. */
const fills: Readonly<Record<string, Fill>> = {
  laptop: (_site, _step, { addresses, gateways }, { network }) =>
    network ? undefined : some({ address: text(addresses[0]?.address), gateway: text(gateways[0]) }),
  internet: (_site, step, transcript, { network, address }) => {
    const page = pageText(transcript);
    return network?.id === idOf(step) && page !== undefined ? some({ from: text(address), page }) : undefined;
  },
  apart: (site, step, transcript, { network, address }) => {
    if (!network || network.id !== idOf(step)) return undefined;
    const tried = mustNotReach(site, network).map(({ host, port }) =>
      transcript.ports.find((each) => sameAddress(each.host, host) && each.port === port),
    );
    if (tried.every((each) => each === undefined)) return undefined;
    // Silence proves nothing on a laptop that reaches nothing at all.
    const alive = pageText(transcript) !== undefined || transcript.pings.some(({ received }) => received > 0);
    return some({
      from: text(address),
      ...Object.fromEntries(
        tried.map((each, index) => [
          `pair${index + 1}`,
          each === undefined || (!each.answered && !alive) ? undefined : each.answered ? 'no' : 'yes',
        ]),
      ),
    });
  },
  page: onLine((transcript) => ({
    page: pageText(transcript),
    outside: text(transcript.outside),
    delay: transcript.delayMs === undefined ? undefined : String(transcript.delayMs),
  })),
  standing: onLine((transcript) => ({ outside: text(transcript.outside) })),
  size: onLine(({ sizes }) => {
    const passed = sizes.filter((each) => each.passed).map(({ bytes }) => bytes);
    return { passed: passed.length === 0 ? undefined : String(Math.max(...passed)) };
  }),
  rate: onLine(({ rates }) => ({
    down1: rates.down === undefined ? undefined : String(rates.down),
    up1: rates.up === undefined ? undefined : String(rates.up),
  })),
  pull: gap,
  'brown-out': gap,
  'second-network': gap,
  outside: (site, step, transcript) => portTry(site, step, transcript, true),
  'outside-refused': (site, step, transcript) => portTry(site, step, transcript, false),
};

function portTry(site: Site, step: RunStep, transcript: Transcript, wanted: boolean): Values | undefined {
  const forward = site.forwards.find(({ id }) => id === idOf(step));
  const seen = transcript.ports.find(
    ({ host, port }) =>
      forward?.line && sameAddress(forward.line.publicAddress, host) && forward.outside?.first === port,
  );
  // From where it came decides what it says: an allowed source is to be answered, any other one refused.
  if (!seen || !transcript.outside) return undefined;
  const from = formatAddress(transcript.outside);
  if (outsideRefusal(site, from) !== undefined) return undefined;
  if (sourceRefusal(forward!, from, wanted ? 'answered' : 'refused') !== undefined) return undefined;
  return wanted
    ? seen.answered
      ? { answered: `port ${seen.port} answered` }
      : undefined
    : { answer: seen.answered ? 'no' : 'yes' };
}

/** A paste tells by itself which steps it answers; one that was taken on another network answers none of them. */
export function fillSteps(site: Site, steps: readonly RunStep[], transcript: Transcript): Filled[] {
  const origin = originOf(site, transcript);
  return steps.flatMap((step): Filled[] => {
    const kind = step.id.split(':')[0]!;
    const values = Object.hasOwn(fills, kind) ? fills[kind]!(site, step, transcript, origin) : undefined;
    if (values === undefined) return [];
    const outside = kind.startsWith('outside');
    const wrong = judgeValues(site, step, values).some(({ verdict }) => verdict.kind === 'bad');
    // A gap that was timed elsewhere is not offered at all.
    if (wrong && 'gap' in values && judgeValues(site, step, values).some(({ key }) => key === 'from'))
      return [];
    return [
      {
        step,
        values,
        seenFrom: outside ? (text(transcript.outside) ?? '') : '',
        complete: emptyFields(step.fields, values).length === 0 && !wrong,
      },
    ];
  });
}
