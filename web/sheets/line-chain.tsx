import { formatAddress, formatPrefix, titleAt, type Line } from '../../core/index.ts';
import { useAnalysis, useSite } from '../app/analysis.ts';
import { useFocus } from '../app/focus.ts';

interface Station {
  readonly key: string;
  readonly name: string;
  readonly value: string;
  readonly note: string;
  readonly at: string;
}

/** The line as a string of stations, from the provider to the router, with what is known at each. */
export function LineChain({ index }: { index: number }) {
  const { goTo } = useFocus();
  const findings = useAnalysis()?.findings ?? [];
  const line = useSite().lines[index];
  if (!line) return null;
  const stations = stationsOf(line);
  const wrong = (at: string): boolean =>
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

function stationsOf(line: Line): Station[] {
  const { at, box } = line;
  const stations: Station[] = [];
  const outsideAt = box?.routes ? `${at}/handoff/outsideAddress` : line.addressAt;
  const carrier = line.translators.includes('carrier');
  stations.push(
    carrier
      ? {
          key: 'carrier',
          name: 'Carrier NAT',
          value: formatAddress(line.lineAddress),
          note: `${line.lineClass}: no way in`,
          at: outsideAt,
        }
      : {
          key: 'provider',
          name: 'Provider',
          value:
            line.gateway && !box?.routes
              ? formatAddress(line.gateway)
              : line.lineAddressKnown
                ? formatAddress(line.lineAddress)
                : '',
          note:
            line.gateway && !box?.routes
              ? 'gateway'
              : line.lineClass === 'unknown'
                ? 'address not known yet'
                : `${line.lineClass} address`,
          at: outsideAt,
        },
  );
  if (box)
    stations.push(
      box.routes
        ? {
            key: 'box',
            name: box.name,
            value: box.prefix ? formatPrefix(box.prefix) : '',
            note:
              box.forwards.length > 0
                ? `routes, hands ${box.forwards.length === 1 ? 'one port' : `${box.forwards.length} ports`} on`
                : 'routes: a second translation',
            at: `${at}/handoff/insidePrefix`,
          }
        : {
            key: 'box',
            name: box.name,
            value: 'bridged',
            note: 'hands packets on unchanged',
            at: `${at}/handoff/mode`,
          },
    );
  stations.push({
    key: 'port',
    name: 'Router, WAN port',
    value: line.addressKnown ? formatAddress(line.address) : '',
    note: line.addressKnown
      ? line.prefix
        ? `in ${formatPrefix(line.prefix)}`
        : `by ${(/\(([^()]+)\)/.exec(titleAt('/uplinks/*/type', line.type)) ?? [])[1] ?? 'itself'}`
      : 'gets its address by itself',
    at: line.addressAt,
  });
  stations.push({
    key: 'inside',
    name: 'Inside',
    value: `up to ${line.mtuBytes} bytes`,
    note: line.sourceNat ? 'leaves with the WAN address' : 'leaves untranslated',
    at: `${at}/mtuBytes`,
  });
  return stations;
}
