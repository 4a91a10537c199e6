import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { formatAddress } from '../../base/net/address.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import { runChecks } from '../../answers/checks/index.ts';
import { emptyPlan } from '../../plan/defaults.ts';
import { applyPatch } from '../../plan/patch.ts';
import type { Plan } from '../../plan/schema.ts';
import { runSheet } from '../../answers/run-sheet/sheet.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { besidePlan, replacementPatch } from './compare-with-plan.ts';
import { findSite, type Found } from '../../intake/discovery/discovery.ts';
import { pasteWords, readPaste } from '../../intake/discovery/paste.ts';

// Forms of what general tools and pages of boxes print, with invented addresses; from memory.
const listing = `2: eth0: <BROADCAST,MULTICAST,UP,LOWER_UP> mtu 1500 qdisc fq_codel state UP
    link/ether 00:00:5e:00:53:10 brd ff:ff:ff:ff:ff:ff
    inet 192.168.1.50/24 brd 192.168.1.255 scope global dynamic eth0
default via 192.168.1.1 dev eth0 proto dhcp src 192.168.1.50`;
const desktop = `Ethernet adapter Ethernet:
   IPv4 Address. . . . . . . . . . . : 192.168.1.50(Preferred)
   Subnet Mask . . . . . . . . . . . : 255.255.255.0
   Default Gateway . . . . . . . . . : 192.168.1.1
   DHCP Server . . . . . . . . . . . : 192.168.1.1`;
const trace = `traceroute to 192.0.2.53 (192.0.2.53), 6 hops max, 60 byte packets
 1  192.168.1.1  0.512 ms
 2  192.168.8.1  1.204 ms
 3  100.64.0.1  9.801 ms
 4  192.0.2.53  12.410 ms`;
const page = `Model: Home box 4
Firmware version\t2.1.7
Internet
Connection type: PPPoE
User name: weir@line.example
VLAN ID: 7
IP address: 198.51.100.77
Default gateway: 198.51.100.1
DNS server 1: 198.51.100.53
MTU = 1492
LAN
IP address: 192.168.1.1
Subnet mask: 255.255.255.0
DHCP range: 192.168.1.100 - 192.168.1.199`;
const leases = `192.168.1.20  00:00:5e:00:53:81  door-counter  static
192.168.1.101 00-00-5E-00-53-82 tablet 11:20:00
? (192.168.1.30) at 0:0:5e:0:53:83 on en0 ifscope [ethernet]
192.168.1.1 dev eth0 lladdr 00:00:5e:00:53:01 REACHABLE`;
const forwards = `1  Counter page  TCP  8443  192.168.1.20  443  on
Games udp 27000-27010 192.168.1.30`;

let count = 0;
const blank = (): Plan => emptyPlan('Library', () => `n${(count += 1)}`);
const found = (...texts: string[]): Found => findSite(texts.map(readPaste));

describe('pastes', () => {
  test('a page of a box: its outer and its inner side are told apart by their headings', () => {
    expect(readPaste(page).page).toMatchObject({
      model: 'Home box 4',
      firmware: '2.1.7',
      wanType: 'pppoe',
      user: 'weir@line.example',
      vlan: 7,
      mtu: 1492,
      lanLength: 24,
    });
    const { wanAddress, lanAddress, poolFrom, poolTo, resolvers } = readPaste(page).page;
    expect(
      [wanAddress, lanAddress, poolFrom, poolTo, ...resolvers].map((host) => host && formatAddress(host)),
    ).toEqual(['198.51.100.77', '192.168.1.1', '192.168.1.100', '192.168.1.199', '198.51.100.53']);
  });

  test('lists of leases and neighbours in their ways of writing', () => {
    expect(
      readPaste(leases).hosts.map(({ address, mac, name, reserved }) => [
        formatAddress(address),
        mac,
        name,
        reserved,
      ]),
    ).toEqual([
      ['192.168.1.20', '00:00:5e:00:53:81', 'door-counter', true],
      ['192.168.1.101', '00:00:5e:00:53:82', 'tablet', false],
      ['192.168.1.30', '00:00:5e:00:53:83', 'ethernet', false],
      ['192.168.1.1', '00:00:5e:00:53:01', '', false],
    ]);
  });

  test('rows of forwards, numbered or not', () => {
    expect(
      readPaste(forwards).forwards.map(({ name, protocol, outside, inside, host }) => [
        name,
        protocol,
        outside,
        inside,
        formatAddress(host),
      ]),
    ).toEqual([
      ['Counter page', 'tcp', '8443', '443', '192.168.1.20'],
      ['Games', 'udp', '27000-27010', '27000-27010', '192.168.1.30'],
    ]);
  });

  test('whatever is pasted, nothing fails, and a plan that it is taken over into stays a plan', () => {
    const rows = [listing, desktop, trace, page, leases, forwards].flatMap((text) => text.split('\n'));
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.constantFrom(...rows), fc.string({ maxLength: 40 })), { maxLength: 30 }),
        (lines) => {
          const plan = blank();
          const site = found(lines.join('\n'));
          for (const { take } of besidePlan(plan, compile(plan), site))
            if (take) expect(applyPatch(plan, take.patch).ok).toBe(true);
        },
      ),
      { numRuns: 200 },
    );
  });
});

