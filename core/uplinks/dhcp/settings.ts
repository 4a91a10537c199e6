import { z } from 'zod';
import { lineText } from '../../text.ts';

/** The line gives the router its address (RFC 2131). */
export const dhcpSettings = z.strictObject({
  expectedAddress: lineText(64).default('').describe('Address the line is expected to give the router'),
  tiedMac: lineText(64).default('').describe('MAC address the line answers only, if it is tied to one'),
  leaseMinutes: z.number().min(1).max(525_600).nullable().default(null).describe('Lease as shown or told'),
  useResolvers: z.boolean().default(true).describe('Use the resolvers that the line offers'),
  useRoute: z.boolean().default(true).describe('Take the default route that the line offers'),
  useTime: z.boolean().default(true).describe('Take the time servers that the line offers'),
});
