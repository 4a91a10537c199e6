import { formatAddress } from '../../base/net/address.ts';
import { serviceText } from '../../base/net/packet.ts';
import { formatPorts } from '../../base/net/ports.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import type { Forward } from '../../site/model.ts';
import { sideName, type Decision, type Passage, type Reason, type StageName } from './decision.ts';

/** What a stage looked at. */
export function lookedAt({ stage, before, after, reason }: Decision): string {
  const { header, ingress } = before;
  const destination = formatAddress(header.destination);
  const sides = `${sideName(ingress)} to ${after.egress ? sideName(after.egress) : 'nowhere'}`;
  const looks: Record<StageName, () => string> = {
    'source check': () => `${formatAddress(header.source)} came in from ${sideName(ingress)}`,
    'destination NAT': () =>
      'line' in reason && 'count' in reason
        ? `${serviceText(header)} at ${destination}, the address of ${reason.line.name}: ${counted(reason.count, 'forward')}`
        : `${destination} is no outside address of the router`,
    'router itself': () => `${destination} is the router`,
    route: () =>
      reason.kind === 'far-site'
        ? `${destination} in the subnets of other sites`
        : 'count' in reason
          ? `${destination} in ${counted(reason.count, 'route')}`
          : `the next hop for ${destination}`,
    failover: () =>
      reason.kind === 'line-shared'
        ? `${reason.lines.length} lines that are up`
        : `${sideName(ingress)}, ${serviceText(header)}: ${('rule' in reason && 'says' in reason.rule && reason.rule.says) || 'a rule of its own'}`,
    policy: () => (after.egress?.kind === 'tunnel' ? sides : `${sides}, ${serviceText(header)}`),
    'source NAT': () =>
      reason.kind === 'turned-round'
        ? 'the packet turns round inside'
        : `leaving by ${after.egress ? sideName(after.egress) : 'nowhere'}`,
    size: () =>
      `${header.sizeBytes} bytes, ${after.egress?.kind === 'tunnel' ? 'the tunnel' : after.egress ? sideName(after.egress) : 'it'} carries ${'mtuBytes' in reason ? reason.mtuBytes : '?'}`,
  };
  return looks[stage]();
}

const counted = (count: number, what: string): string => `${count} ${what}${count === 1 ? '' : 's'}`;

/** What it decided, and why. */
export function decided({ reason, before, after }: Decision): string {
  const source = formatAddress(before.header.source);
  switch (reason.kind) {
    case 'source-inside':
      return `${reason.back.says}: the source belongs there`;
    case 'source-client':
      return `the address of ${reason.peer.name} in the tunnel`;
    case 'source-there':
      return `${formatPrefix(reason.prefix)} is ${reason.far.name}: the source belongs there`;
    case 'source-elsewhere':
      return `the way back to ${source} is ${reason.back ? reason.back.says : 'unknown'}, not ${sideName(before.ingress)}: a false source`;
    case 'source-outside':
      return 'an outside source, from outside';
    case 'source-is-inside':
      return `that source lives inside, on ${reason.network.name}`;
    case 'source-not-public':
      return `${source} is ${reason.class}: no such source comes from the internet`;
    case 'next-hop-inside':
      return `the next hop of ${reason.line.name} is looked for on ${reason.network.name}, which uses the same subnet: nothing passes`;
    case 'next-hop-unusable':
      return `the gateway of ${reason.line.name} is no other host of its subnet: nothing leaves by it`;
    case 'no-outside-address':
      return 'nothing to translate';
    case 'translated-here':
      return `it is ${formatAddress(after.header.destination)} here: ${reason.far.name} knows ${formatPrefix(reason.row.real)} as ${formatPrefix(reason.row.seen)}`;
    case 'no-hairpin':
      return `the router does not send requests from inside back in: what is asked of the address of ${reason.line.name} is for the router itself`;
    case 'no-forward':
      return `no forward for ${serviceText(before.header)}`;
    case 'forwarded':
      return `forward "${reason.rule.name}": to ${reason.rule.device?.name}, port ${after.header.destinationPort}`;
    case 'source-refused':
      return sourceRefusal(reason.rule, before);
    case 'forward-lost':
      return `forward "${reason.rule.name}" matches, but its device has no fixed address`;
    default:
      return onTheWay(reason, before, after);
  }
}

