import { replacing, type Finding } from '../../behaviour/domain-types/finding.ts';
import { fieldEntry } from '../../behaviour/domain-types/step.ts';
import { formatAddress } from '../../base/net/address.ts';
import { mapped } from '../../base/net/address-and-port.ts';
import { formatPorts, portCount } from '../../base/net/ports.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import { counted } from '../../base/text.ts';
import { mappedWorked } from '../../base/worked/address-and-port.ts';
import { mssWorked } from '../../base/worked/packets.ts';
import { stackWorked } from '../../base/worked/stack.ts';
import { step, worked, type Worked } from '../../base/worked/worked.ts';
import type { Line } from '../../site/model.ts';
import { has, type SettingsAt, type WanType } from '../type.ts';
import { ruleOf } from './profile.ts';

const source = 'RFC 7597 section 5.2, RFC 7599';

/** The address and the ports of this line, worked out; nothing where rule or prefix are not known or do not fit. */
function mappingOf(line: Line): Worked[] {
  const settings = line.settings['map-t'];
  const rule = ruleOf(settings);
  const found = rule && settings.delegated && mappedWorked(settings.delegated, rule);
  return found?.ok ? [found.value] : [];
}

function check(line: Line, at: SettingsAt<'map-t'>): Finding[] {
  const settings = line.settings['map-t'];
  const rule = ruleOf(settings);
  const missing = (
    [
      ['ruleIpv6', 'IPv6 prefix of the rule', settings.ruleIpv6],
      ['ruleIpv4', 'IPv4 prefix of the rule', settings.ruleIpv4],
      ['eaBits', 'EA-bits length', settings.eaBits],
    ] as const
  ).filter(([, , value]) => value === undefined || value === null);
  if (missing.length === 1 || missing.length === 2) {
    const names = missing.map(([, name]) => name).join(' and ');
    return [
      {
        rule: 'map-rule-incomplete',
        severity: 'warning',
        at: `${at}/${missing[0]![0]}`,
        says: `The mapping rule of ${line.name} lacks the ${names}: without it neither the IPv4 address nor the ports can be worked out. Enter the whole rule, or leave it to the line (DHCPv6 option 95).`,
        why: worked('Mapping rule', 'incomplete', '', [step('missing', names)], source),
        source,
      },
    ];
  }
  if (!rule || !settings.delegated)
    return [
      {
        rule: 'map-ports-unknown',
        severity: 'advice',
        at: `${at}/delegated`,
        says: `On ${line.name} several subscribers share one IPv4 address, each with ports of its own. Which ports are this site's follows from the delegated prefix and the mapping rule: ask the provider, or read them from the status page once the line is up, before you plan forwards or remote access on this line.`,
        why: worked(
          'Ports of this line',
          'not known yet',
          '',
          [step('mapping rule', rule ? 'entered' : 'left to the line')],
          source,
        ),
        source,
      },
    ];
  const found = mapped(settings.delegated, rule);
  if (!found.ok)
    return [
      {
        rule: 'map-rule',
        severity: 'blocker',
        at: `${at}/${found.problem.code === 'map-ports' ? 'psidOffset' : 'delegated'}`,
        says: `The mapping rule of ${line.name} and its delegated prefix do not fit: ${found.problem.says} IPv4 would not work. Compare all of them with the provider's sheet.`,
        why: worked(
          'Mapping rule against the delegated prefix',
          'does not fit',
          '',
          [
            step('delegated', formatPrefix(settings.delegated)),
            step('rule', `${formatPrefix(rule.ipv6)}, ${formatPrefix(rule.ipv4)}, ${rule.eaBits} bits`),
            step('so', found.problem.says),
          ],
          source,
        ),
        source,
        ...(found.problem.code === 'map-ports' && {
          fix: replacing('PSID offset 6, as usual', `${at}/psidOffset`, 6),
        }),
      },
    ];
  const { ports, psidLength, address } = found.value;
  if (!ports) return [];
  const count = ports.reduce((sum, range) => sum + portCount(range), 0);
  return [
    {
      rule: 'map-shared-ports',
      severity: 'advice',
      at: `${at}/delegated`,
      says: `${line.name} has ${counted(count, 'port')} of ${formatAddress(address)}, the other ports belong to up to ${2 ** psidLength - 1} other subscribers: well-known ports such as 443 cannot be opened from outside, and all devices together hold no more than ${counted(count, 'connection')} to one far end at a time.`,
      why: mappingOf(line)[0]!,
      source: 'RFC 7597 section 5.1, RFC 6269',
    },
  ];
}

export const wanType: WanType<'map-t'> = {
  name: 'map-t',
  says: 'The line is IPv6; the router translates IPv4 to it, on an address that several subscribers share. From outside only ports of its own can be opened.',
  check,
  workings: (line, key) => {
    const stack = stackWorked(['map-t']);
    return key === 'relayPrefix' && stack.ok ? [stack.value, mssWorked(line.mtuBytes)] : mappingOf(line);
  },
  entries: (line) => {
    const at = `${line.at}/settings/map-t` as const;
    const { delegated, ruleIpv6, ruleIpv4, eaBits, psidOffset, relayPrefix } = line.settings['map-t'];
    const told = 'automatic (DHCPv6 option 95)';
    return [
      fieldEntry(`${line.at}/type`, 'MAP-T', ['IPv4 over IPv6', 'Mapping of address and port', 'S46']),
      fieldEntry(`${at}/delegated`, delegated ? formatPrefix(delegated) : 'automatic (DHCPv6)'),
      fieldEntry(`${at}/ruleIpv6`, ruleIpv6 ? formatPrefix(ruleIpv6) : told),
      fieldEntry(`${at}/ruleIpv4`, ruleIpv4 ? formatPrefix(ruleIpv4) : told),
      fieldEntry(`${at}/eaBits`, eaBits === null ? told : `${eaBits}`),
      fieldEntry(`${at}/psidOffset`, ruleIpv4 ? `${psidOffset}` : told),
      fieldEntry(`${at}/relayPrefix`, relayPrefix ? formatPrefix(relayPrefix) : told),
    ];
  },
  bringUp: (line) => ({
    lowSeconds: 20,
    highSeconds: 120,
    proof: `The status page shows an IPv6 prefix and a MAP-T rule${
      line.addressKnown
        ? ` with ${formatAddress(line.address)}${line.ownPorts ? ` and ports from ${formatPorts(line.ownPorts[0]!)}` : ''}`
        : ' with an IPv4 address and its ports'
    }; a page that has IPv4 only opens.`,
    ifNot:
      'IPv6 works and IPv4 does not: the mapping rule, digit by digit. Some pages open and some do not: the MTU. Neither works: the line itself.',
    cautions: [],
  }),
  stack: ['map-t'],
  nextHop: 'offered',
  uses: () => ['translator'],
  clues: [
    {
      weight: 3,
      holds: has('translator'),
      says: 'IPv4 over IPv6 may also be MAP-T: then the paperwork names mapping rules.',
    },
  ],
  inText: /\bmap-t\b|\bmapping of address and port\b/gi,
  onPage: /map-?t\b/i,
};
