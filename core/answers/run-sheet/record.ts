import * as z from 'zod';
import { valuesFromText } from '../../intake/readings/fields.ts';
import type { Values } from '../../behaviour/domain-types/reading.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';
import { rungIds } from '../../behaviour/domain-types/rungs.ts';
import { lineText, manyLines, isLine } from '../../base/text.ts';

const few = (values: Readonly<Record<string, unknown>>): boolean => Object.keys(values).length <= 60;

/**
 * Something that was done or seen on site. Records are only ever added: an untick is a record too, so that the
 * history of the day stays whole.
 */
export const recordInputSchema = z.strictObject({
  /** A waiver lets a bad reading be: its subject is the number of the record, its reading the reason. */
  kind: z.enum(['tick', 'untick', 'timer', 'evidence', 'waive']),
  /** Id of the step, or of the promise for evidence given on its own. */
  subject: lineText(120).min(1),
  initials: z
    .string()
    .trim()
    .min(1, 'initials say who did it')
    .max(8)
    .refine(isLine, 'initials are one line'),
  reading: manyLines(2000).default(''),
  /** What was typed into the fields of the step, by their keys. */
  values: z.record(lineText(40), manyLines(500)).refine(few, 'a step has 60 fields at most').optional(),
  /** Hashes of the parts of the plan that it proves, as they were when it was seen. */
  parts: z
    .record(lineText(160), lineText(64))
    .refine((parts) => Object.keys(parts).length <= 5000)
    .optional(),
  rung: z.enum(rungIds).optional(),
  /** Address from which a test from outside was made, as the other end saw it. */
  seenFrom: lineText(64).default(''),
  /** When it was seen, where the record could not be kept at once (ISO 8601, UTC). */
  at: z.iso.datetime().optional(),
  /** Revision of the plan on which it was done. */
  revision: z
    .number()
    .int()
    .min(0)
    .max(2 ** 31 - 1),
});

export type RecordInput = z.output<typeof recordInputSchema>;

export interface SiteRecord extends Omit<RecordInput, 'at'> {
  readonly id: number;
  /** ISO 8601, UTC. */
  readonly at: string;
}

/** What a record says in the fields of its step; a text of before there were fields is laid out over them. */
export const valuesOf = (
  step: Pick<RunStep, 'fields'>,
  { values, reading }: Pick<SiteRecord, 'values' | 'reading'>,
): Values => (Object.keys(values ?? {}).length > 0 ? values! : valuesFromText(step.fields, reading));

export interface StepState {
  readonly done: boolean;
  /** The tick or untick that counts, and all that went before it. */
  readonly last: SiteRecord | undefined;
  readonly history: readonly SiteRecord[];
  /** When the step's timer was last started, while the step is not done. */
  readonly timerAt: string | undefined;
}

/** State of every step that has records. The latest tick or untick counts. */
export function stepStates(records: readonly SiteRecord[]): Map<string, StepState> {
  const states = new Map<string, StepState>();
  for (const record of records) {
    if (record.kind === 'evidence' || record.kind === 'waive') continue;
    const before = states.get(record.subject);
    const history = [...(before?.history ?? []), record];
    if (record.kind === 'timer')
      states.set(record.subject, {
        done: before?.done ?? false,
        last: before?.last,
        history,
        timerAt: record.at,
      });
    else
      states.set(record.subject, { done: record.kind === 'tick', last: record, history, timerAt: undefined });
  }
  return states;
}
