import { describe, expect, test } from '@jest/globals';
import { compile } from '../../site/compile.ts';
import { demoPlan, soundPlan } from '../../testing/plans.ts';
import { workingsAt } from './index.ts';

const farrow = compile(demoPlan('farrow-sound'));
const values = (at: string): unknown[] => workingsAt(farrow, at).map((worked) => worked.value);

describe('workings', () => {
  test('answer for the field in focus', () => {
    expect(values('/networks/0/prefix')).toEqual([254, 'private']); // RFC 1878: a /24 has 254 hosts
    expect(values('/networks/0/routerAddress')).toEqual(['host']);
    expect(values('/networks/0/dhcp/from')).toEqual([100, 83]); // .100 to .199; 100 - (18 - 1 printer)
    expect(values('/uplinks/0/settings/pppoe/expectedAddress')).toEqual(['documentation']);
    expect(values('/uplinks/0/mtuBytes')).toEqual([1452, 1464]); // RFC 2516: 1492 - 40, 1492 - 28
    expect(values('/uplinks/1/handoff/outsideAddress')).toEqual(['carrier-shared']);
    expect(values('/kit/0/powerVolts')).toEqual([18]); // 12 V × 1.5 A
    expect(values('/router/factoryAddress')).toEqual([254, '192.168.1.254']);
    expect(workingsAt(farrow, '/forwards/0/device')[0]!.steps.map((step) => step.value)).toEqual([
      '203.0.113.9 tcp 8443',
      '198.51.100.24/29',
      '10.24.40.20 tcp 8443',
    ]);
  });

  test('answer for budgets, surveys and rates', () => {
    expect(values('/uplinks/0/media/fibre/lengthKm')).toEqual([expect.closeTo(19.95, 10)]); // 4.2 × 0.25 + 4 × 0.3 + 6 × 0.1 + 17.1
    expect(values('/uplinks/1/media/cellular/bands')).toEqual(['0x80044']); // bands 3, 7, 20
    expect(values('/uplinks/1/media/cellular/readings/0/channel')).toEqual([806]); // 3GPP TS 36.101, EARFCN 6300
    expect(values('/uplinks/1/media/cellular/readings/3/sinrDb')).toEqual([expect.closeTo(56.9, 1)]); // log2(1 + 10^0.9) × 9 MHz × 2
    expect(values('/uplinks/1/media/cellular/widthMHz')).toEqual([-97]); // -174 + 70 + 7
    expect(values('/uplinks/1/media/cellular/mastKm')).toHaveLength(3);
    expect(values('/uplinks/1/media/cellular/readings/99/sinrDb')).toEqual([]);
    expect(values('/uplinks/0/rateDownMbps')).toEqual([expect.closeTo(282.49, 2)]); // 300 × 1452 / (1492 + 8 + 4 + 38), RFC 6349, RFC 2516, 802.1Q
  });

  test('answer for the tunnel, its people and the sites it joins', () => {
    expect(values('/vpn/pool')).toEqual([254]);
    expect(values('/vpn/mtuBytes')).toEqual([1340]); // 1420 - 80, below the 1412 of PPPoE
    expect(values('/vpn/keepAliveSeconds')).toEqual([25]);
    expect(workingsAt(farrow, '/vpn/keepAliveSeconds')[0]!.means).toMatch(/Short enough for all/);
    expect(values('/vpn/port')).toEqual(['udp 51820']);
    expect(values('/vpn/peers/2/group')).toEqual([3]); // the gate, and the router at both of its addresses
    expect(values('/vpn/roundTripMs')).toEqual([expect.closeTo(37.14, 2)]); // 40 × 1300 / 1400, RFC 6349
    const mill = compile(demoPlan('mill-lane'));
    expect(workingsAt(mill, '/vpn/sites/0/endpoint').map(({ value }) => value)).toEqual([43]); // 3 × 5 + 1 + 2 + 25
  });

  test('answer for radios, rooms, second routers, supplies and what the router can take', () => {
    const larch = compile(demoPlan('larch-house'));
    const named = (at: string): (readonly [string, unknown])[] =>
      workingsAt(larch, at).map(({ name, value }) => [name, value]);
    // The barn's bridge is on the same channel: (92 - 70) / 30 of all 40 MHz.
    expect(named('/wifi/radios/1/channel')[0]).toEqual([
      'Channel 36 is taken by others',
      expect.closeTo(73.33, 2),
    ]);
    expect(named('/wifi/radios/1/width')).toEqual([['Channel width in 5 GHz', 80]]);
    expect(named('/wifi/rooms/0/readings')).toEqual([
      ['Signal to expect', expect.any(Number)],
      ['Median of the readings', -60.5],
      ['Rate for users', 67.5], // 135 Mb/s by IEEE 802.11 table 19-31 (from memory), half of it
    ]);
    expect(named('/second/1/metres')).toEqual([
      ['Signal to expect', expect.any(Number)],
      ['First Fresnel zone, in the middle', expect.closeTo(0.76, 2)], // half the root of 0.058 m × 40 m
      ['Rate for a device on its cable', 54],
      ['Rate where it repeats on the same channel', 27],
    ]);
    expect(named('/second/2/way')).toEqual([['Translations on the way out', 3]]);
    expect(named('/second/2/inside')).toEqual([['Hosts in 192.168.60.0/24', 254]]);
    expect(named('/second/2/factoryAddress')).toEqual([['Fixed address for the laptop', '192.168.1.254']]);
    expect(named('/router/limits/forwards')).toEqual([['port forwards', 1]]);
    expect(named('/router/limits/nothing')).toEqual([]);
    const powered = compile(
      soundPlan(({ kit: [box] }) =>
        Object.assign(box!, { needVolts: 12, needAmps: 1.5, powerVolts: 12, powerAmps: 2, wattHours: 90 }),
      ),
    );
    const watts = (at: string): unknown[] => workingsAt(powered, at).map(({ value }) => value);
    expect(watts('/kit/0/needAmps')).toEqual([18, 24]); // 12 V × 1.5 A, 12 V × 2 A
    expect(watts('/kit/0/wattHours')).toEqual([expect.closeTo(204, 6)]); // 90 × 0.85 × 0.8 × 60 / 18
  });

  test.each([
    [0, /sends nothing/],
    [25, /all of them/],
    [60, /many do not/],
    [300, /closes in between/],
  ])('a sign of life every %d s beside what NATs remember (RFC 4787 REQ-5)', (seconds, means) => {
    const plan = demoPlan('farrow-sound');
    plan.vpn.keepAliveSeconds = seconds;
    expect(workingsAt(compile(plan), '/vpn/keepAliveSeconds')[0]!.means).toMatch(means);
  });

  test('have nothing to say where there is nothing to compute, or nothing yet', () => {
    for (const at of ['', '/site/name', '/networks/9/prefix', '/nowhere', '/forwards/7'])
      expect(values(at)).toEqual([]);
    expect(
      workingsAt(
        compile(
          soundPlan((plan) => {
            plan.networks[0]!.prefix = '10.24';
          }),
        ),
        '/networks/0/prefix',
      ),
    ).toEqual([]);
  });
});
