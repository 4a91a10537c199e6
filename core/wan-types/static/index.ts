import { has } from '../type.ts';
import { formatAddress, type Address } from '../../base/net/address.ts';
import {
  contains,
  formatPrefix,
  hostsOf,
  maskText,
  overlaps,
  roleIn,
  type Prefix,
} from '../../base/net/prefix.ts';
import { replacing, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Line } from '../../site/model.ts';
import { addressWorked, placeWorked, subnetWorked } from '../../base/worked/addresses.ts';
import { step, type Worked, worked } from '../../base/worked/worked.ts';
import type { SettingsAt, WanType } from '../type.ts';
import { entry, fieldEntry } from '../../behaviour/domain-types/step.ts';
import { counted } from '../../base/text.ts';

/** On a /30 or /31 there are two hosts: whoever has one knows the other. */
export function otherHost(host: Address, prefix: Prefix): Address | undefined {
  const { first, last, count } = hostsOf(prefix);
  if (count !== 2n) return undefined;
  return host.value === first.value ? last : host.value === last.value ? first : undefined;
}

/** What a routed block can be used for: every address of it, for nobody on the line needs one. */
export function routedWorked(prefix: Prefix): Worked {
  const count = prefix.last - prefix.first + 1n;
  const text = (value: bigint): string => formatAddress({ family: prefix.family, value });
  return worked(
    `Routed subnet ${formatPrefix(prefix)}`,
    Number(count),
    'addresses',
    [
      step('sent to', "the router's address on the line"),
      step('for 1:1 translation', `${text(prefix.first)} to ${text(prefix.last)}: all ${count}`),
      step('or as an inside network', `${counted(hostsOf(prefix).count, 'host')}, one of them the router`),
      step('addresses', String(count)),
    ],
    'RFC 4632 section 3.1, arithmetic',
  );
}

function check(line: Line, at: SettingsAt<'static'>): Finding[] {
  const { prefix, gateway, address } = line;
  if (!prefix || !line.addressKnown) return [];
  const findings: Finding[] = [];
  const role = roleIn(prefix, address);
  const other = otherHost(address, prefix);

  if (role !== 'host')
    findings.push({
      rule: 'line-address-role',
      severity: 'blocker',
      at: `${at}/address`,
      says: `${formatAddress(address)} is the ${role} address of ${formatPrefix(prefix)}, so the router would never get an answer on ${line.name}. Read the provider's sheet again: the address or the mask is wrong.`,
      why: placeWorked(address, prefix, 'Address'),
      source: 'RFC 1122 section 3.2.1.3',
    });

  if (gateway) {
    const gatewayRole = roleIn(prefix, gateway);
    const same = gateway.value === address.value;
    const onPurpose = gatewayRole === 'outside' && line.settings.static.gatewayOutside;
    if ((gatewayRole !== 'host' || same) && !onPurpose)
      findings.push({
        rule: 'line-gateway',
        severity: 'blocker',
        at: `${at}/gateway`,
        also: [`${at}/prefixLength`],
        says: same
          ? `The gateway of ${line.name} is the router's own address, so nothing would leave the site.`
          : gatewayRole === 'outside'
            ? `The gateway ${formatAddress(gateway)} of ${line.name} is outside ${formatPrefix(prefix)}: the router cannot reach it, so nothing would leave the site.`
            : `The gateway ${formatAddress(gateway)} of ${line.name} is the ${gatewayRole} address of ${formatPrefix(prefix)}; no router can hold it.`,
        why: placeWorked(gateway, prefix, 'Gateway'),
        ...(other && {
          fix: replacing(
            `Take the subnet's only other host, ${formatAddress(other)}`,
            `${at}/gateway`,
            formatAddress(other),
          ),
        }),
        source: gatewayRole === 'outside' ? 'RFC 1122 section 3.3.1.1' : 'RFC 1122 section 3.2.1.3',
      });
  }

  const routed = line.settings.static.routedBlock;
  if (routed && overlaps(routed, prefix))
    findings.push({
      rule: 'routed-block',
      severity: 'blocker',
      at: `${at}/routedBlock`,
      also: [`${at}/address`],
      says: `The routed subnet ${formatPrefix(routed)} and the subnet of the line ${formatPrefix(prefix)} overlap: a routed subnet is sent to the router's address and is separate from it. If the provider gave one subnet only, it is on the line and not routed.`,
      why: routedWorked(routed),
      source: 'RFC 1812 section 5.2.4.3',
    });

  if (prefix.length === 32 && !line.settings.static.gatewayOutside)
    findings.push({
      rule: 'line-single',
      severity: 'warning',
      at: `${at}/prefixLength`,
      says: `${line.name} has a subnet of one address, so the gateway can only be outside it. Few routers accept that on a plain Ethernet line: ask the provider for the mask of the link.`,
      why: subnetWorked(prefix),
      source: 'RFC 4632 section 3.1',
    });
  return findings;
}

