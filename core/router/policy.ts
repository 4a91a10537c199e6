import { sameAddress } from '../net/address.ts';
import type { Header } from '../net/packet.ts';
import { hasPort, protocolsMeet } from '../net/ports.ts';
import type { Reach } from '../site/model.ts';
import { goesOn, stops, type Stage } from './decision.ts';

export interface PolicyTable {
  /** What inside networks may reach of one another; everything else between them is refused. */
  readonly reach: readonly Reach[];
}

/** Whether an allowance covers a packet, as far as device and service go. */
const covers = ({ device, service }: Reach, header: Header): boolean =>
  (!device || (device.address !== undefined && sameAddress(device.address, header.destination))) &&
  (!service ||
    (header.protocol !== 'icmp' &&
      service.ports !== undefined &&
      hasPort(service.ports, header.destinationPort) &&
      protocolsMeet(service.protocol, header.protocol)));

/** Default refusal inbound and between inside networks; inside to outside is allowed. */
export const policy = (table: PolicyTable): Stage<PolicyTable> => ({
  name: 'policy',
  table,
  decide: ({ reach }, passage) => {
    const { ingress, egress, forward, header } = passage;
    if (!egress) return undefined;
    if (egress.kind === 'tunnel') {
      const { far } = egress;
      return ingress.kind === 'network' && far.networks.includes(ingress.network)
        ? goesOn('policy', passage, { kind: 'connected', far }, `${far.at}/networks`)
        : stops('policy', passage, { kind: 'not-connected', far }, `${far.at}/networks`, 'refused');
    }
    if (ingress.kind === 'line') {
      if (egress.kind === 'line')
        return stops('policy', passage, { kind: 'between-lines' }, undefined, 'refused');
      return forward
        ? goesOn('policy', passage, { kind: 'by-forward', rule: forward }, forward.at)
        : stops('policy', passage, { kind: 'inbound-default' }, undefined, 'refused');
    }
    if (egress.kind === 'line') return goesOn('policy', passage, { kind: 'outbound' }, undefined);
    const { network: from } = ingress;
    const { network: to } = egress;
    if (from === to) return goesOn('policy', passage, { kind: 'same-network', network: from }, undefined);
    const rule = reach.find((each) => each.from === from && each.to === to && covers(each, header));
    return rule
      ? goesOn('policy', passage, { kind: 'allowed', rule }, rule.at)
      : stops('policy', passage, { kind: 'inside-default', from, to }, '/reach', 'refused');
  },
});
