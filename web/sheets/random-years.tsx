import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { proxy } from 'comlink';
import { useRef, useState } from 'react';
import { outageClasses, type YearsResult } from '../../core/index.ts';
import { analysisWorker, useSite } from '../app/analysis.ts';
import { Select } from '../parts/inputs.tsx';

const count = 10_000;
const classWords = ['15 s', '45 s', '2 min', '10 min', '1 h', '6 h', 'longer'];
const rounded = (value: number, places = 1): number => Number(value.toFixed(places));

/** Ten thousand years of random failures for one promise, drawn in a thread of its own. */
export function RandomYears() {
  const { promises } = useSite().failover;
  const [chosen, setChosen] = useState('');
  const [done, setDone] = useState<number>();
  const [result, setResult] = useState<YearsResult>();
  const stop = useRef(false);
  if (promises.length === 0) return null;
  const promise = promises.find(({ id }) => id === chosen) ?? promises[0]!;
  const draw = async (): Promise<void> => {
    stop.current = false;
    setDone(0);
    const drawn = await analysisWorker().years(
      promise.id,
      count,
      1,
      proxy(async (share: number) => {
        setDone(share);
        return Promise.resolve(!stop.current);
      }),
    );
    setDone(undefined);
    if (drawn) setResult(drawn);
  };
  return (
    <section aria-labelledby="random-years">
      <Typography variant="h3" id="random-years">
        Availability over random years
      </Typography>
      <div className="row-actions">
        <Select
          className="boxed"
          aria-label="Promise"
          value={promise.id}
          onChange={({ target }) => setChosen(target.value)}
        >
          {promises.map(({ id, says }) => (
            <option key={id} value={id}>
              {says}
            </option>
          ))}
        </Select>
        {done === undefined ? (
          <Button variant="contained" onClick={() => void draw()}>
            Draw {count} years
          </Button>
        ) : (
          <>
            <progress max={1} value={done} aria-label="Years drawn" />
            <Button
              onClick={() => {
                stop.current = true;
              }}
            >
              Stop
            </Button>
          </>
        )}
      </div>
      {result && <Years result={result} />}
    </section>
  );
}

function Years({ result }: { result: YearsResult }) {
  const most = Math.max(1, ...result.classes);
  return (
    <div className="years">
      <p role="status">
        <strong>{rounded(result.kept * 100)} %</strong> of the {result.outages} outages stay within{' '}
        {result.withinSeconds} s. {rounded(result.outageMinutesPerYear)} minutes are lost in a year on
        average, no more than {rounded(result.outageMinutesInBadYear)} in 95 years of 100. Some line works{' '}
        <span className="mono">{(result.availability * 100).toFixed(4)} %</span> of the time; the closed form
        (IEC 61078) says <span className="mono">{(result.availabilityComputed * 100).toFixed(4)} %</span>.
      </p>
      <div className="years-both">
        <figure>
          <figcaption className="quiet">Outages by length</figcaption>
          <ol className="bars">
            {result.classes.map((outages, index) => (
              <li
                key={classWords[index]}
                className={outageClasses[index]! <= result.withinSeconds ? 'within' : ''}
              >
                <span>{index === classWords.length - 1 ? 'longer' : `up to ${classWords[index]}`}</span>
                <span className="bar">
                  <span style={{ width: `${(outages / most) * 100}%` }} />
                </span>
                <span className="mono">{rounded((outages / Math.max(1, result.outages)) * 100)} %</span>
              </li>
            ))}
          </ol>
        </figure>
        <dl>
          <dt>Over the backup</dt>
          <dd className="mono">{rounded(result.backupGigabytesPerMonth, 2)} GB a month</dd>
          <dt>Months beyond the cap</dt>
          <dd className="mono">{rounded(result.monthsBeyondCap * 100, 2)} %</dd>
          <dt>Cost beyond the cap</dt>
          <dd className="mono">{rounded(result.costPerYear, 2)} a year</dd>
          {result.rates.map((rate) => (
            <div key={rate.name}>
              <dt>{rate.name}</dt>
              <dd>
                <span className="mono">{rate.perYear}</span> a year,{' '}
                <span className="mono">{rate.repairHours}</span> h each{' '}
                <span className="quiet">{rate.own ? 'by the plan' : 'typical, common practice'}</span>
              </dd>
            </div>
          ))}
        </dl>
      </div>
    </div>
  );
}
