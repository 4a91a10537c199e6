import { blake2s } from '@noble/hashes/blake2.js';
import { base64 } from '@scure/base';
import { checksum, ethernet, ipv4, udp, udp6, word, zeros, type Bytes } from '../provider-sim/bytes.ts';
import { lineMac, routerMac, type Message } from '../provider-sim/stand-in.ts';
import { address, parseAddress, type Address } from '../../base/net/address.ts';
import { hostsOf } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import type { Site } from '../../site/model.ts';
import { answer, begin, finish, identityOf, wrap, type Begun, type Session } from './handshake.ts';
import { tunnelMtu } from './interface.ts';
import type { Peer } from '../../site/vpn.ts';
import type { SituationName, ClientRun, ClientPacket } from './situations.ts';
import { reachable } from './reachable.ts';

/** A rehearsal as it is on the wire at one end, and the keys with which an analyser opens it. */
export interface ClientCapture {
  readonly messages: readonly Message[];
  /** In the form of WireGuard key logs; keys of the bench, made for this run, never those of the site. */
  readonly keyLog: string;
}

const text = (value: string): Uint8Array => new TextEncoder().encode(value);
const host = (value: string): Address => valueOf(parseAddress(value))!;
/** Ports of the client's device and of the NAT on the way, of the dynamic range (RFC 6335 section 6). */
const ports = { own: 50_820, mapped: 61_820 };

/**
 * The packets of a rehearsal with the true handshake. What the plan decides is tried again by the cryptography: a
 * router that knows neither key nor person finds no answer to give.
 * @param startSeconds Unix time at which the rehearsal begins
 */
export function clientCapture(
  site: Site,
  peer: Peer,
  situation: SituationName,
  run: ClientRun,
  end: 'client' | 'router',
  startSeconds: number,
): ClientCapture {
  const secret = (name: string): Uint8Array => blake2s(text(`${site.about.name} ${peer.id} ${name}`));
  const [own, router, before] = ['client', 'router', 'router before'].map((name) =>
    identityOf(secret(name)),
  ) as [ReturnType<typeof identityOf>, ReturnType<typeof identityOf>, ReturnType<typeof identityOf>];
  const knows = !peer.revoked && situation !== 'revoked';
  const messages: Message[] = [];
  const log: string[] = [
    `LOCAL_STATIC_PRIVATE_KEY = ${base64.encode(own.privateKey)}`,
    `REMOTE_STATIC_PUBLIC_KEY = ${base64.encode(router.publicKey)}`,
  ];
  let begun: Begun | undefined;
  let session: Session | undefined;
  let routerSession: Session | undefined;
  let reply: Uint8Array | undefined;
  let count = 0;
  const sent = { client: 0, router: 0 };

  const bytesOf = (packet: ClientPacket): Uint8Array | undefined => {
    switch (packet.kind) {
      case 'initiation': {
        const ephemeral = secret(`ephemeral ${(count += 1)}`);
        log.push(`LOCAL_EPHEMERAL_PRIVATE_KEY = ${base64.encode(ephemeral)}`);
        begun = begin(
          own,
          (packet.staleKey ? before : router).publicKey,
          ephemeral,
          count,
          startSeconds + count,
        );
        const answered = answer(
          router,
          begun.message,
          (key) =>
            knows && key.every((each, place) => each === own.publicKey[place])
              ? new Uint8Array(32)
              : undefined,
          secret(`answer ${count}`),
          0x1000 + count,
        );
        reply = answered.known ? answered.message : undefined;
        routerSession = answered.known ? answered.session : undefined;
        return begun.message;
      }
      case 'response':
        session = begun && reply && finish(own, begun, reply);
        return session && reply;
      default: {
        const from = packet.from === 'client' ? session : routerSession;
        const inside = packet.kind === 'inside' ? insidePacket(site, peer, packet) : new Uint8Array(0);
        if (!from || !inside) return undefined;
        sent[packet.from] += 1;
        return wrap(from, sent[packet.from] - 1, inside, tunnelMtu(site));
      }
    }
  };

  for (const { at, says, packet } of run.events) {
    const payload = packet && bytesOf(packet);
    if (!packet || !payload || (packet.from !== end && !packet.arrives)) continue;
    messages.push({
      at,
      order: messages.length,
      from: packet.from === 'router' ? 'router' : 'line',
      name: packet.kind,
      says,
      frame: frameOf(site, situation, packet, end, [...payload]),
    });
  }
  return { messages, keyLog: `${log.join('\n')}\n` };
}

/** An echo request from the device to what it is granted, as long as it is to be. */
function insidePacket(site: Site, peer: Peer, packet: ClientPacket): Uint8Array | undefined {
  const target =
    peer.group?.grants.find(({ device }) => device?.address)?.device?.address ?? site.vpn.routerAddress;
  if (peer.address?.family !== 4 || target?.family !== 4) return undefined;
  const [from, to] = packet.from === 'client' ? [peer.address, target] : [target, peer.address];
  const filling = zeros(Math.max(0, (packet.insideBytes ?? 60) - 28));
  const echo = (sum: number): Bytes => [8, 0, ...word(sum), ...word(0x4e45), ...word(1), ...filling];
  return Uint8Array.from(ipv4(from, to, 1, echo(checksum(echo(0)))));
}

/** The packet in its frame: with the addresses of that end, which translators on the way change. */
function frameOf(
  site: Site,
  situation: SituationName,
  packet: ClientPacket,
  end: 'client' | 'router',
  payload: Bytes,
): Uint8Array {
  const line = reachable(site, new Set()) ?? site.lines[0];
  const called = line?.publicAddress ?? host('203.0.113.1');
  const sixth = called.family === 6;
  // Seen by the router: somebody on the internet; once moved, somebody else there.
  const seen = sixth
    ? host(packet.moved ? '2001:db8:ffff::2' : '2001:db8:ffff::1')
    : address(4, site.outsider.value + (packet.moved ? 1n : 0n));
  // With IPv6 only, the network translates: the number stands in the last four bytes (RFC 6052 section 2.2).
  const translates = situation === 'ipv6-only' && !sixth;
  const block = situation === 'hotel' ? site.networks[0]?.prefix : undefined;
  const near =
    sixth || translates
      ? host('2001:db8:6464::20')
      : block?.family === 4
        ? hostsOf(block).last
        : host(packet.moved ? '100.64.7.20' : '100.64.9.31');
  const far = translates ? address(6, (0x64ff9bn << 96n) + called.value) : called;
  const [there, here, port] =
    end === 'client' ? ([far, near, ports.own] as const) : ([called, seen, ports.mapped] as const);
  const datagram = here.family === 6 ? udp6 : udp;
  const type = here.family === 6 ? 0x86dd : 0x0800;
  return packet.from === 'client'
    ? ethernet(routerMac, lineMac, type, datagram(here, port, there, site.vpn.port, payload), undefined)
    : ethernet(lineMac, routerMac, type, datagram(there, site.vpn.port, here, port, payload), undefined);
}
