import { ownsPorts } from '../../base/net/address-and-port.ts';
import type { At } from '../../plan/at.ts';
import { formatAddress, sameAddress, type Address } from '../../base/net/address.ts';
import { classify, reachableFromOutside } from '../../base/net/classify.ts';
import { formatPorts, hasPort, protocolsMeet } from '../../base/net/ports.ts';
import { contains, formatPrefix, roleIn } from '../../base/net/prefix.ts';
import { insideOf } from '../../site/lookups.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { hasWayBack, type ChainedRouter } from '../../site/second.ts';
import type { FarSite, Peer } from '../../site/vpn.ts';
import { endpointLine } from '../../behaviour/remote-access/reachable.ts';
import { ownAddressTowards, translated } from '../../behaviour/remote-access/translation.ts';
import { arriveAtHost } from './arrive.ts';
import { overLine } from './over-line.ts';
import { behindSecond } from './second.ts';
import type { Flow, Trace } from './packet.ts';
import { serviceText, type Header } from '../../base/net/packet.ts';
import type { Decision, Side } from '../../behaviour/router/decision.ts';
import { decided, lookedAt } from '../../behaviour/router/explain.ts';
import { wayTo } from '../../behaviour/router/route.ts';
import { createRouter } from '../../behaviour/router/router.ts';
import { atNoHost, back, end, hop, stopped, type Run } from './run.ts';
import { throughTunnel, toFarSite } from './tunnel.ts';
import { tunnelMtu } from '../../behaviour/remote-access/interface.ts';
import { insideBytes } from '../../behaviour/router/size.ts';
import { isWired } from '../../behaviour/wiring/where.ts';
import type { WifiNetwork } from '../../site/wifi.ts';

/**
 * Follows one packet from its origin to where it ends, and its reply back. With `router` given (made by
 * `createRouter` for the same site and the same lines down), many packets share its tables.
 */
export function follow(site: Site, flow: Flow, router = createRouter(site, flow.down)): Trace {
  const run: Run = { site, flow, router, hops: [], memories: [] };
  const { origin } = flow;
  if (origin.kind === 'inside')
    return fromInside(run, origin.network, origin.name, flow.header, origin.apart);
  if (origin.kind === 'behind') {
    const { second } = origin;
    if (!carries(run, origin.name, insideBytes, 'Ethernet', undefined)) return stopped(run, 'dropped');
    const left = behindSecond(run, second, origin.name);
    if ('outcome' in left) return left;
    const trace = fromInside(run, second.network, second.name, left, undefined);
    return second.translates || hasWayBack(site, second) ? trace : lostAnswer(trace, second);
  }
  if (origin.kind === 'outside') return fromOutside(run);
  if (origin.kind === 'in-front') return fromNeighbour(run, origin.line, origin.name);
  if (origin.kind === 'site') return fromFarSite(run, origin.far);
  if (origin.kind === 'client') return fromClient(run, origin.peer);
  return fromRouter(run);
}

function fromInside(
  run: Run,
  network: Network,
  name: string,
  header: Header,
  apart: WifiNetwork | undefined,
): Trace {
  const { prefix, routerAddress } = network;
  if (!carries(run, name, insideBytes, 'Ethernet', undefined)) return stopped(run, 'dropped');
  if (
    prefix &&
    contains(prefix, header.destination) &&
    !(routerAddress && sameAddress(header.destination, routerAddress))
  ) {
    hop(
      run,
      'host',
      name,
      'own network',
      header,
      header,
      () => `${formatAddress(header.destination)} is in ${formatPrefix(prefix)}`,
      () => 'sent straight to the neighbour: the router never sees it',
      `${network.at}/prefix`,
    );
    if (apart && !isWired(run.site, header.destination)) {
      hop(
        run,
        'host',
        apart.ssid,
        'client isolation',
        header,
        header,
        () => `${apart.ssid} keeps its devices apart`,
        () => 'what has joined it reaches no other device that is joined, only what is wired and the router',
        `${apart.at}/isolation`,
        true,
      );
      return stopped(run, 'refused');
    }
    return arriveAtHost(run, header, network, undefined);
  }
  if (!routerAddress || !prefix || roleIn(prefix, routerAddress) !== 'host') {
    hop(
      run,
      'host',
      name,
      'gateway',
      header,
      header,
      () => `the way out of ${network.name}`,
      () => "the network has no usable router's address to send to",
      `${network.at}/routerAddress`,
      true,
    );
    return stopped(run, 'no-route');
  }
  hop(
    run,
    'host',
    name,
    'gateway',
    header,
    header,
    () => `${formatAddress(header.destination)} is not in ${formatPrefix(prefix)}`,
    () => `handed to the router at ${formatAddress(routerAddress)}`,
    `${network.at}/routerAddress`,
  );
  return throughRouter(run, { kind: 'network', network }, header);
}

