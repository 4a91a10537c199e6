import { datedType } from '../dated.ts';
import { has } from '../type.ts';

export const wanType = datedType(
  'l2tp',
  'L2TP',
  'It wraps every packet in 40 bytes and encrypts nothing.',
  'RFC 2661 section 9',
  {
    clues: [
      {
        weight: 5,
        holds: has('server', 'user'),
        says: 'The paperwork names a server to dial, besides the user.',
      },
    ],
    inText: /\bl2tp\b/gi,
    onPage: /l2tp/i,
  },
);
