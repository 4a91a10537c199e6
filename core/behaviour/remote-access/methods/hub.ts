import { together, type Method } from './type.ts';

export const hub: Method = {
  name: 'hub',
  client: 'app',
  listens: false,
  ownServer: false,
  fit: ({ line, lines, known }) => ({
    fits: lines.length > 0,
    known: lines.length > 0,
    score: 2 + (line || !known ? 0 : 5),
    reasons: [
      'Both ends connect to a server of your own with a public address; carrier NAT does not matter.',
      'One more server to keep running, patch and pay for.',
    ],
  }),
  entries: () => [],
  install: together,
};
