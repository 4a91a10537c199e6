import { contains, formatPrefix } from '../../base/net/prefix.ts';
import { formatAddress, parseAddress } from '../../base/net/address.ts';
import { valueOf } from '../../base/result.ts';
import type { Kit, Site } from '../../site/model.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { overlapWorked } from '../../base/worked/addresses.ts';
import { practice, step, worked, type Worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** Upper end of what indoor network equipment is usually sold for. */
const usualCelsius = 40;

/** The kit: its place, and the address a new router comes with. */
export const kit: Check = {
  name: 'kit',
  run: (site) => {
    const { about, router, lines, kit: all } = site;
    const found: Finding[] = [];
    found.push(...heat(about.cupboardCelsius, all), ...pages(site));
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

/**
 * Where the pages of switches and access points open: inside, or at the address that the label has. Elsewhere no
 * laptop on this site opens them.
 */
function pages({ kit: all, networks, second, router, lines }: Site): Finding[] {
  const known = [
    ...networks.flatMap(({ prefix }) => prefix ?? []),
    ...second.flatMap(({ inside, factoryAddress: factory }) =>
      [inside?.prefix, factory?.prefix].flatMap((each) => each ?? []),
    ),
    ...lines.flatMap(({ box }) => box?.prefix ?? []),
    ...(router.factory ? [router.factory.prefix] : []),
  ];
  return all.flatMap(({ at, role, model, adminAddress }): Finding[] => {
    const host = valueOf(parseAddress(adminAddress));
    if (!host || (role !== 'switch' && role !== 'access-point')) return [];
    if (known.length === 0 || known.some((prefix) => contains(prefix, host))) return [];
    return [
      note(
        'page-elsewhere',
        'warning',
        `${at}/adminAddress`,
        `The pages of ${model || `the ${role}`} are entered at ${formatAddress(host)}, which is on no network of this site: they do not open from here. Give it an address of the network from which it is managed.`,
        worked(
          'Subnets that hold this address',
          0,
          '',
          [step('address', formatAddress(host)), step('subnets looked at', known.length)],
          practice,
        ),
      ),
    ];
  });
}

/** The cupboard on its warmest day beside what each box bears; where its data sheet is not entered, what is usual. */
function heat(celsius: number | null, all: readonly Kit[]): Finding[] {
  if (celsius === null) return [];
  const told = all.flatMap(({ at, model, role, warmestCelsius }): Finding[] =>
    warmestCelsius === null || celsius <= warmestCelsius
      ? []
      : [
          note(
            'cupboard-warm',
            'warning',
            `${at}/warmestCelsius`,
            `The cupboard reaches ${celsius} °C and ${model || role} is made for ${warmestCelsius} °C: it will restart on the hottest day. Ventilate or move it.`,
            above(celsius, warmestCelsius, 'its data sheet'),
          ),
        ],
  );
  const untold = all.length === 0 || all.some(({ warmestCelsius }) => warmestCelsius === null);
  return !untold || celsius <= usualCelsius
    ? told
    : [
        ...told,
        note(
          'cupboard-warm',
          'warning',
          '/site/cupboardCelsius',
          `The cupboard reaches ${celsius} °C. Indoor equipment is usually good to ${usualCelsius} °C: it will restart on the hottest day. Give it air, or another place; see the equipment's own sheet.`,
          above(celsius, usualCelsius, practice),
        ),
      ];
}

const above = (celsius: number, most: number, source: string): Worked =>
  worked(
    'Above the limit',
    celsius - most,
    '°C',
    [step('cupboard', `${celsius} °C`), step('limit', `- ${most} °C`), step('above', `${celsius - most} °C`)],
    source,
  );
