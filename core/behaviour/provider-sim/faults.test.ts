import { createHash } from 'node:crypto';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Line } from '../../site/model.ts';
import { analyse, faulty } from '../../testing/analyser.ts';
import { addr, demoPlan, soundPlan } from '../../testing/plans.ts';
import { wanTypeNames, type WanTypeName } from '../../plan/schema.ts';
import { bringUp, faultsOf } from './bench.ts';
import { checksum, ethernet, ipv4, udp } from './bytes.ts';
import { seeded, type Exchange } from './stand-in.ts';

const lineOf = (type: WanTypeName, change: (uplink: Plan['uplinks'][number]) => void = () => {}): Line =>
  compile(
    soundPlan((plan) => {
      const uplink = plan.uplinks[0]!;
      Object.assign(uplink, { type, vlan: 7, vlanPriority: 0 });
      uplink.settings.pppoe.userName = 'pier@dial.example';
      uplink.settings.cellular.apn = 'internet.example';
      change(uplink);
    }),
  ).lines[0]!;
const run = (line: Line, fault = '', seed = 1): Exchange => bringUp(line, fault, seed)!;
const names = ({ messages }: Exchange): string[] => messages.map(({ name }) => name);

describe('bytes', () => {
  test('the checksum of the example in RFC 1071 section 3', () => {
    // 0001 f203 f4f5 f6f7 sum to ddf2; its complement is 220d.
    expect(checksum([0x00, 0x01, 0xf2, 0x03, 0xf4, 0xf5, 0xf6, 0xf7])).toBe(0x220d);
  });

  test('a packet with its checksum in place sums to nothing, whatever it carries', () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat({ max: 255 }), { maxLength: 60 }),
        fc.nat({ max: 65_535 }),
        (payload, port) => {
          const packet = udp(addr('192.0.2.1'), port, addr('198.51.100.2'), 67, payload);
          expect(checksum(packet.slice(0, 20))).toBe(0);
          expect(packet.length).toBe(28 + payload.length);
          expect(checksum(ipv4(addr('192.0.2.1'), addr('192.0.2.2'), 1, payload).slice(0, 20))).toBe(0);
        },
      ),
    );
  });

  test('a tag grows the frame by four bytes (IEEE 802.1Q), and the least is 60', () => {
    const payload = Array.from({ length: 100 }, () => 1);
    const plain = ethernet('00:00:5e:00:53:01', 'ff:ff:ff:ff:ff:ff', 0x0800, payload, undefined);
    const tagged = ethernet('00:00:5e:00:53:01', 'ff:ff:ff:ff:ff:ff', 0x0800, payload, {
      id: 7,
      priority: 5,
    });
    expect([plain.length, tagged.length]).toEqual([114, 118]);
    expect([...tagged.slice(12, 16)]).toEqual([0x81, 0x00, 0xa0, 0x07]);
    expect(ethernet('00:00:5e:00:53:01', 'ff:ff:ff:ff:ff:ff', 0x0800, [], undefined)).toHaveLength(60);
  });
});

describe('every stand-in', () => {
  const cases = wanTypeNames
    .flatMap((type) => {
      const line = lineOf(type);
      return ['', ...faultsOf(line).map(({ name }) => name)].map(
        (fault) => [type, fault || 'no fault', line] as const,
      );
    })
    .filter(([type]) => type !== 'unknown');

  test.each(cases)(
    '%s with %s: up only without a fault, time goes forward, a way out is said',
    (_type, fault, line) => {
      const exchange = run(line, fault === 'no fault' ? '' : fault);
      expect(exchange.up).toBe(fault === 'no fault');
      expect(exchange.says).toMatch(/\.$/);
      expect(exchange.sights.length).toBeGreaterThan(0);
      for (const list of [exchange.messages, exchange.sights]) {
        const times = list.map(({ at }) => at);
        expect(times).toEqual([...times].sort((a, b) => a - b));
        expect(times.every((at) => at >= 0 && at <= exchange.endsAt)).toBe(true);
      }
    },
  );

  test('the same seed is the same run, another seed another', () => {
    const line = lineOf('pppoe');
    expect(run(line, '', 5)).toEqual(run(line, '', 5));
    expect(run(line, '', 5).messages).not.toEqual(run(line, '', 6).messages);
    const random = seeded(9);
    const sample = Array.from({ length: 4000 }, random);
    expect(sample.every((value) => value >= 0 && value < 1)).toBe(true);
    expect(sample.reduce((sum, value) => sum + value, 0) / 4000).toBeCloseTo(0.5, 1);
  });

  test('a line nobody knows cannot be rehearsed', () => {
    expect(bringUp(lineOf('unknown'), '', 1)).toBeUndefined();
    expect(faultsOf(lineOf('unknown'))).toEqual([]);
  });
});

