import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { PictureNode } from '../../../core/index.ts';
import { useFocus } from '../../state/focus.ts';
import { usePlanPiece } from '../../state/session.ts';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { FindingsLayer } from '../../picture/findings-layer.tsx';
import { PacketLayer } from '../../picture/packet-layer.tsx';
import { ProofLayer } from '../../picture/proof-layer.tsx';
import { ReachLayer } from '../../picture/reach-layer.tsx';
import { saveSvg } from '../../picture/save-svg.ts';
import { SitePicture, type Laid } from '../../picture/site-picture.tsx';
import { useMarks, usePicture } from '../../picture/use-picture.ts';

const modes = [
  ['findings', 'Findings'],
  ['packet', 'A packet'],
  ['reach', 'Reach'],
  ['proof', 'Proof'],
] as const;

/** The site in one picture, and on it findings, a packet's way, the reach of somebody, or what is proven. */
export function Component() {
  const drawn = usePicture('large');
  const marks = useMarks(drawn);
  const { goTo } = useFocus();
  const [search, setSearch] = useSearchParams();
  const mode = search.get('show') ?? (search.has('q') ? 'packet' : 'findings');
  const [laid, setLaid] = useState<Laid>({});
  const frame = useRef<HTMLDivElement>(null);
  const name = usePlanPiece((plan) => plan.site.name);
  const pick = (node: PictureNode): void => {
    if (node.holds.length > 0) drawn?.toggle(node.id);
    else if (node.at !== '')
      goTo(node.kind === 'network' || node.kind === 'line' ? `${node.at}/name` : node.at);
  };
  return (
    <>
      <SheetHead
        title="Picture"
        says="The site as it is planned. Choose anything to be in its field; arrows move, Enter opens."
      >
        <Button onClick={() => saveSvg(frame.current?.querySelector('svg') ?? null, name)}>
          Save as SVG
        </Button>
        <Button onClick={() => window.print()}>Print</Button>
      </SheetHead>
      <div className="picture-modes">
        <ToggleButtonGroup
          exclusive
          size="small"
          value={mode}
          aria-label="Shown on the picture"
          onChange={(_, next: string | null) => {
            if (next === null) return;
            setLaid({});
            setSearch(next === 'findings' ? {} : { show: next }, { replace: true });
          }}
        >
          {modes.map(([key, title]) => (
            <ToggleButton key={key} value={key}>
              {title}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        {drawn && drawn.open.size > 0 && (
          <Button className="plain" variant="text" onClick={() => [...drawn.open].forEach(drawn.toggle)}>
            Fold all groups
          </Button>
        )}
      </div>
      <div className="picture-sheet">
        <div className="picture-frame" ref={frame}>
          {drawn && (
            <SitePicture
              picture={drawn.picture}
              layout={drawn.layout}
              pick={pick}
              {...(mode === 'findings' && { marks })}
              {...laid}
            />
          )}
        </div>
        <aside className="picture-side" aria-label="Beside the picture" tabIndex={0}>
          {drawn && mode === 'findings' && <FindingsLayer drawn={drawn} />}
          {drawn && mode === 'packet' && <PacketLayer drawn={drawn} lay={setLaid} />}
          {drawn && mode === 'reach' && <ReachLayer drawn={drawn} lay={setLaid} />}
          {drawn && mode === 'proof' && <ProofLayer drawn={drawn} lay={setLaid} />}
        </aside>
      </div>
    </>
  );
}
