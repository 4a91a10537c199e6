import Typography from '@mui/material/Typography';
import {
  heardOn,
  sharedMhz,
  spectrumOf,
  wifiBands,
  type Spectrum,
  type WifiBand,
} from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import '../../parts/ruler.css';

const order: readonly WifiBand[] = ['2.4', '5', '6'];

/** MHz that are drawn of each band. */
const ranges: Readonly<Record<WifiBand, readonly [from: number, to: number]>> = {
  '2.4': [2400, 2490],
  '5': [5160, 5850],
  '6': [5940, 7130],
};
const width = 700;
/** The scale below, one own radio, and how high the loudest other one is. */
const scale = 22;
const lane = 16;
const loudest = 110;
const weakest = -95;
const strongest = -35;

/** Text at an end of the scale stays within it. */
const anchorAt = (at: number): 'start' | 'middle' | 'end' =>
  at < 20 ? 'start' : at > width - 20 ? 'end' : 'middle';

/** The lowest row for each in which it lies on none before it. */
function lanesOf(spectra: readonly Spectrum[]): number[] {
  const rows: number[] = [];
  for (const [index, mine] of spectra.entries()) {
    const taken = new Set(rows.filter((_, other) => other < index && sharedMhz(mine, spectra[other]!) > 0));
    let row = 0;
    while (taken.has(row)) row += 1;
    rows.push(row);
  }
  return rows;
}

/** Each band as it is used: own radios as filled bars, others as outlines as high as they are loud. */
export function WifiSpectrum() {
  const site = useSite();
  const heard = heardOn(site);
  const bands = order.filter(
    (band) => site.wifi.radios.some((each) => each.band === band) || heard.some((each) => each.band === band),
  );
  if (bands.length === 0) return null;
  return (
    <section aria-labelledby="spectrum">
      <Typography variant="h3" id="spectrum">
        Spectrum
      </Typography>
      {bands.map((band) => {
        const [from, to] = ranges[band];
        const x = (mhz: number): number => ((mhz - from) / (to - from)) * width;
        const others = heard.filter((each) => each.band === band);
        const own = site.wifi.radios.flatMap((each) =>
          each.band === band && each.channel !== null ? [{ ...each, channel: each.channel }] : [],
        );
        const rows = lanesOf(own.map((each) => spectrumOf(band, each.channel, each.width)));
        const high = (dbm: number): number =>
          (Math.min(strongest, Math.max(weakest, dbm)) - weakest) * (loudest / (strongest - weakest));
        // As high as what is loudest, with its name above it.
        const floor = Math.max(
          ...others.map(({ signalDbm }) => high(signalDbm) + 18),
          lane * (Math.max(0, ...rows) + 1) + (others.length > 0 ? 18 : 4),
        );
        const height = floor + scale;
        const y = (dbm: number): number => floor - high(dbm);
        const words = `${wifiBands[band]}: ${own.map(({ name, channel }) => `${name} on ${channel}`).join(', ') || 'no own radio on a channel'}; ${others.length} ${others.length === 1 ? 'other' : 'others'} heard`;
        const step = band === '2.4' ? 10 : band === '5' ? 100 : 200;
        return (
          <figure key={band} className="spectrum">
            <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={words}>
              {own.map(({ at, name, channel, width: mhz }, index) => {
                const { from: a, to: b } = spectrumOf(band, channel, mhz);
                const top = floor - lane * (rows[index]! + 1);
                return (
                  <g key={at}>
                    <rect
                      x={x(a) + 0.5}
                      width={x(b) - x(a) - 1}
                      y={top}
                      height={lane - 2}
                      className="spectrum-own"
                    >
                      <title>{`${name}, channel ${channel}`}</title>
                    </rect>
                    {x(b) - x(a) >= 18 && (
                      <text x={x((a + b) / 2)} y={top + 11} textAnchor="middle" className="spectrum-channel">
                        {channel}
                      </text>
                    )}
                  </g>
                );
              })}
              {others.map(({ ssid, channel, width: mhz, signalDbm }, index) => {
                const mine = spectrumOf(band, channel, mhz);
                const { from: a, to: b } = mine;
                // Its name stands above it, and above own bars that are higher.
                const bars = own.flatMap((each, place) =>
                  sharedMhz(mine, spectrumOf(band, each.channel, each.width)) > 0
                    ? [floor - lane * (rows[place]! + 1)]
                    : [],
                );
                const above = Math.min(y(signalDbm), ...bars) - 3;
                return (
                  <g key={index}>
                    <path
                      d={`M${x(a)} ${floor}L${x(a + 2)} ${y(signalDbm)}H${x(b - 2)}L${x(b)} ${floor}`}
                      className="spectrum-other"
                    />
                    <text x={x((a + b) / 2)} y={above} textAnchor="middle" className="rule-text">
                      {ssid === '' ? 'no name' : ssid.slice(0, 14)}
                    </text>
                  </g>
                );
              })}
              <line x1="0" x2={width} y1={floor} y2={floor} className="rule-ink" />
              {Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, tick) => {
                const mhz = Math.ceil(from / step) * step + tick * step;
                return mhz > to ? null : (
                  <text
                    key={mhz}
                    x={x(mhz)}
                    y={height - 7}
                    textAnchor={anchorAt(x(mhz))}
                    className="rule-text"
                  >
                    {mhz}
                  </text>
                );
              })}
            </svg>
            <figcaption className="quiet">{words}. MHz; higher is louder.</figcaption>
          </figure>
        );
      })}
    </section>
  );
}
