import { has, madeOf } from '../type.ts';
import { atCupboard } from '../../behaviour/domain-types/nature.ts';
import { formatAddress } from '../../base/net/address.ts';
import { pinSays } from '../../behaviour/media/cellular.ts';
import { replacing, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Line } from '../../site/model.ts';
import { addressWorked } from '../../base/worked/addresses.ts';
import { capCostWorked } from '../../base/worked/line.ts';
import { figure, practice, step, type Worked, worked } from '../../base/worked/worked.ts';
import type { SettingsAt, WanType } from '../type.ts';
import { fieldEntry, secretFieldEntry } from '../../behaviour/domain-types/step.ts';
import { numberReading, textReading } from '../../behaviour/domain-types/reading.ts';

const pinSource = 'ETSI TS 102 221';
const pinWorked = (tries: number): Worked =>
  worked(
    'Tries of the PIN',
    tries,
    'tries left',
    [step('of a fresh card', 3), step('left', tries)],
    pinSource,
    pinSays(tries),
  );

/** What a whole working day of the line's own rate would cost beyond the cap. */
const dayOnCap = (line: Line): Worked<number> | undefined => {
  const { capGigabytes, pricePerGigabyte } = line.settings.cellular;
  return capGigabytes === null
    ? undefined
    : capCostWorked(8, Math.min(line.rateDownMbps ?? 5, 5), capGigabytes, pricePerGigabyte ?? 0);
};

function check(line: Line, at: SettingsAt<'cellular'>): Finding[] {
  const settings = line.settings.cellular;
  const found: Finding[] = [];
  const tries = settings.pinTriesLeft;
  if (tries !== null && tries < 3)
    found.push({
      rule: tries === 0 ? 'pin-locked' : 'pin-tries',
      severity: tries === 0 ? 'blocker' : 'warning',
      at: `${at}/pinTriesLeft`,
      says: `The card of ${line.name}: ${pinSays(tries)}`,
      why: pinWorked(tries),
      source: pinSource,
    });
  if (settings.authentication !== 'none' && settings.userName.trim() === '')
    found.push({
      rule: 'apn-user',
      severity: 'blocker',
      at: `${at}/userName`,
      says: `${line.name} asks for ${settings.authentication.toUpperCase()} but has no user name: the network will refuse the session.`,
      why: worked(
        'User name',
        'none',
        '',
        [step('authentication', settings.authentication), step('user name', 'none')],
        'RFC 1334, RFC 1994',
      ),
      fix: replacing('Use no authentication', `${at}/authentication`, 'none'),
      source: 'RFC 1334, RFC 1994',
    });
  const day = dayOnCap(line);
  if (day && day.value > 0)
    found.push({
      rule: 'cap-day',
      severity: 'advice',
      at: `${at}/capGigabytes`,
      says: `A working day on ${line.name} at 5 Mb/s goes past its cap and costs ${figure(day.value)} beyond it. Say who may use the line, and warn the customer.`,
      why: day,
      source: day.source,
    });
  if (settings.roaming)
    found.push({
      rule: 'roaming',
      severity: 'advice',
      at: `${at}/roaming`,
      says: `${line.name} may roam: near a border or on the water it can pick a foreign network, at another price and with other rules.`,
      why: worked('Roaming', 'allowed', '', [step('roaming', 'allowed')], practice),
      source: practice,
    });
  return found;
}

export const wanType: WanType<'cellular'> = {
  name: 'cellular',
  says: 'A card and an access point name. Bars are no evidence: the survey has the readings that are.',
  check,
  workings: (line, key) => {
    const settings = line.settings.cellular;
    if (key === 'expectedAddress') return line.addressKnown ? [addressWorked(line.address)] : [];
    if (key === 'pinTriesLeft' && settings.pinTriesLeft !== null) return [pinWorked(settings.pinTriesLeft)];
    const day = dayOnCap(line);
    return (key === 'capGigabytes' || key === 'pricePerGigabyte') && day ? [day] : [];
  },
  entries: (line) => {
    const at = `${line.at}/settings/cellular` as const;
    const settings = line.settings.cellular;
    return [
      fieldEntry(`${line.at}/type`, 'cellular', ['Mobile', 'LTE', '4G/5G', 'WWAN']),
      fieldEntry(`${at}/apn`, settings.apn || 'as on the paperwork'),
      fieldEntry(`${at}/authentication`, settings.authentication),
      ...(settings.userName ? [fieldEntry(`${at}/userName`, settings.userName)] : []),
      secretFieldEntry(`${at}/pinSecret`, settings.pinSecret, 'off'),
      fieldEntry(
        `${at}/addressType`,
        settings.addressType === 'ipv4v6'
          ? 'IPv4 and IPv6'
          : settings.addressType === 'ipv4'
            ? 'IPv4'
            : 'IPv6',
      ),
      fieldEntry(`${at}/roaming`, settings.roaming ? 'on' : 'off'),
    ];
  },
  steps: (line) => [
    {
      id: `card:${line.id}`,
      nature: atCupboard,
      phase: 'uplink',
      title: `Put in the card of ${line.name}, power off`,
      why: 'A card that is pushed in under power can be ruined, and the number is hidden afterwards.',
      lowSeconds: 60,
      highSeconds: 180,
      proof:
        'The card number is compared with the plan, the modem sees the card, and the tries left are as written here.',
      ifNot:
        'Card not seen: turned round, or the wrong size in its frame. PIN wanted: type it once; if refused, stop and read how many tries are left.',
      cautions: [
        'Antennas on a roof or a mast are work for people trained and secured for it; local codes and lightning protection decide.',
      ],
      fields: [
        textReading('card', 'SIM card number', { at: `${line.at}/settings/cellular/cardNumber` }),
        numberReading('tries', 'Tries left for the PIN', '', {
          limits: {
            least: 1,
            says: 'No try is left: the card wants its PUK now. Stop and ask the provider.',
          },
        }),
      ],
    },
  ],
  bringUp: (line) => ({
    lowSeconds: 30,
    highSeconds: 90,
    proof: `Registered (home network), then an address${line.addressKnown ? ` like ${formatAddress(line.address)}` : ''}, then a page. Bars alone are no evidence.`,
    ifNot:
      'Not registered: the card is not activated, the band is not allowed, or no signal: look at RSRP and SINR, not at bars. Registered but no address: the APN, letter by letter.',
    cautions: [],
  }),
  inRouter: true,
  stack: [],
  nextHop: 'offered',
  uses: ({ addressKnown, settings }) => [
    'apn',
    ...(settings.cellular.authentication === 'none' ? [] : (['user'] as const)),
    ...(addressKnown ? (['block'] as const) : []),
  ],
  clues: [
    {
      weight: 6,
      holds: (signs) => madeOf('cellular')(signs) && !signs.boxRoutes,
      says: 'The card is in the router itself.',
    },
    {
      weight: 4,
      holds: (signs) => has('apn')(signs) && !signs.boxRoutes,
      says: 'The paperwork names an access point (APN).',
    },
    {
      weight: -6,
      holds: ({ boxRoutes }) => boxRoutes,
      says: 'The SIM is in the device in front: to the router that is a line that gives an address.',
    },
  ],
  onPage: /cellular|lte|mobile|\b[45]g\b/i,
  implied: (stated) => (stated.has('userName') ? { authentication: 'chap' } : {}),
};
