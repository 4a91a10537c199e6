import * as z from 'zod';
import { parseAddress } from '../../base/net/address.ts';
import { parseApn, parseCardNumber, parseServer, parseUserName } from '../../base/net/identifiers.ts';
import { parseMac } from '../../base/net/mac.ts';
import { parseLength, parsePrefix } from '../../base/net/prefix.ts';
import { practice } from '../../base/worked/worked.ts';
import {
  choice,
  cosmetic,
  formed,
  number,
  oneInUse,
  secret,
  text,
  typed,
  typedList,
  usually,
  usualNumber,
  usualWhole,
  whole,
  yesNo,
} from '../field.ts';

/*
 * What each WAN type stores in the plan. All of them are kept beside each other, so that trying another type and
 * coming back loses nothing.
 */

const expectedAddress = typed(
  'Expected address',
  'The address this line should get, if the contract names one or an earlier visit saw one.',
  parseAddress,
  { alsoCalled: ['WAN IP', 'IP address'] },
);
const useResolvers = yesNo(
  "Use the provider's DNS servers",
  'Take the DNS servers that the line offers. If not, name DNS servers yourself.',
  true,
  { alsoCalled: ['Peer DNS', 'Use ISP DNS', 'Obtain DNS automatically'] },
);
const userName = (needed: boolean, says: string) =>
  formed('User name', says, parseUserName, {
    longest: 255,
    needed,
    alsoCalled: ['Account', 'Login', 'PPP user'],
  });
const password = secret('Password', 'From the paperwork; kept in the vault.', {
  alsoCalled: ['PPP password', 'Secret'],
});

/** The line gives the router its address (RFC 2131). */
const dhcp = z.strictObject({
  expectedAddress,
  tiedMac: formed(
    'MAC address the line answers',
    'If the line answers one device only: the MAC address it knows.',
    parseMac,
    { alsoCalled: ['MAC clone', 'Clone MAC address', 'WAN MAC'] },
  ),
  leaseMinutes: usualNumber('Lease time', 'As the status page shows it.', {
    unit: 'min',
    least: 1,
    most: 525_600,
    usual: usually(60, practice),
    alsoCalled: ['Lease duration'],
  }),
  useResolvers,
  useRoute: yesNo(
    "Use the provider's default route",
    'Take the default route that the line offers. Off only where another line must keep the default route.',
    true,
    { alsoCalled: ['Add default route', 'Default gateway'] },
  ),
  useTime: yesNo("Use the provider's NTP servers", 'Take the time servers that the line offers.', true, {
    alsoCalled: ['Peer NTP'],
  }),
});

/** The provider assigned a fixed address on paper. */
const fixed = z.strictObject({
  address: typed('Address', "The router's address on the line.", parseAddress, {
    needed: true,
    alsoCalled: ['IP address', 'WAN IP'],
  }),
  prefixLength: typed(
    'Prefix length or mask',
    'As the provider wrote it: 30, /30 or 255.255.255.252.',
    (typedText) => parseLength(typedText),
    { needed: true, longest: 32, alsoCalled: ['Subnet mask', 'Netmask'] },
  ),
  gateway: typed('Gateway', "The provider's end of the line.", parseAddress, {
    needed: true,
    alsoCalled: ['Default gateway', 'Default route', 'Next hop'],
  }),
  gatewayOutside: yesNo(
    'Gateway outside the subnet',
    'Only where the provider says that the gateway is outside the subnet on purpose.',
    false,
    { alsoCalled: ['On-link gateway'] },
  ),
  routedBlock: typed(
    'Routed prefix',
    'A further public prefix that the provider routes to this address.',
    parsePrefix,
    { alsoCalled: ['Routed subnet', 'Additional IP range'] },
  ),
  resolvers: typedList('DNS servers', 'Addresses, separated by commas.', parseAddress, 8, {
    alsoCalled: ['Primary DNS', 'Secondary DNS', 'Name server'],
  }),
});

/** A session with a user name over Ethernet (RFC 2516). */
const pppoe = z.strictObject({
  userName: userName(true, 'Exactly as on the paperwork, mostly with an "@".'),
  secret: password,
  serviceName: text('Service name', 'Only where the provider names one (RFC 2516 section 5.1).', {
    longest: 64,
    mono: true,
    emptyMeans: 'any',
    alsoCalled: ['Service tag'],
  }),
  largePackets: yesNo(
    '1500-byte MTU over PPPoE (RFC 4638)',
    'Only where provider, modem and port all carry frames with 1508 bytes inside.',
    false,
    { alsoCalled: ['Baby jumbo frames', 'PPP-Max-Payload', 'MTU 1508'] },
  ),
  reconnect: yesNo('Reconnect', 'Dial again by itself after every interruption.', true, {
    alsoCalled: ['Always on', 'Auto connect', 'Keep connected'],
  }),
  backoffSeconds: usualWhole(
    'Delay after a refusal',
    'Wait before the next try after a refusal, doubled after each further one.',
    {
      unit: 's',
      least: 1,
      most: 86_400,
      usual: usually(60, practice),
      alsoCalled: ['Redial interval', 'Retry delay', 'Holdoff'],
    },
  ),
  expectedAddress,
  useResolvers,
});

