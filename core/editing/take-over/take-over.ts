import { valueAt } from '../../plan/pointer.ts';
import { labelAt } from '../../plan/labels.ts';
import type { Patch } from '../../plan/patch.ts';
import type { Plan } from '../../plan/schema.ts';
import { valueOf } from '../../base/result.ts';
import type { Line, Site } from '../../site/model.ts';
import type { Values } from '../../behaviour/domain-types/reading.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';
import { judgeValue, readValue } from '../../intake/readings/fields.ts';

/** A figure that was measured, as a change of the plan. */
export interface TakeOver {
  readonly says: string;
  readonly patch: Patch;
}

/** The value as the field of the plan holds it: a number where a number stands, text else. */
function planValue(before: unknown, value: string | number, plus: number): unknown {
  if (typeof value === 'number') return value + plus;
  return typeof before === 'number' ? Number(value) : value;
}

/** Runs of a throughput test become rows of the uplink's measured rates. */
function runsOf(plan: Plan, line: Line, step: Pick<RunStep, 'fields'>, values: Values): TakeOver[] {
  const rows = step.fields.flatMap((field) => {
    const value = valueOf(readValue(field, values[field.key] ?? ''));
    const direction = /^(down|up)\d$/.exec(field.key)?.[1];
    return typeof value === 'number' && direction ? [{ direction, mbps: value }] : [];
  });
  const before = (valueAt(plan, `${line.at}/runs`) ?? []) as readonly { readonly id: string }[];
  if (rows.length === 0) return [];
  const free = (index: number): string => {
    let number = before.length + index + 1;
    while (before.some(({ id }) => id === `run-${number}`)) number += rows.length;
    return `run-${number}`;
  };
  return [
    {
      says: `Add ${rows.length === 1 ? 'this run' : `these ${rows.length} runs`} to the measured rates of ${line.name}`,
      patch: rows.map((row, index) => ({
        op: 'add',
        path: `${line.at}/runs/-`,
        value: { id: free(index), ...row, wired: true, hour: null },
      })),
    },
  ];
}

/**
 * What a step measured, as changes of the plan: no figure is typed twice. Nothing where the plan says the same, or
 * where a figure cannot be read.
 */
export function takeOvers(
  plan: Plan,
  site: Site,
  step: Pick<RunStep, 'id' | 'fields'>,
  values: Values,
): TakeOver[] {
  const [kind, id] = step.id.split(':');
  const line = site.lines.find((each) => each.id === id);
  const single = step.fields.flatMap((field): TakeOver[] => {
    const read = readValue(field, values[field.key] ?? '');
    if (field.at === undefined || !read.ok || judgeValue(field, values[field.key] ?? '')) return [];
    const before = valueAt(plan, field.at);
    const value = planValue(before, read.value, field.plus ?? 0);
    if (before === undefined || before === value) return [];
    const empty = before === null || before === '';
    return [
      {
        says: `${empty ? 'Enter' : 'Change'} ${labelAt(plan, field.at)}${empty ? '' : ` from ${String(before)}`}${empty ? ': ' : ' to '}${String(value)}`,
        patch: [{ op: 'replace', path: field.at, value }],
      },
    ];
  });
  return [...single, ...(kind === 'rate' && line ? runsOf(plan, line, step, values) : [])];
}
