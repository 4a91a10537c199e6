import Button from '@mui/material/Button';
import { memo, useMemo, useState } from 'react';
import { addressMap, formatPrefix, type AddressRow } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { useFocus } from '../../state/focus.ts';

/** Rows that are in sight before all are asked for. */
const fewRows = 6;

const roles = {
  network: '',
  box: 'in front of the router',
  tunnel: 'remote access',
  far: 'joined site',
  second: 'behind a second router',
} as const;

/** Which addresses the site uses, to scale: a row a block, sixteen marks in it. */
export function AddressMap() {
  const site = useSite();
  const rows = useMemo(() => addressMap(site), [site]);
  const [all, setAll] = useState(false);
  if (rows.length === 0) return null;
  return (
    <section className="address-map" aria-label="Address space">
      {(all ? rows : rows.slice(0, fewRows)).map((row) => (
        <MapRow key={formatPrefix(row.block)} row={row} />
      ))}
      {rows.length > fewRows && (
        <Button className="plain" variant="text" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? 'Show fewer blocks' : `Show all ${rows.length} blocks in use`}
        </Button>
      )}
    </section>
  );
}

const sameRow = (a: { row: AddressRow }, b: { row: AddressRow }): boolean => {
  const words = ({ row }: { row: AddressRow }): string =>
    row.parts
      .map(({ at, name, prefix, shared }) => [at, name, formatPrefix(prefix), shared].join())
      .join(';');
  return words(a) === words(b);
};

const MapRow = memo(function MapRow({ row }: { row: AddressRow }) {
  const { goTo } = useFocus();
  return (
    <div className="address-row">
      <span className="mono quiet">{formatPrefix(row.block)}</span>
      <div>
        <div className="address-band" aria-hidden>
          {row.parts.map(({ at, name, role, prefix, from, to, shared }) => (
            <span
              key={at + formatPrefix(prefix)}
              className={`address-part address-${shared ? 'shared' : role}`}
              style={{ left: `${from * 100}%`, width: `${(to - from) * 100}%` }}
              title={`${name}, ${formatPrefix(prefix)}`}
            />
          ))}
        </div>
        <ul>
          {row.parts.map(({ at, name, role, prefix, shared }) => (
            <li key={at + formatPrefix(prefix)}>
              <button type="button" className="link" onClick={() => goTo(at)}>
                {name || 'unnamed'}
              </button>
              <span className="mono">{formatPrefix(prefix)}</span>
              {roles[role] !== '' && <span className="quiet"> {roles[role]}</span>}
              {shared && <strong className="mark-blocker"> used twice</strong>}
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}, sameRow);
