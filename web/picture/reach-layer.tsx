import { useEffect, useState } from 'react';
import { nodeOf, type ExposureMatrix, type MatrixCell } from '../../core/index.ts';
import { analysisWorker } from '../state/analysis.ts';
import { useSession, usePlan } from '../state/session.ts';
import type { Laid, Overlay } from './site-picture.tsx';
import type { DrawnPicture } from './use-picture.ts';
import { Select } from '../parts/inputs.tsx';

/** What one sender reaches, on the picture: with a tone, a pattern and a word on everything. */
export function ReachLayer({ drawn, lay }: { drawn: DrawnPicture; lay: (laid: Laid) => void }) {
  const session = useSession();
  const plan = usePlan();
  const [matrix, setMatrix] = useState<ExposureMatrix>();
  const [from, setFrom] = useState('Internet');
  useEffect(() => {
    let current = true;
    void analysisWorker()
      .exposure(session.snapshot().plan, [])
      .then(
        (found) => current && found && setMatrix(found),
        () => {},
      );
    return () => {
      current = false;
    };
  }, [session, plan]);
  const row = matrix?.rows.find((each) => each.from === from) ?? matrix?.rows[0];
  useEffect(() => {
    if (!row) return;
    const overlays = new Map<string, Overlay>();
    const { picture, site } = drawn;
    for (const cell of row.cells) {
      const node = nodeNamed(drawn, cell.column);
      if (node !== undefined) overlays.set(node, toneOf(cell));
    }
    const sender = picture.nodes.find(({ title }) => title === row.from);
    if (sender) overlays.set(sender.id, { tone: 'here', word: 'from here' });
    for (const opening of row.cells.flatMap((cell) => cell.openings)) {
      const device = site.devices.find(({ name }) => name === opening.to);
      const id = device && nodeOf(site, device.at);
      if (id !== undefined && picture.nodes.some((node) => node.id === id))
        overlays.set(id, { tone: 'doubt', word: opening.services });
    }
    lay({ overlays });
    // A new picture has new nodes; the way to lay over it stays the same.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [row, drawn.picture]);
  return (
    <>
      <label className="picture-ask">
        <span className="quiet">What is reached by</span>
        <Select className="boxed" value={row?.from ?? from} onChange={({ target }) => setFrom(target.value)}>
          {(matrix?.rows ?? []).map((each) => (
            <option key={`${each.kind} ${each.from}`} value={each.from}>
              {each.from}
            </option>
          ))}
        </Select>
      </label>
      {!matrix && <p className="quiet">Computing every packet of every sender …</p>}
      {row && (
        <ul>
          {row.cells.map((cell) => (
            <li key={cell.column}>
              <strong>{cell.column}</strong>{' '}
              <span className={cell.openings.length === 0 ? 'quiet' : undefined}>{cell.text}</span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

function toneOf(cell: MatrixCell): Overlay {
  return cell.openings.length === 0
    ? { tone: 'good', word: cell.text }
    : { tone: cell.text === 'everything' ? 'bad' : 'doubt', word: cell.text };
}

/** The node of a column of the table, which has names only. */
function nodeNamed({ picture, site, shown }: DrawnPicture, column: string): string | undefined {
  if (column === 'Router') return 'router';
  if (column === 'Internet') return 'internet';
  const network = site.networks.find(({ name }) => name === column);
  if (network) {
    const id = shown(`network:${network.id}`);
    return picture.nodes.find((node) => node.id === id)?.kind === 'networks' ? undefined : id;
  }
  const line = site.lines.find(({ name }) => column === `In front of ${name}`);
  if (line) return `box:${line.id}`;
  const far = site.vpn.sites.find(({ name }) => name === column);
  return far && `site:${far.id}`;
}
