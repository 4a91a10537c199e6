import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { insideFaults, rehearseInside, type InsideFault } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { Select } from '../../parts/inputs.tsx';

const groups: Readonly<Record<InsideFault['kind'], string>> = {
  run: 'Cables',
  box: 'Boxes',
  loop: 'Loops',
  radar: 'Radar',
};
const verdicts = { nothing: 'good', part: 'doubt', all: 'bad' } as const;

/** Cables, switches and access points, let fail one at a time. */
export default function InsideBench() {
  const site = useSite();
  const faults = useMemo(() => insideFaults(site), [site]);
  const [wanted, setWanted] = useState('');
  const fault = faults.find(({ key }) => key === wanted) ?? faults[0];
  const outcome = useMemo(() => fault && rehearseInside(site, fault), [site, fault]);
  if (!fault || !outcome)
    return (
      <p className="empty">
        No cable, switch or radio is entered yet: they stand on the sheets Wiring and Wi-Fi.
      </p>
    );
  const most = Math.max(...outcome.frames, 1);
  return (
    <section aria-label="LAN fault" className="inside-bench">
      <label className="inside-choice">
        What fails
        <Select className="boxed" value={fault.key} onChange={({ target }) => setWanted(target.value)}>
          {(Object.keys(groups) as InsideFault['kind'][]).map((kind) => {
            const own = faults.filter((each) => each.kind === kind);
            return own.length === 0 ? null : (
              <optgroup key={kind} label={groups[kind]}>
                {own.map(({ key, title }) => (
                  <option key={key} value={key}>
                    {title}
                  </option>
                ))}
              </optgroup>
            );
          })}
        </Select>
      </label>
      <p className={`verdict verdict-${verdicts[outcome.kind]}`} role="status">
        {outcome.says}
      </p>
      {outcome.lost.length > 0 && (
        <>
          <Typography variant="h3">Impact</Typography>
          <ul className="inside-lost">
            {outcome.lost.map((each) => (
              <li key={each}>{each}</li>
            ))}
          </ul>
        </>
      )}
      {outcome.frames.length > 0 && (
        <figure className="storm">
          <figcaption>Copies of one broadcast under way, hop by hop</figcaption>
          <ol>
            {outcome.frames.map((frames, hop) => (
              <li key={hop}>
                <span className="storm-bar" style={{ height: `${(frames / most) * 90}px` }} />
                <span className="mono">{frames}</span>
              </li>
            ))}
          </ol>
        </figure>
      )}
      {outcome.remedy !== '' && <p>{outcome.remedy}</p>}
    </section>
  );
}
