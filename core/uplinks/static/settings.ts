import { z } from 'zod';

/** The provider assigned a fixed address on paper. */
export const staticSettings = z.strictObject({
  address: z.string().max(64).default('').describe("Router's address on the line"),
  prefixLength: z.string().max(32).default('').describe('Prefix length or mask, as the provider wrote it'),
  gateway: z.string().max(64).default('').describe("Provider's end of the line"),
  resolvers: z.array(z.string().max(64)).max(8).default([]).describe('Resolvers to use on this line'),
});
