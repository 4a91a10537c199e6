import { medium } from '../media/index.ts';
import type { Line } from '../../site/model.ts';

/** Loss that a line has by chance where nobody measured it (common practice, no source). */
const usualLossPercent = 0.5;
/** Round trip of a line that nobody measured (common practice, no source). */
const usualDelayMs = 25;

export const lossOf = (line: Line): number => line.failures.measuredLossPercent ?? usualLossPercent;

/** What a packet needs there and back, in milliseconds: measured, else what the medium has been measured to need. */
export const roundTripOf = ({ failures, medium: name, media }: Line): number | null =>
  failures.measuredDelayMs ?? medium(name).roundTripMs?.(media[name]) ?? null;

/** The same, with what is usual where nothing is known. */
export const delayOf = (line: Line): number => roundTripOf(line) ?? usualDelayMs;
