import { formatAddress } from '../../base/net/address.ts';
import { formatPorts, protocolsMeet } from '../../base/net/ports.ts';
import type { Patch } from '../../plan/patch.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Forward, Line } from '../../site/model.ts';
import { addressWorked } from '../../base/worked/addresses.ts';
import { step, worked } from '../../base/worked/worked.ts';

/** Whether anything from outside ever gets as far as the forward: not through carrier NAT, and through a box only if it forwards too. */
export const forwardReach: Check = {
  name: 'forward-reach',
  run: ({ forwards }) =>
    forwards.flatMap((forward): Finding[] => {
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
      return [];
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
