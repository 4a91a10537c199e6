import { ownsPorts } from '../../base/net/address-and-port.ts';
import { hasPort, protocolsMeet } from '../../base/net/ports.ts';
import { wayPorts } from '../../plan/catalogue/vpn.ts';
import type { Line, Site } from '../../site/model.ts';

/** The first line on which a connection can be opened from outside while these lines are down. */
export const reachable = (site: Site, down: ReadonlySet<string>): Line | undefined =>
  site.lines.find((line) => !down.has(line.id) && (line.inbound === 'direct' || line.inbound === 'by-box'));

/** The ports at which the router answers clients. */
const portsOf = ({ way, port }: Site['vpn']): (readonly ['udp' | 'both', number])[] =>
  (wayPorts[way] ?? []).map(([protocol, fixed]) => [protocol, fixed ?? port] as const);

/** Ports of the method that are another subscriber's where the line shares its address. */
export const foreignPorts = (vpn: Site['vpn'], { ownPorts, box }: Line): number[] =>
  box?.routes
    ? []
    : portsOf(vpn).flatMap(([, port]) => (ownsPorts(ownPorts, { first: port, last: port }) ? [] : [port]));

/**
 * The line over which a client's handshake arrives while these lines are down: one to which its endpoint leads, that can
 * be reached from outside, and whose device in front forwards the ports of the method.
 */
export function endpointLine(site: Site, down: ReadonlySet<string>): Line | undefined {
  const { endpoints } = site.vpn;
  const [endpoint] = endpoints;
  const leadsTo = (line: Line): boolean =>
    !endpoint?.line || endpoint.line === line || endpoint.host === site.failover.dynamicName;
  const forwarded = ({ box }: Line): boolean =>
    !box?.routes ||
    portsOf(site.vpn).every(([protocol, wanted]) =>
      box.forwards.some((each) => hasPort(each.ports, wanted) && protocolsMeet(each.protocol, protocol)),
    );
  return site.lines.find(
    (line) =>
      !down.has(line.id) &&
      (line.inbound === 'direct' || line.inbound === 'by-box') &&
      leadsTo(line) &&
      foreignPorts(site.vpn, line).length === 0 &&
      forwarded(line),
  );
}
