import { formatPorts, portsOverlap, protocolsMeet } from '../../base/net/ports.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { RouterService, Service, Site } from '../../site/model.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** One port of one device answers with one service. */
export const services: Check = {
  name: 'services',
  run: ({ devices, services: own }: Site) => [
    ...devices.flatMap((device) => shared(device.services, device.name)),
    ...shared(
      own.filter(({ at }) => at.startsWith('/router/')),
      'the router',
    ),
  ],
};

function shared(all: readonly (Service | RouterService)[], whose: string): Finding[] {
  return all.flatMap(({ at, name, protocol, ports }, index): Finding[] => {
    const first = all
      .slice(0, index)
      .find(
        (other) =>
          ports && other.ports && portsOverlap(ports, other.ports) && protocolsMeet(protocol, other.protocol),
      );
    if (!ports || !first?.ports) return [];
    return [
      {
        ...note(
          'service-port-twice',
          'warning',
          `${at}/ports` as Finding['at'],
          `${first.name} and ${name} of ${whose} are both on port ${formatPorts(ports)}: only one program can listen there. Correct the port of one of them.`,
          worked(
            'Services on this port',
            2,
            '',
            [step(first.name, formatPorts(first.ports)), step(name, formatPorts(ports))],
            'RFC 9293 section 3.3.1 (a socket is an address and a port)',
          ),
        ),
        also: [`${first.at}/ports` as Finding['at']],
      },
    ];
  });
}
