import { formatAddress } from '../../base/net/address.ts';
import { contains } from '../../base/net/prefix.ts';
import type { Site } from '../../site/model.ts';
import type { Second } from '../../site/second.ts';
import type { WifiRoom } from '../../site/wifi.ts';
import { behindName } from '../path/query.ts';
import { roomName, roomSignal } from '../../behaviour/wifi/coverage.ts';
import { secondPromiseId, wifiPromiseId, type SitePromise } from '../../behaviour/domain-types/promise.ts';
import { slug } from '../../base/text.ts';
import { figure } from '../../base/worked/worked.ts';

/** "Guests get 10 Mb/s in the hall": on paper by its readings or by arithmetic, on site by three runs. */
export function wifiPromise(site: Site, room: WifiRoom): SitePromise[] {
  const { wantedMbps, wifi } = room;
  if (wantedMbps === null) return [];
  const signal = roomSignal(room);
  const fastest = Math.max(0, ...site.lines.map(({ rateDownMbps }) => rateDownMbps ?? 0));
  const limit = wifi?.network?.limitDownMbps ?? null;
  const stops =
    limit !== null && limit < wantedMbps
      ? `${wifi!.network!.name} is limited to ${limit} Mb/s all together.`
      : fastest > 0 && fastest < wantedMbps
        ? `No line of the site gives ${wantedMbps} Mb/s.`
        : !signal
          ? `Neither a reading nor a distance of ${roomName(room)} is entered yet.`
          : signal.rate.value < wantedMbps
            ? `${signal.measured ? 'The readings allow' : 'By arithmetic it gets'} about ${figure(signal.rate.value, 0)} Mb/s at ${figure(signal.dbm, 0)} dBm.`
            : undefined;
  return [
    {
      id: wifiPromiseId(room),
      kind: 'wifi',
      at: room.at,
      says: `${wifi?.ssid || 'Wi-Fi'} gives ${wantedMbps} Mb/s in ${roomName(room)}`,
      needs: ['rate'],
      outside: false,
      ladder: [
        { rung: 'light', says: 'A telephone shows the name there.' },
        { rung: 'address', says: 'It gets an address there.' },
        { rung: 'page', says: 'A page opens there.' },
        { rung: 'rate', says: `Three runs by air, each ${wantedMbps} Mb/s or more.` },
      ],
      paper: {
        kept: stops === undefined,
        says:
          stops ??
          `${signal!.measured ? 'By the readings' : 'By arithmetic'} about ${figure(signal!.rate.value, 0)} Mb/s at ${figure(signal!.dbm, 0)} dBm, for one device that is alone.`,
        question: '',
      },
    },
  ];
}

/** "What is on it is where it should be": one DHCP server, one gateway, and a page. */
export function secondPromise(second: Second): SitePromise[] {
  const { network, way, name, address } = second;
  if (way === 'undecided' || !network) return [];
  const chained = way === 'chained';
  const missing = [
    ...(address ? [] : [`an address on ${network.name}`]),
    ...(chained && !second.inside ? ['a subnet of its own'] : []),
  ];
  const outside = address && network.prefix && !contains(network.prefix, address);
  const two = !chained && second.dhcp;
  return [
    {
      id: secondPromiseId(second),
      kind: 'second',
      at: second.at,
      says: chained
        ? `What is behind ${name} reaches the internet, with addresses of its own subnet`
        : `What is on ${name} is on ${network.name}, with the router as its gateway`,
      needs: ['page'],
      outside: false,
      paper: {
        kept: missing.length === 0 && !outside && !two,
        says:
          missing.length > 0
            ? `Still without ${missing.join(' and ')}.`
            : outside
              ? `${formatAddress(address)} is no address of ${network.name}.`
              : two
                ? `Its DHCP server is on beside that of ${network.name}.`
                : chained
                  ? second.translates
                    ? 'Its own subnet behind it, and two translations on the way out.'
                    : 'Its own subnet behind it, to which the router has a route.'
                  : 'One DHCP server, one gateway.',
        question: `from ${chained ? behindName({ name }) : slug(network.name)} to internet tcp 443`,
      },
    },
  ];
}