export const wanType: WanType<'static'> = {
  name: 'static',
  says: 'The provider wrote down an address, a mask and a gateway.',
  check,
  workings: (line, key) => {
    if (!line.addressKnown) return [];
    if (key === 'address')
      return [
        addressWorked(line.address),
        ...(line.prefix ? [placeWorked(line.address, line.prefix, 'Address')] : []),
      ];
    const routed = line.settings.static.routedBlock;
    if (key === 'routedBlock' && routed) return [routedWorked(routed)];
    if (key === 'prefixLength' && line.prefix) return [subnetWorked(line.prefix)];
    if (key === 'gateway' && line.prefix && line.gateway)
      return [placeWorked(line.gateway, line.prefix, 'Gateway')];
    return [];
  },
  entries: (line) => {
    const at = `${line.at}/settings/static` as const;
    return [
      fieldEntry(`${line.at}/type`, 'Static', ['Static IP', 'Fixed IP', 'Manual']),
      fieldEntry(`${at}/address`, formatAddress(line.address)),
      ...(line.prefix
        ? [fieldEntry(`${at}/prefixLength`, maskText(line.prefix.length), [`/${line.prefix.length}`])]
        : []),
      ...(line.gateway ? [fieldEntry(`${at}/gateway`, formatAddress(line.gateway))] : []),
      ...line.resolvers.map((resolver, index) =>
        entry(
          `DNS server ${index + 1}`,
          formatAddress(resolver),
          ['DNS server', index === 0 ? 'Primary DNS' : 'Secondary DNS'],
          `${at}/resolvers`,
        ),
      ),
    ];
  },
  bringUp: (line) => ({
    lowSeconds: 5,
    highSeconds: 60,
    proof:
      `A ping of the gateway ${line.gateway ? formatAddress(line.gateway) : ''} from the router's own tools is answered.`.replace(
        '  ',
        ' ',
      ),
    ifNot:
      'No answer from the gateway: compare all four values with the sheet, digit by digit, then the cable and the port light, then ask the provider whether the line is activated and which MAC address they see.',
    cautions:
      line.prefix && line.gateway && !contains(line.prefix, line.gateway)
        ? ['The gateway is outside the subnet: settle that before you drive out.']
        : [],
  }),
  stack: [],
  nextHop: 'entered',
  uses: () => ['block'],
  clues: [
    { weight: 6, holds: has('block'), says: 'The paperwork names an address, a mask and a gateway.' },
    {
      weight: -4,
      holds: ({ papers }) => !papers.has('block'),
      says: 'The paperwork names no IP address.',
    },
  ],
  inText:
    /\b(?:static|fixed)(?: (?:public|wan|ipv4|ip|v4))*(?: addresse?s?| ips?)?\b(?! wireless| lease| route| dhcp)/gi,
  onPage: /static|fixed|manual/i,
};