describe('the site as found', () => {
  test('one box: it is the main one, and one translation is on the way', () => {
    const site = found(desktop, page, 'outside: 198.51.100.77');
    expect(site.boxes.map(({ address }) => formatAddress(address))).toEqual(['192.168.1.1']);
    expect([formatAddress(site.main!.address), site.translations, site.contradictions]).toEqual([
      '192.168.1.1',
      1,
      [],
    ]);
    expect(site.networks.map(({ prefix }) => formatPrefix(prefix))).toEqual(['192.168.1.0/24']);
  });

  test('a box behind a box behind the provider: three translations (RFC 1918, RFC 6598)', () => {
    const site = found(listing, trace);
    expect(site.boxes.map(({ address }) => formatAddress(address))).toEqual(['192.168.1.1', '192.168.8.1']);
    expect([site.carrier, site.translations]).toEqual([true, 3]);
  });

  test.each([
    [
      'a second DHCP server',
      [listing, 'DHCP Server . . : 192.168.1.254'],
      '192.168.1.254 hands out the addresses',
    ],
    [
      'two gateways',
      [listing, listing.replace('via 192.168.1.1', 'via 192.168.1.254')],
      'Two routers answer on one wire',
    ],
    [
      'a twin',
      ['192.168.1.7 00:00:5e:00:53:07 a', '192.168.1.7 00:00:5e:00:53:08 b'],
      'two devices have one address',
    ],
    [
      'a box unseen',
      [listing, page.replace('198.51.100.77', '10.0.0.2').replace('198.51.100.1', '')],
      'another box is in front',
    ],
    [
      'both sides alike',
      [listing, 'LAN\nIP address: 192.168.1.1\nWAN IP address: 192.168.1.77\nWAN gateway: 192.168.1.2'],
      'on both sides of',
    ],
    ['another outside', [listing, page, '203.0.113.80'], 'another line answered'],
    [
      'kept inside the pool',
      [page, '192.168.1.150 00:00:5e:00:53:09 camera reserved'],
      'inside the DHCP pool',
    ],
  ])('contradictions are said: %s', (_what, texts, says) => {
    expect(found(...texts).contradictions.join('\n')).toContain(says);
  });
});

