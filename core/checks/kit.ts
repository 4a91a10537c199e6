import { parseMac } from '../net/mac.ts';
import { contains, formatPrefix } from '../net/prefix.ts';
import { formatAddress } from '../net/address.ts';
import type { Check, Finding } from '../terms/finding.ts';
import { overlapWorked } from '../worked/addresses.ts';
import { practice, step, worked } from '../worked/worked.ts';

/** Upper end of what indoor network equipment is usually sold for. */
const warmestCelsius = 40;

/** The kit: its place, its labels, and the address a new router comes with. */
export const kit: Check = {
  name: 'kit',
  run: ({ about, kit: items, router, lines }) => {
    const found: Finding[] = [];
    const celsius = about.cupboardCelsius;
    if (celsius !== null && celsius > warmestCelsius)
      found.push({
        rule: 'cupboard-warm',
        severity: 'warning',
        at: '/site/cupboardCelsius',
        says: `The cupboard reaches ${celsius} °C. Indoor equipment is usually good to ${warmestCelsius} °C: it will restart on the hottest day. Give it air, or another place; see the equipment's own sheet.`,
        why: worked(
          'Above the usual limit',
          celsius - warmestCelsius,
          '°C',
          [
            step('cupboard', `${celsius} °C`),
            step('usual limit', `- ${warmestCelsius} °C`),
            step('above', `${celsius - warmestCelsius} °C`),
          ],
          practice,
        ),
        source: practice,
      });
    const macs = new Map<string, number>();
    for (const [index, item] of items.entries()) {
      const mac = parseMac(item.mac);
      if (!mac.ok) continue;
      const other = macs.get(mac.value.text);
      if (other !== undefined)
        found.push({
          rule: 'kit-mac-twice',
          severity: 'warning',
          at: `/kit/${index}/mac`,
          also: [`/kit/${other}/mac`],
          says: 'Two devices of the equipment list have the same MAC address: one label was read twice.',
          why: worked(
            'Pieces with this MAC address',
            2,
            '',
            [step('address', mac.value.text)],
            'IEEE 802 (one address a device)',
          ),
          source: 'IEEE 802 (one address a device)',
        });
      else macs.set(mac.value.text, index);
    }
    const { factory } = router;
    if (!factory) return found;
    for (const line of lines) {
      const there = line.box?.prefix ?? line.prefix;
      if (!there || !contains(there, factory.host)) continue;
      found.push({
        rule: 'factory-clash',
        severity: 'advice',
        at: '/router/factoryAddress',
        also: [`${line.at}/handoff/insidePrefix`],
        says: `The new router comes with ${formatAddress(factory.host)}, which is also on ${line.name} (${formatPrefix(there)}). Plugged in together before the inside address is changed, the two cannot be told apart; the run sheet changes the address first.`,
        why: overlapWorked(factory.prefix, there, ['new router', line.name]),
        source: practice,
      });
    }
    return found;
  },
};
