import { formatAddress, type Address } from '../net/address.ts';
import { contains, formatPrefix, type Prefix } from '../net/prefix.ts';
import { step, type Worked, worked } from './worked.ts';

/** A row of a small table: a prefix, where it leads, and its metric. */
export interface Row {
  readonly prefix: Prefix;
  readonly to: string;
  /** The lower one counts between rows of one prefix; 0 where nobody set it. */
  readonly metric: number;
}

/**
 * Which row of a table a packet takes: the longest that holds its destination, of equal ones that of the least metric
 * (RFC 1812 section 5.2.4.3). Where those are equal too the standard leaves the choice to the router.
 */
export function routeWorked(table: readonly Row[], destination: Address): Worked<string | null> {
  const holding = table.filter((row) => contains(row.prefix, destination));
  const longest = Math.max(...holding.map(({ prefix }) => prefix.length));
  const alike = holding.filter(({ prefix }) => prefix.length === longest);
  const least = Math.min(...alike.map(({ metric }) => metric));
  const best = alike.filter(({ metric }) => metric === least);
  const [chosen] = best;
  return worked(
    `Route to ${formatAddress(destination)}`,
    chosen ? chosen.to : null,
    '',
    [
      ...table.map((row) =>
        step(
          `${formatPrefix(row.prefix)} to ${row.to}${row.metric > 0 ? `, metric ${row.metric}` : ''}`,
          contains(row.prefix, destination) ? `holds it, ${row.prefix.length} bits` : 'does not hold it',
        ),
      ),
      ...(alike.length > 1
        ? [
            step(
              'of equal length',
              best.length > 1
                ? `${best.map(({ to }) => to).join(' and ')}, of one metric: any of them`
                : `${chosen!.to} has the least metric`,
            ),
          ]
        : []),
      step(
        'longest that holds it',
        chosen ? `${formatPrefix(chosen.prefix)} to ${chosen.to}` : 'none: no route',
      ),
    ],
    'RFC 1812 section 5.2.4.3',
    best.length > 1
      ? 'Two rows are alike: which one counts differs from router to router, or both share the traffic. Give them metrics.'
      : undefined,
  );
}