describe('DHCP', () => {
  test('discover, offer, request, acknowledge (RFC 2131 section 3.1), and nothing an analyser objects to', () => {
    const exchange = run(lineOf('dhcp'));
    expect(names(exchange)).toEqual(['DISCOVER', 'OFFER', 'REQUEST', 'ACK']);
    expect(analyse(exchange, ['frame.number'], faulty)).toEqual([]);
    const rows = analyse(exchange, ['dhcp.option.dhcp', 'vlan.id', 'udp.dstport', 'dhcp.ip.your']);
    expect(rows.map(([kind]) => kind)).toEqual(['1', '2', '3', '5']);
    expect(rows.map(([, vlan]) => vlan)).toEqual(['7', '7', '7', '7']);
    expect(rows.map(([, , port]) => port)).toEqual(['67', '68', '67', '68']);
  });

  test('renewal and rebinding are told at 0.5 and 0.875 of the lease (RFC 2131 section 4.4.5)', () => {
    const line = lineOf('dhcp', (uplink) => {
      uplink.settings.dhcp.leaseMinutes = 120;
    });
    const rows = analyse(
      run(line),
      [
        'dhcp.option.ip_address_lease_time',
        'dhcp.option.renewal_time_value',
        'dhcp.option.rebinding_time_value',
      ],
      'dhcp.option.dhcp == 5',
    );
    expect(rows).toEqual([['7200', '3600', '6300']]);
  });

  test('a silent line is asked again after about 4, 8, 16 and 32 s (RFC 2131 section 4.1)', () => {
    const { messages } = run(lineOf('dhcp'), 'tied', 3);
    const pauses = messages.slice(1).map(({ at }, index) => at - messages[index]!.at);
    expect(pauses.map((pause) => Math.round(Math.log2(pause)))).toEqual([2, 3, 4, 5]);
  });

  test('a lease that nobody renews: asked at 0.5 and 0.875, given up at its end (RFC 2131 section 4.4.5)', () => {
    const line = lineOf('dhcp', (uplink) => {
      uplink.settings.dhcp.leaseMinutes = 10;
    });
    const exchange = run(line, 'expired');
    const given = exchange.messages.find(({ name }) => name === 'ACK')!.at;
    const asked = exchange.messages
      .filter(({ name }) => name === 'RENEW')
      .map(({ at }) => Math.round(at - given));
    expect([...asked, Math.round(exchange.endsAt - given)]).toEqual([300, 525, 600]);
    expect(analyse(exchange, ['frame.number'], faulty)).toEqual([]);
    // A renewal names the address it has and no server (RFC 2131 section 4.3.2).
    expect(
      analyse(exchange, ['dhcp.ip.client', 'dhcp.option.dhcp_server_id'], 'dhcp.ip.client != 0.0.0.0').map(
        ([host]) => host,
      ),
    ).toEqual(['198.51.100.77', '198.51.100.77']);
  });

  test('behind a router of its own the box gives the address', () => {
    const site = compile(demoPlan('farrow-sound'));
    const rows = analyse(
      run(site.lines[1]!),
      ['dhcp.ip.your', 'dhcp.option.dhcp_server_id'],
      'dhcp.option.dhcp == 5',
    );
    expect(rows).toEqual([['192.168.8.2', '192.168.8.1']]);
  });
});

