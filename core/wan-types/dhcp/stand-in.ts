import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import type { Line } from '../../site/model.ts';
import { valueOf } from '../../base/result.ts';
import {
  byte,
  dhcpOption,
  ethernet,
  ipBytes,
  long,
  macBytes,
  udp,
  word,
  zeros,
  type Bytes,
} from '../../behaviour/provider-sim/bytes.ts';
import {
  everyoneMac,
  lineMac,
  routerMac,
  tagOf,
  type Recorder,
  type StandIn,
} from '../../behaviour/provider-sim/stand-in.ts';

/** A renewal is a request too: it names the address it has, and no server (RFC 2131 section 4.3.2). */
const kinds = { DISCOVER: 1, OFFER: 2, REQUEST: 3, RENEW: 3, ACK: 5, NAK: 6 } as const;
type Kind = keyof typeof kinds;

const host = (value: string): Address => valueOf(parseAddress(value))!;
const nobody = host('0.0.0.0');
const everyone = host('255.255.255.255');

/** What the stand-in gives: the address that is expected, or one of a documentation range. */
export function offerOf(line: Line): { address: Address; server: Address; maskLength: number } {
  const prefix = line.box?.routes ? line.box.prefix : undefined;
  const address = line.addressKnown ? line.address : host('198.51.100.77');
  const server =
    prefix && line.box?.address ? line.box.address : { ...address, value: (address.value & ~255n) + 1n };
  return { address, server, maskLength: prefix?.length ?? 24 };
}

/** A DHCP message (RFC 2131 section 2, options of RFC 2132), at least 300 bytes as BOOTP wants it. */
function message(kind: Kind, transaction: number, line: Line, leaseSeconds: number): Bytes {
  const { address, server, maskLength } = offerOf(line);
  const fromServer = kind === 'OFFER' || kind === 'ACK' || kind === 'NAK';
  const given = kind === 'OFFER' || kind === 'ACK';
  const fixed = [
    ...byte(fromServer ? 2 : 1),
    1,
    6,
    0,
    ...long(transaction),
    ...word(0),
    ...word(0x8000),
    ...(kind === 'RENEW' ? ipBytes(address) : zeros(4)),
    ...(given ? ipBytes(address) : zeros(4)),
    ...(given ? ipBytes(server) : zeros(4)),
    ...zeros(4),
    ...macBytes(routerMac),
    ...zeros(10),
    ...zeros(192),
    0x63,
    0x82,
    0x53,
    0x63,
  ];
  const options = [
    ...dhcpOption(53, byte(kinds[kind])),
    ...(fromServer ? dhcpOption(54, ipBytes(server)) : dhcpOption(61, [1, ...macBytes(routerMac)])),
    ...(kind === 'REQUEST' ? [...dhcpOption(50, ipBytes(address)), ...dhcpOption(54, ipBytes(server))] : []),
    ...(kind === 'DISCOVER' || kind === 'REQUEST' || kind === 'RENEW'
      ? dhcpOption(55, [1, 3, 6, 42, 51, 58, 59])
      : []),
    ...(given
      ? [
          ...dhcpOption(51, long(leaseSeconds)),
          ...dhcpOption(58, long(leaseSeconds / 2)),
          ...dhcpOption(59, long(leaseSeconds * 0.875)),
          ...dhcpOption(1, long(maskLength === 0 ? 0 : (0xffff_ffff << (32 - maskLength)) >>> 0)),
          ...dhcpOption(3, ipBytes(server)),
          ...dhcpOption(6, ipBytes(server)),
        ]
      : []),
    255,
  ];
  return [...fixed, ...options, ...zeros(Math.max(0, 300 - fixed.length - options.length))];
}

function frame(kind: Kind, transaction: number, line: Line, leaseSeconds: number): Uint8Array {
  const payload = message(kind, transaction, line, leaseSeconds);
  const { address, server } = offerOf(line);
  if (kind === 'OFFER' || kind === 'ACK' || kind === 'NAK')
    return ethernet(lineMac, everyoneMac, 0x0800, udp(server, 67, everyone, 68, payload), tagOf(line));
  const from = kind === 'RENEW' ? address : nobody;
  return ethernet(routerMac, everyoneMac, 0x0800, udp(from, 68, everyone, 67, payload), tagOf(line));
}

/** What silence on every question may mean. */
const silences = {
  tied: 'Silence on every question: the line knows another device. Device in front off, two minutes, on again; then the old MAC address as the second resort.',
  'wrong-vlan':
    'Silence on every question: they go out with the wrong VLAN tag, or with none. Compare the number with the paperwork.',
  'no-server': 'Silence on every question: the device in front is not ready, or the line is not activated.',
} as const;

export const standIn: StandIn = {
  faults: [
    { name: 'tied', title: 'The line answers another MAC address only' },
    { name: 'refused', title: 'The address that is asked for is refused' },
    { name: 'wrong-vlan', title: 'The VLAN tag is wrong' },
    { name: 'no-server', title: 'Nobody gives addresses' },
    { name: 'expired', title: 'The lease runs out unanswered' },
  ],
  run: (line, fault, record: Recorder, random) => {
    const transaction = Math.floor(random() * 0xffff_ffff);
    const lease = line.settings.dhcp.leaseMinutes * 60;
    const { address, server } = offerOf(line);
    const send = (from: 'router' | 'line', kind: Kind, says: string): void =>
      record.send(from, kind, says, frame(kind, transaction, line, lease));
    if (fault === 'tied' || fault === 'no-server' || fault === 'wrong-vlan') {
      // Again after 4, 8, 16 and 32 s, each a second more or less (RFC 2131 section 4.1).
      for (const pause of [4, 8, 16, 32, 0]) {
        send('router', 'DISCOVER', 'Looking for a DHCP server');
        record.wait(pause === 0 ? 0 : pause + 2 * random() - 1);
      }
      record.see(
        'link steady',
        'no address, or one that begins with 169.254',
        'no offer received, trying again',
      );
      return {
        up: false,
        says: silences[fault],
      };
    }
    send('router', 'DISCOVER', 'Looking for a DHCP server');
    record.wait(0.02 + 0.4 * random());
    send('line', 'OFFER', `${formatAddress(address)} is free, from ${formatAddress(server)}`);
    record.wait(0.01);
    send('router', 'REQUEST', `I take ${formatAddress(address)}`);
    record.wait(0.02 + 0.1 * random());
    if (fault === 'refused') {
      send('line', 'NAK', 'Refused');
      record.see('link steady', 'no address', 'request refused, starting again');
      return {
        up: false,
        says: 'The server offers and then refuses: an old lease, or two servers on one segment. Release it, wait a minute, ask again.',
      };
    }
    send('line', 'ACK', `It is yours for ${lease} s; renew after ${lease / 2} s`);
    record.see('link steady', `connected, ${formatAddress(address)}`, `lease of ${lease} s obtained`);
    if (fault === 'expired') {
      const start = record.now;
      for (const [share, says] of [
        [0.5, 'May I keep it?'],
        [0.875, 'Rebind lease'],
      ] as const) {
        record.wait(start + lease * share - record.now);
        send('router', 'RENEW', says);
      }
      record.wait(start + lease - record.now);
      record.see('link steady', 'no address', 'lease expired, address given up');
      return {
        up: false,
        says: `It worked for ${lease} s and then stopped: nobody answered the renewals. The device in front was changed or restarted, or a filter on the way drops what comes from port 67.`,
      };
    }
    return {
      up: true,
      says: `The line gave ${formatAddress(address)}. An address is one rung only: go on to a page.`,
    };
  },
};
