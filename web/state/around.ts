import { usePlanPiece } from './session.ts';

/** Words that anyone would try on this site: its own names, and those of its people. */
export const useAround = (): string[] =>
  usePlanPiece(({ site, contacts }) =>
    [site.name, site.customer, site.town, ...contacts.map(({ name }) => name)].join('\n'),
  )
    .split('\n')
    .filter((word) => word !== '')
    .slice(0, 20)
    .map((word) => word.slice(0, 200));
