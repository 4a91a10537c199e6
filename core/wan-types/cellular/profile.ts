import * as z from 'zod';
import { parseApn, parseCardNumber } from '../../base/net/identifiers.ts';
import { choice, cosmetic, formed, number, secret, text, whole, yesNo } from '../../plan/field.ts';
import { plainPort, profileOf } from '../profile.ts';
import { expectedAddress, password } from '../shared-fields.ts';

/** A SIM card in the router itself. A cellular device in front is a hand-off that routes, on a DHCP line. */
export const profile = profileOf({
  title: 'SIM card in the router (cellular)',
  settings: z.strictObject({
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
  }),
  port: (settings) => ({
    ...plainPort,
    address: settings.expectedAddress,
    carrierNat: settings.carrierNat,
  }),
  holds: {
    apn: 'apn',
    userName: 'userName',
    password: 'secret',
    cardNumber: 'cardNumber',
    pin: 'pinSecret',
    pinTries: 'pinTriesLeft',
    capGigabytes: 'capGigabytes',
    address: 'expectedAddress',
  },
});