/** Whether a link carries a packet of this size; a hop says so where it does not (RFC 1191, RFC 8201). */
function carries(run: Run, node: string, bytes: number, link: string, at: At | undefined): boolean {
  const { header } = run.flow;
  if (header.sizeBytes <= bytes) return true;
  hop(
    run,
    'host',
    node,
    'size',
    header,
    header,
    () => `${header.sizeBytes} bytes, ${link} carries ${bytes}`,
    () => `too large: a packet that must not be fragmented is never sent; its sender has to use ${bytes}`,
    at,
    true,
  );
  return false;
}

/** Without translation nobody finds back to what is behind a second router that the first has no route to. */
const lostAnswer = (trace: Trace, { name }: ChainedRouter): Trace =>
  trace.answered
    ? {
        ...trace,
        outcome: 'dropped',
        says: () => `It arrives, and its answer is lost: the router has no route to what is behind ${name}.`,
        reply: [],
        answered: undefined,
      }
    : trace;

/** Out of the tunnel to another site, and through the router. */
const fromFarSite = (run: Run, far: FarSite): Trace =>
  throughTunnel(run, far, run.flow.header) && tunnelCarries(run, far.name)
    ? throughRouter(run, { kind: 'tunnel', far }, run.flow.header)
    : stopped(run, 'dropped');

const tunnelCarries = (run: Run, node: string): boolean =>
  carries(run, node, tunnelMtu(run.site), 'the tunnel', '/vpn/mtuBytes');

/** Out of the tunnel of a client, and through the router. */
function fromClient(run: Run, peer: Peer): Trace {
  const { header, down } = run.flow;
  const { vpn } = run.site;
  const line = endpointLine(run.site, down);
  hop(
    run,
    'internet',
    'another network',
    'tunnel',
    header,
    header,
    () => `handshake to ${vpn.endpoints[0]?.host || 'no endpoint yet'}, udp ${vpn.port}`,
    () =>
      line ? `it arrives over ${line.name}` : 'no connection from outside arrives over the lines that are up',
    '/vpn/endpoints',
    !line,
  );
  if (!line) return stopped(run, 'impossible');
  return tunnelCarries(run, peer.name)
    ? throughRouter(run, { kind: 'client', peer }, header)
    : stopped(run, 'dropped');
}

/**
 * From somebody on the subnet between the router and what is in front of it: straight to the router, whose forwards
 * answer there as they do at the line, or on to the device in front as to any gateway.
 */
function fromNeighbour(run: Run, line: Line, name: string): Trace {
  const { header, down } = run.flow;
  const { box, prefix } = line;
  const at = `${line.at}/${box?.routes ? 'handoff/insidePrefix' : 'settings'}` as const;
  const looked = (): string =>
    prefix ? `${formatAddress(header.destination)} and ${formatPrefix(prefix)}` : 'the way to the router';
  const sent = (says: () => string, stop = false): void =>
    hop(run, 'host', name, 'gateway', header, header, looked, says, at, stop);
  if (down.has(line.id)) {
    sent(() => `${line.name} is down`, true);
    return stopped(run, 'dropped');
  }
  if (!carries(run, name, line.mtuBytes, line.name, `${line.at}/mtuBytes`)) return stopped(run, 'dropped');
  if (sameAddress(header.destination, line.address)) {
    sent(() => 'the router is a neighbour: sent straight to it');
    return throughRouter(run, { kind: 'line', line }, header);
  }
  if (prefix && contains(prefix, header.destination)) {
    sent(() => 'sent straight to the neighbour: the router never sees it');
    const stop = atNoHost(run, header);
    if (stop) return stop;
    return end(
      run,
      'delivered',
      () => `Delivered between ${box?.name ?? line.name} and the router.`,
      header,
      back(run, header, formatAddress(header.destination)),
      { kind: 'in-front', line },
    );
  }
  sent(() => `handed to ${box?.routes ? box.name : 'the gateway of the line'}`);
  return overLine(run, line, header, undefined, again(run));
}

