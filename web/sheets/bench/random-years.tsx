import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { proxy } from 'comlink';
import { useRef, useState } from 'react';
import { outageClasses, type YearsResult } from '../../../core/index.ts';
import { analysisWorker, useSite } from '../../state/analysis.ts';
import { Select } from '../../parts/inputs.tsx';
import '../../parts/ruler.css';

const count = 10_000;
const classWords = ['15 s', '45 s', '2 min', '10 min', '1 h', '6 h', 'longer'];
const rounded = (value: number, places = 1): number => Number(value.toFixed(places));

/** Ten thousand years of random failures for one promise, drawn in a thread of its own. */
export default function RandomYears() {
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
        average, no more than {rounded(result.outageMinutesSpread[4]!)} in 95 years of 100. Some line works{' '}
        <span className="mono">{(result.availability * 100).toFixed(4)} %</span> of the time; the closed form
        (IEC 61078) says <span className="mono">{(result.availabilityComputed * 100).toFixed(4)} %</span>.
      </p>
      <Spread minutes={result.outageMinutesSpread} average={result.outageMinutesPerYear} />
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

/** Widths of the drawing and of its margins, in its own units. */
const width = 700;
const marks = [0, 1, 3, 10, 30, 100, 300, 1000, 3000, 10_000, 30_000, 100_000, 525_600];

/** How differently the years go: the middle half as a box, ninety of a hundred between the whiskers. */
function Spread({ minutes, average }: { minutes: readonly number[]; average: number }) {
  const [least, lower, middle, upper, most] = minutes as [number, number, number, number, number];
  const end = marks.find((mark) => mark > Math.max(most, average)) ?? marks.at(-1)!;
  // Years without an outage are common, so the scale begins at nothing: log of one more.
  const x = (value: number): number => 8 + (Math.log1p(value) / Math.log1p(end)) * (width - 50);
  const words = `Minutes lost in a year: half of the years between ${rounded(lower)} and ${rounded(upper)}, 90 of 100 between ${rounded(least)} and ${rounded(most)}, the middle one ${rounded(middle)}`;
  return (
    <figure className="years-spread">
      <svg viewBox={`0 0 ${width} 52`} role="img" aria-label={words}>
        <line x1={x(least)} x2={x(most)} y1="14" y2="14" className="rule-ink" />
        {[least, most].map((each, index) => (
          <line key={index} x1={x(each)} x2={x(each)} y1="8" y2="20" className="rule-ink" />
        ))}
        <rect x={x(lower)} width={Math.max(2, x(upper) - x(lower))} y="5" height="18" className="rule-pool" />
        <line x1={x(middle)} x2={x(middle)} y1="2" y2="26" className="spread-middle" />
        <path d={`M${x(average)} 25 l-4 7 h8 z`} className="rule-router">
          <title>average {rounded(average)} min</title>
        </path>
        <line x1={x(0)} x2={x(end)} y1="34" y2="34" className="rule-ink" />
        {marks
          .filter((mark) => mark <= end)
          .map((mark) => (
            <g key={mark}>
              <line x1={x(mark)} x2={x(mark)} y1="34" y2="38" className="rule-ink" />
              <text x={x(mark)} y="49" textAnchor={mark === 0 ? 'start' : 'middle'} className="rule-text">
                {mark === end ? `${mark} min` : mark}
              </text>
            </g>
          ))}
      </svg>
      <figcaption className="quiet">{words}; the triangle is the average.</figcaption>
    </figure>
  );
}
