import { median } from '../../base/worked/line.ts';
import { equals, figure, practice, shown, step, type Worked, worked } from '../../base/worked/worked.ts';

export interface TunnelSpeed {
  /** Rate of the end that sends. */
  readonly senderUpMbps: number;
  /** Rate of the end that receives. */
  readonly receiverDownMbps: number;
  /** Largest packet inside the tunnel, and what it weighs outside. */
  readonly mtuBytes: number;
  readonly encryptionMbps: number | undefined;
  readonly roundTripMs: number | undefined;
  /** Largest TCP window of one connection; left out where nobody knows it. */
  readonly windowKilobytes?: number;
}

/** Bytes around a packet of the tunnel on an IPv4 line: 20 IP + 8 UDP + 16 header + 16 tag (the protocol's paper). */
export const aroundBytes = 60;

/**
 * The most that one connection can show through a tunnel: the slower of upload here and download there, less what is
 * around each packet, what the router encrypts, and one window in a round trip (RFC 6349 section 3.3.1).
 */
export function speedWorked(given: TunnelSpeed): Worked<number> {
  const { senderUpMbps, receiverDownMbps, mtuBytes, encryptionMbps, roundTripMs, windowKilobytes } = given;
  const line = Math.min(senderUpMbps, receiverDownMbps);
  const payload = mtuBytes - 40;
  const packet = mtuBytes + aroundBytes;
  const byLine = (line * payload) / packet;
  const byWindow =
    roundTripMs === undefined || roundTripMs <= 0 || windowKilobytes === undefined
      ? undefined
      : (windowKilobytes * 1024 * 8) / (roundTripMs * 1000);
  const bounds = [byLine, encryptionMbps, byWindow].filter((each) => each !== undefined);
  const value = Math.min(...bounds);
  const by = value === byWindow ? 'The window' : value === encryptionMbps ? 'The router' : 'The line';
  const open =
    windowKilobytes === undefined ? ' One connection alone may be held back further by its TCP window.' : '';
  return worked(
    'Most that a connection shows through the tunnel',
    value,
    'Mb/s',
    [
      step('upload of the sender', `${senderUpMbps} Mb/s`),
      step('download of the receiver', `${receiverDownMbps} Mb/s`),
      step('the slower', `${line} Mb/s`),
      step('payload of a packet', `${mtuBytes} - 40 = ${payload}`),
      step('bytes outside the tunnel', `${mtuBytes} + ${aroundBytes} = ${packet}`),
      step('by the line', `${line} × ${payload} / ${packet} ${equals(byLine)} Mb/s`),
      ...(encryptionMbps === undefined
        ? []
        : [step('by the router, its data sheet', `${encryptionMbps} Mb/s`)]),
      ...(byWindow === undefined
        ? []
        : [
            step(
              'by the window',
              `${windowKilobytes} × 1024 × 8 / (${roundTripMs} × 1000) ${equals(byWindow)} Mb/s`,
            ),
          ]),
      step('the lowest', shown(value, 'Mb/s')),
    ],
    "the protocol's paper, RFC 6349 section 3.3.1",
    `${by} decides.${open}`,
  );
}

/** Measured runs of one direction as a share of what the tunnel can give: explained, not admired. */
export function speedVerdict(runsMbps: readonly number[], bound: Worked<number>): Worked<number> | undefined {
  if (runsMbps.length < 3) return undefined;
  const middle = median(runsMbps);
  const share = (middle / bound.value) * 100;
  return worked(
    'Measured through the tunnel',
    share,
    '% of the bound',
    [
      step('runs', runsMbps.length),
      step('lowest to highest', `${Math.min(...runsMbps)} to ${Math.max(...runsMbps)} Mb/s`),
      step('median', shown(middle, 'Mb/s')),
      step('bound', shown(bound.value, 'Mb/s')),
      step('share', `${figure(middle)} / ${figure(bound.value)} × 100 ≈ ${figure(share, 1)} %`),
    ],
    `${bound.source}; from 80 % as it should be: ${practice}`,
    share > 105
      ? 'More than can pass: it was measured beside the tunnel.'
      : share >= 80
        ? `As it should be. ${bound.means}`
        : share >= 50
          ? 'Less than the bound: look at loss, at the other traffic of that hour, and at the MTU.'
          : 'Far less than the bound: mostly the MTU, a router that is busy, or the network of the remote user.',
  );
}
