import { factAt } from '../../wan-types/facts.ts';
import {
  atCupboard,
  withPeople,
  onPage,
  restarting,
  everybody,
  lineWaits,
} from '../../behaviour/domain-types/nature.ts';
import { formatAddress } from '../../base/net/address.ts';
import { termAt } from '../../plan/places.ts';
import type { Site } from '../../site/model.ts';
import { addressReading, hashReading, textReading } from '../../behaviour/domain-types/reading.ts';
import { entry, type StepDraft } from '../../behaviour/domain-types/step.ts';

/** What a kind of job does to the steps of a plan. A new kind is one function and one name here. */
type JobKind = (site: Site, drafts: readonly StepDraft[]) => StepDraft[];

const oldName = (site: Site): string => site.visit.oldRouter.trim() || 'the old router';

/** What the old router does today is taken down before anything is touched. */
function takenDown(site: Site): StepDraft {
  const [line] = site.lines;
  const at = line && factAt(line, 'userName');
  return {
    id: 'old-read',
    nature: { place: 'old router' },
    phase: 'prepare',
    title: `Record the settings of ${oldName(site)}`,
    needs: ['kit'],
    entries: site.visit.oldAddress
      ? [entry('Browse to', formatAddress(site.visit.oldAddress), ['Gateway'], '/visit/oldAddress')]
      : [],
    why: 'Nobody asks for what works today until it does not. What is not written down now is lost with the old router.',
    lowSeconds: 600,
    highSeconds: 1800,
    proof: 'Its lists are pasted into "What is here?", and what differs from the plan is settled.',
    ifNot:
      'No login: the labels, the papers, and what a laptop on it shows. Photograph every page you can open.',
    fields: [
      textReading('type', `${termAt('/uplinks/*/type')} and its values`),
      textReading('user', 'User name', { optional: true, ...(at !== undefined && { at }) }),
      textReading('reservations', 'Reservations', { optional: true }),
      textReading('forwards', 'Port forwards', { optional: true }),
      addressReading('outside', 'Address that the outside sees today'),
      textReading('rate', 'Rate down and up today', { optional: true }),
    ],
  };
}

/** The new router is complete before the old one is touched; the old one stays ready until all is proven. */
const replacement: JobKind = (site, drafts) => {
  const old = oldName(site);
  const ready = drafts.flatMap(({ id, phase }) =>
    phase === 'inside' || ['reach', 'habits', 'labels'].includes(id) ? [id] : [],
  );
  const added: StepDraft[] = [
    takenDown(site),
    {
      id: 'old-warn',
      nature: withPeople,
      phase: 'uplink',
      title: 'Agree on a cutover time with the site',
      needs: [...ready, 'old-read'],
      why: 'From then on nothing works until the first page opens over the new router.',
      lowSeconds: 60,
      highSeconds: 300,
      proof: 'A person in charge has agreed to a minute.',
      ifNot: 'Take the quiet hour instead.',
      cautions: [
        'Alarm, lift and emergency lines are never part of a change: find out first what depends on the old router.',
      ],
    },
    {
      id: 'old-off',
      nature: (site) => ({ ...atCupboard, interrupts: everybody(site) }),
      phase: 'uplink',
      title: `Disconnect ${old}, then take its lines off`,
      needs: ['old-warn'],
      entries: [
        entry('First', 'press disconnect on its page, then wait until it says so', ['Release', 'Hang up']),
        entry('Then', 'pull its lines; leave its settings and its power supply as they are', ['WAN cable']),
      ],
      why: 'A session that ends without a goodbye stays open at the provider for minutes. After this step the way back is to plug the old router in again.',
      lowSeconds: 60,
      highSeconds: 180,
      proof: 'Its lights say that there is no line.',
      ifNot: 'No disconnect on its page: pull the line, and count five minutes before the new router dials.',
      fields: [textReading('minute', 'Minute at which it stopped')],
    },
    {
      id: 'old-keep',
      nature: atCupboard,
      phase: 'finish',
      title: `Keep ${old} ready until the acceptance is signed`,
      needs: ['power-cut'],
      why: 'Going back takes one cable, as long as nobody resets or removes the old router.',
      proof: 'It stands beside the new one, off, with its supply and a label that says until when.',
      ifNot: 'If it belongs to the provider, ask when it has to go back.',
      fields: [textReading('until', 'Kept until, and by whom')],
    },
  ];
  return [
    ...drafts.map((draft) =>
      draft.phase === 'uplink' && /^(?:uplink|light|sync|modem|card|box|forget|old-session)/.test(draft.id)
        ? { ...draft, needs: [...(draft.needs ?? []), 'old-off'] }
        : draft.id === 'laptop'
          ? { ...draft, needs: [...(draft.needs ?? []), 'old-read'] }
          : draft.id === 'handover'
            ? { ...draft, needs: [...(draft.needs ?? []), 'old-keep'] }
            : draft,
    ),
    ...added,
  ];
};

