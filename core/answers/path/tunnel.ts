import { formatAddress } from '../../base/net/address.ts';
import { contains } from '../../base/net/prefix.ts';
import type { FarSite } from '../../site/vpn.ts';
import { translated } from '../../behaviour/remote-access/translation.ts';
import { endOf, endOfFar, tunnelStates } from '../../behaviour/remote-access/tunnel-states.ts';
import { type Trace } from './packet.ts';
import { serviceText, type Header } from '../../base/net/packet.ts';
import { atNoHost, back, end, hop, stopped, type Run } from './run.ts';

/** Whether the tunnel to another site is up with these lines down; the hop says why. */
export function throughTunnel(run: Run, far: FarSite, header: Header): boolean {
  const { site, flow } = run;
  const [whole, failed] = tunnelStates(endOf(site), endOfFar(far), site.vpn.keepAliveSeconds);
  const first = site.lines[0];
  const last = site.lines.every(({ id }) => flow.down.has(id));
  const state = first && flow.down.has(first.id) ? failed! : whole!;
  const up = !last && state.up !== 'no';
  hop(
    run,
    'internet',
    `tunnel to ${far.name}`,
    'tunnel',
    header,
    header,
    () => state.when,
    () => (last ? 'no line of this site is up' : state.says.replace(/\.$/, '')),
    far.at,
    !up,
  );
  return up;
}

/** Through the tunnel to another site, and what the packet becomes there. */
export function toFarSite(run: Run, far: FarSite, header: Header): Trace {
  if (!throughTunnel(run, far, header)) return stopped(run, 'dropped');
  const stop = atNoHost(run, header);
  if (stop) return stop;
  const meant = far.translations.find(({ of, seen }) => of === 'there' && contains(seen, header.destination));
  const real = meant && translated(header.destination, meant.seen, meant.real);
  const arrived = real ? { ...header, destination: real } : header;
  const name = `${far.name}, ${formatAddress(arrived.destination)}`;
  hop(
    run,
    'host',
    name,
    'arrival',
    header,
    arrived,
    () => (real ? `${formatAddress(header.destination)} is its address here` : serviceText(header)),
    () => 'what answers there is in the plan of that site',
    meant?.at,
  );
  run.memories.push({ kind: 'host', node: far.name, before: header, after: arrived });
  return end(
    run,
    'delivered',
    () => `Delivered through the tunnel to ${name}.`,
    arrived,
    back(run, arrived, name),
    { kind: 'site', far },
  );
}
