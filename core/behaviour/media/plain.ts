import { practice, step, worked } from '../../base/worked/worked.ts';
import type { MediumName } from '../../plan/schema.ts';
import type { Medium } from './type.ts';

/** A medium that has nothing of its own to enter or measure. */
const plain = <Name extends MediumName>(
  name: Name,
  own: Pick<Medium, 'usualFailures' | 'inFront' | 'offered' | 'inText'>,
): Medium<Name> => ({
  ...own,
  name,
  light: 'The light of the WAN port is on: the cable is good as far as the next socket.',
  check: () => [],
  workings: () => [],
  steps: () => [],
});

export const unknownMedium = plain('unknown', {
  usualFailures: [4, 6],
  inFront: 'none',
});
export const ethernet = plain('ethernet', {
  usualFailures: [3, 4],
  offered: ['Ethernet hand-off', 'A port of the provider in the building.'],
  inFront: 'none',
  inText: [/\b(?:leased line|metro ethernet|ethernet (?:hand-?off|line|access|service|first mile))\b/gi],
});

/** What follows from whether the router in front can be bridged. */
const bridged = {
  yes: 'Have the one in front bridged: then describe it as bridged here.',
  no: 'The one in front stays a router: what must come in is opened there too, port by port; everything else works as it is.',
  unknown:
    'Bridge the one in front if its owner agrees; or open there what must come in, port by port; or, if nothing here needs rules of its own, use this router as a switch and access point instead, with its DHCP off and the cable in a LAN port.',
} as const;

export const behindRouter: Medium<'router'> = {
  ...plain('router', {
    usualFailures: [4, 4],
    offered: [
      "Behind another party's router",
      'Two translations; nothing answers from outside without its owner.',
    ],
    inFront: 'routes',
    inText: [
      /\b(?:behind (?:(?:\w+'s|the|an?|another|somebody else's|someone else's) )*(?:\w+(?:'s)? )?(?:router|network)|landlord'?s? (?:router|network|internet|wi-?fi)|shared building (?:network|internet)|landlord)\b/gi,
    ],
  }),
  check: (_settings, line) => {
    const translations = line.translators.length + 1;
    if (!line.box?.routes)
      return [
        {
          rule: 'router-not-described',
          severity: 'warning',
          at: `${line.at}/handoff/mode`,
          says: `${line.name} comes from another router, but the hand-off does not describe it: enter the router in front and its LAN subnet, or overlaps with it cannot be found.`,
          why: worked(
            'Device in front',
            'not described',
            '',
            [step('in front', line.handoff.mode)],
            practice,
          ),
          source: practice,
        },
      ];
    return [
      {
        rule: 'behind-router',
        severity: 'advice',
        at: `${line.at}/handoff/canBridge`,
        says: `${translations} translations are between the inside of ${line.name} and the internet. ${bridged[line.handoff.canBridge]}`,
        why: worked(
          'Translations between inside and internet',
          translations,
          '',
          [
            step('this router', 1),
            step('in front', line.translators.length),
            step('translations', translations),
          ],
          'RFC 3022 section 2.2',
        ),
        source: 'RFC 3022 section 2.2',
      },
    ];
  },
};
