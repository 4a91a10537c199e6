import { markdown } from '../../base/encode/index.ts';
import { has, madeOf } from '../type.ts';
import { lineWaits } from '../../behaviour/domain-types/nature.ts';
import { formatAddress } from '../../base/net/address.ts';
import { parseUserName } from '../../base/net/identifiers.ts';
import { replacing, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Line } from '../../site/model.ts';
import { addressWorked } from '../../base/worked/addresses.ts';
import { mssWorked } from '../../base/worked/packets.ts';
import { stackWorked, type Link } from '../../base/worked/stack.ts';
import { practice, step, type Worked, worked } from '../../base/worked/worked.ts';
import type { SettingsAt, WanType } from '../type.ts';
import { entry, fieldEntry, secretFieldEntry } from '../../behaviour/domain-types/step.ts';

/** The Ethernet below a line: with 1500 bytes inside PPPoE it carries 1508 (RFC 4638). */
export const linkOf = (line: Line): Link =>
  line.type === 'pppoe' && line.settings.pppoe.largePackets ? { linkBytes: 1508, largePppoe: true } : {};

/** Wrappings of the session on this line, outermost first. */
export const pppoeStack = (line: Line): string[] => [...(line.vlan === null ? [] : ['vlan']), 'pppoe'];

/** When it dials after refusals: a wait that doubles each time, up to the tenth of an hour. */
function backoffWorked(firstSeconds: number): Worked {
  let at = 0;
  const steps = [0, 1, 2, 3, 4].map((refusals) => {
    const wait = Math.min(360, firstSeconds * 2 ** refusals);
    at += wait;
    return { at, step: step(`refusal ${refusals + 1}`, `${at - wait} + ${wait} = ${at} s`) };
  });
  return worked(
    'Dials again after',
    steps.map((each) => each.at).join(', '),
    's',
    steps.map((each) => each.step),
    `doubling as in RFC 2131 section 4.1, ceiling: ${practice}`,
  );
}

function check(line: Line, at: SettingsAt<'pppoe'>): Finding[] {
  const settings = line.settings.pppoe;
  const found: Finding[] = [];
  const name = parseUserName(settings.userName);
  if (settings.userName.trim() !== '' && name.ok && name.value.realm === undefined)
    found.push({
      rule: 'user-without-realm',
      severity: 'advice',
      at: `${at}/userName`,
      says: `The user name of ${line.name} has no "@" and realm. Many providers tell their customers apart by it: compare with the paperwork before the first refusal.`,
      why: worked(
        'Realm of the user name',
        'none',
        '',
        [step('user', name.value.user), step('realm', 'none')],
        'RFC 7542 section 2.2',
      ),
      source: 'RFC 7542 section 2.2',
    });
  if (settings.secret.trim() === '')
    found.push({
      rule: 'secret-missing',
      severity: 'warning',
      at: `${at}/secret`,
      says: `No password is kept for ${line.name}: on site the session will be refused. Put it in the vault and name it here.`,
      why: worked(
        'Password',
        'not named',
        '',
        [step('kept in the vault as', 'nothing')],
        'RFC 1994, RFC 1334',
      ),
      source: 'RFC 1994, RFC 1334',
    });
  if (settings.reconnect && settings.backoffSeconds !== null && settings.backoffSeconds < 30)
    found.push({
      rule: 'dials-too-fast',
      severity: 'warning',
      at: `${at}/backoffSeconds`,
      says: `After a refusal ${line.name} is dialled again every ${settings.backoffSeconds} s: a session that still lingers makes that ${Math.floor(300 / settings.backoffSeconds)} refusals in five minutes, and some providers lock the account for less.`,
      why: backoffWorked(settings.backoffSeconds),
      fix: replacing('Wait 60 s, and twice as long each time', `${at}/backoffSeconds`, 60),
      source: practice,
    });
  if (!settings.reconnect)
    found.push({
      rule: 'no-reconnect',
      severity: 'warning',
      at: `${at}/reconnect`,
      says: `${line.name} does not redial automatically: after every interruption a button must be pressed.`,
      why: worked('Dials again', 'no', '', [step('dials again', 'no')], practice),
      fix: replacing('Let it dial again', `${at}/reconnect`, true),
      source: practice,
    });
  return found;
}

