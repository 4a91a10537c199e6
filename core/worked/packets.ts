import { step, type Worked, worked } from './worked.ts';

/** Largest TCP payload that fits a packet: the MTU less the fixed headers (RFC 9293 section 3.7.1). */
export function mssWorked(mtuBytes: number, family: 4 | 6 = 4): Worked {
  const network = family === 4 ? 20 : 40;
  return worked(
    `TCP segment over IPv${family}`,
    mtuBytes - network - 20,
    'bytes',
    [
      step('largest packet', mtuBytes),
      step(`IPv${family} header`, `- ${network}`),
      step('TCP header', '- 20'),
      step('largest segment (MSS)', mtuBytes - network - 20),
    ],
    'RFC 9293 section 3.7.1',
  );
}

/** Payload of the largest ping that must not be fragmented: 8 bytes of ICMP header (RFC 792, RFC 4443). */
export function pingWorked(mtuBytes: number, family: 4 | 6 = 4): Worked {
  const network = family === 4 ? 20 : 40;
  return worked(
    'Largest ping that must not be fragmented',
    mtuBytes - network - 8,
    'bytes',
    [
      step('largest packet', mtuBytes),
      step(`IPv${family} header`, `- ${network}`),
      step('ICMP header', '- 8'),
      step('payload of the ping', mtuBytes - network - 8),
    ],
    family === 4 ? 'RFC 791, RFC 792' : 'RFC 8200, RFC 4443',
    'One byte more must fail, this one must pass: then the largest packet is right.',
  );
}

/**
 * Best rate of TCP payload on Ethernet: per full frame, MTU - 40 of MTU + 38 bytes on the wire are payload; 38 are
 * preamble, header, check sum and gap (RFC 6349 section 4.1.1). A session or a tag wraps each packet in a few more.
 */
export function tcpCeilingWorked(
  rateMbps: number,
  mtuBytes = 1500,
  timestamps = false,
  wrappingBytes = 0,
): Worked {
  const payload = mtuBytes - 40 - (timestamps ? 12 : 0);
  const wire = mtuBytes + wrappingBytes + 38;
  const value = Math.round((rateMbps * payload * 100) / wire) / 100;
  return worked(
    'Best rate a download can show',
    value,
    'Mb/s',
    [
      step('line', `${rateMbps} Mb/s`),
      step('payload in a frame', `${mtuBytes} - 40${timestamps ? ' - 12' : ''} = ${payload}`),
      step(
        'bytes on the wire',
        `${mtuBytes}${wrappingBytes > 0 ? ` + ${wrappingBytes}` : ''} + 38 = ${wire}`,
      ),
      step('best payload rate', `${rateMbps} × ${payload} / ${wire} = ${value}`),
    ],
    'RFC 6349 section 4.1.1',
  );
}

/** DHCP renewal and rebinding times where the server names none (RFC 2131 section 4.4.5). */
export function leaseWorked(leaseSeconds: number): Worked {
  return worked(
    'Lease times',
    leaseSeconds / 2,
    'seconds',
    [
      step('lease', `${leaseSeconds} s`),
      step('rebind with any server', `0.875 × ${leaseSeconds} = ${leaseSeconds * 0.875} s`),
      step('renew with the same server', `0.5 × ${leaseSeconds} = ${leaseSeconds / 2} s`),
    ],
    'RFC 2131 section 4.4.5',
    'A changed reservation reaches a device at its next renewal at the latest, or when it is reconnected.',
  );
}

/** Power of a supply from its label. */
export function powerWorked(volts: number, amps: number): Worked {
  const watts = Math.round(volts * amps * 100) / 100;
  return worked(
    'Power of the supply',
    watts,
    'W',
    [step('volts', volts), step('amperes', `× ${amps}`), step('watts', watts)],
    'arithmetic',
    'A replacement must have the same volts and polarity, and at least these amperes.',
  );
}
