import { bad, ok, type Result } from '../../base/result.ts';
import type { Site } from '../../site/model.ts';
import { slug } from '../../base/text.ts';

/** Something that goes wrong at a time, for a time. */
export interface ScriptedFault {
  readonly kind: FaultKind;
  /** Id of the line; empty for the whole site. */
  readonly line: string;
  readonly atSeconds: number;
  readonly forSeconds: number;
  /** Per cent, milliseconds or seconds, as the kind says; ignored by the others. */
  readonly amount: number;
}

interface KindOfFault {
  readonly kind: string;
  readonly title: string;
  /** What the amount is, and what it mostly is. */
  readonly amount?: { readonly says: string; readonly unit: string; readonly usual: number };
  /** It befalls the whole site, not one line. */
  readonly wholeSite?: true;
}

/** The registry of faults that can be scripted. */
export const faultKinds = [
  { kind: 'pull', title: 'cable pulled' },
  { kind: 'beyond', title: 'no internet past first hop' },
  { kind: 'resolver', title: "the provider's DNS servers fail" },
  { kind: 'loss', title: 'packets are lost', amount: { says: 'loss', unit: '%', usual: 40 } },
  { kind: 'delay', title: 'high latency', amount: { says: 'added delay', unit: 'ms', usual: 1500 } },
  { kind: 'flapping', title: 'line flapping', amount: { says: 'every', unit: 's', usual: 25 } },
  { kind: 'slow', title: 'line is slow', amount: { says: 'of its rate', unit: '%', usual: 3 } },
  { kind: 'session', title: 'power cut in front, old session still open' },
  {
    kind: 'attach-slow',
    title: 'cellular attach takes minutes',
    amount: { says: 'attach', unit: 's', usual: 120 },
  },
  { kind: 'attach-refused', title: 'the line is refused by its network' },
  { kind: 'cap', title: 'the data cap is used up' },
  { kind: 'reboot', title: 'the device in front restarts' },
  { kind: 'restart', title: 'the whole site loses power', wholeSite: true },
] as const satisfies readonly KindOfFault[];

export type FaultKind = (typeof faultKinds)[number]['kind'];

export const faultKind = (kind: FaultKind): KindOfFault => faultKinds.find((each) => each.kind === kind)!;

/** Reads "pull:fibre" or "loss:fibre:40"; a fault of the whole site is "restart". */
export function parseFault(
  site: Site,
  text: string,
  atSeconds: number,
  forSeconds: number,
): Result<ScriptedFault> {
  const [kind = '', name = '', amount] = text.split(':').map((part) => part.trim());
  const known = faultKinds.find((each) => each.kind === kind);
  if (!known)
    return bad(
      'fault',
      `There is no fault "${kind}". Known: ${faultKinds.map((each) => each.kind).join(', ')}.`,
    );
  const { amount: wanted, wholeSite }: KindOfFault = known;
  const line = site.lines.find((each) => each.id === name || slug(each.name) === slug(name));
  if (!wholeSite && !line)
    return bad(
      'unknown-line',
      `"${text}" names no line. Write it like ${kind}:${slug(site.lines[0]?.name ?? 'fibre')}. Lines: ${site.lines.map((each) => slug(each.name)).join(', ') || 'none yet'}.`,
    );
  const size = amount === undefined || amount === '' ? (wanted?.usual ?? 0) : Number(amount);
  if (!Number.isFinite(size) || size < 0)
    return bad('fault', `"${amount}" in "${text}" is not a number of ${wanted?.unit ?? 'anything'}.`);
  return ok({ kind: known.kind, line: wholeSite ? '' : line!.id, atSeconds, forSeconds, amount: size });
}

export function faultText(site: Site, { kind, line, atSeconds, forSeconds, amount }: ScriptedFault): string {
  const { title, amount: wanted } = faultKind(kind);
  const name = site.lines.find(({ id }) => id === line)?.name;
  return `${name === undefined ? '' : `${name}: `}${title}${wanted ? `, ${amount} ${wanted.unit}` : ''}, at ${atSeconds} s for ${forSeconds} s`;
}
