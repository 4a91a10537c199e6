/** Bits of a Mb/s in each unit that people write; B is a byte of eight bits, b a bit (IEC 80000-13). */
const factors: Readonly<Record<string, number>> = { '': 1, k: 1e-3, m: 1, g: 1e3 };

/**
 * A rate in Mb/s from what people write: "20", "20 Mb/s", "2.5 MB/s", "500 kbit/s", "1 Gbps". Undefined where it is no
 * rate; a unit that is half typed counts as far as it goes.
 */
export function rateOf(text: string): number | undefined {
  const found = /^(\d+(?:[.,]\d*)?|[.,]\d+) ?([kmg]?)i?(b|bits?|bytes?)?(?:\/?s|ps|\/)?$/i.exec(text.trim());
  if (!found) return undefined;
  const [, figure, prefix, unit = ''] = found;
  const bytes = unit === 'B' || /^byte/i.test(unit);
  // Twelve digits are more than any rate has, and hide what the computer adds at the end.
  return Number(
    (Number(figure!.replace(',', '.')) * factors[prefix!.toLowerCase()]! * (bytes ? 8 : 1)).toPrecision(12),
  );
}
