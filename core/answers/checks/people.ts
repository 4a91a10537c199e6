import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { practice, step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** Who opens the door, who decides, who is told, and how each is reached. */
export const people: Check = {
  name: 'people',
  run: (site) => [...unreachable(site), ...nobodyToCall(site), ...unnoticed(site)],
};

const unreachable = ({ contacts }: Site): Finding[] =>
  contacts.flatMap(({ name, role, phone, email }, index): Finding[] =>
    phone.trim() !== '' || email.trim() !== ''
      ? []
      : [
          note(
            'contact-unreachable',
            'warning',
            `/contacts/${index}/phone`,
            `${name || role || 'A person without a name'} has neither a telephone number nor an e-mail address, so nobody can ask. Enter one of the two.`,
            said('Telephone', 'none'),
          ),
        ],
  );

/** On the day of the visit somebody has to open, and to say yes to the minute of the change. */
const nobodyToCall = ({ contacts }: Site): Finding[] =>
  contacts.some(({ phone }) => phone.trim() !== '')
    ? []
    : [
        note(
          'nobody-to-call',
          'advice',
          '/contacts',
          'No person with a telephone number is entered: nobody opens the door, agrees to the minute of the change, or is called when a line is down.',
          worked(
            'People with a telephone number',
            0,
            '',
            [step('people entered', contacts.length), step('with a telephone number', 0)],
            practice,
          ),
        ),
      ];

/** A change to the backup that nobody hears of becomes the normal state: the next failure has no backup left. */
const unnoticed = ({ lines, failover }: Site): Finding[] =>
  lines.length < 2 || failover.sharing === 'weights' || failover.notification.trim() !== ''
    ? []
    : [
        note(
          'failover-unnoticed',
          'advice',
          '/failover/notification',
          'Nobody is told when the site changes to another line: the fault stays unnoticed until the backup fails too. Enter who is told, and how.',
          said('Notification', 'none'),
        ),
      ];
