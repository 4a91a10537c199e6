import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import { practice, step, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** Words of names that say what a network is for (common practice, no source). */
const words: readonly (readonly [RegExp, 'guests' | 'payment' | 'cameras' | 'voice'])[] = [
  [/\b(?:guests?|visitors?|public|hotspot)\b/i, 'guests'],
  [/\b(?:tills?|pos|cards?|payments?)\b/i, 'payment'],
  [/\b(?:cameras?|cctv|video)\b/i, 'cameras'],
  [/\b(?:voice|voip|phones?|telephones?)\b/i, 'voice'],
];

/** A network without a purpose is judged by nothing: where its name says one, that is asked. */
export const purpose: Check = {
  name: 'purpose',
  run: ({ networks }) =>
    networks.flatMap(({ at, name, purpose: entered, unnamed }): Finding[] => {
      if (entered !== 'other' || unnamed) return [];
      const found = words.find(([pattern]) => pattern.test(name))?.[1];
      return found
        ? [
            note(
              'purpose-open',
              'advice',
              `${at}/purpose`,
              `The purpose of ${name} is "other", so almost nothing is expected. Its name says ${found}: choose the purpose, to check traffic against it.`,
              worked('Purpose', 'other', '', [step('name', name), step('its name says', found)], practice),
              replacing(`It is for ${found}`, `${at}/purpose`, found),
            ),
          ]
        : [];
    }),
};
