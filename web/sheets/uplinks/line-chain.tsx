import { stationsOf, type Station } from '../../../core/index.ts';
import { useAnalysis, useSite } from '../../state/analysis.ts';
import { useFocus } from '../../state/focus.ts';

/** The line as a string of stations, from the provider to the router, with what is known at each. */
export function LineChain({ index }: { index: number }) {
  const { goTo } = useFocus();
  const findings = useAnalysis()?.findings ?? [];
  const line = useSite().lines[index];
  if (!line) return null;
  const stations = stationsOf(line);
  const wrong = (at: Station['at']): boolean =>
    findings.some(
      (finding) => finding.severity === 'blocker' && [finding.at, ...(finding.also ?? [])].includes(at),
    );
  return (
    <ol className="chain" aria-label={`${line.name}, from the provider to the router`}>
      {stations.map((station) => (
        <li key={station.key} className={wrong(station.at) ? 'chain-wrong' : undefined}>
          <button type="button" onClick={() => goTo(station.at)} title="Go to this field">
            <span className="chain-name">{station.name}</span>
            <span className="chain-value mono">{station.value || '?'}</span>
            <span className="chain-note">{station.note}</span>
          </button>
        </li>
      ))}
    </ol>
  );
}
