import type { Check, Finding } from '../site/finding.ts';
import type { Site } from '../site/model.ts';
import { practice, step, worked } from '../worked/worked.ts';

/** A socket of the router has one job: to the line, or to the inside. */
export const ports: Check = {
  name: 'ports',
  run: ({ plan, lines, networks }: Site) => {
    const found: Finding[] = [];
    const sockets = plan.router.ports;
    const note = (
      rule: string,
      at: string,
      says: string,
      value: string,
      severity: Finding['severity'] = 'blocker',
    ): void => {
      found.push({
        rule,
        severity,
        at,
        says,
        why: worked('Job of the socket', value, '', [step('job', value)], practice),
        source: practice,
      });
    };
    for (const [index, socket] of sockets.entries()) {
      const at = `/router/ports/${index}`;
      const name = socket.name || `socket ${index + 1}`;
      const line = lines.find(({ id }) => id === socket.uplink);
      if (socket.role !== 'wan' && line)
        note(
          'port-role',
          `${at}/role`,
          `${line.name} is to be plugged into ${name}, which is ${socket.role === 'lan' ? 'a LAN port: the line would meet the inside without the router between, and two DHCP servers would answer' : 'switched off'}. Make it a WAN port, or use another.`,
          socket.role,
        );
      if (socket.role === 'wan' && socket.network !== '')
        note(
          'port-role',
          `${at}/network`,
          `${name} is a WAN port and cannot carry an inside network too: its devices would stand on the street.`,
          'wan',
        );
      const twin = sockets.findIndex(
        (other, place) => place < index && other.name.trim() !== '' && other.name === socket.name,
      );
      if (twin >= 0)
        note('port-twice', `${at}/name`, `Two rows are called ${name}: one socket has one job.`, socket.role);
      const sharing = sockets.findIndex(
        (other, place) => place < index && other.uplink !== '' && other.uplink === socket.uplink,
      );
      if (sharing >= 0 && line)
        note(
          'line-twice',
          `${at}/uplink`,
          `${line.name} is to be plugged into two sockets; a line has one.`,
          socket.role,
        );
    }
    if (sockets.length > 0) {
      for (const line of lines)
        if (!sockets.some(({ uplink }) => uplink === line.id) && line.plan.type !== 'cellular')
          note(
            'line-without-port',
            line.at,
            `No socket of the router is meant for ${line.name}: on site it will end in whichever is free.`,
            'none',
            'warning',
          );
      if (networks.length > 0 && !sockets.some(({ role }) => role === 'lan'))
        note(
          'no-lan-port',
          '/router/ports',
          'No socket of the router is a LAN port: nothing inside can be plugged in.',
          'none',
        );
    }
    return found;
  },
};
