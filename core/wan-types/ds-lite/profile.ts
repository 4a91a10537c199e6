import * as z from 'zod';
import { text } from '../../plan/field.ts';
import { plainPort, profileOf } from '../profile.ts';

/** IPv6 header around each packet (RFC 8200 section 3). */
const headerBytes = 40;

/** IPv4 carried over an IPv6 line to a translator of the provider (RFC 6333). */
export const profile = profileOf({
  title: 'IPv4 over an IPv6 line (DS-Lite)',
  settings: z.strictObject({
    gatewayName: text('AFTR', "Name or address of the provider's translator (RFC 6333).", {
      longest: 255,
      mono: true,
      emptyMeans: 'the line tells it (RFC 6334)',
      alsoCalled: ['AFTR name', 'Tunnel endpoint', 'B4 gateway'],
    }),
  }),
  port: () => ({
    ...plainPort,
    addressKey: 'gatewayName',
    carrierNat: true,
    largestBytes: 1500 - headerBytes,
    wrappingBytes: headerBytes,
  }),
  holds: { translator: 'gatewayName' },
});
