import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';
import { describe } from '../core/plan/field.ts';
import { tally, type Counts } from '../core/testing/letters/tally.ts';
import { byCatalogue } from '../core/answers/checks/by-catalogue/index.ts';
import { catalogue, type PlacedField } from '../core/plan/places.ts';

const root = fileURLToPath(new URL('..', import.meta.url));

/** A cell of a Markdown table. */
const cell = (text: string): string => text.replaceAll('|', '\\|').replaceAll(/\s+/g, ' ').trim();
const table = (heads: readonly string[], rows: readonly (readonly string[])[]): string =>
  [heads, heads.map(() => '---'), ...rows].map((row) => `| ${row.map(cell).join(' | ')} |`).join('\n');

/** What a field may hold, in a few words. */
function holds({ field }: PlacedField): string {
  switch (field.kind) {
    case 'number':
      return `${field.whole ? 'whole number' : 'number'}, ${field.least} to ${field.most}`;
    case 'choice':
      return `one of ${field.choices.map(([value]) => `\`${value}\``).join(', ')}`;
    case 'choices':
      return `some of ${field.choices.map(([value]) => `\`${value}\``).join(', ')}`;
    case 'switch':
      return '`true` or `false`';
    case 'reference':
      return `id in \`${field.to}\``;
    case 'references':
      return `ids in \`${field.to}\``;
    case 'rows':
      return `list, ${field.most} rows at most`;
    case 'notes':
      return `text of several lines, ${field.longest} characters at most`;
    default:
      return `text, ${field.longest} characters at most`;
  }
}

/** Every field of a plan, from the catalogue. */
function fieldTable(): string {
  return table(
    ['Place', 'Term', 'Holds', 'What it is', 'Decides', 'Also called'],
    catalogue().map((each) => [
      `\`${each.at}\``,
      each.field.term,
      holds(each),
      describe(each.field),
      each.field.kind === 'rows' ? '' : each.decides,
      each.field.alsoCalled.join(', '),
    ]),
  );
}

interface Said {
  readonly code: string;
  readonly severity: string;
  readonly says: string;
  readonly file: string;
}

/** A literal of the source in words: what is filled in at run time is "…". Several where a condition chooses. */
function literals(node: ts.Expression | undefined): string[] {
  if (!node) return [];
  if (ts.isStringLiteralLike(node)) return [node.text];
  if (ts.isTemplateExpression(node))
    return [node.head.text + node.templateSpans.map(({ literal }) => `…${literal.text}`).join('')];
  if (ts.isConditionalExpression(node)) return [...literals(node.whenTrue), ...literals(node.whenFalse)];
  if (ts.isAsExpression(node) || ts.isParenthesizedExpression(node)) return literals(node.expression);
  return [];
}

const sourceFiles = (): string[] =>
  ts.sys
    .readDirectory(join(root, 'core'), ['.ts'])
    .filter((path) => !/\.test\.ts$|[\\/]testing[\\/]/.test(path))
    .sort();
const nameOf = (path: string): string => path.slice(root.length).replaceAll('\\', '/');
const parsed = (path: string): ts.SourceFile =>
  ts.createSourceFile(path, readFileSync(path, 'utf8'), ts.ScriptTarget.Latest, true);

/** A figure whose source is memory, or the habit of the trade. */
interface Unsourced {
  readonly name: string;
  readonly value: string;
  readonly says: string;
  readonly file: string;
}

const unsourced = /from memory|no source(?! but)/;
const plain = (comment: string): string =>
  comment
    .replaceAll(/^\/\*\*?|\*\/$|^\s*\* ?|^\/\/ ?/gm, ' ')
    .replaceAll(/\s+/g, ' ')
    .trim();

