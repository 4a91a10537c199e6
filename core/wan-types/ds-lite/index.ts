import { has } from '../type.ts';
import { stackWorked } from '../../base/worked/stack.ts';
import { step, worked } from '../../base/worked/worked.ts';
import type { WanType } from '../type.ts';
import { fieldEntry } from '../../behaviour/domain-types/step.ts';

const innerSource = 'RFC 6333 sections 5.3, 8.4; RFC 7335';

export const wanType: WanType<'ds-lite'> = {
  name: 'ds-lite',
  says: 'The line is IPv6; IPv4 goes through a tunnel to a translator of the provider. Nothing can be opened from outside over IPv4.',
  check: (line, at) => [
    {
      rule: 'ds-lite-inbound',
      severity: 'advice',
      at: `${at}/gatewayName`,
      says: `Over ${line.name} no IPv4 connection can be opened from outside: port forwards and VPN servers do not work. Ask for a public IPv4 address, use IPv6, or let the device connect outward.`,
      why: worked(
        'Address of the inner link',
        '192.0.0.2',
        '',
        [step('inner link', '192.0.0.0/29'), step("the router's end", '192.0.0.2')],
        innerSource,
      ),
      source: innerSource,
    },
  ],
  workings: () => {
    const stack = stackWorked(['ds-lite']);
    return stack.ok ? [stack.value] : [];
  },
  entries: (line) => [
    fieldEntry(`${line.at}/type`, 'DS-Lite', ['IPv4 over IPv6', 'Dual-Stack Lite', 'AFTR']),
    fieldEntry(
      `${line.at}/settings/ds-lite/gatewayName`,
      line.settings['ds-lite'].gatewayName || 'automatic',
    ),
  ],
  bringUp: () => ({
    lowSeconds: 20,
    highSeconds: 120,
    proof: 'The status page shows an IPv6 prefix and a tunnel; a page that has IPv4 only opens.',
    ifNot: 'IPv6 works and IPv4 does not: the tunnel end. Neither works: the line itself.',
    cautions: [],
  }),
  stack: ['ds-lite'],
  nextHop: 'offered',
  uses: () => ['translator'],
  clues: [
    {
      weight: 7,
      holds: has('translator'),
      says: 'The paperwork speaks of IPv4 over IPv6, or names a tunnel end.',
    },
  ],
  inText: /\bds-?lite\b/gi,
  onPage: /ds-?lite/i,
};
