import { bad, ok, type Result } from './result.ts';

// Hundreds of people are looked through at every keystroke: a library's strict parser takes too long for that.
const dayMs = 86_400_000;
const at = (day: string): number => {
  const [year, month, date] = day.split('-').map(Number);
  return Date.UTC(year!, month! - 1, date);
};
const textOf = (time: number): string => new Date(time).toISOString().slice(0, 10);

/** Whether a text is a day of the calendar, as "2027-03-01" (ISO 8601). */
export function isDay(text: string): boolean {
  if (!/^\d{4}-\d\d-\d\d$/.test(text)) return false;
  const [month, date] = [Number(text.slice(5, 7)), Number(text.slice(8))];
  // Every month has 28 days; for the others the calendar is asked.
  return month >= 1 && month <= 12 && date >= 1 && (date <= 28 || textOf(at(text)) === text);
}

/** Reads a day. */
export const parseDay = (text: string): Result<string> =>
  isDay(text.trim())
    ? ok(text.trim())
    : bad('date', `"${text.trim()}" is not a date; write it as 2027-03-01.`);

/** Reads a day, or a day with a time. */
export const parseMoment = (text: string): Result<string> =>
  isDay(text.trim()) || secondsOf(text) !== undefined
    ? ok(text.trim())
    : bad('date', `"${text.trim()}" is not a date; write it as 2027-03-01, or as 2027-03-01T09:30.`);

/** Reads a time of day. */
export const parseClock = (text: string): Result<string> =>
  /^(?:[01]\d|2[0-3]):[0-5]\d$/.test(text.trim())
    ? ok(text.trim())
    : bad('clock', `"${text.trim()}" is not a time of day; write it as 09:00.`);

/** The day of the calendar on which a moment is, by the clock of this machine: where the work is done, not in UTC. */
export const dayOf = (moment: Date): string =>
  [moment.getFullYear(), moment.getMonth() + 1, moment.getDate()]
    .map((part, index) => String(part).padStart(index === 0 ? 4 : 2, '0'))
    .join('-');

/** Days from one to the other; negative where the second comes first. Both must be days. */
export const daysBetween = (from: string, to: string): number => Math.round((at(to) - at(from)) / dayMs);

/** The day so many days later. */
export const dayAfter = (day: string, days: number): string => textOf(at(day) + days * dayMs);

const moment = /^(\d{4}-\d\d-\d\d)[T ](\d\d):(\d\d)(?::(\d\d)(\.\d{1,9})?)?(?:(Z)|([+-])(\d\d):?(\d\d))?$/;

/**
 * Seconds since 1970 of a moment (ISO 8601, RFC 3339); without a zone it is taken as UTC, on every machine alike.
 * Undefined where the text is none.
 */
export function secondsOf(text: string): number | undefined {
  const found = moment.exec(text.trim());
  if (!found || !isDay(found[1]!)) return undefined;
  const [, day, hours, minutes, seconds = '0', part = '0', , sign, offsetHours = '0', offsetMinutes = '0'] =
    found;
  if (Number(hours) > 23 || Number(minutes) > 59 || Number(seconds) > 60) return undefined;
  const offset = (Number(offsetHours) * 60 + Number(offsetMinutes)) * 60 * (sign === '-' ? -1 : 1);
  return (
    at(day!) / 1000 + Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds) + Number(part) - offset
  );
}
