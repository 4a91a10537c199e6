import { md5 } from '@noble/hashes/legacy.js';
import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import { valueOf } from '../../base/result.ts';
import type { Line } from '../../site/model.ts';
import {
  byte,
  ethernet,
  ipBytes,
  long,
  pppOption,
  text,
  word,
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

/** Codes of RFC 2516 section 5. */
const discovery = { PADI: 0x09, PADO: 0x07, PADR: 0x19, PADS: 0x65, PADT: 0xa7 } as const;
/** Codes of RFC 1661 section 5. */
const codes = {
  'Configure-Request': 1,
  'Configure-Ack': 2,
  'Configure-Nak': 3,
  'Terminate-Request': 5,
  'Terminate-Ack': 6,
} as const;
const protocols = { LCP: 0xc021, CHAP: 0xc223, IPCP: 0x8021 } as const;
/** The real secret never gets here: the rehearsal has a word of its own. */
const rehearsalSecret = 'rehearsal';

const tag = (type: number, value: Bytes): Bytes => [...word(type), ...word(value.length), ...value];
const concentrator = valueOf(parseAddress('192.0.2.1'))!;

/** Builds the frames of one session. */
function frames(line: Line, session: number) {
  const vlan = tagOf(line);
  const put = (from: 'router' | 'line', code: number, id: number, type: number, payload: Bytes): Uint8Array =>
    ethernet(
      from === 'router' ? routerMac : lineMac,
      code === discovery.PADI ? everyoneMac : from === 'router' ? lineMac : routerMac,
      type,
      [0x11, code, ...word(id), ...word(payload.length), ...payload],
      vlan,
    );
  return {
    discovery: (from: 'router' | 'line', name: keyof typeof discovery, tags: Bytes): Uint8Array =>
      put(from, discovery[name], name === 'PADS' || name === 'PADT' ? session : 0, 0x8863, tags),
    ppp: (
      from: 'router' | 'line',
      protocol: keyof typeof protocols,
      code: number,
      id: number,
      data: Bytes,
    ): Uint8Array =>
      put(from, 0, session, 0x8864, [
        ...word(protocols[protocol]),
        code,
        id,
        ...word(data.length + 4),
        ...data,
      ]),
  };
}

export const standIn: StandIn = {
  faults: [
    { name: 'wrong-vlan', title: 'The VLAN tag is wrong' },
    { name: 'wrong-password', title: 'The password is wrong' },
    { name: 'session-open', title: 'The old session is still open' },
    { name: 'no-server', title: 'The account is not activated' },
  ],
  run: (line, fault, record: Recorder, random) => {
    const settings = line.settings.pppoe;
    const session = 1 + Math.floor(random() * 0xfffe);
    const build = frames(line, fault === 'session-open' ? 0 : session);
    const unique = tag(0x0103, long(Math.floor(random() * 0xffff_ffff)));
    const service = tag(0x0101, text(settings.serviceName));
    const large = settings.largePackets ? tag(0x0120, word(1500)) : [];
    const mru = settings.largePackets ? 1500 : 1492;
    const hop = (): void => record.wait(0.008 + 0.02 * random());

    const ask = (): void =>
      record.send(
        'router',
        'PADI',
        'Is there an access concentrator?',
        build.discovery('router', 'PADI', [...service, ...unique, ...large]),
      );
    if (fault === 'wrong-vlan' || fault === 'no-server') {
      for (const pause of [5, 10, 20, 0]) {
        ask();
        record.wait(pause);
      }
      record.see('link steady, no session light', 'connecting …', 'no answer to discovery, trying again');
      return {
        up: false,
        says:
          fault === 'wrong-vlan'
            ? 'Silence, not a refusal: the questions go out with the wrong VLAN tag, or with none. Compare the number with the paperwork.'
            : 'Silence: before activation nobody is listening. It is no fault of the router; ask for the day and the hour.',
      };
    }
    ask();
    hop();
    const name = tag(0x0102, text('stand-in'));
    const cookie = tag(0x0104, long(0x6e657474));
    record.send(
      'line',
      'PADO',
      'One is here: stand-in',
      build.discovery('line', 'PADO', [...service, ...name, ...unique, ...cookie, ...large]),
    );
    hop();
    record.send(
      'router',
      'PADR',
      'I want a session',
      build.discovery('router', 'PADR', [...service, ...unique, ...cookie, ...large]),
    );
    hop();
    if (fault === 'session-open') {
      record.send(
        'line',
        'PADS',
        'No: a session of this line is still open',
        build.discovery('line', 'PADS', [
          ...service,
          ...unique,
          ...tag(0x0202, text('session limit reached')),
        ]),
      );
      record.see('link steady, no session light', 'refused', 'access concentrator: session limit reached');
      return {
        up: false,
        says: 'The old session, which was not closed, is still open at the provider. Wait a few minutes without dialling; each new attempt prolongs it.',
      };
    }
    record.send(
      'line',
      'PADS',
      `Session ${session} is open`,
      build.discovery('line', 'PADS', [...service, ...unique, ...large]),
    );

    const option = (code: number, value: Bytes): Bytes => pppOption(code, value);
    const magic = (): Bytes => option(5, long(Math.floor(random() * 0xffff_ffff)));
    const lcpRouter = [...option(1, word(mru)), ...magic()];
    const lcpLine = [...option(1, word(mru)), ...option(3, [...word(protocols.CHAP), 5]), ...magic()];
    const configure = (
      from: 'router' | 'line',
      protocol: 'LCP' | 'IPCP',
      kind: keyof typeof codes,
      id: number,
      data: Bytes,
      says: string,
    ): void => {
      record.send(from, `${protocol} ${kind}`, says, build.ppp(from, protocol, codes[kind], id, data));
      hop();
    };
    hop();
    configure('router', 'LCP', 'Configure-Request', 1, lcpRouter, `Packets up to ${mru} bytes`);
    configure('line', 'LCP', 'Configure-Request', 1, lcpLine, 'Say who you are by CHAP');
    configure('router', 'LCP', 'Configure-Ack', 1, lcpLine, 'Agreed');
    configure('line', 'LCP', 'Configure-Ack', 1, lcpRouter, 'Agreed');

    // CHAP (RFC 1994): the answer is MD5 over identifier, secret and challenge.
    const challenge = Array.from({ length: 16 }, () => Math.floor(random() * 256));
    const answer = [...md5(Uint8Array.from([7, ...text(rehearsalSecret), ...challenge]))];
    const chap = (from: 'router' | 'line', kind: string, code: number, data: Bytes, says: string): void => {
      record.send(from, `CHAP ${kind}`, says, build.ppp(from, 'CHAP', code, 7, data));
      hop();
    };
    chap(
      'line',
      'Challenge',
      1,
      [...byte(16), ...challenge, ...text('stand-in')],
      'Prove that you know the password',
    );
    chap(
      'router',
      'Response',
      2,
      [...byte(16), ...answer, ...text(settings.userName)],
      `As ${settings.userName || 'nobody'}`,
    );
    record.wait(0.2 + 0.3 * random());
    if (fault === 'wrong-password') {
      chap('line', 'Failure', 4, text('authentication failed'), 'Wrong user name or password');
      configure('line', 'LCP', 'Terminate-Request', 2, [], 'Good-bye');
      configure('router', 'LCP', 'Terminate-Ack', 2, [], 'Good-bye');
      record.send('line', 'PADT', 'The session is closed', build.discovery('line', 'PADT', []));
      record.see('link steady, session light off', 'authentication failed', 'CHAP: authentication failed');
      return {
        up: false,
        says: 'Refused, not silent: cable, VLAN and activation are right. Compare user name with its realm, then the password; once, then wait a minute.',
      };
    }
    chap('line', 'Success', 3, text('welcome'), 'Known');

    // IPCP (RFC 1332): the router asks with 0.0.0.0 and is told its address; resolvers by RFC 1877.
    const address: Address = line.addressKnown ? line.address : valueOf(parseAddress('203.0.113.9'))!;
    const resolver = valueOf(parseAddress('198.51.100.53'))!;
    const nothing = valueOf(parseAddress('0.0.0.0'))!;
    const wish = (host: Address, dns: Address): Bytes => [
      ...option(3, ipBytes(host)),
      ...(settings.useResolvers ? option(129, ipBytes(dns)) : []),
    ];
    configure('router', 'IPCP', 'Configure-Request', 1, wish(nothing, nothing), 'Which address do I get?');
    configure(
      'line',
      'IPCP',
      'Configure-Request',
      1,
      option(3, ipBytes(concentrator)),
      `I am ${formatAddress(concentrator)}`,
    );
    configure('router', 'IPCP', 'Configure-Ack', 1, option(3, ipBytes(concentrator)), 'Agreed');
    configure('line', 'IPCP', 'Configure-Nak', 1, wish(address, resolver), `Take ${formatAddress(address)}`);
    configure(
      'router',
      'IPCP',
      'Configure-Request',
      2,
      wish(address, resolver),
      `I take ${formatAddress(address)}`,
    );
    configure('line', 'IPCP', 'Configure-Ack', 2, wish(address, resolver), 'It is yours');
    record.see(
      'link and session light steady',
      `connected, ${formatAddress(address)}`,
      `session ${session} up, MTU ${mru}`,
    );
    return {
      up: true,
      says: `The session is up with ${formatAddress(address)} and packets of ${mru} bytes. Go on to a page, then to the largest packet.`,
    };
  },
};
