import { expect, test } from '@jest/globals';
import { demoPlan } from '../../core/testing/plans.ts';
import { labelOf } from './label.ts';

test('places of the plan have names that a person would say', () => {
  const plan = demoPlan('farrow-sound');
  const said: [string, string][] = [
    ['/uplinks/0/mtuBytes', 'MTU of Fibre'],
    ['/uplinks/0/settings/static/prefixLength', 'prefix or mask of Fibre'],
    ['/networks/1/dhcp/from', 'pool from of Tickets'],
    ['/networks/1', 'Tickets'],
    ['/devices/0/services/0/ports', 'ports of Tide readings'],
    ['/forwards/0/outsidePorts', 'outside port of Tide readings for the harbour office'],
    ['/kit/0/powerVolts', 'volts of Edge router, five ports'],
    ['/site/cupboardCelsius', 'cupboard temperature'],
    ['/reach', 'reach'],
    ['/nowhere/9/else', 'else'],
  ];
  for (const [at, words] of said) expect([at, labelOf(plan, at)]).toEqual([at, words]);
});
