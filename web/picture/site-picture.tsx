import type { KeyboardEvent, ReactNode } from 'react';
import type { Layout, Picture, PictureNode, Severity } from '../../core/index.ts';
import './picture.css';

/** What is laid over one node: a tone with a pattern, and the word for it. */
export interface Overlay {
  readonly tone: 'good' | 'doubt' | 'bad' | 'here' | 'next';
  readonly word: string;
}

/** What is laid over the picture by the part beside it. */
export interface Laid {
  readonly overlays?: ReadonlyMap<string, Overlay>;
  readonly way?: readonly string[];
}

const kindWords: Record<PictureNode['kind'], string> = {
  internet: '',
  line: 'line',
  box: 'in front',
  router: 'router',
  second: 'second router or access point',
  switch: 'switch',
  network: 'network',
  networks: 'networks, folded',
  device: 'device',
  devices: 'devices, folded',
  users: 'remote users',
  site: 'other site',
};

/** Arrows go to the nearest node in their direction; Enter is a click. */
function neighbour(layout: Layout, from: string, key: string): string | undefined {
  const here = layout.places.get(from);
  if (!here) return undefined;
  const [dx, dy] = { ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowDown: [0, 1], ArrowUp: [0, -1] }[key] ?? [
    0, 0,
  ];
  const middle = (place: typeof here) => [place.x + place.width / 2, place.y + place.height / 2] as const;
  const [x, y] = middle(here);
  let best: { id: string; cost: number } | undefined;
  for (const [id, place] of layout.places) {
    const [toX, toY] = middle(place);
    const along = (toX - x) * dx! + (toY - y) * dy!;
    if (id === from || along <= 1) continue;
    const cost = along + 3 * Math.abs((toX - x) * dy! + (toY - y) * dx!);
    if (!best || cost < best.cost) best = { id, cost };
  }
  return best?.id;
}

/** The site, drawn as it was laid out; what it shows beside that is laid over it by its sheet. */
export function SitePicture({
  picture,
  layout,
  marks = new Map(),
  overlays = new Map(),
  way = [],
  selected,
  pick,
  children,
}: {
  picture: Picture;
  layout: Layout;
  marks?: ReadonlyMap<string, Severity>;
  overlays?: ReadonlyMap<string, Overlay>;
  /** Nodes that a packet passed so far, in order. */
  way?: readonly string[];
  selected?: string | undefined;
  pick?: (node: PictureNode) => void;
  children?: ReactNode;
}) {
  const passed = new Set(way.slice(1).map((node, index) => [way[index]!, node].sort().join(' ')));
  const onKeyDown = (event: KeyboardEvent, node: PictureNode): void => {
    if (event.key === 'Enter' || event.key === ' ') pick?.(node);
    else {
      const next = neighbour(layout, node.id, event.key);
      if (next === undefined) return;
      event.currentTarget
        .closest('svg')
        ?.querySelector<SVGGElement>(`[data-node="${CSS.escape(next)}"]`)
        ?.focus();
    }
    event.preventDefault();
  };
  return (
    <svg
      className="picture"
      viewBox={`0 0 ${Math.ceil(layout.width)} ${Math.ceil(layout.height)}`}
      role="group"
      aria-label="The site in one picture"
    >
      <defs>
        <pattern
          id="hatch-doubt"
          width="7"
          height="7"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="2" height="7" className="hatch-doubt" />
        </pattern>
        <pattern id="hatch-bad" width="6" height="6" patternUnits="userSpaceOnUse">
          <path d="M0 0L6 6M6 0L0 6" className="hatch-bad" />
        </pattern>
        <pattern id="hatch-good" width="8" height="8" patternUnits="userSpaceOnUse">
          <circle cx="2" cy="2" r="1.2" className="hatch-good" />
        </pattern>
      </defs>
      {picture.edges.map(({ id, from, to, label, tunnel }) => {
        const points = layout.ways.get(id) ?? [];
        const on = passed.has([from, to].sort().join(' '));
        const middle = points[Math.floor(points.length / 2)];
        return (
          <g key={id} className={`edge${tunnel ? ' edge-tunnel' : ''}${on ? ' edge-on' : ''}`}>
            <path d={points.map(({ x, y }, index) => `${index === 0 ? 'M' : 'L'}${x} ${y}`).join('')} />
            {label !== '' && middle && overlays.size === 0 && (
              <text x={middle.x} y={middle.y - 4} textAnchor="middle">
                {label}
              </text>
            )}
          </g>
        );
      })}
      {picture.nodes.map((node) => {
        const place = layout.places.get(node.id)!;
        const overlay = overlays.get(node.id);
        const mark = marks.get(node.id);
        const on = way.includes(node.id);
        const last = way.at(-1) === node.id;
        const name = [
          node.title,
          ...node.says,
          overlay?.word ?? '',
          kindWords[node.kind],
          mark === undefined ? '' : `${mark} here`,
        ].filter((part) => part !== '');
        const classes = [
          'node',
          `node-${node.kind}`,
          overlay && `tone-${overlay.tone}`,
          on && 'node-on',
          last && 'node-last',
          selected === node.id && 'node-selected',
        ].filter(Boolean);
        return (
          <g
            key={node.id}
            className={classes.join(' ')}
            transform={`translate(${place.x} ${place.y})`}
            data-node={node.id}
            {...(pick && {
              role: 'button',
              tabIndex: 0,
              'aria-label': name.join(', '),
              onClick: () => pick(node),
              onKeyDown: (event: KeyboardEvent) => onKeyDown(event, node),
            })}
          >
            <rect className="node-paper" width={place.width} height={place.height} />
            {overlay && overlay.tone !== 'here' && overlay.tone !== 'next' && (
              <rect
                x={place.width - 22}
                width="22"
                height={place.height}
                fill={`url(#hatch-${overlay.tone})`}
                className="node-hatch"
              />
            )}
            <rect className="node-edge" width="4" height={place.height} />
            <text className="node-title" x="12" y="19">
              {clipped(node.title, place.width - 24, 7.4)}{' '}
            </text>
            {node.says.map((line, index) => (
              <text
                key={line}
                className={index === 0 && /\d\.\d/.test(line) ? 'node-line mono' : 'node-line'}
                x="12"
                y={34 + index * 15}
              >
                {clipped(line, place.width - 20, 6.6)}{' '}
              </text>
            ))}
            {mark !== undefined && (
              <g transform={`translate(${place.width - 10} 2)`} className={`node-mark mark-${mark}`}>
                <circle r="8" />
                <text textAnchor="middle" y="4">
                  {mark === 'advice' ? 'i' : '!'}
                </text>
              </g>
            )}
            {overlay && (
              <text className="node-word" x={place.width / 2} y={place.height + 12} textAnchor="middle">
                {clipped(overlay.word, place.width + 60, 6.2)}
              </text>
            )}
          </g>
        );
      })}
      {children}
    </svg>
  );
}

/** As much of a text as a width takes. */
function clipped(text: string, width: number, letter: number): string {
  // The width was made of letters: what fits exactly fits.
  const most = Math.floor(width / letter + 1e-6);
  return text.length <= most ? text : `${text.slice(0, Math.max(1, most - 1))}…`;
}
