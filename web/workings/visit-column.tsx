import Typography from '@mui/material/Typography';
import { Link } from 'react-router';
import { fallenOf, shortestProof, summaryOf, timeOfDay, timeOfDayText } from '../../core/index.ts';
import { useAnalysis, useSite } from '../state/analysis.ts';
import { usePlan } from '../state/session.ts';
import { useVisit } from '../state/visit.ts';
import { clockText, spanText } from '../state/time.ts';
import '../parts/step.css';

/** What the visit as a whole says: how long, what stands still, what runs, what the others wait for, what fell. */
export function VisitColumn() {
  const site = useSite();
  const plan = usePlan();
  const analysis = useAnalysis();
  const visit = useVisit();
  if (!analysis || !visit) return null;
  const { total, work, outages, noReturn, wayBack } = summaryOf(site, visit.steps);
  const running = visit.left.filter((step) => visit.stateOf(step).timerAt !== undefined);
  const { next } = visit;
  const waiting = next ? visit.left.filter(({ needs }) => needs.includes(next.id)) : [];
  const stale = analysis.accepted.filter((each) => fallenOf(each).length > 0);
  const shortest = shortestProof(stale, visit.steps);
  const begins = timeOfDay(plan.visit.begins);
  const ends = timeOfDay(plan.visit.ends);
  return (
    <>
      <Typography variant="h2">This visit</Typography>
      <dl className="visit-facts">
        <dt>Total time</dt>
        <dd>
          {spanText(...total)}
          {begins !== undefined &&
            `, from ${timeOfDayText(begins)} to ${timeOfDayText(begins + total[0])} at the earliest, ${timeOfDayText(begins + total[1])} at the latest`}
        </dd>
        <dt>Working time</dt>
        <dd>{spanText(...work)}</dd>
        {noReturn && (
          <>
            <dt>Point of no return</dt>
            <dd>
              {noReturn.title}
              {begins !== undefined && `, ${timeOfDayText(begins + noReturn.times.start[0])} or later`}. Going
              back takes {spanText(...wayBack)}
              {ends !== undefined &&
                `: go back at ${timeOfDayText(Math.max(0, ends - wayBack[1]))} at the latest`}
              .
            </dd>
          </>
        )}
      </dl>
      {ends !== undefined && begins !== undefined && begins + total[1] > ends && (
        <p className="note">
          Latest end {timeOfDayText(begins + total[1])}, agreed end {plan.visit.ends}.{' '}
          {begins + total[0] > ends ? 'The earliest end is also too late.' : ''}
        </p>
      )}
      {outages.length > 0 && (
        <>
          <Typography variant="h3">Outages during the visit</Typography>
          <ul className="visit-list">
            {outages.map(({ network, span, during }) => (
              <li key={network.id} title={during.join('; ')}>
                {network.name} <span className="mono">{spanText(...span)}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {running.length > 0 && (
        <>
          <Typography variant="h3">Running</Typography>
          <ul className="visit-list">
            {running.map((step) => (
              <li key={step.id}>
                {step.title} <span className="quiet">since {clockText(visit.stateOf(step).timerAt!)}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {next && (
        <>
          <Typography variant="h3">Next</Typography>
          <p>{next.title}</p>
          {waiting.length > 0 && (
            <p className="quiet">
              Enables:{' '}
              {waiting
                .slice(0, 4)
                .map(({ title }) => title)
                .join('; ')}
              {waiting.length > 4 && `; and ${waiting.length - 4} more`}.
            </p>
          )}
        </>
      )}
      {stale.length > 0 && (
        <>
          <Typography variant="h3">Evidence to redo</Typography>
          <ul className="visit-list">
            {stale.map((each) => (
              <li key={each.promise.id}>
                {each.promise.says} <span className="quiet">{fallenOf(each)[0]!.stale}</span>
              </li>
            ))}
          </ul>
          {shortest.length > 0 && (
            <p>
              Fewest steps to redo: {shortest.map(({ title }) => title).join('; ')}.{' '}
              <Link to="acceptance">Acceptance</Link>
            </p>
          )}
        </>
      )}
    </>
  );
}