/** The router's own packets: route, then out with the line's address. */
function fromRouter(run: Run): Trace {
  const { header } = run.flow;
  const { site, router } = run;
  const way = wayTo({ route: router.route, site }, header.destination);
  if (way?.kind === 'far')
    return tunnelCarries(run, 'router')
      ? toFarSite(run, way.far, { ...header, source: sourceTowards(run, way.far) })
      : stopped(run, 'dropped');
  const looked = (sent: Header, decided: () => string, at: At | undefined, stop = false): void =>
    hop(
      run,
      'router',
      'router',
      'route',
      header,
      sent,
      () => formatAddress(header.destination),
      decided,
      at,
      stop,
    );
  const route = way?.kind === 'route' ? way.route : undefined;
  if (!route || route.target.kind === 'unused') {
    const says = (): string =>
      route
        ? `${route.says}, and no network here has that address`
        : way
          ? 'it is in the subnet of the remote users, who begin what they want'
          : 'no route holds it';
    looked(header, says, route?.at, true);
    return stopped(run, 'no-route');
  }
  const { target } = route;
  const source = target.kind === 'line' ? target.line.address : target.network.routerAddress;
  const sent = { ...header, source: source ?? header.source };
  looked(sent, () => `${route.says} is the longest match`, route.at);
  const [bytes, link] =
    target.kind === 'line' ? [target.line.mtuBytes, target.line.name] : [insideBytes, 'Ethernet'];
  if (!carries(run, 'router', bytes, link, undefined)) return stopped(run, 'dropped');
  return target.kind === 'line'
    ? overLine(run, target.line, sent, undefined, again(run))
    : arriveAtHost(run, sent, target.network, undefined);
}

/** The router's own address towards another site: on a network that is connected with it, as the other end sees that. */
function sourceTowards({ site, flow }: Run, far: FarSite): Address {
  const source = ownAddressTowards(site, far) ?? flow.header.source;
  const row = far.translations.find(({ of, real }) => of === 'here' && contains(real, source));
  return (row && translated(source, row.real, row.seen)) ?? source;
}

function fromOutside(run: Run): Trace {
  const { header, origin } = run.flow;
  const { site } = run;
  const aimed = origin.kind === 'outside' ? origin.line : undefined;
  const line =
    aimed ??
    site.lines.find((each) => sameAddress(each.publicAddress, header.destination)) ??
    (reachableFromOutside(classify(header.destination).class)
      ? (site.lines.find(
          (each) =>
            sameAddress(each.lineAddress, header.destination) ||
            sameAddress(each.address, header.destination),
        ) ?? routedLine(run))
      : undefined);
  const looked = (): string => `who has ${formatAddress(header.destination)}`;
  if (!line) {
    const name = classify(header.destination).class;
    const impossible = !reachableFromOutside(name);
    hop(
      run,
      'internet',
      'internet',
      'routing',
      header,
      header,
      looked,
      () =>
        impossible
          ? `${formatAddress(header.destination)} is ${name}: the internet carries nothing to it`
          : 'no line of this site has that address',
      undefined,
      true,
    );
    return stopped(run, impossible ? 'impossible' : 'no-route');
  }
  return inward(run, line, header, aimed !== undefined);
}

/** What goes round by the internet comes in again over another line. */
const again =
  (run: Run) =>
  (line: Line, header: Header): Trace =>
    inward(run, line, header, false);

/** Whether a port of the line's address is another subscriber's; an ICMP message that nobody asked for has no port at all. */
const isForeign = ({ ownPorts }: Line, { protocol, destinationPort }: Header): boolean =>
  ownPorts !== undefined &&
  (protocol === 'icmp' || !ownsPorts(ownPorts, { first: destinationPort, last: destinationPort }));

