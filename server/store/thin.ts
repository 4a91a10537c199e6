/** A revision as far as thinning looks at it. */
export interface Kept {
  readonly number: number;
  readonly savedAt: Date;
}

const newestKept = 100;
const mostKept = 2000;
const hour = 3_600_000;
const day = 24 * hour;
/** Hours before the last save of which every save stays. */
const wholeHours = 8;

/**
 * Numbers of revisions that may go: of those beyond the newest hundred and the last eight hours of work, the last of
 * each hour stays for a week and the last of each day after that. The first one, and those that something refers to
 * (a record, a proof, a print, a file), always stay. Ages count back from the newest save and follow the numbers: a
 * clock that was wrong for a while thins nothing that is new.
 */
export function revisionsToDrop(all: readonly Kept[], referred: ReadonlySet<number>): number[] {
  const newestFirst = [...all].sort((a, b) => b.number - a.number);
  const newest = newestFirst[0]?.savedAt.getTime() ?? 0;
  const spans = new Set<string>();
  let at = newest;
  return newestFirst.flatMap(({ number, savedAt }, place) => {
    at = Math.min(at, savedAt.getTime());
    const age = newest - at;
    if (place < newestKept || (age < wholeHours * hour && place < mostKept)) return [];
    const span = age < 7 * day ? `h${Math.floor(at / hour)}` : `d${Math.floor(at / day)}`;
    const last = !spans.has(span);
    spans.add(span);
    return last || number === 1 || referred.has(number) ? [] : [number];
  });
}
