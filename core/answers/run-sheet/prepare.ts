import { atCupboard } from '../../behaviour/domain-types/nature.ts';
import { figure } from '../../base/worked/worked.ts';
import type { Kit, Site } from '../../site/model.ts';
import { powerWorked } from '../../base/worked/packets.ts';
import { entry, fieldEntry, type Entry, type StepDraft } from '../../behaviour/domain-types/step.ts';
import { numberReading, textReading } from '../../behaviour/domain-types/reading.ts';
import { socketName } from '../../site/wiring.ts';

const itemName = (item: Kit): string => item.model || item.role;

/** "Port 1" where the box prints a number only. */
export const portLabel = (name: string): string => (/^\d/.test(name) ? `Port ${name}` : name);

/** Before anything is switched on: is everything here, and does the power fit. */
export function prepare(site: Site): StepDraft[] {
  const { kit } = site;
  const labels = kit.flatMap((item): Entry[] => [
    ...(item.serial ? [entry(`${itemName(item)}, serial`, item.serial, ['S/N'], `${item.at}/serial`)] : []),
    ...(item.mac
      ? [entry(`${itemName(item)}, MAC`, item.mac, ['Ethernet address', 'WAN MAC'], `${item.at}/mac`)]
      : []),
  ]);
  const supplies = kit.flatMap((item): Entry[] =>
    item.powerVolts !== null && item.powerAmps !== null
      ? [
          entry(
            `${itemName(item)}, supply`,
            `${item.powerVolts} V, ${item.powerAmps} A or more (${figure(powerWorked(item.powerVolts, item.powerAmps).value)} W)`,
            ['Output'],
            `${item.at}/powerVolts`,
          ),
        ]
      : [],
  );
  const powered = kit.filter(({ powerVolts, powerAmps }) => powerVolts !== null && powerAmps !== null);
  return [
    {
      id: 'kit',
      nature: atCupboard,
      phase: 'prepare',
      title: 'Check the equipment against its labels',
      // What only the provider can settle is settled before anybody drives.
      needs: site.lines.flatMap(({ id }) => [`activation:${id}`, `values:${id}`]),
      entries: labels,
      why: 'A MAC address or serial number typed from the wrong device is found now, not when the provider refuses it.',
      lowSeconds: 120,
      highSeconds: 300,
      proof: 'Every label reads as written here.',
      ifNot: 'Correct the plan on the Site sheet: everything that uses the value follows.',
    },
    {
      id: 'power',
      nature: atCupboard,
      phase: 'prepare',
      title: 'Match each power supply to its device',
      needs: ['kit'],
      entries: supplies,
      why: 'Supplies with the same plug and another voltage destroy devices.',
      lowSeconds: 60,
      highSeconds: 120,
      proof: 'Volts are equal, amperes equal or more, polarity as printed on the device.',
      ifNot: 'Do not plug it in. Ask for the right supply.',
      cautions: ['Mains wiring, sockets and earthing are for a licensed electrician; local codes decide.'],
      fields:
        powered.length === 0
          ? [textReading('labels', 'Volts and amperes on each supply label')]
          : powered.flatMap((item) => [
              numberReading(`volts-${item.id}`, `${itemName(item)}, volts on the supply`, 'V', {
                limits: {
                  least: item.powerVolts!,
                  most: item.powerVolts!,
                  says: `${itemName(item)} takes ${item.powerVolts} V and nothing else: do not plug this supply in.`,
                },
              }),
              numberReading(`amps-${item.id}`, `${itemName(item)}, amperes on the supply`, 'A', {
                limits: {
                  least: item.powerAmps!,
                  says: `${itemName(item)} needs ${item.powerAmps} A or more: this supply is too weak.`,
                },
              }),
            ]),
    },
    {
      id: 'labels',
      nature: atCupboard,
      phase: 'prepare',
      title: 'Label the lines, the ports and the cables',
      needs: ['kit'],
      entries: [
        ...site.lines.map((line) => fieldEntry(`${line.at}/label`, line.label.trim() || line.name)),
        ...site.router.ports.map((port) =>
          entry(
            portLabel(port.name),
            port.line?.name ?? port.network?.name ?? port.role,
            ['Port label'],
            port.at,
          ),
        ),
        ...site.wiring.runs.map((run) =>
          entry(run.label.trim() || 'Cable', run.ends.map(socketName).join(' to '), ['Cable label'], run.at),
        ),
      ],
      why: 'Each label shows what its cable carries. The strip is printed with the run sheet.',
      lowSeconds: 180,
      highSeconds: 600,
      proof: 'Each cable reads the same at both ends.',
      ifNot: 'Follow the cable by hand; never by pulling it.',
    },
  ];
}
