import { describe, expect, test } from '@jest/globals';
import { compile } from '../site/compile.ts';
import { demoPlan, soundPlan } from '../testing/plans.ts';
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
