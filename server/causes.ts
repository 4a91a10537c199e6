/** An error and what caused it, outermost first. */
export function causesOf(error: unknown): Error[] {
  const found: Error[] = [];
  for (let each = error; each instanceof Error && found.length < 10; each = each.cause) found.push(each);
  return found;
}
