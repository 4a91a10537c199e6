import { formatAddress, type Address } from '../net/address.ts';
import { contains, formatPrefix } from '../net/prefix.ts';
import type { Site } from '../site/model.ts';
import { tunnelMtu } from '../vpn/interface.ts';
import type { FarSite } from '../site/vpn.ts';
import { translated } from '../vpn/translation.ts';
import { endOf, endOfFar, tunnelStates } from '../vpn/tunnel-states.ts';
import { serviceText, type Header, type Trace } from './packet.ts';
import { back, end, hop, stopped, type Run } from './run.ts';
import { sideName, type Egress, type Note, type Side, type Verdict } from './stages.ts';

/** The joined site whose blocks hold an address; an inside network wins over it. */
export const farSiteAt = (site: Site, host: Address): FarSite | undefined =>
  site.vpn.sites.length === 0 || site.networks.some(({ prefix }) => prefix && contains(prefix, host))
    ? undefined
    : site.vpn.sites.find(({ prefixes }) => prefixes.some((block) => contains(block, host)));

/** A packet for a joined site: only joined networks may, and the own block gives way where it is in use there too. */
export function intoTunnel(site: Site, ingress: Side, far: FarSite, header: Header, note: Note): Verdict {
  const egress: Egress = { kind: 'tunnel', far };
  const block = far.prefixes.find((each) => contains(each, header.destination))!;
  note(
    'route',
    `${far.at}/prefixes`,
    () => `${formatAddress(header.destination)} among the blocks of joined sites`,
    () => `${formatPrefix(block)} is ${far.name}: into the tunnel`,
  );
  const allowed = ingress.kind === 'network' && far.networks.includes(ingress.network);
  note(
    'policy',
    `${far.at}/networks`,
    () => `${sideName(ingress)} to ${sideName(egress)}`,
    () => (allowed ? 'these two are joined' : `${sideName(ingress)} is not joined with ${far.name}`),
    header,
    !allowed,
  );
  if (!allowed) return { goes: 'nowhere', outcome: 'refused' };
  const own = far.translations.find(({ of, real }) => of === 'here' && contains(real, header.source));
  const source = own && translated(header.source, own.real, own.seen);
  const sent = source ? { ...header, source } : header;
  note(
    'source NAT',
    own?.at,
    () => `leaving by ${sideName(egress)}`,
    () =>
      source
        ? `source becomes ${formatAddress(source)}: ${far.name} uses ${formatPrefix(own.real)} too`
        : 'nothing to translate',
    sent,
  );
  const mtu = tunnelMtu(site);
  const fits = header.sizeBytes <= mtu;
  note(
    'size',
    '/vpn/mtuBytes',
    () => `${header.sizeBytes} bytes, the tunnel carries ${mtu}`,
    () => (fits ? 'it fits' : `too large: the sender is told to use ${mtu}`),
    sent,
    !fits,
  );
  return fits
    ? { goes: 'on', header: sent, egress, forward: undefined, hairpin: undefined }
    : { goes: 'nowhere', outcome: 'dropped' };
}

/** Through the tunnel to a joined site: whether it is up with these lines down, and what the packet becomes there. */
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
    () => (real ? `${formatAddress(header.destination)} is what it is called here` : serviceText(header)),
    () => 'what answers there stands in the plan of that site',
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
