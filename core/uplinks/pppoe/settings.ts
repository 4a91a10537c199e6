import { z } from 'zod';
import { number } from '../../plan/parts.ts';
import { lineText } from '../../text.ts';

/** A session with a user name over Ethernet (RFC 2516). */
export const pppoeSettings = z.strictObject({
  userName: lineText(255).default('').describe('As on the paperwork, mostly with an "@"'),
  secret: lineText(64).default('').describe('Name of the password in the vault, never the password'),
  serviceName: lineText(64).default('').describe('Empty means any'),
  largePackets: z.boolean().default(false).describe('1500 bytes through the session (RFC 4638)'),
  reconnect: z.boolean().default(true).describe('Dial again by itself'),
  backoffSeconds: number(1, 86_400).describe('Wait after a refusal, doubled after each further one'),
  expectedAddress: lineText(64).default('').describe('Address the session is expected to give'),
  useResolvers: z.boolean().default(true).describe('Use the resolvers that the session offers'),
});
