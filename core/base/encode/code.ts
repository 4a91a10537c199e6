/*
 * Text reaches a file of another language only through that language's template: shell`ping ${host}`. What is between
 * the braces is encoded for it; what is written as code stays code. A writer answers `Code` of its language and not a
 * string, so that a text put in without the template does not compile.
 */

/** A piece of a language. Made by that language's template only. */
export class Code<Language extends string> {
  /** Tells one language from another, in types only. */
  declare private readonly language: Language;
  readonly text: string;

  constructor(text: string) {
    this.text = text;
  }
}

/** What may stand between the braces: a text, which is encoded, a number, or code of the same language. */
export type Part<Language extends string> = string | number | Code<Language>;

export interface Template<Language extends string> {
  (strings: TemplateStringsArray, ...parts: readonly Part<Language>[]): Code<Language>;
  /** Pieces, one a line. */
  readonly lines: (...pieces: readonly (Code<Language> | readonly Code<Language>[])[]) => Code<Language>;
  /** Pieces with something of the language between them. */
  readonly joined: (pieces: readonly Part<Language>[], between: string) => Code<Language>;
}

/** The template of a language, from how it writes a text as one value. */
export function template<Language extends string>(encode: (text: string) => string): Template<Language> {
  const one = (part: Part<Language>): string =>
    part instanceof Code ? part.text : typeof part === 'number' ? String(part) : encode(part);
  return Object.assign(
    (strings: TemplateStringsArray, ...parts: readonly Part<Language>[]): Code<Language> =>
      new Code(
        strings
          .map((text: string | undefined, index) => {
            if (text === undefined) throw new SyntaxError(`No such escape in ${strings.raw[index]}`);
            return text + (index < parts.length ? one(parts[index]!) : '');
          })
          .join(''),
      ),
    {
      lines: (...pieces: readonly (Code<Language> | readonly Code<Language>[])[]): Code<Language> =>
        new Code(
          pieces
            .flat()
            .map((piece) => piece.text)
            .join('\n'),
        ),
      joined: (pieces: readonly Part<Language>[], between: string): Code<Language> =>
        new Code(pieces.map(one).join(between)),
    },
  );
}
