import { useEffect, useState } from 'react';
import type { Plan, ReachChange } from '../../core/index.ts';
import { analysisWorker } from '../state/analysis.ts';
import './reach-changes.css';

/** Sentences that are shown; the rest are counted. */
const most = 12;

/** What one plan opens and closes beside another, in sentences. */
export function ReachChanges({ before, after }: { before: Plan; after: Plan }) {
  const [changes, setChanges] = useState<readonly ReachChange[]>();
  useEffect(() => {
    let current = true;
    setChanges(undefined);
    void analysisWorker()
      .compareReach(before, after)
      .then(
        (found) => current && setChanges(found),
        () => {},
      );
    return () => {
      current = false;
    };
  }, [before, after]);
  if (!changes) return null;
  if (changes.length === 0) return <p className="quiet">It opens nothing and closes nothing.</p>;
  return (
    <ul className="reach-changes" aria-label="What it opens and closes">
      {changes.slice(0, most).map(({ kind, says }) => (
        <li key={says} className={`reach-${kind}`}>
          This {says}.
        </li>
      ))}
      {changes.length > most && <li>And {changes.length - most} more.</li>}
    </ul>
  );
}
