import { formatPorts, portsOverlap, protocolsMeet, type PortRange } from '../../base/net/ports.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Forward, Line, Site } from '../../site/model.ts';
import { arithmetic, step, type Worked, worked } from '../../base/worked/worked.ts';

const sharedWorked = (a: PortRange, b: PortRange, names: [string, string]): Worked => {
  const shared = { first: Math.max(a.first, b.first), last: Math.min(a.last, b.last) };
  return worked(
    'Ports in both',
    shared.last - shared.first + 1,
    'ports',
    [step(names[0], formatPorts(a)), step(names[1], formatPorts(b)), step('in both', formatPorts(shared))],
    arithmetic,
  );
};

/** An outside port that no forward and no service of the router uses on that line. */
function freePort(site: Site, forward: Forward): number | undefined {
  const width = forward.outside!.last - forward.outside!.first;
  const taken = [
    ...site.forwards
      .filter((each) => each !== forward && each.line === forward.line)
      .flatMap((each) => each.outside ?? []),
    ...site.services.map((service) => service.ports),
  ];
  for (let first = Math.max(forward.outside!.first, 1024) + 1; first + width <= 49151; first += 1)
    if (!taken.some((range) => portsOverlap(range, { first, last: first + width }))) return first;
  return undefined;
}

function fixFor(site: Site, forward: Forward): Pick<Finding, 'fix'> {
  const port = freePort(site, forward);
  if (port === undefined) return {};
  const value = formatPorts({ first: port, last: port + forward.outside!.last - forward.outside!.first });
  return {
    fix: replacing(`Use outside port ${value}; tell those who connect`, `${forward.at}/outsidePorts`, value),
  };
}

/** One outside port leads to one place: two rules for it means that one never sees a packet. */
export const forwardCollision: Check = {
  name: 'forward-collision',
  run: (site) => {
    const found: Finding[] = [];
    const complete = site.forwards.filter((forward) => forward.line && forward.outside);
    const before = new Map<Line | undefined, Forward[]>();
    for (const forward of complete) {
      const outside = forward.outside!;
      const onLine = before.get(forward.line) ?? [];
      const earlier = onLine.find(
        (other) => portsOverlap(other.outside!, outside) && protocolsMeet(other.protocol, forward.protocol),
      );
      before.set(forward.line, onLine);
      onLine.push(forward);
      if (earlier)
        found.push({
          rule: 'forward-collision',
          severity: 'blocker',
          at: `${forward.at}/outsidePorts`,
          also: [`${earlier.at}/outsidePorts`],
          says: `Forwards "${earlier.name}" and "${forward.name}" both want ${formatPorts(outside)} on ${forward.line!.name}. The first one gets everything; ${forward.device?.name ?? 'the second device'} never answers.`,
          why: sharedWorked(earlier.outside!, outside, [earlier.name, forward.name]),
          ...fixFor(site, forward),
          source: 'RFC 3022 section 2.2 (one mapping an outside port)',
        });
      const service = site.services.find(
        (each) => portsOverlap(each.ports, outside) && protocolsMeet(each.protocol, forward.protocol),
      );
      if (service)
        found.push({
          rule: 'forward-own-service',
          severity: service.outside ? 'blocker' : 'warning',
          at: `${forward.at}/outsidePorts`,
          also: [service.portsAt],
          says: service.outside
            ? `Forward "${forward.name}" wants the port on which the router's own ${service.name} answers outside: only one of the two gets the packets.`
            : `Forward "${forward.name}" uses the port of the router's own ${service.name}. That one answers inside only, but many routers take the port for themselves on every side.`,
          why: sharedWorked(service.ports, outside, [service.name, forward.name]),
          ...fixFor(site, forward),
          source: 'RFC 3022 section 2.2 (one mapping an outside port)',
        });
    }
    return found;
  },
};
