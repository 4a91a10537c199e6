import Collapse from '@mui/material/Collapse';
import { createContext, useContext, useEffect, useId, useState, type ReactNode } from 'react';
import { figuresText, type At } from '../../core/index.ts';
import { useGravest } from '../state/analysis.ts';
import { usePlace } from '../state/focus.ts';
import { usePlanPiece } from '../state/session.ts';
import { Signal, useSignal } from '../state/signal.ts';
import { SeverityMark } from './severity.tsx';
import './figures.css';

/** Whether all figures of all sheets are open; one at a time where they are not. */
export const FiguresContext = createContext(new Signal(false));

const keptAs = 'netter-figures';

/** As somebody left it in this browser. */
export const figuresSignal = (): Signal<boolean> => new Signal(localStorage.getItem(keptAs) === 'open');

export function toggleFigures(signal: Signal<boolean>): void {
  const open = !signal.get();
  signal.set(open);
  localStorage.setItem(keptAs, open ? 'open' : 'folded');
}

/**
 * Figures with usual values, folded into one line that says them. It opens by click and by key, by F7 with all others,
 * and by itself when a field in it is wanted: from a finding, from a search, from the Workings.
 */
export function Figures({
  title,
  of,
  at,
  says,
  children,
}: {
  title: string;
  /** Whose figures they are, where several stand on one sheet. */
  of?: string;
  /** Pointers of what stands in it; what lies below one of them is in it too. */
  at: readonly At[];
  /** In place of what the fields themselves say. */
  says?: string;
  children: ReactNode;
}) {
  const id = useId();
  const all = useSignal(useContext(FiguresContext), (open) => open);
  const wanted = usePlace();
  const mark = useGravest(at);
  const text = usePlanPiece((plan) => says ?? figuresText(plan, at));
  const [own, setOwn] = useState(false);
  const inside = wanted !== '' && at.some((place) => wanted === place || wanted.startsWith(`${place}/`));
  useEffect(() => {
    if (inside) setOwn(true);
  }, [inside]);
  const open = all || own || inside;
  return (
    <section className={open ? 'figures figures-open' : 'figures'}>
      <button
        type="button"
        className="figures-line"
        aria-expanded={open}
        aria-controls={id}
        onClick={() => setOwn(!open)}
      >
        <span className="figures-title">
          {title}
          {of !== undefined && <span className="hidden"> of {of}</span>}
        </span>
        <span className="figures-says">{text}</span>
        {mark && <SeverityMark severity={mark} />}
      </button>
      <Collapse in={open} id={id} timeout={120} unmountOnExit>
        {children}
      </Collapse>
    </section>
  );
}
