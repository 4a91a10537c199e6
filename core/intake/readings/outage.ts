import { secondsOf } from '../../base/days.ts';
import { bad, ok, type Result } from '../../base/result.ts';
import { counted, pastedLines } from '../../base/text.ts';

/** A stretch without answers in a record of pings. */
export interface Gap {
  /** Seconds since the first line of the record. */
  readonly fromSeconds: number;
  readonly seconds: number;
}

export interface PingRecord {
  readonly answered: number;
  readonly lost: number;
  readonly gaps: readonly Gap[];
  readonly longestGap: number;
  /** What could not be taken for granted while reading. */
  readonly notes: readonly string[];
}

const reply = /bytes from |bytes=\d+|icmp_seq=\d+ .{0,80}time[=<]|ttl=\d+/i;
const silent = /timed? ?out|timeout|unreachable|no answer|general failure|transmit failed|100% packet loss/i;

/** Commands that write a ping with the time of every line, by kind of desktop; 1 s apart. */
export const pingCommands = (address: string): { readonly system: string; readonly command: string }[] => [
  { system: 'a Linux desktop', command: `ping -D -O ${address}` },
  { system: 'a macOS desktop', command: `ping --apple-time ${address}` },
  {
    system: 'a Windows desktop, in PowerShell',
    command: `ping -t ${address} | ForEach-Object { "$(Get-Date -Format o) $_" }`,
  },
];

/** The time in front of a line, in seconds: epoch in brackets, ISO 8601, or a clock. */
function timeOf(line: string): number | undefined {
  const epoch = /^\s*\[(\d{9,11}(?:\.\d+)?)\]/.exec(line);
  if (epoch) return Number(epoch[1]);
  const iso = /^\s*(\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d)(\.\d+)?(Z|[+-]\d\d:\d\d)?/.exec(line);
  if (iso) {
    return secondsOf(`${iso[1]}${iso[2] ?? ''}${iso[3] ?? 'Z'}`);
  }
  const clock = /^\s*(\d\d):(\d\d):(\d\d)(\.\d+)?\s/.exec(line);
  if (clock) {
    const [, hours, minutes, seconds, part] = clock;
    return Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds) + Number(part ?? 0);
  }
  return undefined;
}

/**
 * Reads what a running ping printed while a line was pulled, and finds the gaps. Lines without a time are counted as
 * one second each, by their sequence number where they have one.
 */
export function readPings(text: string): Result<PingRecord> {
  const notes: string[] = [];
  const seen: { at: number; answered: boolean }[] = [];
  let timed = 0;
  let day = 0;
  let before: number | undefined;
  let place = 0;
  for (const line of pastedLines(text)) {
    const lost = silent.test(line);
    if (!lost && !reply.test(line)) continue;
    place += 1;
    const stamp = timeOf(line);
    const sequence = /icmp_seq[= ](\d+)/i.exec(line)?.[1];
    let at: number;
    if (stamp !== undefined) {
      timed += 1;
      // A clock alone begins again at midnight.
      if (before !== undefined && stamp + day < before - 43_200) day += 86_400;
      at = stamp + day;
      before = at;
    } else at = sequence === undefined ? place : Number(sequence);
    seen.push({ at, answered: !lost });
  }
  if (seen.length < 2)
    return bad(
      'no-pings',
      'No lines of a running ping are in there. Paste the whole record, from its first line on.',
    );
  if (timed > 0 && timed < seen.length)
    return bad(
      'mixed-pings',
      `${counted(seen.length - timed, 'line has', 'lines have')} no time in front: paste one record at once.`,
    );
  if (timed === 0) notes.push('No time in front of the lines: each counts as one second.');
  seen.sort((a, b) => a.at - b.at);
  const answers = seen.filter(({ answered }) => answered);
  if (answers.length < 2)
    return bad('no-answers', 'Fewer than two answers are in there: nothing to measure a gap between.');
  const start = seen[0]!.at;
  const steps = answers.slice(1).map((each, index) => each.at - answers[index]!.at);
  const usual = [...steps].sort((a, b) => a - b)[Math.floor(steps.length / 2)]!;
  const gaps = steps.flatMap((seconds, index): Gap[] =>
    seconds > Math.max(1.8 * usual, usual + 0.5)
      ? [
          {
            fromSeconds: round(answers[index]!.at - start),
            seconds: round(seconds - usual),
          },
        ]
      : [],
  );
  if (!seen.at(-1)!.answered)
    notes.push('The record ends while nothing answers: let it run until it is back.');
  return ok({
    answered: answers.length,
    lost: seen.length - answers.length,
    gaps,
    longestGap: Math.max(0, ...gaps.map(({ seconds }) => seconds)),
    notes,
  });
}

const round = (value: number): number => Math.round(value * 10) / 10;

/** The gap that a reading of a pulled line names: "gap 18.4 s", or the number alone. */
export function gapOf(reading: string): number | undefined {
  const match = /(?:gap\D{0,12})?(?<!\d)(\d{1,7}(?:[.,]\d{1,9})?) ?(?:s\b|seconds?\b|$)/i.exec(
    pastedLines(reading).join(' ').trim(),
  );
  return match ? Number(match[1]!.replace(',', '.')) : undefined;
}

/** What stands in the reading of a step after a record was pasted. */
export const gapText = ({ longestGap, gaps, answered, lost }: PingRecord): string =>
  gaps.length === 0
    ? `gap 0 s, ${answered} answers`
    : `gap ${longestGap} s${gaps.length > 1 ? ` (longest of ${gaps.length})` : ''}, ${answered} answers${lost > 0 ? `, ${lost} lost` : ''}`;
