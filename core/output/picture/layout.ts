import dagre from '@dagrejs/dagre';
import type { Picture, PictureNode } from './picture.ts';

export interface Place {
  /** Of the upper left corner. */
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface Layout {
  readonly width: number;
  readonly height: number;
  readonly places: ReadonlyMap<string, Place>;
  readonly ways: ReadonlyMap<string, readonly { readonly x: number; readonly y: number }[]>;
}

/** Widths of letters in the face of the picture, from its table: no measuring, the same everywhere. */
const letterWidth = 7.4;
const smallWidth = 6.6;
const least = 96;
const most = 220;

const widthOf = ({ title, says }: PictureNode): number =>
  Math.min(
    most,
    Math.max(least, title.length * letterWidth + 24, ...says.map((line) => line.length * smallWidth + 24)),
  );

/** Room that a picture has on a small laptop (1280x800), beside what is said of it. */
const frame = { width: 740, height: 590 } as const;

/** By how much a drawing shrinks, or could grow, to fit the frame. */
export const scaleOf = ({ width, height }: Pick<Layout, 'width' | 'height'>): number =>
  Math.min(frame.width / width, frame.height / height);

/**
 * How a picture lies, nothing on top of anything: from outside to the devices, downwards or to the right, whichever
 * leaves the larger letters.
 */
export function layoutOf(picture: Picture): Layout {
  const down = laidOut(picture, 'TB');
  const right = laidOut(picture, 'LR');
  return scaleOf(down) >= scaleOf(right) ? down : right;
}

function laidOut(picture: Picture, rankdir: 'TB' | 'LR'): Layout {
  const graph = new dagre.graphlib.Graph();
  const gap = rankdir === 'TB' ? { nodesep: 14, ranksep: 26 } : { nodesep: 16, ranksep: 34 };
  graph.setGraph({ rankdir, ...gap, marginx: 10, marginy: 10, ranker: 'network-simplex' });
  graph.setDefaultEdgeLabel(() => ({}));
  for (const node of picture.nodes)
    graph.setNode(node.id, { width: widthOf(node), height: 30 + node.says.length * 15 });
  for (const { from, to, label } of picture.edges)
    graph.setEdge(from, to, {
      width: label === '' ? 0 : label.length * smallWidth,
      height: label === '' ? 0 : 14,
      labelpos: 'c',
    });
  dagre.layout(graph);
  const { width = 0, height = 0 } = graph.graph() as { width?: number; height?: number };
  const places = new Map<string, Place>();
  for (const id of graph.nodes()) {
    const node = graph.node(id) as { x: number; y: number; width: number; height: number };
    places.set(id, {
      x: node.x - node.width / 2,
      y: node.y - node.height / 2,
      width: node.width,
      height: node.height,
    });
  }
  const ways = new Map<string, { x: number; y: number }[]>();
  for (const { id, from, to } of picture.edges)
    ways.set(id, (graph.edge(from, to) as { points: { x: number; y: number }[] }).points);
  return { width, height, places, ways };
}
