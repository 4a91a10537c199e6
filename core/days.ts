// Hundreds of people are looked through at every keystroke: a library's strict parser takes too long for that.
const dayMs = 86_400_000;
const at = (day: string): number => Date.parse(`${day}T00:00:00Z`);
const textOf = (time: number): string => new Date(time).toISOString().slice(0, 10);

/** Whether a text is a day of the calendar, as "2027-03-01" (ISO 8601). */
export function isDay(text: string): boolean {
  if (!/^\d{4}-\d\d-\d\d$/.test(text)) return false;
  const time = at(text);
  return !Number.isNaN(time) && textOf(time) === text;
}

/** Days from one to the other; negative where the second comes first. Both must be days. */
export const daysBetween = (from: string, to: string): number => Math.round((at(to) - at(from)) / dayMs);

/** The day so many days later. */
export const dayAfter = (day: string, days: number): string => textOf(at(day) + days * dayMs);
