import { ruleFor } from '../failover/policy.ts';
import { addressKey, formatAddress, type Address } from '../net/address.ts';
import { classify, reachableFromOutside } from '../net/classify.ts';
import { formatPorts, hasPort, protocolsMeet } from '../net/ports.ts';
import { contains } from '../net/prefix.ts';
import { admits } from '../site/allowed.ts';
import type { Forward, Line, Route, Site } from '../site/model.ts';
import { forwardTable } from './forward-table.ts';
import { routeTable } from './route-table.ts';
import { serviceText, type Header, type Hop } from './packet.ts';
import { sideName, type Note, type Side, type Verdict } from './stages.ts';
import { farSiteAt, intoTunnel } from './tunnel.ts';

/** The edge router of a site with some lines down: a packet goes through its stages in a fixed order. */
export interface Router {
  readonly route: (destination: Address) => Route | undefined;
  readonly forward: (ingress: Side, header: Header, hops: Hop[]) => Verdict;
}

export function createRouter(site: Site, down: ReadonlySet<string>): Router {
  const routes = site.routes.filter(({ target }) => target.kind !== 'line' || !down.has(target.line.id));
  const route = routeTable(routes);
  const own = new Map<bigint, Side>();
  for (const network of site.networks)
    if (network.routerAddress) own.set(addressKey(network.routerAddress), { kind: 'network', network });
  for (const line of site.lines) own.set(addressKey(line.address), { kind: 'line', line });
  const complete = site.forwards.filter(({ inside, outside }) => inside && outside);
  const forwards = new Map(
    site.lines.map((line) => [line, forwardTable(complete.filter((rule) => rule.line === line))]),
  );

  /**
   * The inside network on which the router would look for this line's next hop, because both use one block. No
   * packet leaves by such a line, and none that came in by it is answered.
   */
  const confusedWith = new Map(
    site.lines.map((line) => {
      const next = line.gateway ?? (line.addressKnown ? line.address : undefined);
      const side = next && route(next);
      return [line, side && side.target.kind !== 'line' ? side.target.network : undefined] as const;
    }),
  );
  const confusion = (line: Line): string =>
    `the next hop of ${line.name} is looked for on ${confusedWith.get(line)?.name}, which uses the same block: nothing passes`;

  const forward = (ingress: Side, packet: Header, hops: Hop[]): Verdict => {
    let header = packet;
    const note: Note = (stage, at, looked, decided, after = header, stops = false) => {
      hops.push({ kind: 'router', node: 'router', stage, at, looked, decided, before: header, after, stops });
      header = after;
    };

    // 1. Source check: a source belongs to the side it came from (RFC 2827, strict as in RFC 3704 section 2.2).
    const back = route(header.source);
    const backSide = back && sideOf(back);
    const source = header.source;
    const looked = (): string => `${formatAddress(source)} came in from ${sideName(ingress)}`;
    if (ingress.kind === 'network') {
      if (backSide?.kind !== 'network' || backSide.network !== ingress.network) {
        note(
          'source check',
          back?.at,
          looked,
          () =>
            `the way back to ${formatAddress(source)} is ${back ? back.says : 'unknown'}, not ${ingress.network.name}: a false source`,
          header,
          true,
        );
        return { goes: 'nowhere', outcome: 'dropped' };
      }
      note('source check', back?.at, looked, () => `${back?.says}: the source belongs there`);
    } else {
      if (confusedWith.get(ingress.line)) {
        note('source check', ingress.line.at, looked, () => confusion(ingress.line), header, true);
        return { goes: 'nowhere', outcome: 'dropped' };
      }
      const name = classify(source).class;
      const near = ingress.line.prefix !== undefined && contains(ingress.line.prefix, source);
      if (backSide?.kind === 'network' || (!near && !reachableFromOutside(name))) {
        note(
          'source check',
          back?.at,
          looked,
          () =>
            backSide?.kind === 'network'
              ? `that source lives inside, on ${backSide.network.name}`
              : `${formatAddress(source)} is ${name}: no such source comes from the internet`,
          header,
          true,
        );
        return { goes: 'nowhere', outcome: 'dropped' };
      }
      note('source check', undefined, looked, () => 'an outside source, from outside');
    }

    // 2. Destination NAT.
    const holder = own.get(addressKey(header.destination));
    let matched: Forward | undefined;
    let hairpin: Line | undefined;
    const aimedAt = holder?.kind === 'line' ? holder.line : undefined;
    if (aimedAt) {
      const table = forwards.get(aimedAt)!;
      const rule =
        header.protocol === 'icmp' ? undefined : table.find(header.protocol, header.destinationPort);
      const what = serviceText(header);
      const sought = (): string =>
        `${what} at ${formatAddress(packet.destination)}, the address of ${aimedAt.name}: ${table.size} forward${table.size === 1 ? '' : 's'}`;
      if (rule) {
        const fromOutside = ingress.kind === 'line';
        if (fromOutside && !admits(rule.allowed, source)) {
          note(
            'destination NAT',
            `${rule.at}/sources`,
            sought,
            () => sourceRefusal(rule, source),
            header,
            true,
          );
          return { goes: 'nowhere', outcome: 'refused' };
        }
        if (!rule.device?.address) {
          note(
            'destination NAT',
            rule.at,
            sought,
            () => `forward "${rule.name}" matches, but its device has no address that stays`,
            header,
            true,
          );
          return { goes: 'nowhere', outcome: 'dropped' };
        }
        const shifted = rule.inside!.first + (header.destinationPort - rule.outside!.first);
        const translated = {
          ...header,
          destination: rule.device.address,
          destinationPort: Math.min(shifted, rule.inside!.last),
        };
        note(
          'destination NAT',
          rule.at,
          sought,
          () => `forward "${rule.name}": to ${rule.device?.name}, port ${translated.destinationPort}`,
          translated,
        );
        matched = rule;
        if (!fromOutside) hairpin = aimedAt;
      } else note('destination NAT', undefined, sought, () => `no forward for ${what}`);
    } else
      note(
        'destination NAT',
        undefined,
        () => `${formatAddress(packet.destination)} is no outside address of the router`,
        () => 'nothing to translate',
      );

    // The router itself may be the destination.
    if (holder && !matched) {
      const answering = site.services.filter(
        (each) =>
          header.protocol !== 'icmp' &&
          hasPort(each.ports, header.destinationPort) &&
          protocolsMeet(each.protocol, header.protocol),
      );
      // One port may hold a page inside and the tunnel outside.
      const service =
        (ingress.kind === 'line' ? answering.find(({ outside }) => outside) : undefined) ?? answering[0];
      const allowed =
        ingress.kind === 'network'
          ? service !== undefined || header.protocol === 'icmp'
          : service?.outside === true;
      note(
        'router itself',
        service?.at,
        () => `${formatAddress(packet.destination)} is the router`,
        () =>
          allowed
            ? service
              ? `its ${service.name} answers ${formatPorts(service.ports)}`
              : 'it answers a ping from inside'
            : ingress.kind === 'line'
              ? service
                ? `its ${service.name} answers inside only: refused by the default for inbound`
                : 'nothing of the router answers there: refused by the default for inbound'
              : 'no service of the router answers there',
        header,
        true,
      );
      return allowed
        ? { goes: 'router', header, service: service?.name ?? 'ping' }
        : { goes: 'nowhere', outcome: 'refused' };
    }

    // 3. Route. Blocks of joined sites are longer than the default route, and never those of an inside network.
    const destination = header.destination;
    const far = farSiteAt(site, destination);
    if (far) return intoTunnel(site, ingress, far, header, note);
    const chosen = route(destination);
    if (!chosen) {
      note(
        'route',
        undefined,
        () => `${formatAddress(destination)} in ${routes.length} routes`,
        () => 'no route holds it',
        header,
        true,
      );
      return { goes: 'nowhere', outcome: 'no-route' };
    }
    let egress: Side = sideOf(chosen);
    const rule =
      goesOut(chosen) && ingress.kind === 'network' ? ruleFor(site, ingress.network, header) : undefined;
    if (rule) {
      const line = rule.lines.find(({ id }) => !down.has(id));
      const lookedFor = (): string =>
        `${sideName(ingress)}, ${serviceText(header)}: ${rule.says || 'a rule of its own'}`;
      if (!line) {
        note(
          'failover',
          rule.at,
          lookedFor,
          () =>
            rule.lines.length === 0
              ? 'this traffic is refused on every line'
              : `it may use ${rule.lines.map(({ name }) => name).join(', ')} only, which ${rule.lines.length === 1 ? 'is' : 'are'} down: refused on the backup`,
          header,
          true,
        );
        return { goes: 'nowhere', outcome: 'refused' };
      }
      egress = { kind: 'line', line };
      note('failover', rule.at, lookedFor, () => `it leaves by ${line.name}`);
    }
    if (egress.kind === 'line' && confusedWith.get(egress.line)) {
      const { line } = egress;
      note(
        'route',
        line.at,
        () => `${formatAddress(destination)} in ${routes.length} routes`,
        () => confusion(line),
        header,
        true,
      );
      return { goes: 'nowhere', outcome: 'dropped' };
    }
    note(
      'route',
      chosen.at,
      () => `${formatAddress(destination)} in ${routes.length} routes`,
      () => `${chosen.says} is the longest match`,
    );

    // 4. Policy.
    const refusal = policy(site, ingress, egress, matched, header);
    const [allowedBy, at] = refusal.allowed ? [refusal.by, refusal.at] : [undefined, undefined];
    if (allowedBy === undefined) {
      note(
        'policy',
        refusal.at,
        () => `${sideName(ingress)} to ${sideName(egress)}, ${serviceText(header)}`,
        () => refusal.by(),
        header,
        true,
      );
      return { goes: 'nowhere', outcome: 'refused' };
    }
    note(
      'policy',
      at,
      () => `${sideName(ingress)} to ${sideName(egress)}, ${serviceText(header)}`,
      () => allowedBy(),
    );

    // 5. Source NAT.
    if (egress.kind === 'line' && ingress.kind === 'network') {
      const { line } = egress;
      if (line.sourceNat) {
        const translated = { ...header, source: line.address };
        note(
          'source NAT',
          `${line.at}/sourceNat`,
          () => `leaving by ${line.name}`,
          () =>
            `source becomes ${formatAddress(line.address)}, the address of ${line.name}${line.addressKnown ? '' : ' (a stand-in: not known yet)'}`,
          translated,
        );
      } else
        note(
          'source NAT',
          `${line.at}/sourceNat`,
          () => `leaving by ${line.name}`,
          () => 'source NAT is off on this line: the source stays',
        );
    } else if (hairpin) {
      // RFC 4787 REQ-9, RFC 5382 REQ-8: the inside server sees the external address, so that its reply comes back here.
      const line = hairpin;
      const translated = { ...header, source: line.address };
      note(
        'source NAT',
        matched?.at,
        () => 'the packet turns round inside',
        () =>
          `source becomes ${formatAddress(line.address)}, so that the reply comes back through the router`,
        translated,
      );
    } else
      note(
        'source NAT',
        undefined,
        () => `leaving by ${sideName(egress)}`,
        () => 'nothing to translate',
      );

    // 6. Size.
    const mtuBytes = egress.kind === 'line' ? egress.line.mtuBytes : 1500;
    const at6 = egress.kind === 'line' ? `${egress.line.at}/mtuBytes` : undefined;
    const size = header.sizeBytes;
    if (size > mtuBytes) {
      note(
        'size',
        at6,
        () => `${size} bytes, ${sideName(egress)} carries ${mtuBytes}`,
        () =>
          `too large: a packet that must not be fragmented is dropped, and the sender is told to use ${mtuBytes}`,
        header,
        true,
      );
      return { goes: 'nowhere', outcome: 'dropped' };
    }
    note(
      'size',
      at6,
      () => `${size} bytes, ${sideName(egress)} carries ${mtuBytes}`,
      () => 'it fits',
    );
    return { goes: 'on', header, egress, forward: matched, hairpin };
  };

  return { route, forward };
}

