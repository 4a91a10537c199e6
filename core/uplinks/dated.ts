import { parseUserName } from './pppoe/index.ts';
import { stackWorked } from '../worked/stack.ts';
import { step, worked } from '../worked/worked.ts';
import { bad, ok, type Result } from '../result.ts';
import type { DatedSettings } from './l2tp/settings.ts';
import type { UplinkSettings } from './settings.ts';
import { givenByLine, type UplinkType } from './type.ts';
import { entry } from '../runsheet/step.ts';
import { secretField, textField } from './field.ts';

/** A host name (RFC 1123 section 2.1) or an address. */
function parseServer(text: string): Result<string> {
  const typed = text.trim();
  return /^[A-Za-z0-9:]([A-Za-z0-9.:-]{0,251}[A-Za-z0-9])?$/.test(typed)
    ? ok(typed)
    : bad('server', `"${typed}" is neither a name nor an address.`);
}

/** A tunnel that some providers still dial: known, and marked as dated with the reason. */
export function datedType<Name extends 'l2tp' | 'pptp'>(
  name: Name,
  label: string,
  because: string,
  source: string,
): UplinkType<Name> {
  return {
    name,
    title: `${label} (dated)`,
    says: `Some providers still dial with ${label}. ${because}`,
    fields: [
      textField('server', 'Server', 'Name or address, from the paperwork'),
      textField('userName', 'User name', 'As on the paperwork'),
      secretField('secret', 'Password', 'Name under which the vault keeps it'),
    ],
    wanPort: (settings: UplinkSettings[Name], reader) => {
      const typed = settings as DatedSettings;
      reader.read('server', 'Server', typed.server, parseServer, true);
      reader.read('userName', 'User name', typed.userName, parseUserName, true);
      return {
        address: undefined,
        addressKey: 'server',
        ...givenByLine,
        largestBytes: 1460,
        wrappingBytes: 40,
      };
    },
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
      const settings = line.plan.settings[name] as DatedSettings;
      const at = `${line.at}/settings/${name}`;
      return [
        entry('WAN type', label, [`${label} client`], `${line.at}/type`),
        entry('Server', settings.server || 'as on the paperwork', ['Gateway', 'VPN server'], `${at}/server`),
        entry('User name', settings.userName || 'as on the paperwork', ['Account'], `${at}/userName`),
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
