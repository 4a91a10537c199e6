import type { At } from '../../plan/at.ts';
import { formatAddress, type Address } from '../../base/net/address.ts';
import { createRouter, type Router } from '../../behaviour/router/router.ts';
import { devicesOn } from '../../site/lookups.ts';
import type { Network, Site } from '../../site/model.ts';
import { slug } from '../../base/text.ts';
import { follow } from './follow.ts';
import type { Trace } from './packet.ts';
import { sampleHost } from './query.ts';

/** Something that must not answer, as it is tried from a device on a network. */
export interface MustNot {
  /** Whose it is: a network, or the router's own page. */
  readonly to: { readonly name: string; readonly at: At };
  readonly host: Address;
  readonly port: number;
  /** "10.24.10.20 tcp 443". */
  readonly text: string;
  /** The question that Ask answers with the refusal. */
  readonly question: string;
}

/** Ports at which something mostly answers (common practice, no source), tried in this order. */
const tried = [443, 80, 22];

/** Something inside that must answer, as it is tried from a device on a network. */
export interface Must {
  readonly host: Address;
  readonly port: number;
  readonly name: string;
}

/** Services of registered devices elsewhere that a network reaches, a few of them (TCP: a try shows by itself). */
export function mustReach(site: Site, from: Network, router: Router = createRouter(site, new Set())): Must[] {
  const source = sampleHost(site, from);
  if (!source) return [];
  const found: Must[] = [];
  for (const device of site.devices) {
    const { address: host, network } = device;
    if (!host || network === from || host.family !== source.family) continue;
    for (const service of device.services) {
      if (!service.ports || service.protocol === 'udp') continue;
      const port = service.ports.first;
      if (tryTcp(site, from, router, source, host, port).outcome !== 'delivered') continue;
      found.push({ host, port, name: `${service.name} of ${device.name}` });
      if (found.length === mostTried) return found;
    }
  }
  return found;
}

const mostTried = 8;

const tryTcp = (
  site: Site,
  from: Network,
  router: Router,
  source: Address,
  destination: Address,
  destinationPort: number,
): Trace =>
  follow(
    site,
    {
      origin: { kind: 'inside', network: from, name: from.name },
      header: { protocol: 'tcp', source, sourcePort: 49152, destination, destinationPort, sizeBytes: 60 },
      down: new Set(),
    },
    router,
  );

/**
 * For each other network one try that the router must refuse, a registered device before any other address; and the
 * router's own page, where it is managed from elsewhere.
 */
export function mustNotReach(
  site: Site,
  from: Network,
  router: Router = createRouter(site, new Set()),
): MustNot[] {
  const source = sampleHost(site, from);
  if (!source) return [];
  const others = site.networks.flatMap((to): MustNot[] => {
    if (to === from || to.prefix?.family !== source.family) return [];
    const hosts = [
      ...devicesOn(site, to).flatMap(({ address }) => address ?? []),
      ...[sampleHost(site, to)].flatMap((each) => each ?? []),
    ].slice(0, 4);
    for (const host of hosts)
      for (const port of tried) {
        const trace = tryTcp(site, from, router, source, host, port);
        if (trace.outcome !== 'refused') continue;
        const text = `${formatAddress(host)} tcp ${port}`;
        return [{ to, host, port, text, question: `from ${slug(from.name)} to ${text}` }];
      }
    return [];
  });
  return [...others, ...ownPage(site, from, router, source)];
}

/** The page of the router answers where it is managed from, and on no other network. */
function ownPage(site: Site, from: Network, router: Router, source: Address): MustNot[] {
  const host = from.routerAddress;
  const page = site.services.find(({ role, protocol }) => role === 'management' && protocol !== 'udp');
  if (!host || !page || from === site.router.adminNetwork || host.family !== source.family) return [];
  const port = page.ports.first;
  if (tryTcp(site, from, router, source, host, port).outcome !== 'refused') return [];
  const text = `${formatAddress(host)} tcp ${port}`;
  return [
    {
      to: { name: `the router (${page.name})`, at: page.at },
      host,
      port,
      text,
      question: `from ${slug(from.name)} to ${text}`,
    },
  ];
}