/** From the internet to a line, through what translates in front of it, and into the router. */
function inward(run: Run, line: Line, header: Header, aimed: boolean): Trace {
  const looked = (): string => `who has ${formatAddress(header.destination)}`;
  if (run.flow.down.has(line.id)) {
    hop(
      run,
      'internet',
      'internet',
      'routing',
      header,
      header,
      looked,
      () => `${line.name} has it, and ${line.name} is down`,
      line.at,
      true,
    );
    return stopped(run, 'dropped');
  }
  if (line.translators.includes('carrier')) {
    hop(
      run,
      'carrier',
      `carrier NAT of ${line.name}`,
      'mapping',
      header,
      header,
      () => `${line.name} sits on ${formatAddress(line.lineAddress)}, which is ${line.lineClass}`,
      () =>
        'the provider translates this line and remembers only flows that began inside: no connection can be opened from outside',
      line.addressAt,
      true,
    );
    return stopped(run, 'impossible');
  }
  if (!line.box?.routes && isForeign(line, header)) {
    hop(
      run,
      'carrier',
      `border relay of ${line.name}`,
      'mapping',
      header,
      header,
      () =>
        `${formatAddress(header.destination)} is shared by several subscribers, each with ports of its own`,
      () =>
        `${serviceText(header)} is not among the ports of ${line.name}: the relay hands it to another subscriber`,
      line.addressAt,
      true,
    );
    return stopped(run, 'impossible');
  }
  hop(
    run,
    'internet',
    'internet',
    'routing',
    header,
    header,
    looked,
    () =>
      line.publicAddressKnown
        ? `${line.name} has it`
        : `aimed at ${line.name}, whose address is not known yet: this holds only if the line gets a public one`,
    line.addressAt,
  );
  if (!carries(run, 'internet', line.mtuBytes, line.name, `${line.at}/mtuBytes`))
    return stopped(run, 'dropped');
  if (!line.box?.routes) {
    if (line.box)
      hop(
        run,
        'box',
        line.box.name,
        'bridge',
        header,
        header,
        () => 'a bridged device',
        () => 'handed on unchanged',
        `${line.at}/handoff/mode`,
      );
    const aimedAtLine = aimed || sameAddress(header.destination, line.publicAddress);
    return throughRouter(
      run,
      { kind: 'line', line },
      aimedAtLine ? { ...header, destination: line.address } : header,
    );
  }
  const { box } = line;
  const entry =
    header.protocol === 'icmp'
      ? undefined
      : box.forwards.find(
          (each) =>
            hasPort(each.ports, header.destinationPort) && protocolsMeet(each.protocol, header.protocol),
        );
  const sought = (): string =>
    `${serviceText(header)} in the ${box.forwards.length} forward${box.forwards.length === 1 ? '' : 's'} of ${box.name}`;
  if (!entry) {
    hop(
      run,
      'box',
      box.name,
      'destination NAT',
      header,
      header,
      sought,
      () =>
        `${box.name} hands nothing on for ${serviceText(header)}: it needs a forward of its own to ${formatAddress(line.address)}`,
      `${line.at}/handoff/forwards`,
      true,
    );
    return stopped(run, 'refused');
  }
  const inward = { ...header, destination: line.address };
  hop(
    run,
    'box',
    box.name,
    'destination NAT',
    header,
    inward,
    sought,
    () => `${formatPorts(entry.ports)} is handed on to the router at ${formatAddress(line.address)}`,
    `${line.at}/handoff/forwards`,
  );
  run.memories.push({ kind: 'box', node: box.name, before: header, after: inward });
  return throughRouter(run, { kind: 'line', line }, inward);
}

/**
 * The line by which the provider sends a public subnet here: the one whose contract names it, else, for one that is in
 * use inside, the first that is up and direct.
 */
function routedLine({ site, flow }: Run): Line | undefined {
  const { destination } = flow.header;
  const named = site.lines.find(({ routedBlock }) => routedBlock && contains(routedBlock, destination));
  if (named) return named;
  const inside = site.routes.some(
    ({ prefix, target }) => insideOf(target) && prefix.length > 0 && contains(prefix, destination),
  );
  return inside ? site.lines.find((each) => !flow.down.has(each.id) && each.inbound === 'direct') : undefined;
}

/** Through the stages of the router; their decisions become hops, put into words only when somebody reads them. */
function throughRouter(run: Run, ingress: Side, header: Header): Trace {
  const decisions = run.router.decide(ingress, header);
  for (const decision of decisions)
    run.hops.push({
      kind: 'router',
      node: 'router',
      stage: decision.stage,
      at: decision.at,
      looked: () => lookedAt(decision),
      decided: () => decided(decision),
      before: decision.before.header,
      after: decision.after.header,
      stops: decision.stop !== undefined,
    });
  const trace = onward(run, ingress, header, decisions.at(-1)!);
  return ingress.kind === 'line' ? heardBack(ingress.line, header, trace) : trace;
}

/** What came in by a line and cannot leave by it is received, and nobody hears of it. */
function heardBack(line: Line, { source }: Header, trace: Trace): Trace {
  if (line.gatewayUsable || !trace.answered || (line.prefix && contains(line.prefix, source))) return trace;
  return {
    ...trace,
    outcome: 'dropped',
    says: () =>
      `It arrives, and its answer is lost: the gateway of ${line.name} is no other host of its subnet.`,
    reply: [],
    answered: undefined,
  };
}

function onward(run: Run, ingress: Side, header: Header, last: Decision): Trace {
  const { reason, stop, after } = last;
  if (stop !== undefined && stop !== 'answered') return stopped(run, stop);
  run.memories.push({ kind: 'router', node: 'router', before: header, after: after.header });
  if (stop === 'answered') {
    const name = reason.kind === 'service-answers' ? reason.service.name : 'ping';
    return end(
      run,
      'delivered',
      () => `The router itself answers (${name}).`,
      after.header,
      back(run, after.header, 'router'),
      { kind: 'router' },
    );
  }
  const egress = after.egress!;
  if (egress.kind === 'network') return arriveAtHost(run, after.header, egress.network, after.hairpin);
  if (egress.kind === 'tunnel') return toFarSite(run, egress.far, after.header);
  if (egress.kind === 'client') return stopped(run, 'dropped');
  return overLine(
    run,
    egress.line,
    after.header,
    ingress.kind === 'network' ? ingress.network : undefined,
    again(run),
  );
}
