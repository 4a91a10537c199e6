const isEmpty = (value: unknown): boolean =>
  value === '' || value === null || (Array.isArray(value) && value.length === 0);

/** A value of the plan in a table of differences; of a row its values, without its id and what is empty. */
export function valueText(value: unknown): string {
  if (value === undefined) return 'not there';
  if (isEmpty(value)) return 'empty';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value)) return value.map(valueText).join(', ');
  if (typeof value === 'object')
    return Object.entries(value as object)
      .filter(([key, inner]) => key !== 'id' && !isEmpty(inner))
      .map(([, inner]) => valueText(inner))
      .join(', ');
  return String(value);
}