/** The default route: which line it leads to is for the failover rules to say. */
const goesOut = ({ prefix, target }: Route): boolean =>
  prefix.length === 0 && target.kind === 'line' && !target.onLink;

const sideOf = ({ target }: Route): Side =>
  target.kind === 'line' ? { kind: 'line', line: target.line } : { kind: 'network', network: target.network };

const sourceRefusal = ({ name, allowed }: Forward, source: Address): string =>
  allowed.kind === 'some'
    ? `forward "${name}" admits ${allowed.says} only, not ${formatAddress(source)}`
    : `forward "${name}" has a source list that cannot be read, so it admits nobody until that is corrected`;

interface PolicyVerdict {
  readonly allowed: boolean;
  readonly at: string | undefined;
  readonly by: () => string;
}

/** Default refusal inbound and between inside networks; inside to outside is allowed. */
function policy(
  site: Site,
  ingress: Side,
  egress: Side,
  forward: Forward | undefined,
  header: Header,
): PolicyVerdict {
  if (ingress.kind === 'line') {
    if (egress.kind === 'line')
      return {
        allowed: false,
        at: undefined,
        by: () => 'the router does not carry traffic from one line to another',
      };
    if (forward) return { allowed: true, at: forward.at, by: () => `allowed by forward "${forward.name}"` };
    return {
      allowed: false,
      at: undefined,
      by: () => 'refused by the default for inbound: no inside flow asked for it and no forward lets it in',
    };
  }
  if (egress.kind === 'line') return { allowed: true, at: undefined, by: () => 'inside may go out' };
  const from = ingress.network;
  const to = egress.network;
  if (from === to) return { allowed: true, at: undefined, by: () => `both are on ${from.name}` };
  const rule = site.reach.find(
    (each) =>
      each.from === from &&
      each.to === to &&
      (!each.device ||
        (each.device.address !== undefined && each.device.address.value === header.destination.value)) &&
      (!each.service ||
        (header.protocol !== 'icmp' &&
          each.service.ports !== undefined &&
          hasPort(each.service.ports, header.destinationPort) &&
          protocolsMeet(each.service.protocol, header.protocol))),
  );
  if (rule) return { allowed: true, at: rule.at, by: () => rule.says };
  return {
    allowed: false,
    at: '/reach',
    by: () =>
      `refused by the default between inside networks: nothing lets ${from.name} reach ${to.name} for this`,
  };
}
