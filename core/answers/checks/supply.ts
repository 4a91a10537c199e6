import type { Kit } from '../../site/model.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

const nameOf = ({ model, role }: Kit): string => model || `The ${role}`;
const plain = (plug: string): string =>
  plug
    .toLowerCase()
    .replace(/[^a-z0-9.+-]+/g, ' ')
    .trim();

/** The power supply that is there beside what the box asks for: volts, amperes and plug. */
export const supply: Check = {
  name: 'supply',
  run: ({ kit }) => kit.flatMap((item) => [...volts(item), ...amperes(item), ...plug(item)]),
};

const label = 'the labels of box and supply';

function volts(item: Kit): Finding[] {
  const { needVolts, powerVolts } = item;
  if (needVolts === null || powerVolts === null || needVolts === powerVolts) return [];
  return [
    note(
      'supply-volts',
      'blocker',
      `${item.at}/powerVolts`,
      `${nameOf(item)} asks for ${needVolts} V and its supply gives ${powerVolts} V${powerVolts > needVolts ? ': it is destroyed when it is plugged in' : ': it does not start, or restarts under load'}. Ask for the right supply.`,
      worked(
        'Volts equal',
        false,
        '',
        [step('box', `${needVolts} V`), step('supply', `${powerVolts} V`), step('equal', 'no')],
        label,
      ),
    ),
  ];
}

function amperes(item: Kit): Finding[] {
  const { needAmps, powerAmps } = item;
  if (needAmps === null || powerAmps === null || powerAmps >= needAmps) return [];
  return [
    note(
      'supply-amps',
      'blocker',
      `${item.at}/powerAmps`,
      `${nameOf(item)} draws up to ${needAmps} A and its supply gives ${powerAmps} A: it restarts under load, and the supply gets hot.`,
      worked(
        'Amperes left',
        powerAmps - needAmps,
        'A',
        [
          step('supply', `${powerAmps} A`),
          step('box, at most', `- ${needAmps} A`),
          step('left', `${Number((powerAmps - needAmps).toFixed(3))} A`),
        ],
        label,
      ),
    ),
  ];
}

function plug(item: Kit): Finding[] {
  const { needPlug, powerPlug } = item;
  if (plain(needPlug) === '' || plain(powerPlug) === '' || plain(needPlug) === plain(powerPlug)) return [];
  return [
    note(
      'supply-plug',
      'warning',
      `${item.at}/powerPlug`,
      `${nameOf(item)} has the connector "${needPlug.trim()}" and its supply "${powerPlug.trim()}": one that nearly fits makes no lasting contact, and the wrong polarity destroys the box.`,
      said('Connectors', `${needPlug.trim()}; ${powerPlug.trim()}`),
    ),
  ];
}