/** A SIM card in the router itself. A cellular device in front is a hand-off that routes, on a DHCP line. */
const cellular = z.strictObject({
  apn: formed('APN', 'Access point name, as on the paperwork of the card (3GPP TS 23.003).', parseApn, {
    longest: 100,
    needed: true,
    alsoCalled: ['Access point', 'Profile', 'Data network name'],
  }),
  authentication: choice(
    'Authentication',
    'None, unless the paperwork says otherwise.',
    { none: 'none', pap: 'PAP', chap: 'CHAP' },
    'none',
    { alsoCalled: ['Auth type', 'PAP/CHAP'] },
  ),
  userName: text('User name', 'Only with authentication.', {
    longest: 255,
    mono: true,
    alsoCalled: ['Dial-up user'],
  }),
  secret: password,
  addressType: choice(
    'PDP type',
    'Which addresses the card asks for (3GPP TS 24.008 section 10.5.6.4).',
    { ipv4v6: 'IPv4 and IPv6', ipv4: 'IPv4', ipv6: 'IPv6' },
    'ipv4v6',
    { alsoCalled: ['PDN type', 'IP stack', 'IP version'] },
  ),
  cardNumber: formed('SIM card number', '18 to 20 digits, printed on the card (ICCID).', parseCardNumber, {
    longest: 30,
    alsoCalled: ['ICCID', 'Card number'],
  }),
  pinSecret: secret('SIM PIN', 'Kept in the vault.', {
    emptyMeans: 'the PIN is off',
    alsoCalled: ['CHV1', 'PIN1'],
  }),
  pinTriesLeft: cosmetic(
    whole('PIN tries left', 'As the card shows, before a PIN is typed.', {
      unit: 'of 3',
      most: 3,
    }),
  ),
  roaming: yesNo('Roaming', 'The card may use foreign networks.', false, {
    on: 'on',
    off: 'off',
    alsoCalled: ['Data roaming'],
  }),
  capGigabytes: cosmetic(
    number('Data allowance', 'Data that the contract includes.', {
      unit: 'GB a month',
      most: 1_000_000,
      emptyMeans: 'no limit',
      alsoCalled: ['Data cap', 'Volume'],
    }),
  ),
  pricePerGigabyte: cosmetic(
    number('Price above the allowance', 'In the currency of the contract.', {
      unit: 'per GB',
      most: 100_000,
    }),
  ),
  carrierNat: yesNo(
    'Carrier-grade NAT',
    'The provider translates addresses: expected on almost every card without a public address.',
    true,
    { alsoCalled: ['CGNAT', 'Private APN address'] },
  ),
  expectedAddress,
});

/** IPv4 carried over an IPv6 line to a translator of the provider (RFC 6333). */
const dsLite = z.strictObject({
  gatewayName: text('AFTR', "Name or address of the provider's translator (RFC 6333).", {
    longest: 255,
    mono: true,
    emptyMeans: 'the line tells it (RFC 6334)',
    alsoCalled: ['AFTR name', 'Tunnel endpoint', 'B4 gateway'],
  }),
});

/** A dialled tunnel over another line: L2TP (RFC 2661) and PPTP (RFC 2637) ask for the same. */
const dated = z.strictObject({
  server: formed('Server', 'Name or address of the tunnel server, from the paperwork.', parseServer, {
    longest: 255,
    needed: true,
    alsoCalled: ['Gateway', 'VPN server'],
  }),
  userName: userName(true, 'As on the paperwork.'),
  secret: password,
});

export type DatedSettings = z.output<typeof dated>;

export const uplinkTypeTitles = {
  unknown: 'Not known yet',
  dhcp: 'Automatic (DHCP)',
  static: 'Fixed address (static)',
  pppoe: 'PPPoE with user name',
  cellular: 'SIM card in the router (cellular)',
  'ds-lite': 'IPv4 over an IPv6 line (DS-Lite)',
  l2tp: 'L2TP (outdated)',
  pptp: 'PPTP (outdated)',
} as const;

export const uplinkSettings = oneInUse(
  {
    unknown: z.strictObject({}).prefault({}),
    dhcp: dhcp.prefault({}),
    static: fixed.prefault({}),
    pppoe: pppoe.prefault({}),
    cellular: cellular.prefault({}),
    'ds-lite': dsLite.prefault({}),
    l2tp: dated.prefault({}),
    pptp: dated.prefault({}),
  },
  'type',
);

export type UplinkTypeName = keyof typeof uplinkTypeTitles;
export const uplinkTypeNames = Object.keys(uplinkTypeTitles) as UplinkTypeName[];
