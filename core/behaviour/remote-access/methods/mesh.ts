import { together, type Method } from './type.ts';

export const mesh: Method = {
  name: 'mesh',
  client: 'app',
  listens: false,
  ownServer: false,
  fit: ({ site, line, lines, known }) => {
    const outside = site.vpn.outsideService;
    return {
      fits: lines.length > 0 && outside !== 'refused',
      known: lines.length > 0,
      score: 3 + (line || !known ? 0 : 6) + (outside === 'allowed' ? 2 : outside === 'refused' ? -20 : -1),
      reasons: [
        'Connects outward only, so carrier NAT does not matter.',
        'An outside service decides who gets in, and knows who connects and when.',
        ...(outside === 'refused'
          ? ['This customer allows no outside service.']
          : outside === 'unknown'
            ? ['Ask whether an outside service may coordinate.']
            : []),
      ],
    };
  },
  entries: () => [],
  install: together,
};
