import { readBrief } from '../../intake/letter/read.ts';
import { compare, type Compared } from './compare.ts';
import { writtenLetter } from './write.ts';

export type Counts = Record<Compared['verdict'], number>;

export interface Tally {
  readonly all: Counts;
  /** By "language: German", "layout: prose", "fact: gateway". */
  readonly by: ReadonlyMap<string, Counts>;
  /** Each fact that was read wrong, with the seed of its letter. */
  readonly wrong: readonly string[];
}

/** Writes letters of the seeds from 0 on, reads each, and counts the facts that were read right, missed and read wrong. */
export function tally(letters: number): Tally {
  const none = (): Counts => ({ right: 0, missed: 0, wrong: 0 });
  const all = none();
  const by = new Map<string, Counts>();
  const wrong: string[] = [];
  for (let seed = 0; seed < letters; seed += 1) {
    const { text, truth, language, shape } = writtenLetter(seed);
    for (const { line, fact, said, read, verdict } of compare(truth, readBrief(text))) {
      all[verdict] += 1;
      for (const key of [`language: ${language}`, `layout: ${shape}`, `fact: ${fact}`]) {
        const counts = by.get(key) ?? none();
        counts[verdict] += 1;
        by.set(key, counts);
      }
      if (verdict === 'wrong')
        wrong.push(
          `letter ${seed}, ${line} line, ${fact}: ${JSON.stringify(said)} was read as ${JSON.stringify(read)}`,
        );
    }
  }
  return { all, by, wrong };
}
