import { z } from 'zod';

/** The line gives the router its address (RFC 2131). */
export const dhcpSettings = z.strictObject({
  expectedAddress: z.string().max(64).default('').describe('Address the line is expected to give the router'),
  useResolvers: z.boolean().default(true).describe('Use the resolvers that the line offers'),
});
