import type { RunStep } from '../../behaviour/domain-types/step.ts';
import type { Accepted } from './judge.ts';

const most = 200_000;

/**
 * The least work by which everything that is still open is proven: a smallest set of steps, and of those of equal
 * number the quickest. What only one step can prove is taken first; the rest is searched, and left to the first
 * choice after so many tries. What no step proves is left out.
 */
export function shortestProof(accepted: readonly Accepted[], steps: readonly RunStep[]): RunStep[] {
  const wanted = new Map<string, RunStep[]>();
  for (const { promise, open } of accepted)
    for (const rung of open) {
      const able = steps.filter(({ evidence }) =>
        evidence.some((each) => each.promise === promise.id && each.rung === rung),
      );
      if (able.length > 0) wanted.set(`${promise.id} ${rung}`, able);
    }
  const chosen = new Set<RunStep>();
  const uncovered = (): RunStep[][] =>
    [...wanted.values()].filter((able) => !able.some((step) => chosen.has(step)));
  for (const able of wanted.values()) if (able.length === 1) chosen.add(able[0]!);
  const cost = (set: ReadonlySet<RunStep>): number =>
    // A step more is a walk more: the number counts before the minutes.
    set.size * 1e6 + [...set].reduce((sum, { highSeconds }) => sum + highSeconds, 0);
  let best: ReadonlySet<RunStep> | undefined;
  let tries = 0;
  const search = (): void => {
    tries += 1;
    if (tries > most || (best && cost(chosen) >= cost(best))) return;
    const [first] = uncovered().sort((a, b) => a.length - b.length);
    if (!first) {
      best = new Set(chosen);
      return;
    }
    for (const step of first) {
      chosen.add(step);
      search();
      chosen.delete(step);
    }
  };
  search();
  return steps.filter((step) => best?.has(step));
}
