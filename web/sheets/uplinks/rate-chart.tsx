import { useTheme } from '@mui/material/styles';
import {
  CartesianGrid,
  Legend,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import type { Line } from '../../../core/index.ts';

const hours = [0, 3, 6, 9, 12, 15, 18, 21, 24];

/** The measured rates of a line over the hours of the day, beside what the contract says. */
export default function RateChart({ line }: { line: Line }) {
  const { palette, typography } = useTheme();
  const axis = { fontSize: 12, fontFamily: typography.fontFamily!, fill: palette.text.secondary };
  const runs = (direction: 'down' | 'up'): { hour: number; mbps: number }[] =>
    line.runs.flatMap((run) =>
      run.direction === direction && run.hour !== null && run.mbps !== null
        ? [{ hour: run.hour, mbps: run.mbps }]
        : [],
    );
  const most = Math.max(
    line.rateDownMbps ?? 0,
    line.rateUpMbps ?? 0,
    ...line.runs.map(({ mbps }) => mbps ?? 0),
  );
  // Steps of 1, 2 or 5 times a power of ten, five at most.
  const rough = Math.max(most, 1) / 4;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = power * ([1, 2, 5, 10].find((each) => each * power >= rough) ?? 10);
  const top = Math.ceil((most * 1.02) / step) * step;
  return (
    <figure className="rate-chart" aria-label={`Measured rates of ${line.name} by hour of the day`}>
      <ResponsiveContainer width="100%" height={190}>
        <ScatterChart margin={{ top: 8, right: 12, bottom: 0, left: 0 }}>
          <CartesianGrid stroke={palette.divider} />
          <XAxis
            type="number"
            dataKey="hour"
            domain={[0, 24]}
            ticks={hours}
            tick={axis}
            tickFormatter={(hour: number) => `${hour}:00`}
            stroke={palette.text.secondary}
          />
          <YAxis
            type="number"
            dataKey="mbps"
            unit=" Mb/s"
            width={78}
            domain={[0, top]}
            ticks={Array.from({ length: Math.round(top / step) + 1 }, (_, tick) => tick * step)}
            tick={axis}
            stroke={palette.text.secondary}
          />
          <Tooltip isAnimationActive={false} />
          <Legend wrapperStyle={{ fontSize: 12.5 }} />
          {line.rateDownMbps !== null && (
            <ReferenceLine y={line.rateDownMbps} stroke={palette.primary.main} strokeDasharray="6 4" />
          )}
          {line.rateUpMbps !== null && (
            <ReferenceLine y={line.rateUpMbps} stroke={palette.text.primary} strokeDasharray="2 4" />
          )}
          <Scatter
            name="down (dashed: contract)"
            data={runs('down')}
            fill={palette.primary.main}
            shape="circle"
            isAnimationActive={false}
          />
          <Scatter
            name="up (dotted: contract)"
            data={runs('up')}
            fill={palette.text.primary}
            shape="triangle"
            isAnimationActive={false}
          />
        </ScatterChart>
      </ResponsiveContainer>
    </figure>
  );
}