/** Declarations and properties whose comment says that nothing outside stands behind them. */
function unsourcedInSource(): Unsourced[] {
  const found: Unsourced[] = [];
  for (const path of sourceFiles()) {
    const source = parsed(path);
    const text = source.getFullText();
    const seen = new Set<number>();
    const visit = (node: ts.Node): void => {
      for (const range of ts.getLeadingCommentRanges(text, node.getFullStart()) ?? []) {
        const says = text.slice(range.pos, range.end);
        if (seen.has(range.pos) || !unsourced.test(says)) continue;
        seen.add(range.pos);
        const code = node.getText(source).replaceAll(/\s+/g, ' ');
        const [, name = '', value = ''] =
          /^(?:export )?(?:const |function |readonly |interface )?([\w.'-]+)(?:: [^=]*?)?(?: = |: )?(.*)$/.exec(
            code,
          ) ?? [];
        found.push({
          name,
          value: /^[-\d[({'"]/.test(value) && value.length <= 60 ? value.replace(/;$/, '') : '',
          says: plain(says),
          file: nameOf(path),
        });
      }
      ts.forEachChild(node, visit);
    };
    visit(source);
  }
  return found;
}

/** Every figure that rests on memory or on the habit of the trade: what to look up first when one is doubted. */
function constantsPage(): string {
  const usual = catalogue().flatMap(({ at, field }) =>
    field.kind === 'number' && field.usual
      ? [[`\`${at}\``, field.term, `${field.usual.value} ${field.unit}`.trim(), field.usual.source]]
      : [],
  );
  const seldom = catalogue().flatMap(({ at, field }) =>
    field.kind === 'number' && field.seldomOutside
      ? [
          [
            `\`${at}\``,
            field.term,
            `${field.seldomOutside.join(' to ')} ${field.unit}`.trim(),
            'common practice, no source',
          ],
        ]
      : [],
  );
  return `# Figures that nothing outside stands behind

Made by \`npm run reference\` from the source. What a standard or a handbook says is named beside the figure in the code; these rest on memory or on the habit of the trade, and are the first to look up when a result is doubted.

## Usual values of fields

${table(['Field', 'Term', 'Usual', 'Source'], usual)}

## Usual ranges of fields

A figure outside is asked about: a unit was exchanged, or a digit is one too many.

${table(['Field', 'Term', 'Usual', 'Source'], seldom)}

## In the code

${table(
  ['Name', 'Value', 'What it is', 'Where'],
  unsourcedInSource().map(({ name, value, says, file }) => [
    `\`${name}\``,
    value === '' ? '' : `\`${value}\``,
    says,
    `\`${file}\``,
  ]),
)}
`;
}

const isCode = (text: string): boolean => /^[a-z0-9]+(?:-[a-z0-9…]+)*$|^…-[a-z-]+$/.test(text);
const severities = ['blocker', 'warning', 'advice'];

/** Rules of findings and codes of refusals, as they stand in the source of the core. */
function saidInSource(): { rules: Said[]; codes: Said[] } {
  const rules: Said[] = [];
  const codes: Said[] = [];
  for (const path of sourceFiles()) {
    const file = nameOf(path);
    const source = parsed(path);
    const add = (list: Said[], names: string[], severity: string[], says: string[]): void => {
      names.filter(isCode).forEach((code, index) => {
        list.push({ code, severity: severity.join(' or '), says: says[index] ?? says[0] ?? '', file });
      });
    };
    const visit = (node: ts.Node): void => {
      if (ts.isObjectLiteralExpression(node)) {
        const property = (name: string): ts.Expression | undefined =>
          node.properties.find(
            (each): each is ts.PropertyAssignment =>
              ts.isPropertyAssignment(each) && each.name.getText() === name,
          )?.initializer;
        const names = literals(property('rule'));
        if (names.length > 0) add(rules, names, literals(property('severity')), literals(property('says')));
      }
      if (ts.isCallExpression(node)) {
        const [first, second, third, fourth] = node.arguments;
        const name = node.expression.getText();
        if (name === 'bad') add(codes, literals(first), [], literals(second));
        else if (severities.includes(literals(second)[0] ?? ''))
          add(rules, literals(first), literals(second), literals(fourth ?? third));
        else if (severities.includes(literals(first)[0] ?? ''))
          add(rules, literals(second), literals(first), literals(third));
        else if (name === 'aboutField')
          add(rules, literals(third), literals(fourth), literals(node.arguments[4]));
        else if (name === 'add' && isCode(literals(second)[0] ?? '') && literals(third).length > 0)
          add(rules, literals(second), [], literals(third));
      }
      ts.forEachChild(node, visit);
    };
    visit(source);
  }
  return { rules, codes };
}

const once = (list: readonly Said[]): Said[] =>
  [...new Map(list.map((each) => [`${each.code} ${each.file} ${each.says}`, each])).values()].sort(
    (a, b) => a.code.localeCompare(b.code, 'en') || a.file.localeCompare(b.file, 'en'),
  );

function rulesPage(): string {
  const { rules, codes } = saidInSource();
  return `# Rules and error codes

Made by \`npm run reference\` from the source; "…" is filled in at run time.

## Rules of findings

${table(
  ['Rule', 'Severity', 'What is said', 'Where'],
  once(rules).map(({ code, severity, says, file }) => [`\`${code}\``, severity, says, `\`${file}\``]),
)}