describe('PPPoE', () => {
  test('PADI to PADS, LCP, CHAP, IPCP, and nothing an analyser objects to', () => {
    const exchange = run(lineOf('pppoe'));
    expect(names(exchange).slice(0, 4)).toEqual(['PADI', 'PADO', 'PADR', 'PADS']);
    expect(names(exchange).at(-1)).toBe('IPCP Configure-Ack');
    expect(analyse(exchange, ['frame.number'], faulty)).toEqual([]);
    // Codes of RFC 2516 section 5 as the analyser reads them.
    const codes = analyse(exchange, ['pppoe.code', 'eth.type', 'vlan.etype'], 'pppoed').map(([code]) =>
      Number(code),
    );
    expect(codes).toEqual([0x09, 0x07, 0x19, 0x65]);
  });

  test('the session gives the address that is expected, and asks for 1492 (RFC 2516 section 7)', () => {
    const line = compile(demoPlan('farrow-sound')).lines[0]!;
    const exchange = run(line);
    expect(exchange.up).toBe(true);
    expect(analyse(exchange, ['ipcp.opt.ip_address'], 'ipcp && ppp.code == 3')).toEqual([['203.0.113.9']]);
    expect(analyse(exchange, ['lcp.opt.mru'], 'lcp && ppp.code == 1').map(([mru]) => mru)).toEqual([
      '1492',
      '1492',
    ]);
  });

  test('with large packets PPP-Max-Payload asks for 1500 (RFC 4638 section 3)', () => {
    const line = lineOf('pppoe', (uplink) => {
      uplink.settings.pppoe.largePackets = true;
    });
    const rows = analyse(run(line), ['pppoed.tags.max_payload'], 'pppoed');
    expect(rows.map(([value]) => parseInt(value!.replace(':', ''), 16))).toEqual([1500, 1500, 1500, 1500]);
  });

  test('the answer to the challenge is MD5 over identifier, secret and challenge (RFC 1994 section 4.1)', () => {
    const rows = analyse(run(lineOf('pppoe'), '', 12), ['chap.value', 'chap.identifier'], 'chap');
    const [challenge, answer] = rows.map(([value]) => Buffer.from(value!.replaceAll(':', ''), 'hex'));
    const expected = createHash('md5')
      .update(Buffer.from([7]))
      .update('rehearsal')
      .update(challenge!)
      .digest();
    expect(answer).toEqual(expected);
  });

  test('the faults look as they look on site: silence for a wrong tag, a refusal for a wrong password', () => {
    const silent = run(lineOf('pppoe'), 'wrong-vlan');
    expect(silent.messages.every(({ from }) => from === 'router')).toBe(true);
    const refused = run(lineOf('pppoe'), 'wrong-password');
    expect(names(refused)).toContain('CHAP Failure');
    expect(names(refused).at(-1)).toBe('PADT');
    expect(analyse(refused, ['frame.number'], faulty)).toEqual([]);
    const open = run(lineOf('pppoe'), 'session-open');
    expect(names(open).at(-1)).toBe('PADS');
    expect(open.says).toMatch(/Wait a few minutes without dialling/);
  });

  test('the secret of the plan is in no frame', () => {
    const line = lineOf('pppoe', (uplink) => {
      uplink.settings.pppoe.secret = 'vault-name';
    });
    const bytes = Buffer.concat(
      run(line).messages.flatMap(({ frame }) => (frame ? [Buffer.from(frame)] : [])),
    );
    expect(bytes.includes('vault-name')).toBe(false);
    expect(bytes.includes('pier@dial.example')).toBe(true);
  });
});

