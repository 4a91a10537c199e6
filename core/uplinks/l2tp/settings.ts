import { z } from 'zod';
import { lineText } from '../../text.ts';

/** A dialled tunnel over another line: L2TP (RFC 2661) and PPTP (RFC 2637) ask for the same. */
export const datedSettings = z.strictObject({
  server: lineText(255).default('').describe('Name or address of the far end'),
  userName: lineText(255).default(''),
  secret: lineText(64).default('').describe('Name of the password in the vault'),
});

export type DatedSettings = z.output<typeof datedSettings>;
