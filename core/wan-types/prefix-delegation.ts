import { parseAddress, type Address } from '../base/net/address.ts';
import { firstOf, parsePrefix, type Prefix } from '../base/net/prefix.ts';
import { valueOf } from '../base/result.ts';
import {
  ethernet,
  ip6Bytes,
  long,
  macBytes,
  udp6,
  word,
  zeros,
  type Bytes,
} from '../behaviour/provider-sim/bytes.ts';
import { lineMac, routerMac, tagOf, type Recorder } from '../behaviour/provider-sim/stand-in.ts';
import type { Line } from '../site/model.ts';

/* How a router asks an IPv6 line for a prefix, and hears with it how IPv4 goes over the line (RFC 8415). */

/** Message types of DHCPv6 (RFC 8415 section 7.3). */
const kinds = { SOLICIT: 1, ADVERTISE: 2, REQUEST: 3, REPLY: 7 } as const;
type Kind = keyof typeof kinds;

const host = (value: string): Address => valueOf(parseAddress(value))!;
/** Link-local addresses that follow from the MAC addresses (RFC 4291 appendix A). */
const routerLink = host('fe80::200:5eff:fe00:5301');
const lineLink = host('fe80::200:5eff:fe00:53fe');
const servers = host('ff02::1:2');
const serversMac = '33:33:00:01:00:02';
/** Prefix that is handed down where nobody knows another, from the documentation range. */
const handedDown = valueOf(parsePrefix('2001:db8:77::/56'))!;

export const option = (code: number, value: Bytes): Bytes => [...word(code), ...word(value.length), ...value];
/** Who is speaking: a DUID made from the link-layer address (RFC 8415 section 11.4). */
const speaker = (mac: string): Bytes => [...word(3), ...word(1), ...macBytes(mac)];

/** What is asked for beside a prefix, by the code of its option, and what the line answers. */
export interface Asked {
  readonly code: number;
  readonly answer: Bytes;
  readonly prefix?: Prefix | undefined;
}

function message(kind: Kind, transaction: number, { code, answer, prefix = handedDown }: Asked): Bytes {
  const fromServer = kind === 'ADVERTISE' || kind === 'REPLY';
  const handed = option(26, [...long(3600), ...long(7200), prefix.length, ...ip6Bytes(firstOf(prefix))]);
  const delegated = option(25, [
    ...long(1),
    ...long(fromServer ? 1800 : 0),
    ...long(fromServer ? 2880 : 0),
    ...(kind === 'SOLICIT' ? [] : handed),
  ]);
  return [
    kinds[kind],
    (transaction >>> 16) & 0xff,
    ...word(transaction & 0xffff),
    ...option(1, speaker(routerMac)),
    ...(kind === 'SOLICIT' ? [] : option(2, speaker(lineMac))),
    ...delegated,
    ...(fromServer ? answer : option(6, word(code))),
    ...(fromServer ? [] : option(8, zeros(2))),
  ];
}

/** What the messages are said to mean: the router's two questions, and the line's two answers. */
export type Words = Readonly<Record<Kind, string>>;

/**
 * SOLICIT to REPLY, or four questions that nobody answers.
 * @returns whether there was an answer
 */
export function askForPrefix(
  line: Line,
  record: Recorder,
  random: () => number,
  asked: Asked,
  words: Words,
  silent: boolean,
): boolean {
  const transaction = Math.floor(random() * 0xff_ffff);
  const send = (kind: Kind): void => {
    const payload = message(kind, transaction, asked);
    const fromLine = kind === 'ADVERTISE' || kind === 'REPLY';
    record.send(
      fromLine ? 'line' : 'router',
      kind,
      words[kind],
      fromLine
        ? ethernet(lineMac, routerMac, 0x86dd, udp6(lineLink, 547, routerLink, 546, payload), tagOf(line))
        : ethernet(routerMac, serversMac, 0x86dd, udp6(routerLink, 546, servers, 547, payload), tagOf(line)),
    );
  };
  // Again after 1, 2, 4 and 8 s (RFC 8415 section 15).
  for (const pause of silent ? [1, 2, 4, 8] : [0]) {
    send('SOLICIT');
    record.wait(pause === 0 ? 0.02 + 0.3 * random() : pause);
  }
  if (silent) {
    record.see('link steady', 'no IPv6 prefix', 'no answer to the request for a prefix');
    return false;
  }
  send('ADVERTISE');
  record.wait(0.01);
  send('REQUEST');
  record.wait(0.02 + 0.1 * random());
  send('REPLY');
  return true;
}
