import Typography from '@mui/material/Typography';
import { heardOn, spectrumOf, wifiBands, type WifiBand } from '../../core/index.ts';
import { useSite } from '../app/analysis.ts';
import '../parts/ruler.css';

const order: readonly WifiBand[] = ['2.4', '5', '6'];

/** MHz that are drawn of each band. */
const ranges: Readonly<Record<WifiBand, readonly [from: number, to: number]>> = {
  '2.4': [2400, 2490],
  '5': [5160, 5850],
  '6': [5940, 7130],
};
const width = 700;
const height = 150;
const weakest = -95;
const strongest = -35;

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
        const y = (dbm: number): number =>
          height -
          22 -
          (Math.min(strongest, Math.max(weakest, dbm)) - weakest) * ((height - 40) / (strongest - weakest));
        const others = heard.filter((each) => each.band === band);
        const own = site.wifi.radios.flatMap((each) =>
          each.band === band && each.channel !== null ? [{ ...each, channel: each.channel }] : [],
        );
        const words = `${wifiBands[band]}: ${own.map(({ name, channel }) => `${name} on ${channel}`).join(', ') || 'no own radio on a channel'}; ${others.length} ${others.length === 1 ? 'other' : 'others'} heard`;
        const step = band === '2.4' ? 10 : band === '5' ? 100 : 200;
        return (
          <figure key={band} className="spectrum">
            <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={words}>
              {others.map(({ ssid, channel, width: mhz, signalDbm }, index) => {
                const { from: a, to: b } = spectrumOf(band, channel, mhz);
                return (
                  <g key={index}>
                    <path
                      d={`M${x(a)} ${height - 22}L${x(a + 2)} ${y(signalDbm)}H${x(b - 2)}L${x(b)} ${height - 22}`}
                      className="spectrum-other"
                    />
                    <text x={x((a + b) / 2)} y={y(signalDbm) - 3} textAnchor="middle" className="rule-text">
                      {ssid.slice(0, 14)}
                    </text>
                  </g>
                );
              })}
              {own.map(({ at, name, channel, width: mhz }) => {
                const { from: a, to: b } = spectrumOf(band, channel, mhz);
                return (
                  <rect
                    key={at}
                    x={x(a)}
                    width={x(b) - x(a)}
                    y={height - 34}
                    height="12"
                    className="spectrum-own"
                  >
                    <title>{`${name}, channel ${channel}`}</title>
                  </rect>
                );
              })}
              <line x1="0" x2={width} y1={height - 22} y2={height - 22} className="rule-ink" />
              {Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, tick) => {
                const mhz = Math.ceil(from / step) * step + tick * step;
                return mhz > to ? null : (
                  <text key={mhz} x={x(mhz)} y={height - 7} textAnchor="middle" className="rule-text">
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
