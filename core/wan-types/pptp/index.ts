import { datedType } from '../dated.ts';

export const pptp = datedType(
  'pptp',
  'PPTP',
  'Its encryption is broken and its packets are stopped by many devices on the way.',
  'RFC 2637; RFC 3079 section 6',
);