export const wanType: WanType<'pppoe'> = {
  name: 'pppoe',
  says: 'The paperwork names a user and a password. The session, not the cable, gives the address.',
  check,
  workings: (line, key) => {
    if (key === 'expectedAddress') return line.addressKnown ? [addressWorked(line.address)] : [];
    const { backoffSeconds } = line.settings.pppoe;
    if (key === 'backoffSeconds') return [backoffWorked(backoffSeconds)];
    if (key !== 'largePackets' && key !== 'userName') return [];
    const stack = stackWorked(pppoeStack(line), linkOf(line));
    return key === 'largePackets' && stack.ok
      ? [stack.value, mssWorked(line.mtuBytes), mssWorked(line.mtuBytes, 6)]
      : [];
  },
  entries: (line) => {
    const at = `${line.at}/settings/pppoe` as const;
    const settings = line.settings.pppoe;
    return [
      fieldEntry(`${line.at}/type`, 'PPPoE', ['Dial-up', 'Broadband connection', 'PPP over Ethernet']),
      fieldEntry(`${at}/userName`, settings.userName || 'as on the paperwork'),
      secretFieldEntry(`${at}/secret`, settings.secret, 'from the paperwork'),
      ...(settings.serviceName ? [fieldEntry(`${at}/serviceName`, settings.serviceName)] : []),
      entry(
        'Clamp TCP to',
        `${mssWorked(line.mtuBytes).value} bytes over IPv4, ${mssWorked(line.mtuBytes, 6).value} over IPv6`,
        ['MSS clamping', 'MSS fix', 'TCP MSS'],
        `${line.at}/mtuBytes`,
      ),
      fieldEntry(`${at}/reconnect`, settings.reconnect ? 'always on, redial automatically' : 'by hand'),
      ...(settings.reconnect
        ? [fieldEntry(`${at}/backoffSeconds`, `${settings.backoffSeconds} s, longer each time`)]
        : []),
      fieldEntry(`${at}/useResolvers`, line.resolversOffered ? 'from the session' : 'own, see each network'),
    ];
  },
  steps: (line) => [
    {
      id: `old-session:${line.id}`,
      nature: lineWaits(line, 0.9),
      phase: 'uplink',
      title: `End the old session on ${line.name}`,
      why: 'Most providers allow one session. One that ended without a goodbye, by a pulled plug, stays open at their end for a minute, sometimes several, and the new one is refused until then.',
      lowSeconds: 60,
      highSeconds: 300,
      proof: 'The old router was asked to disconnect before it was unplugged; or the wait is over.',
      ifNot: 'Wait. Dialling again and again makes some providers lock the account for a while.',
    },
  ],
  bringUp: (line) => ({
    lowSeconds: 10,
    highSeconds: 120,
    proof: line.addressKnown
      ? `The status page says connected and shows ${formatAddress(line.address)}.`
      : 'The status page says connected and shows an address that is not 0.0.0.0 and does not begin with 169.254.',
    ifNot:
      'No answer at all: the VLAN tag, or the terminal has no light. Refused: user name, then password, each digit by digit; once, then wait a minute. "Session already open": wait for the old one to end.',
    cautions: [],
  }),
  stack: ['pppoe'],
  link: linkOf,
  nextHop: 'session',
  sessionHint: (port, name) =>
    markdown`give pppd the options \`plugin pppoe.so ${port}\` and \`ifname ${name}\``,
  uses: ({ addressKnown }) => ['user', ...(addressKnown ? (['block'] as const) : [])],
  clues: [
    {
      weight: 6,
      holds: (signs) => has('user')(signs) && !madeOf('cellular')(signs),
      says: 'The paperwork names a user and a password.',
    },
    {
      weight: 2,
      holds: has('user', 'vlan'),
      says: 'A VLAN number goes with it, as on many fibre and DSL lines.',
    },
    {
      weight: 2,
      holds: (signs) => madeOf('dsl', 'fibre')(signs) && signs.papers.size === 0,
      says: 'DSL and fibre lines often ask for a session, even if the paper with the user name is missing.',
    },
    {
      weight: -4,
      holds: madeOf('cable', 'cellular', 'satellite'),
      says: 'Such lines have no dial-in session.',
    },
    {
      weight: -3,
      holds: ({ boxRoutes }) => boxRoutes,
      says: 'The device in front routes: it dials, not the router.',
    },
  ],
  inText: /\bppp(?:oe|oa)\b|\bppp over ethernet\b/gi,
  onPage: /pppoe|point.to.point/i,
};
