import { markdown } from '../base/encode/index.ts';
import { stackWorked } from '../base/worked/stack.ts';
import { step, worked } from '../base/worked/worked.ts';
import type { WanType } from './type.ts';
import { fieldEntry } from '../behaviour/domain-types/step.ts';

/** A tunnel that some providers still dial: known, and marked as dated with the reason. */
export function datedType<Name extends 'l2tp' | 'pptp'>(
  name: Name,
  label: string,
  because: string,
  source: string,
  known: Pick<WanType, 'clues' | 'inText' | 'onPage'>,
): WanType<Name> {
  return {
    name,
    ...known,
    stack: [name],
    nextHop: 'session',
    sessionHint: (port, interfaceName) =>
      markdown`let the ${label} client dial over \`${port}\`, and give its pppd the option \`ifname ${interfaceName}\``,
    uses: ({ addressKnown }) => ['user', 'server', ...(addressKnown ? (['block'] as const) : [])],
    says: `Some providers still dial with ${label}. ${because}`,
    check: (line, at) => [
      {
        rule: 'dated-type',
        severity: 'warning',
        at: `${at}/server`,
        says: `${line.name} dials with ${label}. ${because} Ask the provider for DHCP or PPPoE before you build on it.`,
        why: worked('Kind of line', label, '', [step('dated because', because)], source),
        source,
      },
    ],
    workings: () => {
      const stack = stackWorked([name]);
      return stack.ok ? [stack.value] : [];
    },
    entries: (line) => {
      const settings = line.settings[name];
      const at = `${line.at}/settings/${name}` as const;
      return [
        fieldEntry(`${line.at}/type`, label, [`${label} client`]),
        fieldEntry(`${at}/server`, settings.server || 'as on the paperwork'),
        fieldEntry(`${at}/userName`, settings.userName || 'as on the paperwork'),
      ];
    },
    bringUp: () => ({
      lowSeconds: 10,
      highSeconds: 120,
      proof: 'The status page says connected and shows an address.',
      ifNot:
        'No answer: the address under the tunnel comes first (DHCP or static). Refused: user name and password.',
      cautions: [],
    }),
  };
}
