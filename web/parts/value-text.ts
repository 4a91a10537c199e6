/** A value of the plan in a table of differences. */
export const valueText = (value: unknown): string => {
  if (value === undefined) return 'not there';
  if (value === '' || value === null) return 'empty';
  return typeof value === 'string' ? value : JSON.stringify(value);
};
