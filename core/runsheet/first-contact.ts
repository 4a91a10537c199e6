import type { Site } from '../site/model.ts';
import type { AdminPlace } from './admin-place.ts';
import { entry, secretEntry, type StepDraft } from '../terms/step.ts';

/** From a box as it comes to a box that is ours: secret first, backup before firmware, firmware by cable. */
export function firstContact(site: Site, place: AdminPlace): StepDraft[] {
  const { kit, factoryDhcp: automatic } = site.router;
  const kitAt = kit?.at ?? '/kit';
  const factory = place.factory ?? 'the address on its label';
  return [
    {
      id: 'laptop',
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
      proof: `The laptop has an address beside ${factory}; wireless is off.`,
      ifNot:
        'An address that begins with 169.254 means that nobody answered: wait for the boot to end (one to two minutes), try another LAN port, then set the fixed address.',
    },
    {
      id: 'first-login',
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
      ],
      why: 'All that follows is entered here.',
      proof: 'The status page opens.',
      ifNot:
        'Certificate warning: expected on a new router with its own certificate, and only here, by cable. Secret refused: reset to new state (hold 15 to 20 seconds), wait two minutes, try the one on the label.',
    },
    {
      id: 'admin-secret',
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
      ifNot: 'If the new one is refused, reset to new state and begin again: nothing is lost yet.',
    },
    {
      id: 'backup-before',
      phase: 'first contact',
      title: 'Save the settings before the firmware changes',
      needs: ['admin-secret'],
      why: 'If the update fails there is a way back.',
      proof: 'A file of more than zero bytes is on the laptop.',
      ifNot: 'No backup function: note the pages that differ from new, as pictures.',
      reading: 'Name of the file',
    },
    {
      id: 'firmware',
      phase: 'first contact',
      title: 'Bring the firmware to the chosen version, by cable',
      needs: ['backup-before'],
      entries: [
        entry(
          'Version wanted',
          kit?.firmware || 'the newest of the maker, downloaded before the visit',
          ['Firmware', 'Software', 'System upgrade'],
          `${kitAt}/firmware`,
        ),
      ],
      why: 'Known holes are closed before the router is connected to the internet. A file with a wrong checksum can make the router unusable.',
      lowSeconds: 120,
      highSeconds: 600,
      proof:
        'The full SHA-256 of the file equals the one its maker published, every digit; after the restart the status page shows the version.',
      ifNot:
        "Checksum differs: delete the file, do not load it. No answer after ten minutes: leave the power alone for ten more, then follow the equipment's own recovery.",
      cautions: ['Power and cable stay in until it has restarted by itself.'],
      reading: 'Checksum compared (full), version shown',
    },
    {
      id: 'remote-admin-off',
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
      ifNot: 'If the switch is missing, forbid it in the firewall for inbound to the router itself.',
    },
  ];
}
