import { addressKey, formatAddress, sameAddress } from '../net/address.ts';
import { classify, reachableFromOutside } from '../net/classify.ts';
import { formatPorts, hasPort, protocolsMeet } from '../net/ports.ts';
import { contains, formatPrefix, roleIn } from '../net/prefix.ts';
import type { Device, Line, Network, Site } from '../site/model.ts';
import {
  reversed,
  serviceText,
  type Flow,
  type Header,
  type Hop,
  type NodeKind,
  type Outcome,
  type Trace,
} from './packet.ts';
import { endOf, endOfFar, tunnelStates } from '../vpn/tunnel-states.ts';
import { translated } from '../vpn/translation.ts';
import type { FarSite } from '../vpn/model.ts';
import { createRouter, farSiteAt, type Router, type Side } from './router.ts';

/** What a translator remembers of a flow, so that the reply can be put back (RFC 3022 section 4.1). */
interface Memory {
  readonly kind: NodeKind;
  readonly node: string;
  readonly before: Header;
  readonly after: Header;
}

/** One run of a packet and its reply over a site. */
interface Run {
  readonly site: Site;
  readonly flow: Flow;
  readonly router: Router;
  readonly hops: Hop[];
  readonly memories: Memory[];
}

/**
 * Follows one packet from its origin to where it ends, and its reply back. With `router` given (made by
 * `createRouter` for the same site and the same lines down), many packets share its tables.
 */
export function follow(site: Site, flow: Flow, router = createRouter(site, flow.down)): Trace {
  const run: Run = { site, flow, router, hops: [], memories: [] };
  const { origin } = flow;
  if (origin.kind === 'inside') return fromInside(run, origin.network, origin.name);
  if (origin.kind === 'outside') return fromOutside(run);
  return fromRouter(run);
}

function hop(
  run: Run,
  kind: NodeKind,
  node: string,
  stage: string,
  before: Header,
  after: Header,
  looked: () => string,
  decided: () => string,
  at?: string,
  stops = false,
): void {
  run.hops.push({ kind, node, stage, at, looked, decided, before, after, stops });
}

function end(
  run: Run,
  outcome: Outcome,
  says: () => string,
  arrived?: Header,
  reply: { hops: Hop[]; header: Header } | undefined = undefined,
): Trace {
  return { outcome, says, hops: run.hops, reply: reply?.hops ?? [], arrived, answered: reply?.header };
}

/** The sentence of the hop that stopped the packet. */
function stopped(run: Run, outcome: Outcome): Trace {
  const last = run.hops.at(-1)!;
  return end(
    run,
    outcome,
    () =>
      `${last.node === 'router' ? 'The router' : last.node} stopped it at "${last.stage}": ${last.decided()}.`,
  );
}

