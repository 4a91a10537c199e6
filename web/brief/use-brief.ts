import { useEffect, useState } from 'react';
import type { Answers } from '../../core/index.ts';
import { analysisWorker } from '../state/analysis.ts';
import { today } from '../state/time.ts';
import type { BriefResult } from '../workers/analysis.worker.ts';

/** What comes of a text and the answers so far: computed in its own thread, the last one while the next is computed. */
export function useBrief(
  text: string,
  answers: Answers,
  probes: readonly string[] | undefined,
): (BriefResult & { readonly text: string }) | undefined {
  const [result, setResult] = useState<BriefResult & { readonly text: string }>();
  useEffect(() => {
    if (!probes) return undefined;
    let current = true;
    void analysisWorker()
      .brief(text, answers, probes, today())
      .then(
        (found) => current && setResult({ ...found, text }),
        () => {},
      );
    return () => {
      current = false;
    };
  }, [text, answers, probes]);
  return result;
}
