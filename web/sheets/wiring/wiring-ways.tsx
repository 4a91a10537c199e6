import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import {
  hopText,
  rateText,
  runSchema,
  slowestOf,
  wiringPicture,
  type Box,
  type Layout,
  type Picture,
  type RunPlan,
  type RunReport,
  type Site,
  type WiringReport,
} from '../../../core/index.ts';
import { newId } from '../../state/api.ts';
import { useFocus } from '../../state/focus.ts';
import { useRows } from '../../parts/rows.tsx';
import { Figures } from '../../parts/figures.tsx';
import { Select } from '../../parts/inputs.tsx';
import { Headings } from '../../parts/table-head.tsx';
import { SitePicture } from '../../picture/site-picture.tsx';
import { FrameFollow } from './frame-follow.tsx';

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
  /** Boxes that were chosen for a new run; undefined while none is made. */
  const [joining, setJoining] = useState<readonly string[]>();
  const drawn = useDrawing(site, joining !== undefined);
  const { goTo } = useFocus();
  const nodes = joining
    ? [...joining]
    : way
      ? [way.hops[0]?.from, ...way.hops.map(({ to }) => to)].flatMap((end) => end?.box.id ?? [])
      : [];
  const slowest = way && slowestOf(way.hops);
  return (
    <section aria-label="The cabling" className="wiring-drawn">
      {drawn && drawn.picture.nodes.length > 0 && (
        <figure className="wiring-picture">
          <SitePicture
            picture={drawn.picture}
            layout={drawn.layout}
            way={nodes}
            pick={(node) =>
              joining
                ? setJoining(
                    joining.includes(node.id)
                      ? joining.filter((each) => each !== node.id)
                      : [...joining, node.id].slice(-2),
                  )
                : goTo(node.at)
            }
          />
        </figure>
      )}
      <div className="wiring-tools">
        <NewRun site={site} chosen={joining} choose={setJoining} />
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
      </div>
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
      {site.wiring.runs.length > 0 && (
        <Figures title="Follow a frame" at={[]} says="put in at a port, followed through switches that learn">
          <FrameFollow site={site} />
        </Figures>
      )}
      <Loads runs={report.runs} />
    </section>
  );
}

/** A run made on the drawing: two boxes are clicked, then a port of each is chosen. */
function NewRun({
  site,
  chosen,
  choose,
}: {
  site: Site;
  chosen: readonly string[] | undefined;
  choose: (boxes: readonly string[] | undefined) => void;
}) {
  const { addAll } = useRows<RunPlan>('/wiring/runs');
  const [ports, setPorts] = useState<readonly [string, string]>(['', '']);
  const used = useMemo(() => new Set(site.wiring.runs.flatMap(({ ends }) => ends)), [site]);
  if (!chosen)
    return (
      <Button className="wiring-new" onClick={() => choose([])}>
        Add a run on the drawing
      </Button>
    );
  const boxes = chosen.flatMap((id) => site.wiring.boxes.find((box) => box.id === id) ?? []);
  /** Devices without a cable: the drawing has no box for them. */
  const bare = site.devices.filter((device) => !site.wiring.boxes.some((box) => box.device === device));
  const [from, to] = boxes;
  const free = (box: Box): string[] =>
    box.sockets.filter((socket) => socket.name !== '' && !used.has(socket)).map(({ name }) => name);
  const portOf = (index: 0 | 1): string => {
    const box = boxes[index];
    return box ? (free(box).includes(ports[index]) ? ports[index] : (free(box)[0] ?? '')) : '';
  };
  const put = (run: Partial<RunPlan>): void => {
    addAll([runSchema.parse({ id: newId(), ...run })]);
    choose([]);
  };
  const add = (): void => {
    // A device ends a run; where one was clicked first, the run begins at the other box.
    const [begin, end] = from!.device ? ([1, 0] as const) : ([0, 1] as const);
    const last = boxes[end]!;
    put({
      fromBox: boxes[begin]!.id,
      fromPort: portOf(begin),
      toBox: last.device ? '' : last.id,
      toDevice: last.device?.id ?? '',
      toPort: portOf(end),
    });
  };
  const addDevice = (toDevice: string): void => put({ fromBox: from!.id, fromPort: portOf(0), toDevice });
  const bothDevices = from?.device !== undefined && to?.device !== undefined;
  return (
    <div className="wiring-new" role="group" aria-label="New run">
      <span>
        {!from
          ? 'Choose the box at one end, on the drawing.'
          : !to
            ? `${from.name}: choose the box at the other end.`
            : ''}
      </span>
      {boxes.length > 0 &&
        boxes.map((box, index) => (
          <label key={box.id}>
            {box.name}
            <Select
              className="boxed"
              value={portOf(index as 0 | 1)}
              onChange={({ target }) =>
                setPorts(index === 0 ? [target.value, ports[1]] : [ports[0], target.value])
              }
            >
              {free(box).length === 0 && <option value="">no free port listed</option>}
              {free(box).map((name) => (
                <option key={name} value={name}>
                  port {name}
                </option>
              ))}
            </Select>
          </label>
        ))}
      {from && !from.device && !to && bare.length > 0 && (
        <label>
          or a device without a cable
          <Select className="boxed" value="" onChange={({ target }) => addDevice(target.value)}>
            <option value="">choose …</option>
            {bare.map(({ id, name }) => (
              <option key={id} value={id}>
                {name || 'unnamed device'}
              </option>
            ))}
          </Select>
        </label>
      )}
      {bothDevices && <span>A run between two devices joins neither to the network.</span>}
      {to && !bothDevices && (
        <Button variant="contained" onClick={add}>
          Add this run
        </Button>
      )}
      <Button onClick={() => choose(undefined)}>Done</Button>
    </div>
  );
}

/** The layout comes with its library, when there is something to lay out. */
function useDrawing(
  site: Site,
  all: boolean,
): { readonly picture: Picture; readonly layout: Layout } | undefined {
  const [drawn, setDrawn] = useState<{ readonly picture: Picture; readonly layout: Layout }>();
  useEffect(() => {
    let current = true;
    const picture = wiringPicture(site.wiring, all);
    void import('../../picture/lay-out.ts').then(
      ({ layoutOf }) => current && setDrawn({ picture, layout: layoutOf(picture) }),
      () => {},
    );
    return () => {
      current = false;
    };
  }, [site, all]);
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
