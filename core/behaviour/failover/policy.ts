import { hasPort, protocolsMeet } from '../../base/net/ports.ts';
import type { Header } from '../../base/net/packet.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import type { FailoverRule } from '../../site/failover.ts';

type Traffic = Pick<Header, 'protocol' | 'destinationPort'>;

/** Whether a rule speaks of this traffic. */
export const fitsRule = (
  rule: FailoverRule,
  network: Network | undefined,
  { protocol, destinationPort }: Traffic,
): boolean =>
  (rule.network === undefined || rule.network === network) &&
  (rule.protocol === 'any' || (protocol !== 'icmp' && protocolsMeet(rule.protocol, protocol))) &&
  (rule.ports === undefined || (protocol !== 'icmp' && hasPort(rule.ports, destinationPort)));

/** The rule that decides which lines a packet may use: the first that fits, or none. */
export const ruleFor = (
  site: Site,
  network: Network | undefined,
  traffic: Traffic,
): FailoverRule | undefined => site.failover.rules.find((rule) => fitsRule(rule, network, traffic));

/** The lines that a packet from this network may use, in order. Without a rule it is all of them, in the order of the plan. */
export const linesFor = (site: Site, network: Network | undefined, traffic: Traffic): readonly Line[] =>
  ruleFor(site, network, traffic)?.lines ?? site.lines;
