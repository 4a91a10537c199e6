import type { TunnelState } from '../../core/index.ts';
import './promises.css';

const stateWords: Record<TunnelState['up'], string> = { itself: 'up', 'by-hand': 'by hand', no: 'down' };
const stateLooks: Record<TunnelState['up'], string> = {
  itself: 'verdict-good',
  'by-hand': 'verdict-doubt',
  no: 'verdict-bad',
};

/** What becomes of a tunnel with a line down at either end. */
export function StateList({ label, states }: { label: string; states: readonly TunnelState[] }) {
  return (
    <ul className="tunnel-states" aria-label={label}>
      {states.map(({ when, up, says }) => (
        <li key={when}>
          <span className="quiet">{when}</span>
          <span className={stateLooks[up]}>{stateWords[up]}</span>
          <span>{says}</span>
        </li>
      ))}
    </ul>
  );
}