const sourceRefusal = ({ name, allowed }: Forward, { header }: Passage): string =>
  allowed.kind === 'some'
    ? `forward "${name}" admits ${allowed.says} only, not ${formatAddress(header.source)}`
    : `forward "${name}" has a source list that cannot be read, so it admits nobody until that is corrected`;

/** The stages after the packet's destination is settled. */
function onTheWay(reason: Reason, before: Passage, after: Passage): string {
  switch (reason.kind) {
    case 'service-answers':
      return `its ${reason.service.name} answers ${formatPorts(reason.service.ports)}`;
    case 'ping-answered':
      return 'it answers a ping from inside';
    case 'service-inside-only':
      return `its ${reason.service.name} answers inside only: refused by the default for inbound`;
    case 'service-managed':
      return `its ${reason.service.name} answers ${reason.from ? `to ${reason.from.name}` : 'nobody'} only: the router is managed from there`;
    case 'nothing-outside':
      return 'nothing of the router answers there: refused by the default for inbound';
    case 'no-service':
      return 'no service of the router answers there';
    case 'routed':
      return `${reason.route.says} is the longest match`;
    case 'unused-prefix':
      return `${reason.route.says}, and no network here has that address: sent back out it would go round in a circle`;
    case 'no-route':
      return 'no route holds it';
    case 'far-site':
      return `${formatPrefix(reason.prefix)} is ${reason.far.name}: into the tunnel`;
    case 'line-chosen':
      return `it leaves by ${reason.line.name}`;
    case 'line-shared':
      return `the lines share the sessions by weight: this one may leave by ${reason.lines.map(({ name }) => name).join(' or ')}; shown is ${reason.lines[0]!.name}`;
    case 'no-line':
      return reason.rule.lines.length === 0
        ? 'this traffic is refused on every line'
        : `it may use ${reason.rule.lines.map(({ name }) => name).join(', ')} only, which ${reason.rule.lines.length === 1 ? 'is' : 'are'} down: refused on the backup`;
    case 'between-lines':
      return 'the router does not carry traffic from one line to another';
    case 'by-forward':
      return `allowed by forward "${reason.rule.name}"`;
    case 'inbound-default':
      return 'refused by the default for inbound: no inside flow asked for it and no forward admits it';
    case 'outbound':
      return 'inside may go out';
    case 'same-network':
      return `both are on ${reason.network.name}`;
    case 'refused-by':
      return `refused by a rule: ${reason.rule.says}`;
    case 'allowed':
      return reason.rule.says;
    case 'inside-default':
      return `refused by the default between inside networks: nothing lets ${reason.from.name} reach ${reason.to.name} for this`;
    case 'connected':
      return 'these two are connected';
    case 'not-connected':
      return `${sideName(before.ingress)} is not connected with ${reason.far.name}`;
    case 'granted':
    case 'not-granted':
      return reason.says;
    case 'to-client':
      return 'nothing is opened towards a client of the remote access: it begins what it wants';
    case 'tunnel-subnet':
      return `${formatPrefix(reason.pool)} is the tunnel subnet of remote access`;
    case 'through-hub':
      return 'this router is the hub of both sites';
    case 'masked':
      return `source becomes ${formatAddress(reason.line.address)}, the address of ${reason.line.name}${reason.line.addressKnown ? '' : ' (a stand-in: not known yet)'}`;
    case 'unmasked':
      return 'source NAT is off on this line: the source stays';
    case 'turned-round':
      return `source becomes ${formatAddress(reason.line.address)}, so that the reply comes back through the router`;
    case 'translated':
      return `source becomes ${formatAddress(after.header.source)}: ${reason.far.name} uses ${formatPrefix(reason.row.real)} too`;
    case 'untranslated':
      return 'nothing to translate';
    case 'fits':
      return 'it fits';
    case 'too-large':
      return after.egress?.kind === 'tunnel'
        ? `too large: the sender is told to use ${reason.mtuBytes}`
        : `too large: a packet that must not be fragmented is dropped, and the sender is told to use ${reason.mtuBytes}`;
    default:
      return '';
  }
}
