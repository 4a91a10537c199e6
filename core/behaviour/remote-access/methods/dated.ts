import { together, type Method } from './type.ts';

export const dated: Method = {
  name: 'dated',
  client: 'nothing',
  listens: false,
  ownServer: false,
  fit: () => ({
    fits: false,
    known: true,
    score: -100,
    reasons: [
      'Refused: the password of PPTP is found within a day from a recording (MS-CHAPv2), and L2TP alone encrypts nothing (RFC 2661 section 9).',
    ],
  }),
  entries: () => [],
  install: together,
};
