import type { At } from '../../plan/at.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { practice, step, worked } from '../../base/worked/worked.ts';

/** What a job cannot do without: a name, a line, an inside network, a router. */
export const complete: Check = {
  name: 'complete',
  run: ({ about, lines, networks, router }) => {
    const found: Finding[] = [];
    const lacking = (rule: string, at: At, what: string, says: string): void => {
      found.push({
        rule,
        severity: 'blocker',
        at,
        says,
        why: worked(`Number of ${what}`, 0, '', [step(what, 0)], practice),
        source: practice,
      });
    };
    if (about.name.trim() === '')
      lacking('no-name', '/site/name', 'names', 'The site has no name: nobody will find this record again.');
    if (lines.length === 0)
      lacking(
        'no-uplink',
        '/uplinks',
        'uplinks',
        'There is no uplink yet, so nobody on this site reaches the internet.',
      );
    if (networks.length === 0)
      lacking(
        'no-network',
        '/networks',
        'inside networks',
        'There is no inside network yet, so no device gets an address.',
      );
    if (!router.kit)
      lacking(
        'no-router',
        '/kit',
        'routers in the equipment list',
        'The equipment list has no router, so the run sheet cannot say which one is set up.',
      );
    return found;
  },
};
