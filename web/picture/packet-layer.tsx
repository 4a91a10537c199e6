import { mdiPause, mdiPlay, mdiSkipNext, mdiSkipPrevious, mdiSwapHorizontal } from '@mdi/js';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useEffect, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Answer, Result, WayStep } from '../../core/index.ts';
import { analysisWorker, useAnalysis } from '../state/analysis.ts';
import { useFocus } from '../state/focus.ts';
import { Icon } from '../parts/severity.tsx';
import type { Laid } from './site-picture.tsx';
import type { DrawnPicture } from './use-picture.ts';
import { Input } from '../parts/inputs.tsx';

interface Followed {
  readonly answer: Result<Answer>;
  readonly there: readonly WayStep[];
  readonly back: readonly WayStep[];
}

/** How long one hop is looked at while the packet goes by itself. */
const stepMs = 900;

/** A question about one packet: its way on the picture hop by hop, there and back, with the decision of each. */
export function PacketLayer({ drawn, lay }: { drawn: DrawnPicture; lay: (laid: Laid) => void }) {
  const [search, setSearch] = useSearchParams();
  const names = useAnalysis()?.names ?? [];
  const network = names.find((name) => name !== 'internet' && name !== 'router') ?? 'office';
  const asked = search.get('q') ?? `from ${network} to internet tcp 443`;
  const [typed, setTyped] = useState(asked);
  const followed = useFollowed(asked, drawn.open);
  const [back, setBack] = useState(false);
  const [step, setStep] = useState(0);
  const [playing, setPlaying] = useState(false);
  const { goTo } = useFocus();
  const steps = (back ? followed?.back : followed?.there) ?? [];
  const answer = followed?.answer.ok ? followed.answer.value : undefined;
  const hops = (back ? answer?.reply : answer?.hops) ?? [];
  useEffect(() => setTyped(asked), [asked]);
  useEffect(() => {
    setStep(0);
    setBack(false);
    setPlaying(true);
  }, [asked]);
  useEffect(() => {
    lay({ way: steps.slice(0, step + 1).flatMap(({ nodes }) => nodes) });
    // The steps are new objects with every answer: what counts is which answer, which way and how far.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [followed, back, step]);
  useEffect(() => {
    if (!playing || steps.length === 0) return undefined;
    if (step >= steps.length - 1) {
      setPlaying(false);
      return undefined;
    }
    const timer = setTimeout(() => setStep(step + 1), stepMs);
    return () => clearTimeout(timer);
  }, [playing, step, steps.length]);
  const move = (to: number): void => {
    setPlaying(false);
    setStep(Math.min(steps.length - 1, Math.max(0, to)));
  };
  return (
    <>
      <form
        className="picture-ask"
        onSubmit={(event) => {
          event.preventDefault();
          setSearch({ show: 'packet', q: typed.trim() }, { replace: true });
        }}
      >
        <label>
          <span className="quiet">A packet</span>
          <Input
            className="boxed mono"
            value={typed}
            list="picture-names"
            aria-label="Question about a packet"
            autoComplete="off"
            spellCheck={false}
            maxLength={600}
            onChange={({ target }) => setTyped(target.value)}
          />
        </label>
        <datalist id="picture-names">
          {names.slice(0, 40).map((name) => (
            <option key={name} value={`from ${name} to internet tcp 443`} />
          ))}
        </datalist>
        <Button type="submit">Follow it</Button>
      </form>
      {followed && !followed.answer.ok && <p role="alert">{followed.answer.problem.says}</p>}
      {answer && (
        <>
          <p role="status">
            <strong>
              {answer.outcome === 'delivered' || answer.outcome === 'hairpin'
                ? 'Arrives.'
                : 'Does not arrive.'}
            </strong>{' '}
            {answer.says}
          </p>
          <div className="row-actions">
            <Tool label="Prior hop" icon={mdiSkipPrevious} onClick={() => move(step - 1)} />
            <Tool
              label={playing ? 'Pause' : 'Play'}
              icon={playing ? mdiPause : mdiPlay}
              onClick={() => {
                if (!playing && step >= steps.length - 1) setStep(0);
                setPlaying(!playing);
              }}
            />
            <Tool label="Next hop" icon={mdiSkipNext} onClick={() => move(step + 1)} />
            {followed!.back.length > 0 && (
              <Tool
                label={back ? 'The way there' : 'Return path'}
                icon={mdiSwapHorizontal}
                onClick={() => {
                  setBack(!back);
                  setStep(0);
                  setPlaying(true);
                }}
              />
            )}
            <span className="quiet">{back ? 'back' : 'there'}</span>
          </div>
          <ol className="picture-hops">
            {hops.map((hop, index) => (
              <li
                key={`${hop.node} ${hop.stage} ${index}`}
                aria-current={index === step ? 'step' : undefined}
                data-stops={hop.stops}
              >
                <button type="button" className="link" onClick={() => move(index)}>
                  {hop.node}, {hop.stage}
                </button>
                <span className="quiet">{hop.decided}</span>
                {index === step && hop.at !== undefined && (
                  <Button className="plain" variant="text" onClick={() => goTo(hop.at!)}>
                    Go to rule
                  </Button>
                )}
              </li>
            ))}
          </ol>
          <Link to={`../ask?q=${encodeURIComponent(asked)}`}>All hops as a table</Link>
        </>
      )}
    </>
  );
}

function Tool({ label, icon, onClick }: { label: string; icon: string; onClick: () => void }) {
  return (
    <IconButton size="small" className="row-button" aria-label={label} title={label} onClick={onClick}>
      <Icon path={icon} />
    </IconButton>
  );
}

function useFollowed(question: string, open: ReadonlySet<string>): Followed | undefined {
  const analysis = useAnalysis();
  const [followed, setFollowed] = useState<Followed>();
  useEffect(() => {
    if (!analysis) return undefined;
    let current = true;
    const worker = analysisWorker();
    void Promise.all([worker.ask(question), worker.way(question, [...open])]).then(
      ([answer, way]) => {
        if (current && answer) setFollowed({ answer, there: way?.there ?? [], back: way?.back ?? [] });
      },
      () => {},
    );
    return () => {
      current = false;
    };
  }, [question, open, analysis]);
  return followed;
}
