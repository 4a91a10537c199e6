import { formatAddress } from '../../base/net/address.ts';
import { freePorts, ownsPorts } from '../../base/net/address-and-port.ts';
import { formatPorts, portCount, protocolsMeet } from '../../base/net/ports.ts';
import type { Patch } from '../../plan/patch.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Forward, Line, Site } from '../../site/model.ts';
import { addressWorked } from '../../base/worked/addresses.ts';
import { step, worked } from '../../base/worked/worked.ts';

/** Whether anything from outside ever gets as far as the forward: not through carrier NAT, and through a box only if it forwards too. */
export const forwardReach: Check = {
  name: 'forward-reach',
  run: (site) =>
    site.forwards.flatMap((forward): Finding[] => {
      const { line, outside } = forward;
      if (!line || !outside) return [];
      if (line.inbound === 'impossible') return [impossible(forward, line)];
      if (line.box?.routes) {
        const handed = line.box.forwards.some(
          (each) =>
            each.ports.first <= outside.first &&
            outside.last <= each.ports.last &&
            (each.protocol === 'both' ||
              (each.protocol === forward.protocol && protocolsMeet(each.protocol, forward.protocol))),
        );
        return handed ? [] : [secondForward(forward, line)];
      }
      return ownsPorts(line.ownPorts, outside) ? [] : [foreignPort(site, forward, line)];
    }),
};

const impossible = (forward: Forward, line: Line): Finding => ({
  rule: 'forward-impossible',
  severity: 'blocker',
  at: `${forward.at}/uplink`,
  also: [line.addressAt],
  says: `Forward "${forward.name}" cannot work on ${line.name}: the provider translates the line's address ${formatAddress(line.lineAddress)} and accepts no connection from outside. Ask for a public address, or let ${forward.device?.name ?? 'the device'} open the connection outward.`,
  why: addressWorked(line.lineAddress),
  source: line.lineClass === 'carrier-shared' ? 'RFC 6598 section 1, RFC 6888' : 'RFC 1918 section 3',
});

/** A port of a shared address that belongs to another subscriber. */
function foreignPort({ forwards, vpn }: Site, forward: Forward, line: Line): Finding {
  const outside = forward.outside!;
  const own = line.ownPorts ?? [];
  const taken = [
    ...forwards.flatMap((each) => (each !== forward && each.line === line && each.outside) || []),
    { first: vpn.port, last: vpn.port },
  ];
  const fits = freePorts(own, taken, portCount(outside));
  const instead = fits && formatPorts(fits);
  return {
    rule: 'forward-foreign-port',
    severity: 'blocker',
    at: `${forward.at}/outsidePorts`,
    also: [line.addressAt],
    says: `Forward "${forward.name}" listens on ${formatPorts(outside)}, and that is not a port of ${line.name}: the address ${formatAddress(line.publicAddress)} is shared, and its other ports reach other subscribers. ${instead ? `Use one of its own, such as ${instead}, and give it to those who connect.` : 'No range of its own is long enough: ask for an address that is not shared.'}`,
    why: worked(
      `Ports of ${line.name}`,
      'not among them',
      '',
      [
        step('own ranges', own.length),
        step('first and last', `${formatPorts(own[0]!)}, ${formatPorts(own.at(-1)!)}`),
        step('wanted', formatPorts(outside)),
      ],
      'RFC 7597 section 5.1',
    ),
    source: 'RFC 7597 section 5.1',
  };
}

function secondForward(forward: Forward, line: Line): Finding {
  const { protocol } = forward;
  const ports = formatPorts(forward.outside!);
  const patch: Patch = [
    {
      op: 'add',
      path: `${line.at}/handoff/forwards/-`,
      value: { id: `via-${forward.id}`.slice(0, 40), protocol, ports },
    },
  ];
  return {
    rule: 'forward-second',
    severity: 'blocker',
    at: `${forward.at}/outsidePorts`,
    also: [`${line.at}/handoff/forwards`],
    says: `Forward "${forward.name}" needs a forward of ${protocol === 'both' ? 'tcp and udp' : protocol} ${ports} on ${line.box!.name}, which also does NAT. Without it nothing arrives from outside.`,
    why: worked(
      'Translations from outside',
      2,
      'boxes',
      [
        step(`${line.box!.name}, port ${ports}`, 'to the router'),
        step("router's address there", line.addressKnown ? formatAddress(line.address) : 'not fixed yet'),
        step(`router, port ${ports}`, forward.device?.name ?? 'no device'),
      ],
      'RFC 3022 section 2.2',
    ),
    fix: { says: `Plan the forward on ${line.box!.name}; the run sheet then asks for it`, patch },
    source: 'RFC 3022 section 2.2',
  };
}
