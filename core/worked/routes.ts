import { formatAddress, type Address } from '../net/address.ts';
import { contains, formatPrefix, type Prefix } from '../net/prefix.ts';
import { step, type Worked, worked } from './worked.ts';

/** A row of a small table: a block and where it leads. */
export interface Row {
  readonly prefix: Prefix;
  readonly to: string;
}

/** Which row of a table a packet takes: the longest that holds its destination (RFC 1812 section 5.2.4.3). */
export function routeWorked(table: readonly Row[], destination: Address): Worked {
  const holding = table.filter((row) => contains(row.prefix, destination));
  const best = holding.reduce<Row | undefined>(
    (found, row) => (!found || row.prefix.length > found.prefix.length ? row : found),
    undefined,
  );
  return worked(
    `Route to ${formatAddress(destination)}`,
    best ? best.to : null,
    '',
    [
      ...table.map((row) =>
        step(
          `${formatPrefix(row.prefix)} to ${row.to}`,
          contains(row.prefix, destination) ? `holds it, ${row.prefix.length} bits` : 'does not hold it',
        ),
      ),
      step('longest that holds it', best ? `${formatPrefix(best.prefix)} to ${best.to}` : 'none: no route'),
    ],
    'RFC 1812 section 5.2.4.3',
  );
}
