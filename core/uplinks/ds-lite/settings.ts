import { z } from 'zod';

/** IPv4 carried over an IPv6 line to a translator of the provider (RFC 6333). */
export const dsLiteSettings = z.strictObject({
  gatewayName: z
    .string()
    .max(255)
    .default('')
    .describe('Name or address of the translator; empty means the line tells (RFC 6334)'),
});
