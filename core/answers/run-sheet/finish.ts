import { atCupboard, withPeople, onPage, allOf, everybody } from '../../behaviour/domain-types/nature.ts';
import { failoverPromiseId, internetPromiseId, linePromiseId } from '../../behaviour/domain-types/promise.ts';
import type { Site } from '../../site/model.ts';
import {
  choiceReading,
  hashReading,
  numberReading,
  textReading,
} from '../../behaviour/domain-types/reading.ts';
import { entry, type StepDraft } from '../../behaviour/domain-types/step.ts';
import { pulledIds } from './failover.ts';

/** What comes after everything works: it stays after a power cut, and it is left behind in writing. */
export function finishSteps(site: Site): StepDraft[] {
  return [
    {
      id: 'power-cut',
      nature: (all) => ({ ...atCupboard, interrupts: everybody(all), uses: allOf(all) }),
      phase: 'finish',
      title: 'Cycle the power and time the recovery',
      needs: [
        ...site.networks.flatMap(({ id }) => [`internet:${id}`, `apart:${id}`]),
        ...site.forwards.flatMap(({ id }) => [`outside:${id}`, `outside-refused:${id}`]),
        ...site.vpn.peers.flatMap(({ id }) => [`vpn-test:${id}`, `vpn-out:${id}`]),
        ...site.vpn.sites.flatMap(({ id }) => [`vpn-site-proof:${id}`, `vpn-site-pull:${id}`]),
        ...pulledIds(site),
      ],
      why: 'The next power cut happens without you.',
      lowSeconds: 120,
      highSeconds: 300,
      proof:
        'Everything off, ten seconds, everything on at once. Without touching anything a page opens again, and each forward answers.',
      ifNot:
        'Not saved, or the router asks the line before the device in front is ready: power-cycle in the order device in front, router; note it as a fault.',
      cautions: ['Tell the people on site first: everything stops for up to five minutes.'],
      fields: [numberReading('seconds', 'Until a page opened', 's')],
      evidence: [
        ...site.lines.map(linePromiseId),
        ...site.networks.map(internetPromiseId),
        ...site.failover.promises.map(failoverPromiseId),
      ].map((promise) => ({
        promise,
        rung: 'power-cut',
      })),
    },
    {
      id: 'backup-after',
      nature: onPage,
      phase: 'finish',
      title: 'Save the settings as they are now',
      needs: ['power-cut'],
      why: 'A replacement router is set up by loading one file.',
      proof: 'A file of more than zero bytes, kept with the handover, not on the router alone.',
      ifNot: 'Take pictures of every page that was changed.',
      cautions: ['The file holds secrets: keep it where the customer keeps passwords.'],
      fields: [
        textReading('file', 'Name of the file'),
        textReading('kept', 'Where it is kept'),
        hashReading('computed', 'SHA-256 of the file', { optional: true }),
        {
          ...choiceReading('restore', 'A restore of the copy', 'was tried', 'was not tried'),
          choices: [
            { value: 'yes', title: 'was tried', good: true },
            { value: 'no', title: 'was not tried', good: true },
          ],
        },
      ],
    },
    {
      id: 'secrets',
      nature: withPeople,
      phase: 'finish',
      title: 'Hand over the secrets',
      needs: ['power-cut'],
      entries: site.contacts
        .slice(0, 3)
        .map(({ name, role, phone }, index) =>
          entry(
            role || 'Person',
            [name, phone].filter((part) => part !== '').join(', '),
            [],
            `/contacts/${index}`,
          ),
        ),
      why: 'The admin secret belongs to the customer. Without it the next person begins with a reset.',
      lowSeconds: 120,
      highSeconds: 300,
      proof: 'They open the status page with it themselves, and it is kept where they keep passwords.',
      ifNot: 'Seal it in an envelope with the date on it, and note who took it.',
      cautions: ['Never in an e-mail, and never on a label at the router.'],
      fields: [textReading('who', 'Who received them'), textReading('when', 'Day')],
    },
    {
      id: 'laptop-back',
      nature: onPage,
      phase: 'finish',
      title: 'Log out, and put the laptop back to automatic',
      needs: ['backup-after'],
      entries: [entry('Laptop address', 'automatic', ['IP settings', 'DHCP'])],
      why: 'A page that stays open is open to the next person at this device, and a fixed address fails at the next site.',
      lowSeconds: 20,
      highSeconds: 60,
      proof: 'The page asks for the secret again; the laptop has an address from the next network it joins.',
      ifNot: 'No way to log out: close the browser and its saved passwords for this address.',
    },
    {
      id: 'handover',
      nature: withPeople,
      phase: 'finish',
      title: 'Hand over record',
      needs: ['backup-after', 'secrets', 'laptop-back', 'labels'],
      why: 'With all of it entered, any installer can repair this site.',
      proof: 'The customer has the printed record and the plan file; labels are on devices and cables.',
      ifNot: 'Send both within the day.',
    },
  ];
}
