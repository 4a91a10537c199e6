import type { At } from '../../plan/at.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { practice } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** Secrets that were typed where everybody reads them: into notes and answers, instead of the vault. */
export const secretsInNotes: Check = {
  name: 'secrets in notes',
  run: (site) =>
    textsOf(site).flatMap(({ at, of, text }): Finding[] => {
      const kind = text === '' ? undefined : secretIn(text);
      return kind === undefined
        ? []
        : [
            note(
              'secret-in-notes',
              'warning',
              at,
              `${of} hold ${kind}: they are printed on the record, leave with every copy of the plan, and stay in the history. Put it into the vault, take it out here, and change it: it has been read.`,
              { ...said('Found', kind), source: practice },
            ),
          ];
    }),
};

interface FreeText {
  readonly at: At;
  readonly of: string;
  readonly text: string;
}

/** Everything that is free text and printed. */
const textsOf = ({ about, lines, devices, kit }: Site): FreeText[] => [
  { at: '/site/notes', of: 'The notes of the site', text: about.notes },
  ...lines.flatMap(({ at, name, notes, answers }) => [
    { at: `${at}/notes` as const, of: `The notes of ${name}`, text: notes },
    ...answers.map(({ answer }) => ({
      at: `${at}/answers` as const,
      of: `The answers of the provider of ${name}`,
      text: answer,
    })),
  ]),
  ...devices.map(({ at, name, notes }) => ({
    at: `${at}/notes` as const,
    of: `The notes of ${name}`,
    text: notes,
  })),
  ...kit.map(({ at, model, role, notes }) => ({
    at: `${at}/notes` as const,
    of: `The notes of ${model || `the ${role}`}`,
    text: notes,
  })),
];

/** Words that follow "password" without being one. */
const about =
  /^(?:in|is|are|was|see|at|on|of|for|from|by|with|and|or|the|a|an|as|not|no|none|unknown|needed|required|changed?|kept|stored|sealed|vault|later|same|new|old|list|manager|policy|please|ask|asked|only|off|on|tries|left|letter|envelope|given|set|reset|known|to)\b/i;

const named: readonly (readonly [RegExp, string])[] = [
  [/-----BEGIN [A-Z ]*PRIVATE KEY-----/, 'a private key'],
  [/\b(?:private ?key|pre-?shared ?key|psk)\b\W{0,4}[A-Za-z0-9+/]{43}=/i, 'a key of a tunnel'],
];

/** A word for a secret, then what looks like one: after a colon or "is" anything, else something with a digit or sign. */
const labelled =
  /\b(pass(?:word|phrase|code|wd)?|pwd|pw|psk|wi-?fi key|wlan key|wpa2?|pin|puk|secret|login|credentials)\b\s*(?:(:|=|\bis\b)\s*)?(?:["'“])?([^\s"'”,;]{4,})/giu;

/** What kind of secret a text holds; undefined where it holds none. */
export function secretIn(text: string): string | undefined {
  for (const [pattern, kind] of named) if (pattern.test(text)) return kind;
  for (const [, word, told, value] of text.matchAll(labelled)) {
    if (about.test(value!) || /^[.:/)]/.test(value!)) continue;
    const numeric = /^(?:pin|puk)$/i.test(word!);
    if (numeric ? /^\d{4,8}\b/.test(value!) : told || /[\d!$%&*#@?+=^]/.test(value!))
      return numeric ? `a ${word!.toUpperCase()}` : 'a password';
  }
  return undefined;
}
