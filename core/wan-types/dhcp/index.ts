import { madeOf } from '../type.ts';
import { lineWaits } from '../../behaviour/domain-types/nature.ts';
import { formatAddress } from '../../base/net/address.ts';
import { parseMac } from '../../base/net/mac.ts';
import { replacing, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Line } from '../../site/model.ts';
import { addressWorked } from '../../base/worked/addresses.ts';
import { leaseWorked } from '../../base/worked/packets.ts';
import { practice, step, worked } from '../../base/worked/worked.ts';
import type { SettingsAt, WanType } from '../type.ts';
import { entry, fieldEntry } from '../../behaviour/domain-types/step.ts';
import { textReading } from '../../behaviour/domain-types/reading.ts';

function check(line: Line, at: SettingsAt<'dhcp'>): Finding[] {
  const { useRoute, tiedMac } = line.settings.dhcp;
  const found: Finding[] = [];
  if (!useRoute)
    found.push({
      rule: 'route-refused',
      severity: 'warning',
      at: `${at}/useRoute`,
      says: `The router does not take the default route of ${line.name}: nothing leaves by this line but what a static route sends there.`,
      why: worked(
        'Default route over this line',
        'none',
        '',
        [step('offered (option 3)', 'refused'), step('default route', 'none')],
        'RFC 2132 section 3.5',
      ),
      fix: replacing('Take the route', `${at}/useRoute`, true),
      source: 'RFC 2132 section 3.5',
    });
  if (tiedMac.trim() !== '' && parseMac(tiedMac).ok)
    found.push({
      rule: 'line-tied',
      severity: 'advice',
      at: `${at}/tiedMac`,
      says: `${line.name} answers only the device with the MAC address ${tiedMac}. The run sheet releases that binding first; cloning the MAC address is the second resort, never while the old device is on the same segment, and is undone once the provider has registered the new one.`,
      why: worked(
        'Devices the line answers',
        1,
        '',
        [step('tied to', tiedMac), step('devices the line answers', 1)],
        practice,
      ),
      source: practice,
    });
  return found;
}

export const wanType: WanType<'dhcp'> = {
  name: 'dhcp',
  says: 'The line gives the router its address. The paperwork names no user name and no IP address.',
  check,
  workings: (line, key) => {
    const { leaseMinutes } = line.settings.dhcp;
    if (key === 'leaseMinutes' && leaseMinutes !== null) return [leaseWorked(leaseMinutes * 60)];
    return key === 'expectedAddress' && line.addressKnown ? [addressWorked(line.address)] : [];
  },
  entries: (line) => [
    fieldEntry(`${line.at}/type`, 'DHCP', ['Dynamic IP', 'Automatic', 'Automatic IP', 'DHCP client']),
    fieldEntry(
      `${line.at}/settings/dhcp/useResolvers`,
      line.resolversOffered ? 'from the provider' : 'own, see each network',
    ),
    fieldEntry(
      `${line.at}/settings/dhcp/useTime`,
      line.settings.dhcp.useTime ? 'from the provider' : 'own time servers',
    ),
  ],
  steps: (line) => {
    const { tiedMac } = line.settings.dhcp;
    return tiedMac.trim() === ''
      ? []
      : [
          {
            id: `forget:${line.id}`,
            nature: lineWaits(line, 0.8),
            phase: 'uplink',
            title: `Let ${line.name} forget the device that was here before`,
            entries: [
              entry(
                'Second resort only: take over',
                tiedMac,
                ['MAC clone', 'Clone MAC address', 'WAN MAC'],
                `${line.at}/settings/dhcp/tiedMac`,
              ),
            ],
            why: 'The device in front remembers the first MAC address it saw and answers no other until it has been without power.',
            lowSeconds: 10,
            highSeconds: 120,
            proof:
              'The device in front was off for the whole time, then on until its lights are steady, with the router plugged in.',
            ifNot:
              'Still no address: take over the old address, with the old device unplugged; note it as a fault and undo it when the provider has the new one.',
            fields: [textReading('used', 'What was done, and which MAC address is in use')],
          },
        ];
  },
  bringUp: (line) => ({
    lowSeconds: 10,
    highSeconds: 120,
    proof: line.addressKnown
      ? `The status page shows ${formatAddress(line.address)}, or another address of the same kind, with a mask, a gateway and a lease time.`
      : 'The status page shows an address that does not begin with 169.254, with a mask, a gateway and a lease time.',
    ifNot:
      'No address after two minutes: the line may be tied to the device that was here before. Switch the device in front off, wait two minutes, switch it on, wait until its lights are steady, then ask for the address again. If an address shows but no page opens, that is a later rung: go on with the checks.',
    cautions: [],
  }),
  stack: [],
  nextHop: 'offered',
  uses: () => [],
  clues: [
    {
      weight: 3,
      holds: ({ papers }) => papers.size === 0,
      says: 'The paperwork names nothing: the line assigns the address by DHCP.',
    },
    {
      weight: 3,
      holds: madeOf('cable', 'wireless', 'satellite', 'ethernet'),
      says: 'Such lines mostly give the address by themselves.',
    },
    {
      weight: 1,
      holds: madeOf('fibre'),
      says: 'Some fibre lines give the address by themselves, often on a VLAN.',
    },
    {
      weight: 6,
      holds: ({ boxRoutes }) => boxRoutes,
      says: 'The device in front routes, and gives the router an address of its own.',
    },
    {
      weight: 5,
      holds: madeOf('router'),
      says: 'A router in front gives addresses to what is behind it.',
    },
  ],
  inText:
    /\b(?:dhcp(?! (?:server|pool|range|scope|lease|start|end|reserv))|ipoe|dynamic(?: (?:public|wan|ip|ipv4))*(?: addresse?s?| ip)?|automatic(?:ally)?(?: (?:ip|address|configuration))?|obtain(?:s|ed)? (?:an )?(?:ip|address)\w* automatically)\b/gi,
  onPage: /dhcp|dynamic|automatic/i,
};
