import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import {
  hopText,
  rateText,
  slowestOf,
  wiringPicture,
  type Layout,
  type Picture,
  type RunReport,
  type Site,
  type WiringReport,
} from '../../core/index.ts';
import { useFocus } from '../app/focus.ts';
import { Select } from '../parts/inputs.tsx';
import { Headings } from '../parts/table-head.tsx';
import { SitePicture } from '../picture/site-picture.tsx';

/** A way that can be followed on the drawing: a line to the router, or a network to a device. */
interface Way {
  readonly key: string;
  readonly title: string;
  readonly hops: WiringReport['lines'][number]['way'];
  readonly stop: string;
}

const waysOf = ({ lines, ways }: WiringReport): Way[] => [
  ...lines.map(({ line, box, way }) => ({
    key: `line ${line.id}`,
    title: `${line.name}, from ${box.name} to the router`,
    hops: way,
    stop: '',
  })),
  ...ways.map(({ network, box, way, stop }) => ({
    key: `device ${box.id}`,
    title: `${network.name}, to ${box.name}`,
    hops: way,
    stop: stop?.says ?? '',
  })),
];

/** The cabling drawn by itself, a way followed on it hop by hop, and the load of each run. */
export function WiringWays({ site, report }: { site: Site; report: WiringReport }) {
  const ways = useMemo(() => waysOf(report), [report]);
  const [chosen, setChosen] = useState('');
  const way = ways.find(({ key }) => key === chosen);
  const drawn = useDrawing(site);
  const { goTo } = useFocus();
  const nodes = way
    ? [way.hops[0]?.from, ...way.hops.map(({ to }) => to)].flatMap((end) => end?.box.id ?? [])
    : [];
  const slowest = way && slowestOf(way.hops);
  return (
    <section aria-label="The cabling" className="wiring-drawn">
      {drawn && (
        <figure className="wiring-picture">
          <SitePicture
            picture={drawn.picture}
            layout={drawn.layout}
            way={nodes}
            pick={(node) => goTo(node.at)}
          />
        </figure>
      )}
      {ways.length > 0 && (
        <label className="wiring-follow">
          Follow
          <Select
            className="boxed"
            value={way ? chosen : ''}
            onChange={({ target }) => setChosen(target.value)}
          >
            <option value="">a line or a network …</option>
            {ways.map(({ key, title, stop }) => (
              <option key={key} value={key}>
                {title}
                {stop === '' ? '' : ': does not arrive'}
              </option>
            ))}
          </Select>
        </label>
      )}
      {way && (
        <>
          <ol className="wiring-hops">
            {way.hops.map((hop) => (
              <li key={hop.run.at + hop.from.name}>
                <strong>{hop.run.name}</strong> {hopText(hop)}
              </li>
            ))}
          </ol>
          {way.stop !== '' ? (
            <p className="verdict verdict-bad">{way.stop}</p>
          ) : (
            slowest && (
              <p className="quiet">
                Slowest: {slowest.run.name}, {rateText(slowest.mbps)}.
              </p>
            )
          )}
        </>
      )}
      <Loads runs={report.runs} />
    </section>
  );
}

/** The layout comes with its library, when there is something to lay out. */
function useDrawing(site: Site): { readonly picture: Picture; readonly layout: Layout } | undefined {
  const [drawn, setDrawn] = useState<{ readonly picture: Picture; readonly layout: Layout }>();
  useEffect(() => {
    let current = true;
    const picture = wiringPicture(site.wiring);
    void import('../picture/lay-out.ts').then(
      ({ layoutOf }) => current && setDrawn({ picture, layout: layoutOf(picture) }),
      () => {},
    );
    return () => {
      current = false;
    };
  }, [site]);
  return drawn;
}

/** What the runs carry when the lines are full both ways, beside what they can. */
function Loads({ runs }: { runs: readonly RunReport[] }) {
  const loaded = runs.filter(({ load }) => load && Math.max(load.there, load.back) > 0);
  if (loaded.length === 0) return null;
  return (
    <>
      <Typography variant="h3">Load of the runs, lines full both ways</Typography>
      <Table className="losses" aria-label="Load of the runs">
        <Headings columns={['Run', 'Mb/s there', 'Mb/s back', 'Carries', 'Share']} />
        <TableBody>
          {loaded.map(({ run, load }) => {
            const { there, back, capacityMbps, carries } = load!;
            const share = capacityMbps ? Math.max(there, back) / capacityMbps : undefined;
            return (
              <TableRow key={run.at}>
                <TableCell>{run.name}</TableCell>
                <TableCell className="mono load-figure">{there}</TableCell>
                <TableCell className="mono load-figure">{back}</TableCell>
                <TableCell>
                  {capacityMbps ? rateText(capacityMbps) : 'not known'}
                  {carries.length > 0 && `, with ${carries.map(({ name }) => name).join(', ')}`}
                </TableCell>
                <TableCell>
                  {share !== undefined && (
                    <span className={share > 1 ? 'load load-over' : 'load'}>
                      <span className="load-bar" style={{ width: `${Math.min(1, share) * 100}%` }} />
                      <span className="load-share mono">{Math.round(share * 100)} %</span>
                    </span>
                  )}
                </TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
    </>
  );
}
