import { median } from './line.ts';
import { arithmetic, figure, practice, step, type Worked, worked } from './worked.ts';

/** Part of the measured rate to which a line is shaped (common practice, no source). */
const shapedPart = 0.95;

export type Direction = 'down' | 'up';

/** What a line carries in Mb/s: the median of what was measured by cable, else what was sold; null where neither is known. */
export function carriedMbps(
  line: {
    readonly runs: readonly {
      readonly wired: boolean;
      readonly direction: Direction;
      readonly mbps: number | null;
    }[];
    readonly rateDownMbps: number | null;
    readonly rateUpMbps: number | null;
  },
  direction: Direction,
): number | null {
  const runs = line.runs.flatMap((run) =>
    run.wired && run.direction === direction && run.mbps !== null ? [run.mbps] : [],
  );
  if (runs.length > 0) return median(runs);
  return direction === 'down' ? line.rateDownMbps : line.rateUpMbps;
}

/** The rate to which a line is shaped, so that the queue is here, where it is sorted, and not in the modem. */
export function shapedWorked(measuredMbps: number): Worked<number> {
  const value = Math.floor(measuredMbps * shapedPart * 10) / 10;
  return worked(
    'Shape to',
    value,
    'Mb/s',
    [
      step('measured by cable', `${figure(measuredMbps)} Mb/s`),
      step('a little under it', `${figure(measuredMbps)} × ${shapedPart} ≈ ${figure(value)} Mb/s`),
    ],
    `RFC 7567 section 4 (queues belong where they are managed); share: ${practice}`,
    'A queue forms where the way is narrowest. Shaped a little under the rate of the line, that place is this router, which lets calls and small packets past; above it, the modem keeps everything in one long queue. Measure again when the rate changes.',
  );
}

/**
 * What is left of a line when every other network takes what it may.
 * @param others names and limits in Mb/s; null: no limit
 */
export function shareWorked(
  line: string,
  carriesMbps: number,
  others: readonly (readonly [name: string, limitMbps: number | null])[],
): Worked<number> {
  const taken = others.reduce((sum, [, limit]) => sum + (limit ?? carriesMbps), 0);
  const value = Math.max(0, carriesMbps - taken);
  return worked(
    `Left on ${line} at worst`,
    value,
    'Mb/s',
    [
      step(`${line} carries`, `${figure(carriesMbps)} Mb/s`),
      ...others.map(([name, limit]) =>
        step(`- ${name}`, limit === null ? 'everything: no limit' : `${figure(limit)} Mb/s`),
      ),
      step('left', `${figure(value)} Mb/s`),
    ],
    arithmetic,
    'A call takes about 0.1 Mb/s each way (ITU-T G.711 at 20 ms, with its headers), a card payment far less, but neither may wait.',
  );
}
