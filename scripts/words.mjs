import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './steps.mjs';

/** Words that no text on a screen, in a file or in a terminal uses: docs/words.md says which, and what to say. */
const page = readFileSync(join(root, 'docs', 'words.md'), 'utf8');
const rows = page.slice(page.indexOf('## Never in a text')).matchAll(/^\| ([^|-][^|]*?) +\| ([^|]*?) +\|$/gm);
export const never = [...rows].slice(1).map(([, word, say]) => ({ word, say }));
const pattern = new RegExp(`\\b(?:${never.map(({ word }) => word).join('|')})\\b`, 'i');

/** The first such word of a text, with what to say, or undefined. */
export function neverSaid(text) {
  const found = pattern.exec(text)?.[0].toLowerCase();
  return found === undefined ? undefined : never.find(({ word }) => word === found);
}

/** A text that is read has blanks; a key, a class or a path has none. A pattern for what people write is no text. */
const isRead = (text) => /\S\s+\S/.test(text);

/** The rule for ESLint. */
export const wordsRule = {
  meta: { type: 'problem', schema: [] },
  create(context) {
    const look = (node, text) => {
      const found = typeof text === 'string' && isRead(text) ? neverSaid(text) : undefined;
      if (found)
        context.report({
          node,
          message: `"${found.word}": say ${found.say} ("Never in a text", docs/words.md).`,
        });
    };
    return {
      Literal: (node) => look(node, node.value),
      TemplateElement: (node) => look(node, node.value.cooked),
      JSXText: (node) => look(node, node.value),
    };
  },
};
