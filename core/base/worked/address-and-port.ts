import { formatAddress } from '../net/address.ts';
import { mapped, type MappingRule } from '../net/address-and-port.ts';
import { formatPorts, portCount } from '../net/ports.ts';
import { formatPrefix, type Prefix } from '../net/prefix.ts';
import { ok, type Result } from '../result.ts';
import { counted } from '../text.ts';
import { step, worked, type Worked } from './worked.ts';

/** The address and the ports that a mapping rule gives the subscriber with a delegated prefix. */
export function mappedWorked(delegated: Prefix, rule: MappingRule): Result<Worked<string>> {
  const found = mapped(delegated, rule);
  if (!found.ok) return found;
  const { address, block, psid, psidLength, ports, ipv6 } = found.value;
  const { ipv6: rule6, ipv4: rule4, eaBits, psidOffset } = rule;
  const own = block ? formatPrefix(block) : formatAddress(address);
  const shared = ports && {
    count: ports.length,
    size: portCount(ports[0]!),
    first: ports[0]!,
    last: ports.at(-1)!,
  };
  return ok(
    worked(
      'Address and ports by the mapping rule',
      shared ? `${own}, ${shared.count} × ${counted(shared.size, 'port')}` : `${own}, all ports`,
      '',
      [
        step('embedded bits', `${eaBits} after bit ${rule6.length} of ${formatPrefix(delegated)}`),
        step(
          'of the address',
          `the smaller of ${eaBits} and 32 - ${rule4.length}: ${eaBits - psidLength} bits after ${formatPrefix(rule4)}`,
        ),
        step('address', own),
        step('known to the relay as', formatAddress(ipv6)),
        ...(shared
          ? [
              step('PSID', `the other ${counted(psidLength, 'bit')}: ${psid} of 0 to ${2 ** psidLength - 1}`),
              step('port ranges', psidOffset > 0 ? `2^${psidOffset} - 1 = ${shared.count}` : '1'),
              step('ports in each', `2^(16 - ${psidOffset} - ${psidLength}) = ${shared.size}`),
              step('first and last range', `${formatPorts(shared.first)}, ${formatPorts(shared.last)}`),
              step('subscribers on the address', `2^${psidLength} = ${2 ** psidLength}`),
              step('ports', `${shared.count} × ${shared.size} = ${shared.count * shared.size}`),
            ]
          : [step('ports', 'all: nobody shares the address')]),
      ],
      'RFC 7597 sections 5.1, 5.2, 6',
    ),
  );
}