## Laws over the catalogue

Each holds for every field of a kind; where a rule above speaks of the same field, that one is heard. A row of a list is written \`*\`.

${table(
  ['Law', 'Fields', 'Which'],
  byCatalogue.map(({ name, covers }) => [
    name,
    String(covers.length),
    covers.length > 60 ? 'as docs/plan-format.md lists them' : covers.map((at) => `\`${at}\``).join(', '),
  ]),
)}

## Error codes

What cannot be read or done is refused with a code, a sentence, and the place of the value (\`at\`).

${table(
  ['Code', 'What is said', 'Where'],
  once(codes).map(({ code, says, file }) => [`\`${code}\``, says, `\`${file}\``]),
)}
`;
}

const [begin, end] = ['<!-- prettier-ignore-start -->', '<!-- prettier-ignore-end -->'];

/** The generated pages: their paths in the repository, and their texts. */
/** How letters that are written from facts are read: shares by language, layout and fact. */
function readingPage(): string {
  const letters = 420;
  const { all, by } = tally(letters);
  const row = (name: string, { right, missed, wrong }: Counts): string[] => {
    const count = right + missed + wrong;
    return [name, String(count), ...[right, missed, wrong].map((each) => ((100 * each) / count).toFixed(1))];
  };
  const part = (kind: string): string =>
    table(
      [kind, 'Facts', 'Right, %', 'Missed, %', 'Wrong, %'],
      [...by]
        .filter(([key]) => key.startsWith(`${kind}: `))
        .map(([key, counts]) => row(key.slice(kind.length + 2), counts))
        .sort(([one], [other]) => (one! < other! ? -1 : 1)),
    );
  return `# How letters are read

Written by \`npm run reference\`. ${letters} letters are written from facts that were drawn (core/testing/letters: words and layouts of its own, with prices, dates, telephone numbers, other services, cancelled orders and corrections around them), and read by core/intake/letter. A fact that was read and that nobody wrote is wrong. \`npm test\` fails under 95 % right or over 0.3 % wrong.

Of ${all.right + all.missed + all.wrong} facts ${all.right} were read, ${all.missed} missed, ${all.wrong} read wrong.

${part('language')}

${part('layout')}

${part('fact')}
`;
}

export function generatedPages(): { path: string; text: string }[] {
  const format = readFileSync(join(root, 'docs/plan-format.md'), 'utf8');
  const [before = '', rest = ''] = format.split(begin);
  const after = rest.split(end)[1] ?? '\n';
  return [
    { path: 'docs/plan-format.md', text: `${before}${begin}\n\n${fieldTable()}\n\n${end}${after}` },
    { path: 'docs/rules.md', text: rulesPage() },
    { path: 'docs/constants.md', text: constantsPage() },
    { path: 'docs/reading.md', text: readingPage() },
  ];
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  for (const { path, text } of generatedPages()) writeFileSync(join(root, path), text);
