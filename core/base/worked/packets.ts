import { arithmetic, equals, shown, step, type Worked, worked } from './worked.ts';

/** Fixed headers in bytes (RFC 791 section 3.1, RFC 8200 section 3, RFC 9293 section 3.1, RFC 792, RFC 4443). */
const ipBytes = { 4: 20, 6: 40 } as const;
const tcpBytes = 20;
const echoBytes = 8;
/** TCP timestamps with their padding (RFC 7323 section 3.2, appendix A). */
const timestampBytes = 12;
/** Preamble 8, header 14, check sum 4 and gap 12 around each frame (IEEE 802.3). */
const ethernetBytes = 38;
/** No IPv6 link carries less (RFC 8200 section 5). */
export const leastIpv6Mtu = 1280;

/** Largest TCP payload that fits a packet: the MTU less the fixed headers (RFC 9293 section 3.7.1). */
export function mssWorked(mtuBytes: number, family: 4 | 6 = 4): Worked<number> {
  const network = ipBytes[family];
  const value = mtuBytes - network - tcpBytes;
  return worked(
    `TCP segment over IPv${family}`,
    value,
    'bytes',
    [
      step('largest packet', mtuBytes),
      step(`IPv${family} header`, `- ${network}`),
      step('TCP header', `- ${tcpBytes}`),
      step('largest segment (MSS)', value),
    ],
    'RFC 9293 section 3.7.1',
  );
}

/** Headers around the payload of a ping over IPv4 (RFC 791, RFC 792). */
export const pingHeaderBytes = ipBytes[4] + echoBytes;

/** Payload of the largest ping that must not be fragmented: 8 bytes of ICMP header (RFC 792, RFC 4443). */
export function pingWorked(mtuBytes: number, family: 4 | 6 = 4): Worked<number> {
  const network = ipBytes[family];
  const value = mtuBytes - network - echoBytes;
  return worked(
    'Largest ping that must not be fragmented',
    value,
    'bytes',
    [
      step('largest packet', mtuBytes),
      step(`IPv${family} header`, `- ${network}`),
      step('ICMP header', `- ${echoBytes}`),
      step('payload of the ping', value),
    ],
    family === 4 ? 'RFC 791, RFC 792' : 'RFC 8200, RFC 4443',
    'One byte more must fail, this one must pass: then the largest packet is right.',
  );
}

/** What is around the payload of TCP on an Ethernet line. */
export interface TcpLine {
  readonly mtuBytes?: number;
  readonly timestamps?: boolean;
  /** Bytes that tag, session or tunnel put around each packet on the wire. */
  readonly wrappingBytes?: number;
  readonly family?: 4 | 6;
}

/** Share of an Ethernet line that is TCP payload in full frames (RFC 6349 section 4.1.1). */
export function tcpShare({
  mtuBytes = 1500,
  timestamps = false,
  wrappingBytes = 0,
  family = 4,
}: TcpLine): number {
  const payload = mtuBytes - ipBytes[family] - tcpBytes - (timestamps ? timestampBytes : 0);
  return payload / (mtuBytes + wrappingBytes + ethernetBytes);
}

/**
 * Best rate of TCP payload on Ethernet: per full frame, MTU - 40 of MTU + 38 bytes on the wire are payload; 38 are
 * preamble, header, check sum and gap (RFC 6349 section 4.1.1). A session or a tag wraps each packet in a few more.
 */
export function tcpCeilingWorked(rateMbps: number, line: TcpLine = {}): Worked<number> {
  const { mtuBytes = 1500, timestamps = false, wrappingBytes = 0, family = 4 } = line;
  const headers = ipBytes[family] + tcpBytes;
  const payload = mtuBytes - headers - (timestamps ? timestampBytes : 0);
  const wire = mtuBytes + wrappingBytes + ethernetBytes;
  const value = rateMbps * tcpShare(line);
  return worked(
    'Best rate a download can show',
    value,
    'Mb/s',
    [
      step('line', `${rateMbps} Mb/s`),
      step('payload in a frame', `${mtuBytes} - ${headers}${timestamps ? ' - 12' : ''} = ${payload}`),
      step(
        'bytes on the wire',
        `${mtuBytes}${wrappingBytes > 0 ? ` + ${wrappingBytes}` : ''} + 38 = ${wire}`,
      ),
      step('best payload rate', `${rateMbps} × ${payload} / ${wire} ${equals(value)}`),
    ],
    'RFC 6349 section 4.1.1',
  );
}

/** A lease of this many seconds never ends (RFC 2131 section 3.3). */
export const endlessLease = 0xffff_ffff;

const dayText = (seconds: number): string => {
  const days = Math.floor(seconds / 86_400);
  const hours = Math.floor((seconds % 86_400) / 3600);
  const minutes = Math.floor((seconds % 3600) / 60);
  const rest = Math.round((seconds % 60) * 100) / 100;
  const parts = [
    [days, 'd'],
    [hours, 'h'],
    [minutes, 'min'],
    [rest, 's'],
  ] as const;
  return (
    parts
      .filter(([count]) => count > 0)
      .map(([count, unit]) => `${count} ${unit}`)
      .join(' ') || '0 s'
  );
};

/** DHCP renewal and rebinding times where the server names none (RFC 2131 section 4.4.5). */
export function leaseWorked(leaseSeconds: number): Worked<number | string> {
  if (leaseSeconds === endlessLease)
    return worked(
      'Lease times',
      'never',
      '',
      [step('lease', `${endlessLease} s: infinity`), step('renew', 'never')],
      'RFC 2131 section 3.3',
      'Such a lease never ends: a changed reservation reaches a device only when it is reconnected.',
    );
  const renew = leaseSeconds / 2;
  const rebind = leaseSeconds * 0.875;
  return worked(
    'Lease times',
    renew,
    'seconds',
    [
      step('lease', `${leaseSeconds} s, ${dayText(leaseSeconds)}`),
      step('rebind with any server', `0.875 × ${leaseSeconds} = ${rebind} s`),
      step('that is', dayText(rebind)),
      step('renew with the same server', `0.5 × ${leaseSeconds} = ${renew} s`),
      step('that is', dayText(renew)),
    ],
    'RFC 2131 section 4.4.5',
    'A changed reservation reaches a device at its next renewal at the latest, or when it is reconnected.',
  );
}

/** Power of a supply from its label. */
export function powerWorked(volts: number, amps: number): Worked<number> {
  const watts = volts * amps;
  return worked(
    'Power of the supply',
    watts,
    'W',
    [step('volts', volts), step('amperes', `× ${amps}`), step('watts', shown(watts))],
    arithmetic,
    'A replacement must have the same volts and polarity, and at least these amperes.',
  );
}
