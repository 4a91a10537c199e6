import { describe, expect, test } from '@jest/globals';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { analyse, faulty } from '../../testing/analyser.ts';
import { demoPlan } from '../../testing/plans.ts';
import { clientCapture, type ClientCapture } from './client-frames.ts';
import { situations, simulateClient, type SituationName } from './situations.ts';

const farrow = compile(demoPlan('farrow-sound'));
const captured = (
  situation: SituationName,
  end: 'client' | 'router' = 'client',
  site: Site = farrow,
  peer = 0,
): ClientCapture =>
  clientCapture(
    site,
    site.vpn.peers[peer]!,
    situation,
    simulateClient(site, site.vpn.peers[peer]!, situation),
    end,
    1_772_442_000,
  );
const kinds = ({ messages }: ClientCapture): string[] => messages.map(({ name }) => name);

describe('a remote user on the wire', () => {
  test('a general protocol analyser reads the handshake, opens it with its keys, and finds the ping inside', () => {
    const capture = captured('mobile');
    expect(analyse(capture, ['frame.number'], faulty)).toEqual([]);
    expect(analyse(capture, ['wg.type', 'udp.length', 'wg.handshake_ok'], 'wg')).toEqual([
      ['1', String(8 + 148), ''],
      ['2', String(8 + 92), '1'],
      ['4', String(8 + 32), ''],
      ['4', String(8 + 32 + 64), ''],
    ]);
    // Two IP headers: the one outside, and the one that was sealed.
    expect(analyse(capture, ['ip.src', 'ip.dst'], 'icmp')).toEqual([
      ['100.64.9.31,10.24.60.2', '203.0.113.9,10.24.40.21'],
    ]);
  });

  test.each(situations.map(({ name }) => name))('%s: nothing to object to at either end', (name) => {
    for (const end of ['client', 'router'] as const) {
      const capture = captured(name, end);
      if (capture.messages.length > 0) expect(analyse(capture, ['frame.number'], faulty)).toEqual([]);
    }
  });

  test('what the plan decides, the cryptography decides too', () => {
    for (const site of ['farrow-sound', 'weir-street'].map((name) => compile(demoPlan(name))))
      for (const [index, peer] of site.vpn.peers.entries())
        for (const { name } of situations) {
          const { events } = simulateClient(site, peer, name);
          const wanted = events.flatMap(({ packet }) =>
            packet && (packet.from === 'router' || packet.arrives) ? [packet.kind] : [],
          );
          // Each packet that the rehearsal speaks of could be made, and no answer came where there was silence.
          expect([name, kinds(captured(name, 'router', site, index))]).toEqual([name, wanted]);
        }
  });

  test('a network without UDP: three tries there, nothing here; a stale key: they arrive, and no answer', () => {
    expect(kinds(captured('no-udp'))).toEqual(['initiation', 'initiation', 'initiation']);
    expect(kinds(captured('no-udp', 'router'))).toEqual([]);
    expect(kinds(captured('stale-key', 'router'))).toEqual(['initiation', 'initiation', 'initiation']);
  });

  test('on its second network it comes from another address; with IPv6 only the number is in the last bytes (RFC 6052)', () => {
    const sources = analyse(captured('roaming', 'router'), ['ip.src'], 'wg.type != 2').map(
      ([row]) => row!.split(',')[0]!,
    );
    expect(new Set(sources.slice(0, 2)).size).toBe(1);
    expect(sources.at(-1)).not.toBe(sources[0]);
    expect(analyse(captured('ipv6-only'), ['ipv6.dst'], 'wg.type == 1')).toEqual([['64:ff9b::cb00:7109']]);
  });
});
