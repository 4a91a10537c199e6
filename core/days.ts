import dayjs from 'dayjs';
import customParseFormat from 'dayjs/plugin/customParseFormat.js';
import utc from 'dayjs/plugin/utc.js';

dayjs.extend(utc);
dayjs.extend(customParseFormat);

const form = 'YYYY-MM-DD';
const at = (day: string): dayjs.Dayjs => dayjs.utc(day, form, true);

/** Whether a text is a day of the calendar, as "2027-03-01" (ISO 8601). */
export const isDay = (text: string): boolean => at(text).isValid();

/** Days from one to the other; negative where the second comes first. Both must be days. */
export const daysBetween = (from: string, to: string): number => at(to).diff(at(from), 'day');

/** The day so many days later. */
export const dayAfter = (day: string, days: number): string => at(day).add(days, 'day').format(form);
