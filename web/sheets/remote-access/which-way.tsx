import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { rankWays, wayTitles, type RankedWay } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { Field } from '../../parts/field.tsx';
import { Select } from '../../parts/inputs.tsx';

/** The ways in with what speaks for and against each, as on most days and while the first line is down. */
export function WhichWay() {
  const session = useSession();
  const site = useSite();
  const way = usePlanPiece((plan) => plan.vpn.way);
  const [failed, setFailed] = useState(false);
  const first = site.lines[0];
  const ranked = rankWays(site, new Set(failed && first ? [first.id] : []));
  const choose = (next: string): void => {
    session.edit('/vpn/way', next);
    session.settle();
  };
  return (
    <section aria-labelledby="way" data-at="/vpn/way" tabIndex={-1}>
      <Typography variant="h3" id="way">
        Remote-access method
      </Typography>
      <div className="ledger">
        <Field at="/vpn/outsideService" />
        <Field at="/vpn/encryptionMbps" />
        <Field at="/vpn/protocols" />
        {site.lines.length > 1 && first && (
          <label className="field">
            <span className="field-label">Ranked</span>
            <Select
              aria-label="Ranked"
              value={failed ? 'down' : 'up'}
              onChange={({ target }) => setFailed(target.value === 'down')}
            >
              <option value="up">with every line up</option>
              <option value="down">while {first.name} is down</option>
            </Select>
          </label>
        )}
      </div>
      <details className="ways-all" open={way === 'none' || failed}>
        <summary>
          {way === 'none' ? 'Methods, best first' : `All methods, best first: ${ranked[0]!.title} fits best`}
        </summary>
        {site.lines.length === 0 && (
          <p className="empty">
            Whether anybody outside can call the site decides the way in, and there is no line yet: settle the
            Uplinks sheet first.
          </p>
        )}
        <ol className="ways" aria-label="Remote-access methods, best first">
          {ranked.map((each) => (
            <li key={each.way} className={each.fits || !each.known ? '' : 'way-unfit'}>
              <div>
                <strong>{each.title}</strong> <Fit way={each} />
                <p>{each.reasons.join(' ')}</p>
              </div>
              {way === each.way ? (
                <span className="chosen-way">chosen</span>
              ) : (
                each.way !== 'dated' && (
                  <Button onClick={() => choose(each.way)} aria-label={`Choose: ${each.title}`}>
                    Choose
                  </Button>
                )
              )}
            </li>
          ))}
        </ol>
      </details>
      {way !== 'none' && (
        <div className="row-actions">
          <span>
            <strong>{wayTitles[way]}</strong>.{' '}
            {ranked
              .find((each) => each.way === way)
              ?.reasons.slice(0, 2)
              .join(' ')}
          </span>
          <Button onClick={() => choose('none')}>No remote access</Button>
        </div>
      )}
    </section>
  );
}

function Fit({ way: { fits, known } }: { way: RankedWay }) {
  if (!known) return <span className="verdict-doubt">not known yet</span>;
  return <span className={fits ? 'verdict-good' : 'verdict-bad'}>{fits ? 'fits' : 'does not fit'}</span>;
}
