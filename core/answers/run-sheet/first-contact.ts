import { onPage, restarting } from '../../behaviour/domain-types/nature.ts';
import type { At } from '../../plan/at.ts';
import type { Site } from '../../site/model.ts';
import type { AdminPlace } from './admin-place.ts';
import { entry, fieldEntry, secretEntry, type StepDraft } from '../../behaviour/domain-types/step.ts';
import {
  addressReading,
  choiceReading,
  hashReading,
  numberReading,
  textReading,
} from '../../behaviour/domain-types/reading.ts';

/** From a box as it comes to a box that is ours: secret first, backup before firmware, firmware by cable. */
export function firstContact(site: Site, place: AdminPlace): StepDraft[] {
  const { kit, factoryDhcp: automatic } = site.router;
  const kitField = (key: 'adminAddress' | 'card/login' | 'card/holdSeconds' | 'firmware'): At =>
    kit ? `${kit.at}/${key}` : '/kit';
  const factory = place.factory ?? 'the address on its label';
  return [
    {
      id: 'laptop',
      nature: { place: 'router' },
      phase: 'first contact',
      title: 'Put the laptop on a LAN port, by cable, with the WAN port empty',
      needs: ['power'],
      entries: [
        entry(
          'Laptop address',
          automatic || !place.factoryLaptop ? 'automatic' : place.factoryLaptop,
          ['IP settings', 'IPv4', 'DHCP / manual'],
          '/router/factoryDhcp',
        ),
        ...(automatic && place.factoryLaptop
          ? [entry('If it gets none', place.factoryLaptop, ['Manual', 'Static'], '/router/factoryAddress')]
          : []),
      ],
      why: 'Two devices with the same address cannot be told apart, and a half-set router must not face the internet.',
      lowSeconds: 60,
      highSeconds: 120,
      proof: `The laptop has an address beside ${factory}; wireless is off. Paste its address listing here.`,
      fields: [addressReading('address', "The laptop's address"), addressReading('gateway', 'Its gateway')],
      ifNot:
        'An address that begins with 169.254 means that nobody answered: wait for the boot to end (one to two minutes), try another LAN port, then set the fixed address.',
    },
    {
      id: 'first-login',
      nature: onPage,
      phase: 'first contact',
      title: 'Log in for the first time',
      needs: ['laptop'],
      entries: [
        entry(
          'Browse to',
          factory,
          ['Admin page', 'Gateway address', 'Router login'],
          '/router/factoryAddress',
        ),
        ...(kit?.adminAddress && kit.adminAddress !== place.factory
          ? [
              entry(
                'If nothing opens there',
                kit.adminAddress,
                ['Address as found'],
                kitField('adminAddress'),
              ),
            ]
          : []),
        ...(kit?.card.login
          ? [
              fieldEntry(
                kitField('card/login'),
                kit.card.login,
                kit.card.source === '' ? [] : [`from: ${kit.card.source}`],
              ),
            ]
          : []),
      ],
      cautions: ['Three tries at most: many boxes shut the page for minutes after that, some permanently.'],
      fields: [
        numberReading('tries', 'Tries until it opened', '', {
          limits: {
            most: 3,
            says: 'More than three tries: stop, wait ten minutes, and read the label once more before the reset.',
          },
        }),
        hashReading('certificate', 'SHA-256 fingerprint of its certificate', { optional: true }),
      ],
      why: 'All that follows is entered here. The certificate that the browser warns of is its own: keep its fingerprint, then another one is noticed.',
      proof: 'The status page opens.',
      ifNot:
        'Certificate warning: expected on a new router with its own certificate, and only here, by cable. Nothing opens: the gateway that the laptop shows is the next address to try. Secret refused: the step about the reset.',
    },
    {
      id: 'reset',
      nature: { place: 'router' },
      phase: 'first contact',
      title: 'Only if the login is refused: do a factory reset',
      needs: ['laptop'],
      optional: true,
      entries: [
        ...(kit?.card.holdSeconds !== null && kit?.card.holdSeconds !== undefined
          ? [fieldEntry(kitField('card/holdSeconds'), `${kit.card.holdSeconds} s`)]
          : [entry('Hold the button', 'as its manual says; 10 to 20 s on most', ['Factory reset'])]),
      ],
      why: 'A reset wipes what nobody wrote down: settings, and on a box of the provider the line itself.',
      lowSeconds: kit?.card.startSeconds ?? 60,
      highSeconds: (kit?.card.startSeconds ?? 120) + 60,
      proof: 'The lights go through a start, and the password on the label opens the page.',
      ifNot:
        'Held too short restarts it only; held through the start does nothing on some. Once more, then the maker.',
      cautions: [
        'Never on a box that belongs to the provider without asking: it may not come back without them.',
      ],
      fields: [
        choiceReading('saved', 'Its settings', 'are saved, or it is new', 'are not saved'),
        choiceReading('provider', "The provider's data", 'are at hand', 'are not at hand'),
      ],
    },
    {
      id: 'admin-secret',
      nature: onPage,
      phase: 'first contact',
      title: 'Set a new admin secret before anything else',
      needs: ['first-login'],
      entries: [
        secretEntry('New admin secret', 'admin', '', [
          'Administrator password',
          'Management password',
          'Login password',
        ]),
      ],
      why: 'The password a router comes with is printed in lists that anybody can find. The new one is long, and is not the key of the wireless.',
      proof: 'Log out, log in with the new secret; the old one is refused.',
      fields: [choiceReading('old', 'The password it came with', 'is refused', 'still opens the page')],
      ifNot: 'If the new one is refused, reset to new state and begin again: nothing is lost yet.',
    },
    {
      id: 'backup-before',
      nature: onPage,
      phase: 'first contact',
      title: 'Save the settings before the firmware changes',
      needs: ['admin-secret'],
      why: 'If the update fails there is a way back.',
      proof: 'A file of more than zero bytes is on the laptop.',
      ifNot: 'No backup function: note the pages that differ from new, as pictures.',
      fields: [
        textReading('file', 'Name of the file'),
        numberReading('bytes', 'Size of the file', 'bytes', {
          limits: { least: 1, says: 'An empty file is no way back: save the settings again.' },
          optional: true,
        }),
      ],
    },
    {
      id: 'firmware',
      nature: restarting,
      phase: 'first contact',
      title: 'Bring the firmware to the chosen version, by cable',
      needs: ['backup-before'],
      entries: [
        entry(
          'Version wanted',
          kit?.firmware || 'the newest of the maker, downloaded before the visit',
          ['Firmware', 'Software', 'System upgrade'],
          kitField('firmware'),
        ),
      ],
      why: 'Known holes are closed before the router is connected to the internet. A file with a wrong checksum can make the router unusable.',
      lowSeconds: 120,
      highSeconds: 600,
      proof:
        'The full SHA-256 of the file equals the one its maker published, every digit; after the restart the status page shows the version.',
      ifNot:
        "Checksum differs: delete the file, do not load it. No answer after ten minutes: leave the power alone for ten more, then follow the equipment's own recovery.",
      cautions: ['Power and cable stay connected until it has restarted.'],
      fields: [
        textReading('found', 'Version found before', { optional: true }),
        textReading('version', 'Version shown after the restart', { at: kitField('firmware') }),
        hashReading('published', 'SHA-256 as published', { optional: true }),
        hashReading('computed', 'SHA-256 of the file', { optional: true }),
      ],
    },
    {
      id: 'remote-admin-off',
      nature: onPage,
      phase: 'first contact',
      title: 'Check that the admin page answers inside only',
      needs: ['firmware'],
      entries: [
        entry(
          'Administration from WAN',
          'off',
          ['Remote management', 'Remote administration', 'Web access from WAN'],
          '/router/services',
        ),
        entry('Automatic port opening', 'off', ['UPnP', 'NAT-PMP', 'PCP']),
      ],
      why: 'A management page on the internet is found within hours; automatic opening makes rules that no plan holds.',
      proof: 'Both show as off after saving.',
      fields: [choiceReading('off', 'After the page was loaded again', 'both are off', 'one is still on')],
      ifNot: 'If the switch is missing, forbid it in the firewall for inbound to the router itself.',
    },
  ];
}
