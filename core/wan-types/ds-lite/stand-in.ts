import { text, type Bytes } from '../../behaviour/provider-sim/bytes.ts';
import type { StandIn } from '../../behaviour/provider-sim/stand-in.ts';
import type { Line } from '../../site/model.ts';
import { askForPrefix, option } from '../prefix-delegation.ts';

/** A name as in a DNS message (RFC 1035 section 3.1), as option 64 wants it (RFC 6334 section 3). */
const nameBytes = (name: string): Bytes => [
  ...name
    .split('.')
    .filter((label) => label !== '')
    .flatMap((label) => [label.length, ...text(label)]),
  0,
];

/** Name of the tunnel end: the typed one where it is a name, or an invented one. */
export const tunnelEnd = (line: Line): string => {
  const typed = line.settings['ds-lite'].gatewayName.trim();
  return /^[a-z0-9-]{1,63}(\.[a-z0-9-]{1,63})+$/i.test(typed) && !/^[\d.]+$/.test(typed)
    ? typed
    : 'tunnel.line.example';
};

/** The IPv6 line comes first: a prefix, and in the same answer the name of the tunnel's far end (RFC 6334). */
export const standIn: StandIn = {
  faults: [
    { name: 'no-server', title: 'The IPv6 line gives nothing' },
    { name: 'no-name', title: 'The line names no tunnel end' },
    { name: 'no-tunnel', title: 'The tunnel end does not answer' },
  ],
  run: (line, fault, record, random) => {
    const end = fault === 'no-name' ? undefined : tunnelEnd(line);
    const answered = askForPrefix(
      line,
      record,
      random,
      { code: 64, answer: end === undefined ? [] : option(64, nameBytes(end)) },
      {
        SOLICIT: 'Is there a prefix for this site?',
        ADVERTISE: 'A prefix of length 56 is free',
        REQUEST: 'I take it, and where is the tunnel end?',
        REPLY: end === undefined ? 'The prefix is yours' : `The prefix is yours; the tunnel ends at ${end}`,
      },
      fault === 'no-server',
    );
    if (!answered)
      return {
        up: false,
        says: 'The IPv6 line under the tunnel is not up: settle that first, the tunnel comes after.',
      };
    if (end === undefined) {
      record.see('link steady', 'IPv6 only', 'no tunnel end given');
      return {
        up: false,
        says: 'IPv6 works and IPv4 does not: the line named no tunnel end. Ask the provider for its name, and enter it.',
      };
    }
    record.wait(fault === 'no-tunnel' ? 30 : 0.2 + 0.2 * random());
    if (fault === 'no-tunnel') {
      record.see('link steady', 'IPv6 only', `${end} does not answer`);
      return {
        up: false,
        says: `IPv6 works and IPv4 does not: ${end} does not answer. Compare its name, then ask the provider.`,
      };
    }
    record.see('link steady', 'connected, inner address 192.0.0.2', `tunnel up, ${line.mtuBytes} bytes`);
    return {
      up: true,
      says: `The tunnel to ${end} is up; IPv4 packets inside are ${line.mtuBytes} bytes at most, and none begins outside.`,
    };
  },
};
