import Typography from '@mui/material/Typography';
import { nodeOf } from '../../core/index.ts';
import { useAnalysis } from '../state/analysis.ts';
import { useFocus } from '../state/focus.ts';
import { SeverityMark } from '../parts/severity.tsx';
import type { DrawnPicture } from './use-picture.ts';

/** More findings than this are counted. */
const most = 12;

/** The findings, in the order of the picture, each with the place where it sits. */
export function FindingsLayer({ drawn }: { drawn: DrawnPicture }) {
  const findings = useAnalysis()?.findings.filter(({ severity }) => severity !== 'advice') ?? [];
  const { goTo } = useFocus();
  const titles = new Map(drawn.picture.nodes.map(({ id, title }) => [id, title]));
  if (findings.length === 0)
    return (
      <>
        <Typography variant="h3">No findings</Typography>
        <p className="quiet">
          No blockers or warnings. Advice is on the sheets. Follow a packet, or look at what each network
          reaches.
        </p>
      </>
    );
  return (
    <>
      <Typography variant="h3">
        {findings.length === 1 ? 'One finding' : `${findings.length} findings`}
      </Typography>
      <ul>
        {findings.slice(0, most).map((finding) => {
          const node = nodeOf(drawn.site, finding.at);
          return (
            <li key={`${finding.rule} ${finding.at}`}>
              <SeverityMark severity={finding.severity} />{' '}
              <strong>{node === undefined ? 'The site' : titles.get(drawn.shown(node))}</strong>{' '}
              <button type="button" className="link" onClick={() => goTo(finding.at)}>
                {finding.says}
              </button>
            </li>
          );
        })}
      </ul>
      {findings.length > most && (
        <p className="quiet">and {findings.length - most} more: F8 goes through them.</p>
      )}
    </>
  );
}
