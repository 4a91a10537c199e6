import * as z from 'zod';
import { parseMac } from '../../base/net/mac.ts';
import { practice } from '../../base/worked/worked.ts';
import { formed, usually, usualNumber, yesNo } from '../../plan/field.ts';
import { plainPort, profileOf } from '../profile.ts';
import { expectedAddress, useResolvers } from '../shared-fields.ts';

/** The line gives the router its address (RFC 2131). */
export const profile = profileOf({
  title: 'Automatic (DHCP)',
  settings: z.strictObject({
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
  }),
  port: (settings) => ({
    ...plainPort,
    address: settings.expectedAddress,
    defaultRoute: settings.useRoute,
    resolversOffered: settings.useResolvers,
  }),
  holds: { address: 'expectedAddress', tiedMac: 'tiedMac' },
});
