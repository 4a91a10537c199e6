import { addressKey, formatAddress, sameAddress } from '../../base/net/address.ts';
import { hasPort, protocolsMeet } from '../../base/net/ports.ts';
import { contains } from '../../base/net/prefix.ts';
import { serviceText, type Header } from '../../base/net/packet.ts';
import type { Device, Line, Network } from '../../site/model.ts';
import { chainedAround, chainedAt } from '../../site/second.ts';
import { wiredElsewhere } from '../../behaviour/wiring/where.ts';
import type { Trace } from './packet.ts';
import { atNoHost, back, end, hop, stopped, type Run } from './run.ts';
import { pastSecond, throughSecond } from './second.ts';

/** At the end of the way inside: the device that has the address, the second router that hands it on, or nobody. */
export function arriveAtHost(run: Run, header: Header, network: Network, hairpin: Line | undefined): Trace {
  const { prefix } = network;
  const stop = atNoHost(run, header);
  if (stop) return stop;
  const registered = run.site.deviceAt.get(addressKey(header.destination));
  // A device answers on the network where it is.
  const device = registered?.network === network ? registered : undefined;
  const name = device?.name ?? formatAddress(header.destination);
  const second = chainedAt(run.site.second, network, header.destination);
  if (second) return throughSecond(run, second, header, hairpin);
  const beyond = chainedAround(run.site.second, network, header.destination);
  if (beyond && !(prefix && contains(prefix, header.destination))) return pastSecond(run, beyond, header);
  const elsewhere = device && wiredElsewhere(run.site, device);
  if (elsewhere) {
    hop(
      run,
      'host',
      name,
      'cabling',
      header,
      header,
      () => `the port into which ${name} is plugged`,
      () => elsewhere.says.replace(/\.$/, ''),
      elsewhere.at,
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
  const holder = (): string => {
    if (device) return '';
    const box = run.site.second.find(
      ({ address }) => address !== undefined && sameAddress(address, header.destination),
    );
    return box ? `: ${box.name}` : ', an address that no registered device holds permanently';
  };
  const says = (): string =>
    hairpin
      ? `Delivered to ${name} by a hairpin: it left for ${hairpin.name} and was turned round inside.`
      : `Delivered to ${name} on ${network.name}${holder()}.`;
  return end(run, hairpin ? 'hairpin' : 'delivered', says, header, back(run, header, name), {
    kind: 'network',
    network,
  });
}

function arrivalNote(device: Device | undefined, header: Header): string {
  if (!device) return 'the device that has this address today receives it';
  if (header.protocol === 'icmp') return `${device.name} receives it`;
  const { protocol } = header;
  const service = device.services.find(
    (each) =>
      each.ports && hasPort(each.ports, header.destinationPort) && protocolsMeet(each.protocol, protocol),
  );
  return service
    ? `${service.name} answers`
    : `${device.name} receives it, but the register lists none of its services on ${serviceText(header)}`;
}
