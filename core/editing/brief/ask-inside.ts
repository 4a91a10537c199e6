import { titleAt } from '../../plan/places.ts';
import { capitalized } from '../../base/text.ts';
import { lineName } from '../../intake/letter/collector.ts';
import type { Purpose } from '../../intake/letter/facts.ts';
import { choice, type Kind } from './question.ts';

/* What the site is called, and who and what is inside. */

export const name: Kind = (facts) => {
  if (!facts.site.name && facts.site.customer) facts.site.name = facts.site.customer;
  if (facts.site.name) return [];
  const known = facts.trade?.value ?? 'New site';
  return [
    {
      id: 'name',
      asks: 'What is the site called?',
      why: 'The name stands on every print, and the site is found by it.',
      choices: [choice(known, known, facts.trade ? 'As it stands in the text.' : '')],
      likely: known,
      because: 'Until it has a name.',
      typed: { term: 'Site name', example: 'Mill Road bakery' },
      take: (to, answer, from) => {
        to.site.name = { value: answer.slice(0, 200), from };
      },
    },
  ];
};

const publicTrade =
  /bakery|butcher|caf|coffee|restaurant|pub|bar|hotel|hostel|guest|camp|holiday|park|salon|hair|barber|library|museum|gallery|ferry|marina|club|gym|church|hall|practice|surgery|clinic/i;

export const guests: Kind = (facts) => {
  if (facts.networks.some(({ purpose }) => purpose === 'guests')) return [];
  const likely = publicTrade.test(facts.trade?.value ?? '');
  return [
    {
      id: 'guests',
      asks: 'Are visitors to have internet?',
      why: 'They get a network of their own that reaches nothing else.',
      choices: [
        choice('yes', 'Yes', 'A network for guests, apart from everything.'),
        choice('no', 'No', 'No network for guests.'),
      ],
      likely: likely ? 'yes' : 'no',
      because: likely
        ? `Most do in a place like this (${facts.trade!.value.toLowerCase()}).`
        : 'The text names no visitors.',
      take: (to, answer, from) => {
        if (answer === 'yes')
          to.networks.push({ key: 'guests', name: { value: 'Guests', from }, purpose: 'guests' });
      },
    },
  ];
};

const kinds: readonly (readonly [kind: string, title: string, purpose: Purpose])[] = [
  ['till', 'Tills and card terminals', 'payment'],
  ['camera', 'Cameras', 'cameras'],
  ['telephone', 'Telephones', 'voice'],
  ['machine', 'Machines, heating, sensors', 'plant'],
  ['printer', 'Printers', 'staff'],
];

export const devices: Kind = (facts) =>
  facts.devices.length > 0 || facts.networks.some(({ purpose }) => purpose !== 'guests')
    ? []
    : [
        {
          id: 'devices',
          asks: 'What else is connected, besides computers and telephones of the people?',
          why: 'Payment, cameras and machines each get a network of their own, with the rules for their kind.',
          choices: [
            choice('none', 'Nothing else', 'One network for the people.'),
            ...kinds.map(([kind, title, purpose]) =>
              choice(kind, title, `Purpose: ${titleAt('/networks/*/purpose', purpose)}.`),
            ),
          ],
          likely: 'none',
          because: 'The text names no devices.',
          several: true,
          take: (to, answer, from) => {
            for (const [kind, , purpose] of kinds)
              if (answer.split(',').some((each) => each.trim() === kind))
                to.devices.push({
                  name: { value: capitalized(kind), from },
                  kind,
                  purpose,
                  count: 1,
                  reserved: false,
                });
          },
        },
      ];

export const backupUse: Kind = (facts) => {
  const backup = facts.lines.find((line) => line.backup) ?? facts.lines[1];
  if (facts.lines.length < 2 || !backup || !facts.networks.some(({ purpose }) => purpose === 'guests'))
    return [];
  const limited = backup.capGigabytes !== undefined || backup.medium?.value === 'cellular';
  return [
    {
      id: 'backup-use',
      asks: `Who uses ${lineName(backup)} while the first is down?`,
      why: 'A backup is slower, and often paid by the gigabyte.',
      choices: [
        choice('no-guests', 'Everybody but guests', 'Guests wait until the first line is back.'),
        choice('all', 'Everybody', 'Guests may use up what the backup carries.'),
      ],
      likely: limited ? 'no-guests' : 'all',
      because: limited
        ? 'Guests use up the data of such a line first.'
        : 'The backup has no limit that the text names.',
      take: (to, answer, from) => {
        to.guestsWait = { value: answer === 'no-guests', from };
      },
    },
  ];
};

export const keepAddresses: Kind = (facts) => {
  const old = facts.networks.find(
    ({ prefix, routerAddress }) => prefix && routerAddress && !prefix.value.startsWith('10.'),
  );
  if (!old || facts.networks.filter(({ prefix }) => prefix).length > 1) return [];
  return [
    {
      id: 'addresses',
      asks: `Keep ${old.prefix!.value}, the subnet of the old router?`,
      why: 'Devices with a fixed address go on as they are; but remote access fails from homes with the same subnet.',
      choices: [
        choice('keep', 'Keep it', 'No device needs changes.'),
        choice(
          'new',
          'A new subnet',
          'Devices with fixed addresses are set up again; remote access works from every home.',
        ),
      ],
      likely: 'keep',
      because: 'What has a fixed address there goes on working.',
      take: (to, answer) => {
        if (answer !== 'new') return;
        const network = to.networks.find(({ key }) => key === old.key)!;
        delete network.prefix;
        delete network.routerAddress;
        delete network.poolFrom;
        delete network.poolTo;
      },
    },
  ];
};
