import { z } from 'zod';
import { lineText } from '../../text.ts';

/** The provider assigned a fixed address on paper. */
export const staticSettings = z.strictObject({
  address: lineText(64).default('').describe("Router's address on the line"),
  prefixLength: lineText(32).default('').describe('Prefix length or mask, as the provider wrote it'),
  gateway: lineText(64).default('').describe("Provider's end of the line"),
  gatewayOutside: z.boolean().default(false).describe('The gateway is outside the block on purpose'),
  routedBlock: z
    .string()
    .max(64)
    .default('')
    .describe('Further block that the provider routes to the address'),
  resolvers: z.array(lineText(64)).max(8).default([]).describe('Resolvers to use on this line'),
});
