import { parseAddress, type Address } from '../../base/net/address.ts';
import { valueOf } from '../../base/result.ts';
import type { Line } from '../../site/model.ts';
import { ethernet, ip6Bytes, long, macBytes, text, udp6, word, zeros, type Bytes } from './bytes.ts';
import { lineMac, routerMac, tagOf, type StandIn } from './stand-in.ts';

/** Message types of DHCPv6 (RFC 8415 section 7.3). */
const kinds = { SOLICIT: 1, ADVERTISE: 2, REQUEST: 3, REPLY: 7 } as const;
type Kind = keyof typeof kinds;

const host = (value: string): Address => valueOf(parseAddress(value))!;
/** Link-local addresses that follow from the MAC addresses (RFC 4291 appendix A). */
const routerLink = host('fe80::200:5eff:fe00:5301');
const lineLink = host('fe80::200:5eff:fe00:53fe');
const servers = host('ff02::1:2');
const serversMac = '33:33:00:01:00:02';
/** Prefix that is handed down, from the documentation range. */
const handedDown = { prefix: host('2001:db8:77::'), length: 56 };

const option = (code: number, value: Bytes): Bytes => [...word(code), ...word(value.length), ...value];
/** Who is speaking: a DUID made from the link-layer address (RFC 8415 section 11.4). */
const speaker = (mac: string): Bytes => [...word(3), ...word(1), ...macBytes(mac)];
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

function message(kind: Kind, transaction: number, end: string | undefined): Bytes {
  const fromServer = kind === 'ADVERTISE' || kind === 'REPLY';
  const prefix = option(26, [
    ...long(3600),
    ...long(7200),
    handedDown.length,
    ...ip6Bytes(handedDown.prefix),
  ]);
  const delegated = option(25, [
    ...long(1),
    ...long(fromServer ? 1800 : 0),
    ...long(fromServer ? 2880 : 0),
    ...(kind === 'SOLICIT' ? [] : prefix),
  ]);
  return [
    kinds[kind],
    (transaction >>> 16) & 0xff,
    ...word(transaction & 0xffff),
    ...option(1, speaker(routerMac)),
    ...(kind === 'SOLICIT' ? [] : option(2, speaker(lineMac))),
    ...delegated,
    ...(fromServer ? (end === undefined ? [] : option(64, nameBytes(end))) : option(6, word(64))),
    ...(fromServer ? [] : option(8, zeros(2))),
  ];
}

/** The IPv6 line comes first: a prefix, and in the same answer the name of the tunnel's far end (RFC 6334). */
export const dsLiteStandIn: StandIn = {
  faults: [
    { name: 'no-server', title: 'The IPv6 line gives nothing' },
    { name: 'no-name', title: 'The line names no tunnel end' },
    { name: 'no-tunnel', title: 'The tunnel end does not answer' },
  ],
  run: (line, fault, record, random) => {
    const transaction = Math.floor(random() * 0xff_ffff);
    const end = fault === 'no-name' ? undefined : tunnelEnd(line);
    const send = (kind: Kind, says: string): void => {
      const payload = message(kind, transaction, end);
      if (kind === 'ADVERTISE' || kind === 'REPLY')
        record.send(
          'line',
          kind,
          says,
          ethernet(lineMac, routerMac, 0x86dd, udp6(lineLink, 547, routerLink, 546, payload), tagOf(line)),
        );
      else
        record.send(
          'router',
          kind,
          says,
          ethernet(routerMac, serversMac, 0x86dd, udp6(routerLink, 546, servers, 547, payload), tagOf(line)),
        );
    };
    // Again after 1, 2, 4 and 8 s (RFC 8415 section 15).
    for (const pause of fault === 'no-server' ? [1, 2, 4, 8] : [0]) {
      send('SOLICIT', 'Is there a prefix for this site?');
      record.wait(pause === 0 ? 0.02 + 0.3 * random() : pause);
    }
    if (fault === 'no-server') {
      record.see('link steady', 'no IPv6 prefix', 'no answer to the request for a prefix');
      return {
        up: false,
        says: 'The IPv6 line under the tunnel is not up: settle that first, the tunnel comes after.',
      };
    }
    send('ADVERTISE', 'A prefix of length 56 is free');
    record.wait(0.01);
    send('REQUEST', 'I take it, and where is the tunnel end?');
    record.wait(0.02 + 0.1 * random());
    send(
      'REPLY',
      end === undefined ? 'The prefix is yours' : `The prefix is yours; the tunnel ends at ${end}`,
    );
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
