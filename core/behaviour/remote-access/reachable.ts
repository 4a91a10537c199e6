import { hasPort, protocolsMeet } from '../../base/net/ports.ts';
import { wayPorts } from '../../plan/catalogue/vpn.ts';
import type { Line, Site } from '../../site/model.ts';

/** The first line on which a connection can be opened from outside while these lines are down. */
export const reachable = (site: Site, down: ReadonlySet<string>): Line | undefined =>
  site.lines.find((line) => !down.has(line.id) && (line.inbound === 'direct' || line.inbound === 'by-box'));

/**
 * The line over which a client's handshake arrives while these lines are down: one to which its endpoint leads, that can
 * be reached from outside, and whose device in front forwards the ports of the method.
 */
export function endpointLine(site: Site, down: ReadonlySet<string>): Line | undefined {
  const { endpoints, way, port } = site.vpn;
  const [endpoint] = endpoints;
  const leadsTo = (line: Line): boolean =>
    !endpoint?.line || endpoint.line === line || endpoint.host === site.failover.dynamicName;
  const forwarded = ({ box }: Line): boolean =>
    !box?.routes ||
    (wayPorts[way] ?? []).every(([protocol, fixed]) =>
      box.forwards.some(
        (each) => hasPort(each.ports, fixed ?? port) && protocolsMeet(each.protocol, protocol),
      ),
    );
  return site.lines.find(
    (line) =>
      !down.has(line.id) &&
      (line.inbound === 'direct' || line.inbound === 'by-box') &&
      leadsTo(line) &&
      forwarded(line),
  );
}