function fromInside(run: Run, network: Network, name: string): Trace {
  const { header } = run.flow;
  const { prefix, routerAddress } = network;
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

/** The router's own packets: route, then out with the line's address. */
function fromRouter(run: Run): Trace {
  const { header } = run.flow;
  const far = farSiteAt(run.site, header.destination);
  if (far) return toFarSite(run, far, header);
  const route = run.router.route(header.destination);
  if (!route) {
    hop(
      run,
      'router',
      'router',
      'route',
      header,
      header,
      () => formatAddress(header.destination),
      () => 'no route holds it',
      undefined,
      true,
    );
    return stopped(run, 'no-route');
  }
  const { target } = route;
  const source = target.kind === 'line' ? target.line.address : target.network.routerAddress;
  const sent = { ...header, source: source ?? header.source };
  hop(
    run,
    'router',
    'router',
    'route',
    header,
    sent,
    () => formatAddress(header.destination),
    () => `${route.says} is the longest match`,
    route.at,
  );
  return target.kind === 'line'
    ? overLine(run, target.line, sent, undefined)
    : arriveAtHost(run, sent, target.network, undefined);
}

function fromOutside(run: Run): Trace {
  const { header, origin } = run.flow;
  const { site } = run;
  const aimed = origin.kind === 'outside' ? origin.line : undefined;
  const line =
    aimed ??
    site.lines.find((each) => sameAddress(each.publicAddress, header.destination)) ??
    site.lines.find(
      (each) =>
        sameAddress(each.lineAddress, header.destination) || sameAddress(each.address, header.destination),
    );
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
        'the provider translates this line and remembers only flows that began inside: there is no way in from outside',
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
  if (!line.box?.routes) {
    if (line.box)
      hop(
        run,
        'box',
        line.box.name,
        'bridge',
        header,
        header,
        () => 'a bridged box',
        () => 'handed on unchanged',
        `${line.at}/handoff/mode`,
      );
    return throughRouter(run, { kind: 'line', line }, { ...header, destination: line.address });
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

function throughRouter(run: Run, ingress: Side, header: Header): Trace {
  const verdict = run.router.forward(ingress, header, run.hops);
  if (verdict.goes === 'nowhere') return stopped(run, verdict.outcome);
  run.memories.push({ kind: 'router', node: 'router', before: header, after: verdict.header });
  if (verdict.goes === 'router')
    return end(
      run,
      'delivered',
      () => `The router itself answers (${verdict.service}).`,
      verdict.header,
      back(run, verdict.header, 'router'),
    );
  if (verdict.egress.kind === 'network')
    return arriveAtHost(run, verdict.header, verdict.egress.network, verdict.hairpin);
  if (verdict.egress.kind === 'tunnel') return toFarSite(run, verdict.egress.far, verdict.header);
  return overLine(
    run,
    verdict.egress.line,
    verdict.header,
    ingress.kind === 'network' ? ingress.network : undefined,
  );
}

/** Through the tunnel to a joined site: whether it is up with these lines down, and what the packet becomes there. */
function toFarSite(run: Run, far: FarSite, header: Header): Trace {
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

/** From the router's WAN port to the rest of the world. */
function overLine(run: Run, line: Line, header: Header, from: Network | undefined): Trace {
  let current = header;
  const { box } = line;
  if (box?.routes) {
    if (box.prefix && contains(box.prefix, current.destination)) {
      hop(
        run,
        'host',
        `${box.name}'s inside`,
        'neighbour',
        current,
        current,
        () => `${formatAddress(current.destination)} is in ${formatPrefix(box.prefix!)}`,
        () => `a neighbour between ${box.name} and the router`,
        `${line.at}/handoff/insidePrefix`,
      );
      return end(
        run,
        'delivered',
        () =>
          `Delivered between ${box.name} and the router: ${formatAddress(header.destination)} is on the box's own side.`,
        current,
        back(run, current, formatAddress(current.destination)),
      );
    }
    if (line.lineAddressKnown && sameAddress(current.destination, line.lineAddress)) {
      hop(
        run,
        'box',
        box.name,
        'hairpin',
        current,
        current,
        () => `${formatAddress(current.destination)} is the outside address of ${box.name}`,
        () => 'the packet would have to turn round in a box whose behaviour is not known: do not rely on it',
        `${line.at}/handoff/outsideAddress`,
        true,
      );
      return stopped(run, 'dropped');
    }
    const outward = { ...current, source: line.lineAddress };
    const before = current;
    hop(
      run,
      'box',
      box.name,
      'source NAT',
      before,
      outward,
      () => `leaving by ${box.name}, the second translation`,
      () =>
        `source becomes ${formatAddress(line.lineAddress)}${line.lineAddressKnown ? '' : ' (a stand-in: not known yet)'}`,
      `${line.at}/handoff/outsideAddress`,
    );
    run.memories.push({ kind: 'box', node: box.name, before, after: outward });
    current = outward;
  } else if (box)
    hop(
      run,
      'box',
      box.name,
      'bridge',
      current,
      current,
      () => 'a bridged box',
      () => 'handed on unchanged',
      `${line.at}/handoff/mode`,
    );

  if (line.translators.includes('carrier')) {
    const outward = { ...current, source: line.publicAddress };
    const before = current;
    hop(
      run,
      'carrier',
      `carrier NAT of ${line.name}`,
      'source NAT',
      before,
      outward,
      () => `${formatAddress(before.source)} is ${line.lineClass}`,
      () => 'source becomes an address that many customers share (a stand-in is shown)',
      line.addressAt,
    );
    run.memories.push({ kind: 'carrier', node: `carrier NAT of ${line.name}`, before, after: outward });
    current = outward;
  }

  const { source, destination } = current;
  const destinationClass = classify(destination).class;
  if (!reachableFromOutside(destinationClass)) {
    hop(
      run,
      'internet',
      'internet',
      'routing',
      current,
      current,
      () => `${formatAddress(destination)} is ${destinationClass}`,
      () => 'the internet carries nothing to it',
      undefined,
      true,
    );
    return stopped(run, 'dropped');
  }
  const sourceClass = classify(source).class;
  if (!reachableFromOutside(sourceClass)) {
    hop(
      run,
      'internet',
      line.name,
      'provider',
      current,
      current,
      () => `source ${formatAddress(source)} is ${sourceClass}`,
      () =>
        `the provider throws it away, and no reply could find ${from?.name ?? 'the sender'}: ${line.name} needs source NAT`,
      `${line.at}/sourceNat`,
      true,
    );
    return stopped(run, 'dropped');
  }
  const arrived = current;
  hop(
    run,
    'internet',
    formatAddress(destination),
    'arrival',
    arrived,
    arrived,
    () => `seen from ${formatAddress(source)}`,
    () => 'it answers',
  );
  return end(
    run,
    'delivered',
    () => `Delivered over ${line.name}; the other end sees ${formatAddress(arrived.source)}.`,
    arrived,
    back(run, arrived, formatAddress(destination)),
  );
}

function arriveAtHost(run: Run, header: Header, network: Network, hairpin: Line | undefined): Trace {
  const { prefix } = network;
  const device = run.site.deviceAt.get(addressKey(header.destination));
  const role = prefix && roleIn(prefix, header.destination);
  const name = device?.name ?? formatAddress(header.destination);
  if (role === 'network' || role === 'broadcast') {
    hop(
      run,
      'host',
      name,
      'arrival',
      header,
      header,
      () => formatAddress(header.destination),
      () => `that is the ${role} address of ${network.name}: no host has it`,
      `${network.at}/prefix`,
      true,
    );
    return stopped(run, 'dropped');
  }
  hop(
    run,
    'host',
    name,
    'arrival',
    header,
    header,
    () => `${serviceText(header)} on ${network.name}`,
    () => arrivalNote(device, header),
    device?.at,
  );
  const says = (): string =>
    hairpin
      ? `Delivered to ${name} by a hairpin: it left for ${hairpin.name} and was turned round inside.`
      : `Delivered to ${name} on ${network.name}${device ? '' : ', an address that no registered device holds for good'}.`;
  return end(run, hairpin ? 'hairpin' : 'delivered', says, header, back(run, header, name));
}

function arrivalNote(device: Device | undefined, header: Header): string {
  if (!device) return 'whoever holds this address today receives it';
  if (header.protocol === 'icmp') return `${device.name} receives it`;
  const { protocol } = header;
  const service = device.services.find(
    (each) =>
      each.ports && hasPort(each.ports, header.destinationPort) && protocolsMeet(each.protocol, protocol),
  );
  return service
    ? `${service.name} answers`
    : `${device.name} receives it, but the register lists no service of it on ${serviceText(header)}`;
}

/**
 * The reply: source and destination change places, and every translator that touched the packet puts its part back,
 * last one first. It leaves by the line the packet came in on, whatever the table says now.
 */
function back(run: Run, arrived: Header, replier: string): { hops: Hop[]; header: Header } {
  let current = reversed(arrived);
  const hops: Hop[] = [];
  hops.push({
    kind: 'host',
    node: replier,
    stage: 'reply',
    at: undefined,
    looked: () => 'the flow it belongs to',
    decided: () => 'source and destination change places',
    before: arrived,
    after: current,
    stops: false,
  });
  for (const memory of [...run.memories].reverse()) {
    const before = current;
    const after = { ...reversed(memory.before), sizeBytes: before.sizeBytes };
    const changed =
      !sameAddress(before.source, after.source) ||
      !sameAddress(before.destination, after.destination) ||
      before.sourcePort !== after.sourcePort ||
      before.destinationPort !== after.destinationPort;
    hops.push({
      kind: memory.kind,
      node: memory.node,
      stage: 'known flow',
      at: undefined,
      looked: () => 'the table of open flows',
      decided: () =>
        changed
          ? 'a reply to a flow it remembers: translated back'
          : 'a reply to a flow it remembers: let through',
      before,
      after,
      stops: false,
    });
    current = after;
  }
  return { hops, header: current };
}
