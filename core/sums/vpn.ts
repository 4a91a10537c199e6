import { ok } from '../result.ts';
import { tunnelsWorked } from '../vpn/join.ts';
import { speedWorked } from '../vpn/speed.ts';
import { numberBetween, sum, wholeBetween, type Sum } from './sum.ts';

const rate = numberBetween(0.01, 400_000);

export const vpnSums: readonly Sum[] = [
  sum({
    name: 'tunnel-speed',
    says: 'Most that one connection shows through a tunnel: lines, overhead, box, window',
    inputs: [
      { name: 'up', says: 'upload of the sender', unit: 'Mb/s', example: '100' },
      { name: 'down', says: 'download of the receiver', unit: 'Mb/s', example: '40' },
      { name: 'mtu', says: 'largest packet in the tunnel', unit: 'bytes', example: '1340' },
      { name: 'box', says: 'what the router encrypts, by its sheet', unit: 'Mb/s', example: '180' },
      { name: 'delay', says: 'there and back', unit: 'ms', example: '48' },
    ],
    read: {
      up: rate,
      down: rate,
      mtu: wholeBetween(576, 9216),
      box: rate,
      delay: numberBetween(0, 60_000),
    },
    run: ({ up, down, mtu, box, delay }) =>
      ok(
        speedWorked({
          senderUpMbps: up,
          receiverDownMbps: down,
          mtuBytes: mtu,
          boxMbps: box,
          roundTripMs: delay,
        }),
      ),
  }),
  sum({
    name: 'tunnels',
    says: 'Tunnels between sites: all to all, or all through one',
    inputs: [{ name: 'sites', says: 'sites that are joined', unit: '', example: '4' }],
    read: { sites: wholeBetween(2, 500) },
    run: ({ sites }) => ok(tunnelsWorked(sites)),
  }),
];
