import { batteryWorked, poeBudgetWorked, poeClassWorked } from '../../base/worked/power.ts';
import { dropWorked, gaugeWorked, heatWorked } from '../../base/worked/wire.ts';
import { listOf, needed, numberBetween, sum, wholeBetween, type Sum } from './sum.ts';

const watts = numberBetween(0.1, 100_000);

export const powerSums: readonly Sum[] = [
  sum(
    'poe-class',
    'Least class of Power over Ethernet that feeds a device',
    { watts: needed('power of the device', 'W', '21', numberBetween(0.1, 1000)) },
    (given) => poeClassWorked(given.watts),
  ),
  sum(
    'poe-budget',
    'What is left of the power of a switch',
    {
      budget: needed('power budget of the switch', 'W', '120', numberBetween(0, 100_000)),
      classes: needed('class of each device, 0 to 8', '', '4,4,3,2', listOf(wholeBetween(0, 8), 96)),
    },
    ({ budget, classes }) => poeBudgetWorked(budget, classes),
  ),
  sum(
    'battery',
    'Run time of a battery from volts and ampere hours',
    {
      volts: needed('volts', 'V', '12', numberBetween(0.1, 1000)),
      hours: needed('capacity', 'Ah', '9', numberBetween(0.01, 100_000)),
      efficiency: needed('efficiency of inverter and supply', '%', '85', numberBetween(1, 100)),
      usable: needed('share of the battery that may be used', '%', '60', numberBetween(1, 100)),
      load: needed('load', 'W', '30', watts),
    },
    ({ volts, hours, efficiency, usable, load }) => batteryWorked(volts, hours, efficiency, usable, load),
  ),
  sum(
    'voltage-drop',
    'Voltage at the far end of a copper cable, and the heat in it',
    {
      volts: needed('voltage at the supply', 'V', '12', numberBetween(0.1, 1000)),
      amps: needed('current', 'A', '2', numberBetween(0.001, 1000)),
      metres: needed('length, one way', 'm', '25', numberBetween(0.01, 10_000)),
      area: needed('cross-section of a wire', 'mm²', '1.5', numberBetween(0.01, 400)),
    },
    ({ volts, amps, metres, area }) => dropWorked(volts, amps, metres, area),
  ),
  sum(
    'wire-gauge',
    'Cross-section of a wire of an American gauge (AWG)',
    { gauge: needed('gauge', 'AWG', '24', wholeBetween(0, 40)) },
    ({ gauge }) => gaugeWorked(gauge),
  ),
  sum('heat', 'Heat of equipment in BTU per hour', { watts: needed('power', 'W', '180', watts) }, (given) =>
    heatWorked(given.watts),
  ),
];