/** The same settings on another box: the file is loaded in place of everything that is entered, and all is proven anew. */
const swap: JobKind = (site, drafts) => {
  const kept = drafts.filter(
    ({ id, phase }) => !['rules', 'inside'].includes(phase) || ['reconnect', 'vpn-interface'].includes(id),
  );
  const restore: StepDraft = {
    id: 'restore',
    nature: restarting,
    phase: 'inside',
    title: 'Restore the backup of the failed router',
    needs: ['remote-admin-off'],
    entries: [
      entry('File', 'the newest one in the vault, of this model and firmware', [
        'Restore',
        'Import configuration',
      ]),
    ],
    why: 'A file of another model or firmware may load and be wrong: compare both before it is loaded.',
    lowSeconds: 120,
    highSeconds: 600,
    proof: 'After its restart the status page opens at the planned address, and the networks are listed.',
    ifNot: 'Refused, or half of it is missing: choose the kind of job "new", and enter the plan by hand.',
    fields: [
      textReading('file', 'Name of the file'),
      hashReading('computed', 'Its SHA-256', { optional: true }),
    ],
  };
  const keys: StepDraft[] =
    site.vpn.way === 'none'
      ? []
      : [
          {
            id: 'keys',
            nature: onPage,
            phase: 'rules',
            title: 'See that the keys came along',
            needs: ['vpn-interface'],
            why: 'Many settings files leave private keys out: the router makes a new one, and every client is refused.',
            lowSeconds: 60,
            highSeconds: 300,
            proof: 'The public key on its page is the one that the clients have.',
            ifNot: 'Enter the private key from the vault; a new one has to go to every client.',
          },
        ];
  const tied = site.lines.flatMap((line): StepDraft[] =>
    drafts.some(({ id }) => id === `forget:${line.id}`)
      ? []
      : [
          {
            id: `forget:${line.id}`,
            nature: lineWaits(line, 0.8),
            phase: 'uplink',
            title: `Clear the MAC address of the failed router on ${line.name}`,
            needs: ['reconnect'],
            why: 'A line that remembers the MAC address of the old box answers no other until its own device was without power.',
            lowSeconds: 60,
            highSeconds: 300,
            proof: 'The device in front was off for two minutes, then on until its lights are steady.',
            ifNot: 'Ask the provider to release the old MAC address; take it over only as a last resort.',
          },
        ],
  );
  return [
    ...kept.map((draft) => (draft.id === 'reconnect' ? { ...draft, needs: ['restore'] } : draft)),
    restore,
    ...keys,
    ...tied,
  ];
};

const same: JobKind = (_site, drafts) => [...drafts];

const kinds: Record<Site['visit']['kind'], JobKind> = {
  new: same,
  replacement,
  // What is done already is left out by what was recorded: see open-steps.ts.
  change: same,
  second: same,
  swap,
};

/** The steps of this kind of job. */
export const ofKind: JobKind = (site, drafts) => kinds[site.visit.kind](site, drafts);
