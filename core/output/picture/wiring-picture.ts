import { socketName, type Box, type Wiring } from '../../site/wiring.ts';
import type { Picture, PictureEdge, PictureNode } from './picture.ts';

const kinds: Readonly<Record<Box['kind'], PictureNode['kind']>> = {
  router: 'router',
  bridge: 'switch',
  plain: 'switch',
  line: 'box',
  end: 'device',
};
const words: Readonly<Record<Box['kind'], string>> = {
  router: '',
  bridge: 'VLAN-aware',
  plain: 'passes every frame',
  line: 'line',
  end: '',
};

/**
 * The cabling as boxes and the runs between them; runs beside one another are one edge with all their labels. With
 * `all`, boxes without a run are there too.
 */
export function wiringPicture({ boxes, runs }: Wiring, all = false): Picture {
  const used = new Set(all ? boxes : runs.flatMap(({ ends }) => ends.map(({ box }) => box)));
  const nodes = [...used]
    .sort((a, b) => boxes.indexOf(a) - boxes.indexOf(b))
    .map((box): PictureNode => {
      const plugs = runs.flatMap(({ ends }) => ends.filter((end) => end.box === box && end.name !== ''));
      return {
        id: box.id,
        kind: kinds[box.kind],
        title: box.name,
        says: [
          words[box.kind],
          plugs.length === 0 ? '' : `ports ${plugs.map(({ name }) => name).join(', ')}`,
        ].filter((each) => each !== ''),
        at: box.at,
        holds: [],
      };
    });
  const edges = new Map<string, PictureEdge>();
  for (const { at, name, label, ends } of runs) {
    const [from, to] = ends.map(({ box }) => box.id) as [string, string];
    if (from === to) continue;
    const key = [from, to].sort().join(' ');
    const before = edges.get(key);
    const text = label.trim() || (name === '' ? ends.map(socketName).join(' to ') : '');
    edges.set(key, {
      id: before?.id ?? at,
      from: before?.from ?? from,
      to: before?.to ?? to,
      label: [before?.label ?? '', text].filter((each) => each !== '').join(', '),
      tunnel: false,
    });
  }
  return { nodes, edges: [...edges.values()] };
}
