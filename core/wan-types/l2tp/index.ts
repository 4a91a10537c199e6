import { datedType } from '../dated.ts';

export const l2tp = datedType(
  'l2tp',
  'L2TP',
  'It wraps every packet in 40 bytes and encrypts nothing.',
  'RFC 2661 section 9',
);
