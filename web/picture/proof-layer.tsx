import Typography from '@mui/material/Typography';
import { useEffect, useMemo } from 'react';
import { Link } from 'react-router';
import { nodeOf } from '../../core/index.ts';
import { useAnalysis } from '../state/analysis.ts';
import { useVisit } from '../state/visit.ts';
import { clockText } from '../state/time.ts';
import type { Laid, Overlay } from './site-picture.tsx';
import type { DrawnPicture } from './use-picture.ts';

/** What is proven on site, by whom, and what is next. */
export function ProofLayer({ drawn, lay }: { drawn: DrawnPicture; lay: (laid: Laid) => void }) {
  const accepted = useAnalysis()?.accepted;
  const visit = useVisit();
  const next = visit?.next;
  const overlays = useMemo(() => {
    const found = new Map<string, { proven: number; all: number }>();
    for (const each of accepted ?? []) {
      const node = nodeOf(drawn.site, each.promise.at);
      if (node === undefined) continue;
      const id = drawn.shown(node);
      const known = found.get(id) ?? { proven: 0, all: 0 };
      found.set(id, { proven: known.proven + (each.accepted ? 1 : 0), all: known.all + 1 });
    }
    const laid = new Map<string, Overlay>();
    for (const [id, { proven, all }] of found)
      laid.set(id, {
        tone: proven === all ? 'good' : proven > 0 ? 'doubt' : 'bad',
        word: proven === all ? 'proven' : `${proven} of ${all} proven`,
      });
    for (const place of next?.interrupts ?? [])
      laid.set(drawn.shown(`network:${place}`), { tone: 'next', word: 'next' });
    return laid;
    // A new picture has new nodes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [accepted, next, drawn.picture]);
  useEffect(() => lay({ overlays }), [lay, overlays]);
  const proven = accepted?.filter((each) => each.accepted) ?? [];
  return (
    <>
      <Typography variant="h3">
        {proven.length} of {accepted?.length ?? 0} proven
      </Typography>
      {next && (
        <p>
          Next: <Link to="../run-sheet">{next.title}</Link>
        </p>
      )}
      <ul>
        {(accepted ?? []).slice(0, 20).map(({ promise, accepted: done, best, missing }) => (
          <li key={promise.id}>
            {promise.says}{' '}
            <span className="quiet">
              {done && best
                ? `proven by ${best.record.initials}, ${clockText(best.record.at)}`
                : `open: ${missing}`}
            </span>
          </li>
        ))}
      </ul>
      <Link to="../acceptance">Acceptance</Link>
    </>
  );
}
