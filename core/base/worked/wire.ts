import { equals, figure, shown, step, type Worked, worked } from './worked.ts';

/** Annealed copper at 20 °C, ohms of a wire of 1 mm² and 1 m (IEC 60028: 1/58). */
const ohmsPerMetre = 1 / 58;

/** Cross-section of a wire of an American gauge in mm² (ASTM B258: 0.127 mm × 92^((36 - n) / 39) across). */
export function gaugeWorked(gauge: number): Worked<number> {
  const diameter = 0.127 * 92 ** ((36 - gauge) / 39);
  const area = (Math.PI / 4) * diameter ** 2;
  return worked(
    'Cross-section',
    area,
    'mm²',
    [
      step('diameter', `0.127 × 92^((36 - ${gauge}) / 39) ${equals(diameter, 4)} mm`),
      step('cross-section', `3.14159 / 4 × ${figure(diameter, 4)}^2 ${equals(area, 3, false)} mm²`),
    ],
    'ASTM B258 (from memory)',
  );
}

/**
 * Volts at the far end of a pair of copper wires, and what the wires turn to heat.
 * @param metres one way; the current goes there and back
 */
export function dropWorked(volts: number, amps: number, metres: number, area: number): Worked<number> {
  const ohms = (2 * metres * ohmsPerMetre) / area;
  const drop = ohms * amps;
  const left = volts - drop;
  return worked(
    'Voltage at the far end',
    left,
    'V',
    [
      step(
        'wire, there and back',
        `2 × ${figure(metres)} / 58 / ${figure(area, 3)} ${equals(ohms, 3, area === Number(figure(area, 3)))} Ω`,
      ),
      step('lost', `${figure(ohms, 3)} × ${figure(amps)} ${equals(drop, 3, false)} V`),
      step('as heat in the wires', `${figure(drop, 3)} × ${figure(amps)} ${equals(drop * amps, 2, false)} W`),
      step('at the far end', shown(left, 'V')),
    ],
    'IEC 60028 (copper at 20 °C, 58 m/(Ω mm²))',
    left < 0.9 * volts
      ? 'More than a tenth is lost: most devices for this voltage restart under load. Use a thicker wire, a higher voltage, or a supply at the device.'
      : 'Less than a tenth is lost, which most devices bear (common practice, no source).',
  );
}

/** Heat that electrical power becomes, for whoever sizes ventilation in BTU per hour (1 W is 3.41214 BTU/h; ISO 31-4, from memory). */
export const heatWorked = (watts: number): Worked<number> =>
  worked(
    'Heat',
    watts * 3.41214,
    'BTU/h',
    [
      step('power', `${figure(watts)} W`),
      step('heat', `3.41214 × ${figure(watts)} ${equals(watts * 3.41214)} BTU/h`),
    ],
    'ISO 31-4 (from memory)',
    'Everything that a device draws becomes heat where it stands.',
  );
