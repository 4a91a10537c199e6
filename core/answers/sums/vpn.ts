import { tunnelsWorked } from '../../behaviour/remote-access/join.ts';
import { speedWorked } from '../../behaviour/remote-access/speed.ts';
import { needed, numberBetween, optional, sum, wholeBetween, type Sum } from './sum.ts';

const rate = numberBetween(0.01, 400_000);

export const vpnSums: readonly Sum[] = [
  sum(
    'tunnel-speed',
    'Most that one connection shows through a tunnel: lines, overhead, router, window',
    {
      up: needed('upload of the sender', 'Mb/s', '100', rate),
      down: needed('download of the receiver', 'Mb/s', '40', rate),
      mtu: needed('largest packet in the tunnel', 'bytes', '1340', wholeBetween(576, 9216)),
      encryption: optional('encryption throughput of the router', 'Mb/s', '180', rate),
      delay: optional('round-trip time', 'ms', '48', numberBetween(0, 60_000)),
      window: optional('largest TCP window', 'KiB', '256', numberBetween(1, 1_048_576)),
    },
    ({ up, down, mtu, encryption, delay, window }) =>
      speedWorked({
        senderUpMbps: up,
        receiverDownMbps: down,
        mtuBytes: mtu,
        encryptionMbps: encryption,
        roundTripMs: delay,
        ...(window !== undefined && { windowKilobytes: window }),
      }),
  ),
  sum(
    'tunnels',
    'Tunnels between sites: all to all, or hub and spoke',
    { sites: needed('sites that are connected', '', '4', wholeBetween(2, 500)) },
    ({ sites }) => tunnelsWorked(sites),
  ),
];
