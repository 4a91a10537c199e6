import { z } from 'zod';
import { number } from '../../plan/parts.ts';
import { lineText } from '../../text.ts';

/** A SIM card in the router itself. A cellular box in front is a hand-off that routes, on a DHCP line. */
export const cellularSettings = z.strictObject({
  apn: lineText(100).default('').describe('Access point name'),
  authentication: z.enum(['none', 'pap', 'chap']).default('none'),
  userName: lineText(255).default(''),
  secret: lineText(64).default('').describe('Name of the password in the vault'),
  addressType: z.enum(['ipv4', 'ipv6', 'ipv4v6']).default('ipv4v6'),
  cardNumber: lineText(30).default('').describe('Printed on the card'),
  pinSecret: z
    .string()
    .max(64)
    .default('')
    .describe('Name of the PIN in the vault; empty means the PIN is off'),
  pinTriesLeft: number(0, 3),
  roaming: z.boolean().default(false),
  capGigabytes: number(0, 1_000_000),
  pricePerGigabyte: number(0, 100_000),
  carrierNat: z.boolean().default(true).describe('The provider is expected to translate'),
  expectedAddress: lineText(64).default(''),
});