describe('beside the plan', () => {
  const taken = (plan: Plan, site: Found): Plan => {
    let now = plan;
    // Each is taken over by itself, and what follows is compared anew, as on the sheet.
    for (let turn = 0; turn < 40; turn += 1) {
      const next = besidePlan(now, compile(now), site).find(({ take }) => take);
      if (!next) return now;
      now = good(applyPatch(now, next.take!.patch));
    }
    throw new Error('it never ends');
  };

  test('a replacement begins from pastes alone: line, network, devices, forwards, and the kind of job', () => {
    const site = found(desktop, page, leases, forwards, 'outside: 198.51.100.77');
    const begun = good(applyPatch(blank(), replacementPatch(blank(), site)));
    const plan = taken(begun, site);
    expect(plan.visit).toMatchObject({
      kind: 'replacement',
      oldAddress: '192.168.1.1',
      oldRouter: 'Home box 4',
    });
    expect(plan.uplinks[0]).toMatchObject({
      type: 'pppoe',
      vlan: 7,
      settings: { pppoe: { userName: 'weir@line.example' } },
    });
    expect(plan.networks[0]).toMatchObject({
      prefix: '192.168.1.0/24',
      routerAddress: '192.168.1.1',
      dhcp: { from: '192.168.1.100' },
    });
    expect(plan.devices.map(({ name, address }) => [name, address])).toContainEqual([
      'door-counter',
      '192.168.1.20',
    ]);
    expect(plan.forwards.map(({ outsidePorts, device }) => [outsidePorts, device])).toEqual([
      ['8443', 'door-counter'],
      ['27000-27010', 'ethernet'],
    ]);
    const steps = runSheet(compile(plan)).map(({ id }) => id);
    expect(steps.indexOf('old-read')).toBeLessThan(steps.indexOf('old-off'));
    expect(steps.indexOf('old-off')).toBeLessThan(steps.indexOf('uplink:line'));
    expect(steps.indexOf('old-off')).toBeGreaterThan(steps.indexOf('pool:inside'));
    expect(runChecks(compile(plan), '').filter(({ rule }) => rule === 'overlap')).toEqual([]);
  });

  test('what the plan says already differs in nothing; what it says otherwise comes first', () => {
    const plan = demoPlan('weir-street');
    const rows = besidePlan(
      plan,
      compile(plan),
      found(
        'WAN type: DHCP',
        '203.0.113.80',
        'inet 10.61.10.40/24 scope global eth0\ndefault via 10.61.10.1 dev eth0',
      ),
    );
    expect(rows.map(({ what, differs }) => [what, differs])).toEqual([
      ['Address that the outside sees on Cable', true],
      ['WAN type of Cable', false],
      ['Subnet 10.61.10.0/24', false],
    ]);
  });

  test('a DHCP server that is not planned is named by what the plan knows at its address', () => {
    const plan = demoPlan('larch-house');
    const address = plan.second[0]!.address;
    const laptop = `inet 10.24.50.140/24 scope global eth0\ndefault via 10.24.50.1 dev eth0`;
    const rows = (text: string): (readonly [string, string, boolean])[] =>
      besidePlan(plan, compile(plan), found(laptop, text))
        .filter(({ what }) => what.startsWith('DHCP'))
        .map(({ what, found: seen, differs }) => [what, seen, differs]);
    expect(rows(`DHCPACK of 10.24.50.140 from ${address}`)).toEqual([
      ['DHCP server on House', `${address}, ${compile(plan).second[0]!.name}`, true],
    ]);
    expect(rows('Server-ID (54), length 4: 10.24.50.1')).toEqual([
      ['DHCP server on House', '10.24.50.1, the router', false],
    ]);
    const both = found(laptop, `DHCPOFFER from ${address}`, 'DHCP Server . . : 10.24.50.1');
    expect(both.contradictions.join()).toContain('More than one DHCP server');
    // The server of the provider, on the outer side of the box, is none of the inside.
    expect(found(laptop, 'DHCP Server: 10.24.50.1', 'WAN DHCP server: 192.0.2.1').contradictions).toEqual([]);
  });

  test.each([
    'DHCP Server . . . . . . . . . . . : 192.168.1.5',
    '  option dhcp-server-identifier 192.168.1.5;',
    'dhclient: DHCPACK of 192.168.1.20 from 192.168.1.5 (xid=0x1)',
    'Server-ID (54), length 4: 192.168.1.5',
    'Address: 192.168.1.20 (DHCP4 via 192.168.1.5)',
    '|     Server Identifier: 192.168.1.5',
  ])('who gave the address: %s', (text) => {
    expect(readPaste(text).dhcpServers.map(formatAddress)).toEqual(['192.168.1.5']);
  });

  test('a scan names own channels that differ, and what others use goes onto the sheet Wi-Fi once', () => {
    const plan = demoPlan('larch-house');
    const own = plan.wifi.networks[0]!.ssid;
    const scan = `BSS 00:00:5e:00:53:01(on wlan0)\n\tfreq: 2462\n\tsignal: -44.00 dBm\n\tSSID: ${own}
BSS 00:00:5e:00:53:02(on wlan0)\n\tfreq: 5180\n\tsignal: -70.00 dBm\n\tSSID: Combe Mill`;
    const rows = besidePlan(plan, compile(plan), found(scan));
    expect(rows.map(({ what, found: seen, differs }) => [what, seen, differs])).toEqual([
      [`Channels of ${own}`, '11 in 2.4 GHz', true],
      ['Wi-Fi of others', '1 heard', true],
    ]);
    const after = good(applyPatch(plan, rows[1]!.take!.patch));
    expect(after.wifi.heard.at(-1)).toMatchObject({
      ssid: 'Combe Mill',
      band: '5',
      channel: 36,
      signal: -70,
    });
    expect(
      besidePlan(after, compile(after), found(scan)).find(({ what }) => what === 'Wi-Fi of others'),
    ).toMatchObject({
      differs: false,
    });
    expect(pasteWords(readPaste(scan))).toBe('2 Wi-Fi networks');
    // Rows of anything else are no scan.
    expect(readPaste('tills, 6, -60').heard).toEqual([]);
  });

  test('a router that stands in front becomes the hand-off', () => {
    const plan = demoPlan('weir-street');
    const after = taken(plan, found(listing, trace.replace(' 3  100.64.0.1  9.801 ms\n', '')));
    expect(after.uplinks[0]!.handoff).toMatchObject({
      mode: 'routes',
      insidePrefix: '192.168.8.0/24',
      insideAddress: '192.168.8.1',
    });
  });
});
