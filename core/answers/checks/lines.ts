import type { At } from '../../plan/at.ts';
import { titleAt } from '../../plan/places.ts';
import { medium } from '../../behaviour/media/index.ts';
import { formatAddress } from '../../base/net/address.ts';
import { formatPrefix, roleIn } from '../../base/net/prefix.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Line, Site } from '../../site/model.ts';
import { wanType } from '../../wan-types/index.ts';
import { addressWorked, subnetWorked } from '../../base/worked/addresses.ts';
import { rateVerdict } from '../../base/worked/line.ts';
import { figure, practice, step, worked } from '../../base/worked/worked.ts';

/** What is wrong with a line: what its WAN type knows, its hand-off, its source NAT, its largest packet. */
export const lines: Check = {
  name: 'lines',
  run: (site) =>
    site.lines.flatMap((line) => [
      ...wanType(line.type)
        .check(line, `${line.at}/settings/${line.type}`)
        .map((each) => withoutOther(site, each)),
      ...medium(line.medium).check(line.media[line.medium], line, `${line.at}/media/${line.medium}`),
      ...account(line),
      ...kindOfAddress(site, line),
      ...handoff(line),
      ...sourceNat(site, line),
      ...largestPacket(line),
      ...rates(line),
    ]),
};

/** A default route that is not taken is a choice where another line has one, and the end of everything where none has. */
const withoutOther = ({ routes }: Site, finding: Finding): Finding =>
  finding.rule === 'route-refused' && !routes.some(({ prefix }) => prefix.length === 0)
    ? {
        ...finding,
        severity: 'blocker',
        says: `${finding.says} No other line has a default route: nobody reaches the internet.`,
      }
    : finding;

function account(line: Line): Finding[] {
  if (line.activation !== 'not-yet') return [];
  return [
    {
      rule: 'not-activated',
      severity: 'warning',
      at: `${line.at}/activation`,
      says: `The provider has not activated ${line.name} yet. Until then "no session" and "no address" are no fault of the router: do not search for one.`,
      why: worked('Activated', 'not yet', '', [step('activated', 'not yet')], practice),
      source: practice,
    },
  ];
}

function kindOfAddress(site: Site, line: Line): Finding[] {
  const { box } = line;
  const at: At = box?.routes ? `${line.at}/handoff/outsideAddress` : line.addressAt;
  const source = addressWorked(line.lineAddress).source;
  const base = { at, why: addressWorked(line.lineAddress), source };
  switch (line.lineClass) {
    case 'carrier-shared':
      return [
        {
          ...base,
          rule: 'carrier-nat',
          severity: 'advice',
          says: `${line.name} sits behind carrier NAT (${formatAddress(line.lineAddress)}): connections opened from inside work, connections from outside do not.`,
        },
      ];
    case 'private':
      // How many translations there are is said once, with the router in front.
      if (box?.routes && line.medium === 'router') return [];
      return [
        {
          ...base,
          rule: 'second-nat',
          severity: 'warning',
          says: `${line.name} shows the private address ${formatAddress(line.lineAddress)}, so ${box?.routes ? `another device in front of ${box.name}` : 'a device in front'} translates a second time. Port forwards and VPN connections from outside do not arrive; ${line.handoff.canBridge === 'no' ? 'it cannot be bridged, so what must come in needs a forward there too, or another line' : 'bridge that box, or describe it as the hand-off'}.`,
        },
      ];
    case 'link-local':
    case 'site-local':
    case 'ipv4-embedded':
    case 'nat64':
    case 'discard':
    case 'segment-routing':
    case 'loopback':
    case 'multicast':
    case 'reserved':
    case 'broadcast':
    case 'unspecified':
      return [
        {
          ...base,
          rule: 'line-address-class',
          severity: 'blocker',
          says: `${formatAddress(line.lineAddress)} of ${line.name} is ${line.lineClass}: no working line has such an address.`,
        },
      ];
    case 'documentation':
      return site.demo
        ? []
        : [
            {
              ...base,
              rule: 'documentation-address',
              severity: 'advice',
              says: `${formatAddress(line.lineAddress)} of ${line.name} is from a documentation range and stands for a public address. Replace it before real use.`,
            },
          ];
    default:
      return [];
  }
}

