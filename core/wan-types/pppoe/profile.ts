import * as z from 'zod';
import { practice } from '../../base/worked/worked.ts';
import { text, usually, usualWhole, yesNo } from '../../plan/field.ts';
import { plainPort, profileOf } from '../profile.ts';
import { expectedAddress, useResolvers, userName, password } from '../shared-fields.ts';

/** A session with a user name over Ethernet (RFC 2516). */
export const profile = profileOf({
  title: 'PPPoE with user name',
  settings: z.strictObject({
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
    reconnect: yesNo('Reconnect', 'Redial automatically after every interruption.', true, {
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
  }),
  port: (settings) => ({
    ...plainPort,
    address: settings.expectedAddress,
    resolversOffered: settings.useResolvers,
    // RFC 2516 section 7: 8 of the 1500 bytes are the session's; RFC 4638 gives them back.
    largestBytes: settings.largePackets ? 1500 : 1492,
    wrappingBytes: 8,
  }),
  holds: { userName: 'userName', password: 'secret', address: 'expectedAddress' },
});
