/** A clock of a zone at one moment: minutes east of UTC, and its abbreviation. */
interface Clock {
  readonly minutes: number;
  readonly name: string;
}

const hourMs = 3_600_000;

function clockOf(zone: string): ((time: number) => Clock) | undefined {
  try {
    const format = (style: 'longOffset' | 'short') =>
      new Intl.DateTimeFormat('en-GB', { timeZone: zone, timeZoneName: style });
    const [offset, short] = [format('longOffset'), format('short')];
    const part = (each: Intl.DateTimeFormat, time: number): string =>
      each.formatToParts(time).find(({ type }) => type === 'timeZoneName')?.value ?? '';
    return (time) => {
      const found = /([+-])(\d\d):(\d\d)/.exec(part(offset, time));
      const minutes = found ? (found[1] === '-' ? -1 : 1) * (Number(found[2]) * 60 + Number(found[3])) : 0;
      const name = part(short, time);
      return { minutes, name: /^[A-Za-z]{3,6}$/.test(name) ? name : numbered(minutes) };
    };
  } catch {
    return undefined;
  }
}

/** A zone without letters of its own is called by its offset: "<+0530>". */
function numbered(minutes: number): string {
  const all = Math.abs(minutes);
  const rest = all % 60 === 0 ? '' : String(all % 60).padStart(2, '0');
  return `<${minutes < 0 ? '-' : '+'}${String(Math.floor(all / 60)).padStart(2, '0')}${rest}>`;
}

/** Hours west of UTC, as POSIX counts: "-1", "3:30". */
function west(minutes: number): string {
  const all = Math.abs(minutes);
  const text = `${Math.floor(all / 60)}${all % 60 === 0 ? '' : `:${String(all % 60).padStart(2, '0')}`}`;
  return minutes > 0 ? `-${text}` : text;
}

/** A change of the clock: when, and what it was before and is afterwards. */
interface Change {
  readonly time: number;
  readonly before: Clock;
  readonly after: Clock;
}

/** Changes of a year, to the minute. */
function changesIn(clock: (time: number) => Clock, year: number): Change[] {
  const found: Change[] = [];
  const end = Date.UTC(year + 1, 0, 1);
  const step = 24 * hourMs;
  let low = Date.UTC(year, 0, 1);
  let before = clock(low);
  for (let time = low + step; time <= end; time += step) {
    const after = clock(time);
    if (after.minutes !== before.minutes || after.name !== before.name) {
      let [from, to] = [low, time];
      while (to - from > 60_000) {
        const middle = Math.floor((from + to) / 2 / 60_000) * 60_000;
        if (middle <= from) break;
        const there = clock(middle);
        if (there.minutes === before.minutes && there.name === before.name) from = middle;
        else to = middle;
      }
      found.push({ time: to, before, after });
    }
    low = time;
    before = after;
  }
  return found;
}

/** "M3.5.0": month, week (5 is the last), day of the week, on the clock that was in force; with the hour where it is not 2. */
function ruleOf({ time, before }: Change, last: boolean): string {
  const local = new Date(time + before.minutes * 60_000);
  const day = local.getUTCDate();
  const week = last ? 5 : Math.ceil(day / 7);
  const seconds = local.getUTCHours() * 3600 + local.getUTCMinutes() * 60;
  const at =
    seconds === 7200
      ? ''
      : `/${Math.floor(seconds / 3600)}${seconds % 3600 === 0 ? '' : `:${String((seconds % 3600) / 60).padStart(2, '0')}`}`;
  return `M${local.getUTCMonth() + 1}.${week}.${local.getUTCDay()}${at}`;
}

const daysInMonth = (time: number): number => {
  const date = new Date(time);
  return new Date(Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + 1, 0)).getUTCDate();
};

/** Whether a change of every one of these years falls into the last week of its month. */
const inLastWeek = (changes: readonly Change[]): boolean =>
  changes.every(({ time, before }) => {
    const local = time + before.minutes * 60_000;
    return new Date(local).getUTCDate() > daysInMonth(local) - 7;
  });

/**
 * A zone as boxes without a time-zone database want it: "CET-1CEST,M3.5.0,M10.5.0/3" (POSIX.1-2017, section 8.3, TZ).
 * Undefined where the platform does not know the zone, or where its changes follow no such rule in these years.
 */
export function posixZone(zone: string, year: number): string | undefined {
  const clock = clockOf(zone);
  if (!clock) return undefined;
  const years = [0, 1, 2, 3, 4, 5].map((more) => changesIn(clock, year + more));
  const [first] = years;
  if (first!.length === 0 && years.every((changes) => changes.length === 0)) {
    const now = clock(Date.UTC(year, 0, 1));
    return `${now.name}${west(now.minutes)}`;
  }
  if (!years.every((changes) => changes.length === 2)) return undefined;
  const rules = [0, 1].map((which) => {
    const all = years.map((changes) => changes[which]!);
    const last = inLastWeek(all);
    const written = new Set(all.map((change) => ruleOf(change, last)));
    return written.size === 1 ? { change: all[0]!, rule: [...written][0]! } : undefined;
  });
  const [one, two] = rules;
  if (!one || !two) return undefined;
  // The clock is ahead in summer; in the south the year begins with it.
  const [begin, over] = one.change.after.minutes > one.change.before.minutes ? [one, two] : [two, one];
  const [standard, summer] = [begin.change.before, begin.change.after];
  const ahead = summer.minutes - standard.minutes === 60 ? '' : west(summer.minutes);
  return `${standard.name}${west(standard.minutes)}${summer.name}${ahead},${begin.rule},${over.rule}`;
}