function handoff(line: Line): Finding[] {
  const { box } = line;
  if (!box?.routes || !box.prefix) return [];
  const found: Finding[] = [];
  for (const [what, host, at] of [
    [`${box.name}'s own address`, box.address, `${line.at}/handoff/insideAddress` as const],
    ["the router's address there", line.addressKnown ? line.address : undefined, line.addressAt],
  ] as const) {
    if (!host || roleIn(box.prefix, host) === 'host') continue;
    found.push({
      rule: 'handoff-address',
      severity: 'blocker',
      at,
      also: [`${line.at}/handoff/insidePrefix`],
      says: `On ${line.name}, ${what} ${formatAddress(host)} is no host of ${formatPrefix(box.prefix)}: the router and the device in front do not see each other.`,
      why: subnetWorked(box.prefix),
      source: 'RFC 1122 section 3.3.1.1',
    });
  }
  return found;
}

function sourceNat(site: Site, line: Line): Finding[] {
  if (line.sourceNat || site.networks.length === 0) return [];
  return [
    {
      rule: 'no-source-nat',
      severity: 'blocker',
      at: `${line.at}/sourceNat`,
      says: `${line.name} sends inside addresses out as they are. The provider drops packets from private addresses, so nobody reaches the internet over it.`,
      why: worked(
        `Source that leaves by ${line.name}`,
        'private',
        '',
        [
          step('source NAT', 'off'),
          step('source on the line', 'as inside'),
          step('routed on the internet', 'no'),
        ],
        'RFC 1918 section 3',
      ),
      fix: replacing('Switch source NAT on', `${line.at}/sourceNat`, true),
      source: 'RFC 1918 section 3, RFC 3022',
    },
  ];
}

function largestPacket(line: Line): Finding[] {
  const { mtuBytes, largestBytes } = line;
  if (mtuBytes >= 1280 && mtuBytes <= largestBytes) return [];
  const small = mtuBytes < 1280;
  const type = titleAt('/uplinks/*/type', line.type);
  const source = 'RFC 791, RFC 8200 section 5, RFC 894';
  return [
    {
      rule: small ? 'mtu-small' : 'mtu-large',
      severity: mtuBytes < 68 ? 'blocker' : 'warning',
      at: `${line.at}/mtuBytes`,
      says: small
        ? `${line.name} carries packets of ${mtuBytes} bytes only; ${mtuBytes < 68 ? 'IPv4 needs 68' : 'IPv6 needs 1280, and many tunnels do not fit'}.`
        : `${line.name} is set to ${mtuBytes} bytes. A line of the type "${type}" carries ${largestBytes}; larger packets vanish unless the provider agreed to them.`,
      why: worked(
        'Largest packet',
        mtuBytes,
        'bytes',
        [
          step('least for IPv4', 68),
          step('least for IPv6', 1280),
          step(`carried by ${type}`, largestBytes),
          step('typed', mtuBytes),
        ],
        source,
      ),
      ...(small
        ? {}
        : {
            fix: replacing(`Use ${largestBytes}`, `${line.at}/mtuBytes`, largestBytes),
          }),
      source,
    },
  ];
}

/** Measured rates that stay behind what was sold. */
function rates(line: Line): Finding[] {
  return (['down', 'up'] as const).flatMap((direction): Finding[] => {
    const [contract, field] =
      direction === 'down'
        ? ([line.rateDownMbps, 'rateDownMbps'] as const)
        : ([line.rateUpMbps, 'rateUpMbps'] as const);
    const judged =
      contract === null
        ? undefined
        : rateVerdict(line.runs, direction, contract, line.mtuBytes, line.wrappingBytes);
    if (!judged?.ok || judged.value.standing === 'as-sold') return [];
    return [
      {
        rule: 'rate-apart',
        severity: 'advice',
        at: `${line.at}/${field}` as const,
        says: `${line.name} gives ${figure(judged.value.value, 0)} % of what was sold, ${direction}. ${judged.value.means}`,
        why: judged.value,
        source: judged.value.source,
      },
    ];
  });
}
