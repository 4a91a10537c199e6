import { bad, ok, type Result } from '../result.ts';
import { equals, figure, grouped, step, type Worked, worked } from './worked.ts';

/** IPv4 header without options (RFC 791 section 3.1). */
const header = 20;

/** The pieces into which a router cuts an IPv4 packet, payloads in multiples of 8 bytes (RFC 791 section 3.2). */
export function fragmentsWorked(packet: number, mtu: number): Result<Worked<number>> {
  const each = Math.floor((mtu - header) / 8) * 8;
  const payload = packet - header;
  if (packet <= mtu)
    return ok(
      worked(
        'Fragments',
        1,
        '',
        [step('packet', `${packet} bytes`), step('fits in', `${mtu} bytes`)],
        'RFC 791 section 3.2',
      ),
    );
  if (each < 8) return bad('mtu', `No packet of ${mtu} bytes carries 8 bytes of payload.`, 'mtu');
  const count = Math.ceil(payload / each);
  const last = payload - (count - 1) * each;
  return ok(
    worked(
      'Fragments',
      count,
      '',
      [
        step('payload', `${packet} - ${header} = ${payload} bytes`),
        step('payload of each', `${mtu} - ${header}, down to a multiple of 8: ${each} bytes`),
        step('fragments', `${payload} / ${each}, rounded up: ${count}`),
        step('sizes', `${count - 1} of ${each + header} bytes, the last of ${last + header} bytes`),
      ],
      'RFC 791 section 3.2',
      'One lost piece loses the packet, and many filters drop pieces: clamp TCP, or lower the MTU.',
    ),
  );
}

/**
 * Highest rate of one TCP connection under random loss: MSS / RTT × √(3/2) / √p. M. Mathis and others, "The
 * macroscopic behavior of the TCP congestion avoidance algorithm", 1997 (from memory).
 */
export function lossCeilingWorked(
  mssBytes: number,
  roundTripMs: number,
  lossPercent: number,
): Worked<number> {
  const share = lossPercent / 100;
  const mbps = (((mssBytes * 8) / (roundTripMs / 1000)) * Math.sqrt(1.5 / share)) / 1e6;
  return worked(
    'Most that one TCP connection carries under this loss',
    mbps,
    'Mb/s',
    [
      step(
        'one segment a round trip',
        `${mssBytes} × 8 / ${figure(roundTripMs)} / 1000 ${equals((mssBytes * 8) / roundTripMs / 1000, 4)} Mb/s`,
      ),
      step('segments in flight', `√(1.5 / ${figure(share, 6)}) ${equals(Math.sqrt(1.5 / share))}`),
      step(
        'together',
        `${figure((mssBytes * 8) / roundTripMs / 1000, 4)} × ${figure(Math.sqrt(1.5 / share))} ${equals(mbps, 2, false)} Mb/s`,
      ),
    ],
    'Mathis and others 1997 (from memory)',
    'Congestion control that does not take loss for congestion, such as BBR, is faster; so are several connections.',
  );
}

/** A rate of a line in the units in which programs show what they fetch. */
export function byteRateWorked(mbps: number): Worked<number> {
  const bytes = mbps / 8;
  const binary = (bytes * 1e6) / 2 ** 20;
  return worked(
    'Rate in bytes',
    bytes,
    'MB/s',
    [
      step('bits to bytes', `${figure(mbps)} / 8 ${equals(bytes, 3)} MB/s`),
      step('in binary units', `${figure(bytes, 3)} × 1000000 / 1048576 ${equals(binary, 3, false)} MiB/s`),
      step('a file of 1 GB takes', `8000 / ${figure(mbps)} ${equals(8000 / mbps)} s`),
    ],
    'IEC 80000-13 (M is 1 000 000, Mi is 1 048 576)',
    'Programs that say "MB/s" often mean MiB/s, and "Mb/s" is an eighth of either.',
  );
}

/** What is paid where data is sold in blocks beyond an allowance. */
export function blocksWorked(used: number, included: number, block: number, price: number): Worked<number> {
  const beyond = Math.max(0, used - included);
  const count = Math.ceil(beyond / block);
  return worked(
    'Price of the blocks',
    count * price,
    '',
    [
      step('beyond the allowance', `${figure(beyond)} GB`),
      step('blocks begun', `${figure(beyond)} / ${figure(block)}, rounded up: ${grouped(count)}`),
      step('price', `${count} × ${figure(price)} ${equals(count * price)}`),
    ],
    'arithmetic',
    'In the currency of the contract. A block that is begun is paid whole.',
  );
}
