import { formatAddress } from '../net/address.ts';
import { contains } from '../net/prefix.ts';
import type { FarSite } from '../site/vpn.ts';
import { translated } from '../vpn/translation.ts';
import { endOf, endOfFar, tunnelStates } from '../vpn/tunnel-states.ts';
import { type Trace } from './packet.ts';
import { serviceText, type Header } from '../net/packet.ts';
import { back, end, hop, stopped, type Run } from './run.ts';

/** Through the tunnel to a other site: whether it is up with these lines down, and what the packet becomes there. */
export function toFarSite(run: Run, far: FarSite, header: Header): Trace {
  const { site, flow } = run;
  const [whole, failed] = tunnelStates(endOf(site), endOfFar(far), site.vpn.keepAliveSeconds);
  const first = site.lines[0];
  const last = site.lines.every(({ id }) => flow.down.has(id));
  const state = first && flow.down.has(first.id) ? failed! : whole!;
  const down = last || state.up === 'no';
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
    down,
  );
  if (down) return stopped(run, 'dropped');
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
  );
}
