import { lowered, type Field, type ReferenceField } from './field.ts';
import { nameOf } from './labels.ts';
import { fieldAt, pointersOf } from './places.ts';
import { valueAt } from './pointer.ts';

/** What people call the row that a reference names; an id says nothing to anybody. */
function namedRow(plan: unknown, { to }: ReferenceField, id: unknown): string {
  for (const at of pointersOf(plan, `${to}/*`)) {
    const row = valueAt(plan, at) as Readonly<Record<string, unknown>>;
    if (row.id === id) return nameOf(row, to.split('/').at(-1)!, 0) || 'one without a name';
  }
  return 'one that is gone';
}

/** A value as its field says it, with its unit; undefined where it says nothing. */
function text(plan: unknown, field: Field, value: unknown): string | undefined {
  switch (field.kind) {
    case 'number': {
      const unit = field.unit === '' ? '' : ` ${field.unit}`;
      if (typeof value === 'number') return `${value}${unit}`;
      return field.usual ? `${field.usual.value}${unit}` : field.emptyMeans;
    }
    case 'switch':
      return value === true ? field.on : field.off;
    case 'choice':
      return field.choices.find(([name]) => name === value)?.[1];
    case 'choices':
      return Array.isArray(value) && value.length > 0
        ? value.map((each) => field.choices.find(([name]) => name === each)?.[1] ?? each).join(', ')
        : undefined;
    case 'list':
      return Array.isArray(value) && value.length > 0 ? value.join(', ') : field.emptyMeans;
    case 'reference':
      return typeof value === 'string' && value !== '' ? namedRow(plan, field, value) : field.emptyMeans;
    case 'references':
      return Array.isArray(value) && value.length > 0
        ? value.map((each) => namedRow(plan, field, each)).join(', ')
        : field.emptyMeans;
    case 'rows':
      return Array.isArray(value) && value.length > 0 ? String(value.length) : 'none';
    default:
      return typeof value === 'string' && value !== '' ? value : undefined;
  }
}

/**
 * What the fields of a plan at these pointers say, in one line: "MTU 1492 bytes · source NAT on". What nobody entered
 * stands with its usual value, or is left out where it has none.
 */
export function figuresText(plan: unknown, places: readonly string[]): string {
  const said = places.flatMap((at) => {
    const field = fieldAt(at);
    const stands = field && text(plan, field, valueAt(plan, at));
    return field && stands !== undefined ? [`${lowered(field.term)} ${stands}`] : [];
  });
  const line = said.join(' · ');
  return line === '' ? 'nothing entered' : line.charAt(0).toUpperCase() + line.slice(1);
}

const isEmpty = (value: unknown): boolean =>
  value === '' || value === null || (Array.isArray(value) && value.length === 0);

/** A value of a plan in a table of changes: a choice by its title, a reference by its name, a row by its values. */
export function valueText(plan: unknown, at: string, value: unknown): string {
  if (value === undefined) return 'not there';
  if (isEmpty(value)) return 'empty';
  const field = fieldAt(at);
  if (field && field.kind !== 'rows') return text(plan, field, value) ?? 'empty';
  if (Array.isArray(value))
    return value.map((each, index) => valueText(plan, `${at}/${index}`, each)).join(', ');
  if (typeof value === 'object')
    return Object.entries(value as object)
      .filter(([key, inner]) => key !== 'id' && !isEmpty(inner))
      .map(([key, inner]) => valueText(plan, `${at}/${key}`, inner))
      .join(', ');
  return String(value);
}
