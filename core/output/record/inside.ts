import { formatAddress } from '../../base/net/address.ts';
import { formatPorts } from '../../base/net/ports.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import { termAt, titleAt } from '../../plan/places.ts';
import type { Site } from '../../site/model.ts';
import { socketName } from '../../site/wiring.ts';
import { roomName, roomSignal } from '../../behaviour/wifi/coverage.ts';
import { runRate } from '../../behaviour/wiring/paths.ts';
import { rateText } from '../../base/worked/cabling.ts';
import { figure } from '../../base/worked/worked.ts';
import { section, type RecordSection } from './section.ts';

/** The cables and what each carries; nothing where none is entered. */
export function cablingSections({ wiring }: Site): RecordSection[] {
  if (wiring.runs.length === 0) return [];
  return [
    section(
      'Cabling',
      [termAt('/wiring/runs/*/label'), 'From', 'To', 'Cable', 'Rate'],
      [0],
      wiring.runs.map((run) => {
        const mbps = runRate(run).value;
        return [
          run.label,
          socketName(run.ends[0]),
          socketName(run.ends[1]),
          [titleAt('/wiring/runs/*/category', run.category), run.metres === null ? '' : `${run.metres} m`]
            .filter((each) => each !== '')
            .join(', '),
          mbps === null ? '' : rateText(mbps),
        ];
      }),
      '',
    ),
  ];
}

/** Names that devices join, and radios with their channels. The passphrase is given over with the secrets. */
export function wifiSections({ wifi }: Site): RecordSection[] {
  return [
    ...(wifi.networks.length === 0
      ? []
      : [
          section(
            termAt('/wifi/networks'),
            [
              termAt('/wifi/networks/*/ssid'),
              'Network',
              termAt('/wifi/networks/*/security'),
              termAt('/wifi/networks/*/isolation'),
            ],
            [],
            wifi.networks.map(({ ssid, network, security, isolation }) => [
              ssid,
              network?.name ?? '',
              titleAt('/wifi/networks/*/security', security),
              isolation ? 'yes' : 'no',
            ]),
            '',
          ),
        ]),
    ...(wifi.radios.length === 0
      ? []
      : [
          section(
            termAt('/wifi/radios'),
            ['Radio', termAt('/wifi/radios/*/channel'), termAt('/wifi/radios/*/width')],
            [],
            wifi.radios.map(({ name, channel, width }) => [
              name,
              channel === null ? 'automatic' : String(channel),
              `${width} MHz`,
            ]),
            '',
          ),
        ]),
    ...(wifi.rooms.length === 0
      ? []
      : [
          section(
            termAt('/wifi/rooms'),
            ['Room', 'Wi-Fi network', 'Served by', 'Signal', termAt('/wifi/rooms/*/wantedMbps')],
            [],
            wifi.rooms.map((room) => {
              const signal = roomSignal(room);
              return [
                roomName(room),
                room.wifi?.ssid ?? 'any',
                room.radio?.name ?? '',
                signal ? `${figure(signal.dbm, 1)} dBm, ${signal.measured ? 'read' : 'by arithmetic'}` : '',
                room.wantedMbps === null ? '' : `${room.wantedMbps} Mb/s`,
              ];
            }),
            '',
          ),
        ]),
  ];
}

/** Second routers and access points: where each is, what it does, and what it hands on. */
export function secondSections({ second }: Site): RecordSection[] {
  if (second.length === 0) return [];
  return [
    section(
      termAt('/second'),
      ['Box', termAt('/second/*/place'), termAt('/second/*/way'), 'Address', 'Own subnet', 'Hands on'],
      [3, 4, 5],
      second.map((each) => [
        each.name,
        each.place,
        titleAt('/second/*/way', each.way),
        each.address ? `${formatAddress(each.address)}, on ${each.network?.name ?? '?'}` : '',
        each.way === 'chained' && each.inside ? formatPrefix(each.inside.prefix) : '',
        each.way === 'chained'
          ? each.forwards
              .map(
                ({ name, outside, address, inside }) =>
                  `${name}: ${formatPorts(outside)} to ${formatAddress(address)} ${formatPorts(inside)}`,
              )
              .join('; ')
          : '',
      ]),
      '',
    ),
  ];
}
