import { fibreBudget, judgeOptical } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import '../../parts/ruler.css';

const lowest = -34;
const highest = 2;
const x = (dbm: number): number =>
  ((Math.min(highest, Math.max(lowest, dbm)) - lowest) / (highest - lowest)) * 700;

/** The window of the optical system as a ruler: what the terminal hears, what the route should give, what was measured. */
export function OpticalWindow({ index }: { index: number }) {
  const settings = useSite().lines[index]?.media.fibre;
  const budget = settings && fibreBudget(settings);
  if (!budget) return null;
  const [least, most] = budget.expectedDbm;
  const [hears, bears] = budget.system.hearDbm;
  const { measuredDbm } = settings;
  const says = measuredDbm === null ? undefined : judgeOptical(budget, measuredDbm).says;
  return (
    <figure className="window-rule">
      <svg
        viewBox="0 0 700 58"
        role="img"
        aria-label={`${budget.system.title}: hears ${hears} to ${bears} dBm, expected ${least} to ${most} dBm${measuredDbm === null ? '' : `, measured ${measuredDbm} dBm`}`}
      >
        <line x1="0" x2="700" y1="30" y2="30" className="rule-ink" />
        {Array.from({ length: 8 }, (_, tick) => (
          <g key={tick}>
            <line
              x1={x(lowest + 4 + tick * 4)}
              x2={x(lowest + 4 + tick * 4)}
              y1="25"
              y2="30"
              className="rule-ink"
            />
            <text x={x(lowest + 4 + tick * 4)} y="20" textAnchor="middle" className="rule-text">
              {lowest + 4 + tick * 4}
            </text>
          </g>
        ))}
        <rect x={x(hears)} width={x(bears) - x(hears)} y="31" height="7" className="rule-window" />
        <rect x={x(least)} width={Math.max(2, x(most) - x(least))} y="40" height="7" className="rule-pool" />
        <text x={x(hears)} y="57" className="rule-text">
          hears
        </text>
        <text x={x(most)} y="57" textAnchor="end" className="rule-text">
          this route gives
        </text>
        {measuredDbm !== null && (
          <path d={`M${x(measuredDbm)} 30 l-5 -10 h10 z`} className="rule-router">
            <title>measured {measuredDbm} dBm</title>
          </path>
        )}
      </svg>
      {says && <figcaption>{says}</figcaption>}
    </figure>
  );
}
