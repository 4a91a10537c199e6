import { once } from '../../base/once.ts';
import { formatAddress, type Address } from '../../base/net/address.ts';
import { formatPorts } from '../../base/net/ports.ts';
import { follow } from '../path/follow.ts';
import type { Flow, Trace } from '../path/packet.ts';
import { sampleHost } from '../path/query.ts';
import type { Router } from '../../behaviour/router/router.ts';
import { createRouter } from '../../behaviour/router/router.ts';
import { admittedSource } from '../../site/allowed.ts';
import type { Forward, Line, Network, Site } from '../../site/model.ts';
import { chainedAt } from '../../site/second.ts';
import { failoverPromise } from './failover-promise.ts';
import { secondPromise, wifiPromise } from './inside-promise.ts';
import { linePromise } from './line-promise.ts';
import { peerPromise, refusedPromise } from './peer-promise.ts';
import { mustNotReach } from '../path/must-not.ts';
import {
  apartPromiseId,
  forwardPromiseId,
  internetPromiseId,
  type SitePromise,
} from '../../behaviour/domain-types/promise.ts';
import { sitePromise } from './site-promise.ts';

/** Source port of the packets that are tried on paper: the first of the dynamic range (RFC 6335 section 6). */
const tryPort = 49152;

/** The promises of a site: lines, networks, forwards, the day a line fails, and who comes in from outside. */
export const promisesOf: (site: Site) => readonly SitePromise[] = once(allPromises);

function allPromises(site: Site): SitePromise[] {
  const router = createRouter(site, new Set());
  return [
    ...site.lines.map((line) => promiseOfLine(site, line)),
    ...site.networks.map((network) => internetPromise(site, network, router)),
    ...site.networks.flatMap((network) => apartPromise(site, network, router)),
    ...site.forwards.map((forward) => forwardPromise(site, forward, router)),
    ...site.wifi.rooms.flatMap((room) => wifiPromise(site, room)),
    ...site.second.flatMap(secondPromise),
    ...site.failover.promises.map((promise) => failoverPromise(site, promise)),
    ...(site.vpn.way === 'none'
      ? []
      : [
          ...site.vpn.peers.map((peer) =>
            peer.revoked ? refusedPromise(site, peer) : peerPromise(site, peer),
          ),
          ...site.vpn.sites.map((far) => sitePromise(site, far)),
        ]),
  ];
}

/** A packet to the internet from somebody on a network. */
function tryOut(site: Site, network: Network, router: Router, down: ReadonlySet<string>): Trace | undefined {
  const source = sampleHost(site, network);
  return (
    source &&
    follow(
      site,
      {
        origin: { kind: 'inside', network, name: network.name },
        header: header(source, site.outsider, 443),
        down,
      },
      router,
    )
  );
}

function promiseOfLine(site: Site, line: Line): SitePromise {
  const others = site.lines.filter((each) => each !== line);
  const down = new Set(others.map(({ id }) => id));
  const from = site.router.adminNetwork ?? site.networks[0];
  const trace = from && tryOut(site, from, createRouter(site, down), down);
  const without =
    others.length === 0
      ? ''
      : ` when ${others.map(({ name }) => name).join(' and ')} ${others.length === 1 ? 'is' : 'are'} down`;
  return linePromise(line, trace, `from ${from?.name ?? 'router'} to internet tcp 443${without}`);
}

function internetPromise(site: Site, network: Network, router: Router): SitePromise {
  const question = `from ${network.name} to internet tcp 443`;
  const trace = tryOut(site, network, router, new Set());
  const names = network.resolvers.length > 0 || !network.dhcp.enabled;
  return {
    id: internetPromiseId(network),
    kind: 'internet',
    at: network.at,
    says: `${network.name} reaches the internet`,
    needs: ['page'],
    outside: false,
    paper: {
      kept: trace?.outcome === 'delivered' && names,
      says: !trace
        ? `${network.name} has no readable subnet yet.`
        : trace.outcome !== 'delivered'
          ? trace.says()
          : names
            ? trace.says()
            : 'A packet gets out, but the network hands out no DNS server: no name resolves.',
      question,
    },
  };
}

/** "This network stays apart": on paper nothing answers there, on site each of them was tried and did not. */
function apartPromise(site: Site, network: Network, router: Router): SitePromise[] {
  const pairs = mustNotReach(site, network, router);
  const [first] = pairs;
  if (!first) return [];
  return [
    {
      id: apartPromiseId(network),
      kind: 'apart',
      at: network.at,
      says: `${network.name} reaches nothing of ${pairs.map(({ to }) => to.name).join(', ')} that no rule allows`,
      needs: ['apart'],
      outside: false,
      paper: {
        kept: true,
        says: `Refused on paper: ${pairs.map(({ text }) => text).join('; ')}.`,
        question: first.question,
      },
    },
  ];
}

function forwardPromise(site: Site, forward: Forward, router: Router): SitePromise {
  const ports = forward.outside ? formatPorts(forward.outside) : '?';
  const protocol = forward.protocol === 'udp' ? 'udp' : 'tcp';
  const where = forward.line?.name ?? 'no uplink';
  const question = `from internet to ${forward.line?.name ?? 'internet'} ${protocol} ${forward.outside?.first ?? 1}`;
  const trace = tryForward(site, forward, router);
  return {
    id: forwardPromiseId(forward),
    kind: 'forward',
    at: forward.at,
    says: `${forward.name} answers from outside at ${where}, ${protocol === 'tcp' && forward.protocol === 'both' ? 'tcp and udp' : protocol} ${ports}${forward.allowed.kind === 'some' ? `, for ${forward.allowed.says} only` : ''}`,
    needs: forward.allowed.kind === 'some' ? ['outside-port', 'outside-refused'] : ['outside-port'],
    outside: true,
    paper: {
      kept:
        trace?.outcome === 'delivered' &&
        trace.arrived !== undefined &&
        (trace.arrived.destination.value === forward.device?.address?.value || throughSecond(site, forward)),
      says: trace ? trace.says() : 'The forward is not complete yet.',
      question,
    },
  };
}

/** The device of a forward is a second router, which hands it on with another address. */
const throughSecond = (site: Site, { device }: Forward): boolean =>
  device?.network !== undefined &&
  device.address !== undefined &&
  chainedAt(site.second, device.network, device.address) !== undefined;

/** The packet of an allowed visitor to the forward's first port. */
function tryForward(site: Site, forward: Forward, router: Router): Trace | undefined {
  const { line, outside, allowed } = forward;
  const visitor = admittedSource(allowed, site.outsider);
  if (!line || !outside || !visitor) return undefined;
  const flow: Flow = {
    origin: { kind: 'outside', name: formatAddress(visitor), line },
    header: {
      ...header(visitor, line.publicAddress, outside.first),
      protocol: forward.protocol === 'udp' ? 'udp' : 'tcp',
    },
    down: new Set(),
  };
  return follow(site, flow, router);
}

const header = (source: Address, destination: Address, port: number): Flow['header'] => ({
  protocol: 'tcp',
  source,
  sourcePort: tryPort,
  destination,
  destinationPort: port,
  sizeBytes: 60,
});
