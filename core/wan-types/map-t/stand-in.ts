import { mapped, type MappingRule } from '../../base/net/address-and-port.ts';
import { formatAddress } from '../../base/net/address.ts';
import { formatPorts } from '../../base/net/ports.ts';
import { firstOf, formatPrefix, parsePrefix, type Prefix } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import { byte, ip6Bytes, ipBytes, word, type Bytes } from '../../behaviour/provider-sim/bytes.ts';
import type { StandIn } from '../../behaviour/provider-sim/stand-in.ts';
import type { Line } from '../../site/model.ts';
import { askForPrefix, option } from '../prefix-delegation.ts';
import { ruleOf } from './profile.ts';

const prefix = (text: string): Prefix => valueOf(parsePrefix(text))!;
/** The worked example of RFC 7597 appendix A: what the line says where the plan does not know better. */
const example = {
  delegated: prefix('2001:db8:12:3400::/56'),
  rule: { ipv6: prefix('2001:db8::/40'), ipv4: prefix('192.0.2.0/24'), eaBits: 16, psidOffset: 6 },
  relay: prefix('2001:db8:ffff::/64'),
};

/** Only as many bytes as the length of the prefix needs (RFC 7598 section 4.1). */
const cut = (given: Prefix): Bytes => ip6Bytes(firstOf(given)).slice(0, Math.ceil(given.length / 8));

/** Container of a MAP-T rule with its port parameters and the relay's prefix (RFC 7598 sections 4.1, 4.3, 4.5, 5.2). */
const ruleOption = ({ ipv6, ipv4, eaBits, psidOffset }: MappingRule, relay: Prefix): Bytes =>
  option(95, [
    ...option(89, [
      ...byte(0),
      ...byte(eaBits),
      ...byte(ipv4.length),
      ...ipBytes(firstOf(ipv4)),
      ...byte(ipv6.length),
      ...cut(ipv6),
      // The PSID itself follows from the delegated prefix.
      ...option(93, [...byte(psidOffset), ...byte(0), ...word(0)]),
    ]),
    ...option(91, [...byte(relay.length), ...cut(relay)]),
  ]);

/** Prefix and rule that the line gives: those of the plan, where they fit each other. */
function givenTo(line: Line): { delegated: Prefix; rule: MappingRule; relay: Prefix } {
  const settings = line.settings['map-t'];
  const rule = ruleOf(settings);
  const { delegated, relayPrefix: relay = example.relay } = settings;
  return rule && delegated && mapped(delegated, rule).ok ? { delegated, rule, relay } : { ...example, relay };
}

/** The IPv6 line comes first: a prefix, and in the same answer the rule that makes an IPv4 address and ports of it. */
export const standIn: StandIn = {
  faults: [
    { name: 'no-server', title: 'The IPv6 line gives nothing' },
    { name: 'no-rule', title: 'The line names no mapping rule' },
    { name: 'no-relay', title: 'The border relay does not answer' },
  ],
  run: (line, fault, record, random) => {
    const { delegated, rule, relay } = givenTo(line);
    const told = fault !== 'no-rule';
    const answered = askForPrefix(
      line,
      record,
      random,
      { code: 95, answer: told ? ruleOption(rule, relay) : [], prefix: delegated },
      {
        SOLICIT: 'Is there a prefix for this site?',
        ADVERTISE: `${formatPrefix(delegated)} is free`,
        REQUEST: 'I take it, and by which rule does IPv4 go?',
        REPLY: told
          ? `The prefix is yours; the rule is ${formatPrefix(rule.ipv4)} with ${rule.eaBits} embedded bits`
          : 'The prefix is yours',
      },
      fault === 'no-server',
    );
    if (!answered)
      return { up: false, says: 'The IPv6 line is not up: settle that first, IPv4 comes after.' };
    if (!told) {
      record.see('link steady', 'IPv6 only', 'no mapping rule given');
      return {
        up: false,
        says: 'IPv6 works and IPv4 does not: the line named no mapping rule. Ask the provider for it, and enter it.',
      };
    }
    const { address, ports } = valueOf(mapped(delegated, rule))!;
    const own = `${formatAddress(address)}${ports ? `, ports from ${formatPorts(ports[0]!)}` : ''}`;
    record.wait(fault === 'no-relay' ? 30 : 0.2 + 0.2 * random());
    if (fault === 'no-relay') {
      record.see('link steady', `connected, ${own}`, 'no answer through the border relay');
      return {
        up: false,
        says: `IPv6 works, and the router has ${own}, but no IPv4 page opens: compare the prefix of the border relay, ${formatPrefix(relay)}, then ask the provider.`,
      };
    }
    record.see('link steady', `connected, ${own}`, `mapping rule taken, ${line.mtuBytes} bytes`);
    return {
      up: true,
      says: `The router has ${own}. IPv4 packets are ${line.mtuBytes} bytes at most, and from outside only those ports lead here.`,
    };
  },
};
