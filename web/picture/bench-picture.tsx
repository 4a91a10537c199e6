import { mdiPause, mdiPlay } from '@mdi/js';
import IconButton from '@mui/material/IconButton';
import { useEffect, useState } from 'react';
import { momentOf, type SimulationRun } from '../../core/index.ts';
import { useSite } from '../state/analysis.ts';
import { Icon } from '../parts/severity.tsx';
import { SitePicture, type Overlay } from './site-picture.tsx';
import { usePicture } from './use-picture.ts';

const tones = { good: 'good', doubt: 'doubt', out: 'bad' } as const;
/** Seconds of the run in one second, and how often it is drawn. */
const speed = 20;
const frameMs = 100;

/** The failure on the picture: the line that dies, where the traffic goes, who notices. One clock with the strips. */
export function BenchPicture({
  run,
  at,
  moveTo,
}: {
  run: SimulationRun;
  at: number;
  moveTo: (at: number) => void;
}) {
  const drawn = usePicture('large');
  const [playing, setPlaying] = useState(false);
  const site = useSite();
  const { states, active } = momentOf(site, run, at);
  const overlays = new Map<string, Overlay>();
  for (const [id, { state, says }] of drawn ? states : [])
    overlays.set(drawn!.shown(id), { tone: tones[state], word: says });
  const line = site.lines.find(({ id }) => id === active);
  const way = line ? ['router', ...(line.box ? [`box:${line.id}`] : []), `line:${line.id}`, 'internet'] : [];
  useEffect(() => {
    if (!playing) return undefined;
    if (at >= run.untilSeconds) {
      setPlaying(false);
      return undefined;
    }
    const timer = setTimeout(
      () => moveTo(Math.min(run.untilSeconds, at + (speed * frameMs) / 1000)),
      frameMs,
    );
    return () => clearTimeout(timer);
  }, [playing, at, run, moveTo]);
  return (
    <div className="bench-picture">
      <div className="row-actions">
        <IconButton
          size="small"
          className="row-button"
          aria-label={playing ? 'Pause' : 'Play the failure'}
          title={playing ? 'Pause' : 'Play the failure, twenty times as fast'}
          onClick={() => {
            if (!playing && at >= run.untilSeconds) moveTo(0);
            setPlaying(!playing);
          }}
        >
          <Icon path={playing ? mdiPause : mdiPlay} />
        </IconButton>
        <span className="quiet">{line ? `Traffic leaves by ${line.name}.` : 'No line carries traffic.'}</span>
      </div>
      <div className="picture-frame">
        {drawn && <SitePicture picture={drawn.picture} layout={drawn.layout} overlays={overlays} way={way} />}
      </div>
    </div>
  );
}
