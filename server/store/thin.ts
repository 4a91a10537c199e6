/** A revision as far as thinning looks at it. */
export interface Kept {
  readonly number: number;
  readonly savedAt: Date;
}

const newestKept = 100;
const hour = 3_600_000;
const day = 24 * hour;

/**
 * Numbers of revisions that may go: of those beyond the newest hundred, the last of each hour stays for a week and
 * the last of each day after that. The first one, and those that records refer to, always stay.
 */
export function revisionsToDrop(all: readonly Kept[], referred: ReadonlySet<number>, now: Date): number[] {
  const newestFirst = [...all].sort((a, b) => b.number - a.number);
  const spans = new Set<string>();
  return newestFirst.slice(newestKept).flatMap(({ number, savedAt }) => {
    const age = now.getTime() - savedAt.getTime();
    const span =
      age < 7 * day ? `h${Math.floor(savedAt.getTime() / hour)}` : `d${Math.floor(savedAt.getTime() / day)}`;
    const first = !spans.has(span);
    spans.add(span);
    return first || number === 1 || referred.has(number) ? [] : [number];
  });
}
