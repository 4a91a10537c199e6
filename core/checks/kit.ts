import { contains, formatPrefix } from '../net/prefix.ts';
import { formatAddress } from '../net/address.ts';
import type { Check, Finding } from '../terms/finding.ts';
import { overlapWorked } from '../worked/addresses.ts';
import { practice, step, worked } from '../worked/worked.ts';

/** Upper end of what indoor network equipment is usually sold for. */
const warmestCelsius = 40;

/** The kit: its place, and the address a new router comes with. */
export const kit: Check = {
  name: 'kit',
  run: ({ about, router, lines }) => {
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
