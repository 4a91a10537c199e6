import { memo, useMemo } from 'react';
import { formatAddress, hostsOf, type Site } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import '../../parts/ruler.css';

interface RulePicture {
  readonly label: string;
  readonly first: string;
  readonly last: string;
  /** Places along the block, 0 to 100. */
  readonly pool: { readonly from: number; readonly to: number; readonly size: string } | undefined;
  readonly router: number | undefined;
  readonly held: readonly { readonly at: number; readonly name: string }[];
}

/** What the ruler of one network shows; undefined while its block cannot be read. */
export function rulePicture(site: Site, index: number): RulePicture | undefined {
  const network = site.networks[index];
  if (!network?.prefix) return undefined;
  const hosts = hostsOf(network.prefix);
  const start = network.prefix.first;
  const span = Number(hosts.last.value - start) + 1;
  const place = (value: bigint): number => Math.min(100, Math.max(0, (Number(value - start) / span) * 100));
  const inside = (value: bigint): boolean => value >= start && value <= hosts.last.value;
  return {
    label: `${network.name}: ${formatAddress(hosts.first)} to ${formatAddress(hosts.last)}`,
    first: formatAddress(hosts.first),
    last: formatAddress(hosts.last),
    pool:
      network.pool && network.pool.first <= network.pool.last
        ? {
            from: place(network.pool.first),
            to: place(network.pool.last + 1n),
            size: String(network.pool.last - network.pool.first + 1n),
          }
        : undefined,
    router:
      network.routerAddress && inside(network.routerAddress.value)
        ? place(network.routerAddress.value)
        : undefined,
    held: site.devices.flatMap((device) =>
      device.network === network && device.address && inside(device.address.value)
        ? [{ at: place(device.address.value), name: `${device.name}, ${formatAddress(device.address)}` }]
        : [],
    ),
  };
}

/** A block of addresses as a ruler: the pool as a band, the router and every held address as a mark. */
export function BlockRule({ index }: { index: number }) {
  const site = useSite();
  const picture = useMemo(() => rulePicture(site, index), [site, index]);
  return picture ? <Ruler picture={picture} /> : null;
}

const sameDrawing = (a: { picture: RulePicture }, b: { picture: RulePicture }): boolean =>
  JSON.stringify(a.picture) === JSON.stringify(b.picture);

// A site may have fifty of these; typing in one network must not draw the other forty-nine.
const Ruler = memo(function Ruler({ picture }: { picture: RulePicture }) {
  const { pool } = picture;
  return (
    <svg
      className="block-rule"
      role="img"
      aria-label={`${picture.label}${pool ? `, pool of ${pool.size}` : ''}`}
      viewBox="0 0 700 44"
    >
      <line x1="0" x2="700" y1="24" y2="24" className="rule-ink" />
      {Array.from({ length: 17 }, (_, tick) => (
        <line
          key={tick}
          x1={tick * 43.75}
          x2={tick * 43.75}
          y1={tick % 4 === 0 ? 18 : 21}
          y2="24"
          className="rule-ink"
        />
      ))}
      {pool && (
        <rect
          x={pool.from * 7}
          width={Math.max(2, (pool.to - pool.from) * 7)}
          y="25"
          height="7"
          className="rule-pool"
        />
      )}
      {picture.router !== undefined && (
        <path d={`M${picture.router * 7 + 1} 24 l-5 -10 h10 z`} className="rule-router" />
      )}
      {picture.held.map((each) => (
        <line key={each.name} x1={each.at * 7} x2={each.at * 7} y1="13" y2="33" className="rule-held">
          <title>{each.name}</title>
        </line>
      ))}
      <text x="0" y="9" className="rule-text">
        {picture.first}
      </text>
      <text x="700" y="9" textAnchor="end" className="rule-text">
        {picture.last}
      </text>
      {pool && (
        <text x={Math.min(610, Math.max(0, pool.from * 7))} y="42" className="rule-text">
          pool of {pool.size}
        </text>
      )}
    </svg>
  );
}, sameDrawing);
