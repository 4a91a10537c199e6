import type { Field } from './field.ts';
import { fieldAt } from './places.ts';
import { valueAt } from './pointer.ts';

const lowered = (term: string): string =>
  /^[A-Z][a-z]/.test(term) ? term.charAt(0).toLowerCase() + term.slice(1) : term;

/** Whether the value of a field is what the field has when nobody set it. */
function text(field: Field, value: unknown): string | undefined {
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
    const stands = field && text(field, valueAt(plan, at));
    return field && stands !== undefined ? [`${lowered(field.term)} ${stands}`] : [];
  });
  const line = said.join(' · ');
  return line === '' ? 'nothing entered' : line.charAt(0).toUpperCase() + line.slice(1);
}
