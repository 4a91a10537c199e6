import { limitsOf, shareOf } from '../../behaviour/router/limits.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { grouped } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** From here on it is worth a word (common practice, no source). */
const tight = 0.8;

/** What the plan asks of the router beside what its data sheet gives. */
export const limits: Check = {
  name: 'limits',
  run: (site) =>
    limitsOf(site).flatMap((limit): Finding[] => {
      const share = shareOf(limit);
      if (share <= tight) return [];
      const { at, title, used, most, unit, why } = limit;
      const amount = `${grouped(used)} of ${grouped(most)}${unit === '' ? '' : ` ${unit}`}`;
      const estimate = unit !== '';
      return share > 1
        ? [
            note(
              'router-limit',
              estimate ? 'warning' : 'blocker',
              at,
              title === 'encryption'
                ? `The line sends ${grouped(used)} Mb/s and the router encrypts ${grouped(most)}: remote users and other sites get no more than that.`
                : unit === 'Mb/s'
                  ? `The lines give ${grouped(used)} Mb/s both ways together, and the router passes ${grouped(most)}: the rest of what is paid for is lost in it.`
                  : estimate
                    ? `The NAT table of the router is full on a busy day: ${amount}. New pages then stop loading for everybody, and nothing shows why.`
                    : `The router takes ${grouped(most)} ${title}, and the plan has ${grouped(used)}.`,
              why,
            ),
          ]
        : [
            note(
              'router-limit',
              'advice',
              at,
              `${title.slice(0, 1).toUpperCase()}${title.slice(1)} of the router: ${amount} are used. Little room is left.`,
              why,
            ),
          ];
    }),
};
