import { wanType } from '../../wan-types/index.ts';
import type { At } from '../../plan/at.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { RouterPort, Site } from '../../site/model.ts';
import { practice, step, worked } from '../../base/worked/worked.ts';

/** Whether a port can be taken for a use: nothing is plugged in by the plan, and its data sheet allows it. */
const isFree = ({ built, line, network }: RouterPort, use: 'wan' | 'lan'): boolean =>
  !line && !network && (built === 'either' || built === use);

const freePorts = (all: readonly RouterPort[], use: 'wan' | 'lan'): string => {
  const names = all.flatMap((port) => (isFree(port, use) && port.name !== '' ? [port.name] : []));
  return names.length === 0 ? '' : ` Free, and can be one: ${names.join(', ')}.`;
};

/** A port of the router has one use: for an uplink, or for the inside. */
export const ports: Check = {
  name: 'ports',
  run: ({ lines, networks, router }: Site) => {
    const found: Finding[] = [];
    const note = (
      rule: string,
      at: At,
      says: string,
      value: string,
      severity: Finding['severity'] = 'blocker',
      fix?: Finding['fix'],
    ): void => {
      found.push({
        rule,
        severity,
        at,
        says,
        ...(fix && { fix }),
        why: worked('Use of the port', value, '', [step('use', value)], practice),
        source: practice,
      });
    };
    for (const [index, port] of router.ports.entries()) {
      const { at, role, built, line } = port;
      const name = port.name || `port ${index + 1}`;
      if (role !== 'wan' && line)
        note(
          'port-role',
          `${at}/role`,
          `${line.name} is to be plugged into ${name}, which is ${role === 'lan' ? 'a LAN port: the line would meet the inside without the router between, and two DHCP servers would answer' : 'switched off'}. Make it a WAN port, or use another.`,
          role,
        );
      if (role === 'wan' && port.network)
        note(
          'port-role',
          `${at}/network`,
          `${name} is a WAN port and cannot carry an inside network too: its devices would be outside, unprotected.`,
          'wan',
        );
      if ((role === 'wan' && built === 'lan') || (role === 'lan' && built === 'wan'))
        note(
          'port-built',
          `${at}/role`,
          `${name} can be a ${built.toUpperCase()} port only, by its data sheet, and is to be a ${role.toUpperCase()} port here.${freePorts(router.ports, role)}`,
          built,
        );
      const twin = router.ports.findIndex(
        (other, place) => place < index && other.name.trim() !== '' && other.name === port.name,
      );
      if (twin >= 0)
        note('port-twice', `${at}/name`, `Two rows are called ${name}: one port has one use.`, role);
      const sharing = router.ports.findIndex((other, place) => place < index && line && other.line === line);
      if (sharing >= 0 && line)
        note(
          'line-twice',
          `${at}/uplink`,
          `${line.name} is to be plugged into two ports; a line has one.`,
          role,
        );
    }
    if (router.ports.length > 0) {
      for (const line of lines)
        if (!router.ports.some((port) => port.line === line) && !wanType(line.type).inRouter) {
          const free = router.ports.find((port) => isFree(port, 'wan'));
          const name = free && (free.name || 'the free port');
          note(
            'line-without-port',
            line.at,
            `No port of the router is assigned to ${line.name}: on site it will be plugged into whichever is free.${freePorts(router.ports, 'wan')}`,
            'none',
            'warning',
            free && {
              says: `Use ${name} for ${line.name}`,
              patch: [
                { op: 'replace', path: `${free.at}/role`, value: 'wan' },
                { op: 'replace', path: `${free.at}/uplink`, value: line.id },
              ],
            },
          );
        }
      if (networks.length > 0 && !router.ports.some(({ role }) => role === 'lan'))
        note(
          'no-lan-port',
          '/router/ports',
          'No port of the router is a LAN port: nothing inside can be plugged in.',
          'none',
        );
    }
    return found;
  },
};