describe('media take their time (common practice, no source)', () => {
  test.each([
    ['dsl', 60, 180],
    ['cable', 120, 300],
    ['fibre', 20, 60],
  ] as const)('%s: the first packet after %i to %i s', (medium, lowest, highest) => {
    for (let seed = 0; seed < 20; seed += 1) {
      const line = lineOf('dhcp', (uplink) => {
        uplink.medium = medium;
      });
      const first = run(line, '', seed).messages[0]!.at;
      expect(first).toBeGreaterThanOrEqual(lowest);
      expect(first).toBeLessThanOrEqual(highest);
    }
  });

  test('without light nothing is sent at all, and the caution comes with it', () => {
    const line = lineOf('pppoe', (uplink) => {
      uplink.medium = 'fibre';
    });
    const dark = run(line, 'no-link');
    expect(dark.messages).toEqual([]);
    expect(dark.sights.at(-1)!.light).toBe('LOS light red');
    expect(dark.says).toMatch(/Never look into it/);
  });
});

describe('a fixed line', () => {
  test('ARP (RFC 826), then an echo (RFC 792), and nothing an analyser objects to', () => {
    const exchange = run(lineOf('static'));
    expect(analyse(exchange, ['frame.number'], faulty)).toEqual([]);
    expect(analyse(exchange, ['arp.opcode', 'icmp.type', 'icmp.checksum.status', 'vlan.id'])).toEqual([
      ['1', '', '', '7'],
      ['2', '', '', '7'],
      ['', '8', '1', '7'],
      ['', '0', '1', '7'],
    ]);
    expect(names(run(lineOf('static'), 'wrong-gateway'))).toEqual(Array(3).fill('ARP request'));
  });
});

describe('IPv4 over an IPv6 line', () => {
  const line = lineOf('ds-lite', (uplink) => {
    uplink.settings['ds-lite'].gatewayName = 'aftr.harbour.example';
  });

  test('SOLICIT to REPLY (RFC 8415 section 7.3) with the name of the tunnel end (RFC 6334 section 3)', () => {
    const exchange = run(line);
    expect(analyse(exchange, ['frame.number'], faulty)).toEqual([]);
    const rows = analyse(exchange, ['dhcpv6.msgtype', 'dhcpv6.aftr_name']);
    // Some versions of the analyser print the dot of the root.
    expect(rows.map(([kind, name]) => [kind, name?.replace(/\.$/, '')])).toEqual([
      ['1', ''],
      ['2', 'aftr.harbour.example'],
      ['3', ''],
      ['7', 'aftr.harbour.example'],
    ]);
  });

  test('each fault stops at its own place', () => {
    expect(names(run(line, 'no-server'))).toEqual(Array(4).fill('SOLICIT'));
    expect(analyse(run(line, 'no-name'), ['dhcpv6.aftr_name'], 'dhcpv6.aftr_name')).toEqual([]);
    expect(run(line, 'no-tunnel').says).toMatch(/aftr.harbour.example does not answer/);
  });
});

test('a pair with too little margin finds sync and loses it, and nothing passes', () => {
  const line = lineOf('dhcp', (uplink) => {
    uplink.medium = 'dsl';
  });
  const { messages, sights, up } = run(line, 'margin-low');
  expect([messages, up]).toEqual([[], false]);
  expect(sights.filter(({ log }) => log === 'WAN link up')).toHaveLength(3);
});

describe('cellular', () => {
  test('each fault stops at its own place', () => {
    const last = (fault: string): string => names(run(lineOf('cellular'), fault)).at(-1)!;
    expect([last(''), last('wrong-apn'), last('not-registered'), last('wrong-pin')]).toEqual([
      'Session accept',
      'Session reject',
      'Attach reject',
      'Card',
    ]);
  });

  test('a wrong PIN costs a try, and the last one the card (ETSI TS 102 221)', () => {
    const line = (pinTriesLeft: number): Line =>
      lineOf('cellular', (uplink) => Object.assign(uplink.settings.cellular, { pinTriesLeft }));
    expect(run(line(3), 'wrong-pin').says).toMatch(/Two tries are left/);
    expect(run(line(1), 'wrong-pin').says).toMatch(/PUK/);
  });
});
