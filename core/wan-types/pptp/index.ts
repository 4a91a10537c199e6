import { datedType } from '../dated.ts';
import { has } from '../type.ts';

export const wanType = datedType(
  'pptp',
  'PPTP',
  'Its encryption is broken and its packets are stopped by many devices on the way.',
  'RFC 2637; RFC 3079 section 6',
  {
    clues: [
      {
        weight: 4,
        holds: has('server', 'user'),
        says: 'A server to dial may be PPTP too, which is older.',
      },
    ],
    inText: /\bpptp\b/gi,
    onPage: /pptp/i,
  },
);
