import { capitalized } from '../../base/text.ts';
import type { LineFacts, Purpose } from './facts.ts';
import { labelledToken, valueTokens, type ValueToken } from './tokens.ts';
import * as words from './words.ts';

interface At {
  readonly start: number;
  readonly end: number;
}

export type WordToken = At & { readonly text: string } & (
    | { readonly kind: 'medium'; readonly medium: NonNullable<LineFacts['medium']>['value'] }
    | { readonly kind: 'type'; readonly type: NonNullable<LineFacts['type']>['value'] }
    | { readonly kind: 'backup' | 'main' | 'remote' }
    | { readonly kind: 'ordinal'; readonly number: 1 | 2 }
    | { readonly kind: 'network'; readonly purpose: Purpose; readonly name: string }
    | { readonly kind: 'device'; readonly what: string; readonly purpose: Purpose; readonly count: number }
    | { readonly kind: 'state'; readonly state: words.StateName }
  );

/** One row of a text: its values and words in their order, its clauses, its cells. */
export interface Row {
  readonly text: string;
  readonly values: readonly ValueToken[];
  readonly words: readonly WordToken[];
  readonly cells: readonly Cell[];
  /** A label or a head above the row gave one of its values a meaning. */
  readonly usesAbove: boolean;
  /** Head of the columns, where the row stands in a table with one. */
  readonly head: readonly Cell[] | undefined;
}

export interface Cell extends At {
  readonly text: string;
}

const all = (line: string, form: RegExp): RegExpExecArray[] => [...line.matchAll(form)];

/** Figure before a noun, or behind it: "two outdoor cameras", "3 x till", "cameras (4)". */
function countAt(line: string, { start, end }: At): number {
  const before = line.slice(0, start);
  const forms = [
    /(?:^|[^\w.])(\d{1,3})\s*(?:(?:x|×|pcs\.?|off)\s*)?$/i,
    /(?:^|[^\w.])(\d{1,3}) [a-z]+ $/i,
    /\b([a-z]+)\s+$/i,
    /\b([a-z]+)\s+[a-z-]+\s$/i,
  ];
  for (const form of forms) {
    const word = form.exec(before)?.[1]?.toLowerCase();
    const count = word === undefined ? undefined : (words.numberWords[word] ?? Number(word));
    if (count !== undefined && Number.isInteger(count)) return count;
  }
  const behind = /^\s*(?:\((\d{1,3})\)|[:=x×]\s*(\d{1,3})(?![\w:/]|\.\d))/.exec(line.slice(end));
  return Number(behind?.[1] ?? behind?.[2] ?? 1);
}

/** "no guests", "there is no colour printer", "without cameras": spoken of, and not there. */
const denied = (line: string, at: number): boolean =>
  /\b(?:no|not any|without(?: an?| any)?|neither|nor|never)\s+(?:[a-z-]{1,20}\s+)?$/i.test(line.slice(0, at));

/** "The old SDSL line": it is no line of the plan. */
const former = /\b(?:old|former|previous|no longer|replaces the)\s+(?:[\p{L}-]{1,20}\s+){0,2}$/iu;

/** The words of a row that say something; none lies on a value or on an earlier one. */
function wordTokens(line: string, values: readonly ValueToken[]): WordToken[] {
  const taken: WordToken[] = [];
  const put = (token: WordToken): void => {
    const lies = (each: At): boolean => !(token.end <= each.start || token.start >= each.end);
    if (!values.some(lies) && !taken.some(lies)) taken.push(token);
  };
  const span = (found: RegExpExecArray) => ({
    start: found.index,
    end: found.index + found[0].length,
    text: found[0],
  });
  for (const found of all(line, words.remoteWord)) put({ kind: 'remote', ...span(found) });
  for (const found of all(line, words.ordinalWord))
    put({ kind: 'ordinal', number: /1|first/i.test(found[1] ?? found[2]!) ? 1 : 2, ...span(found) });
  for (const [form, state] of words.stateWords)
    for (const found of all(line, form)) put({ kind: 'state', state, ...span(found) });
  for (const [form, what, purpose] of words.deviceWords)
    for (const found of all(line, form))
      // "VLAN 4 for TV" is a service, and no device.
      if (
        !denied(line, found.index) &&
        !/\bvlan(?: id)?:? ?\d{1,4} (?:is )?for (?:the )?$/i.test(line.slice(0, found.index))
      )
        put({ kind: 'device', what, purpose, count: countAt(line, span(found)), ...span(found) });
  for (const [form, purpose, name] of words.networkWords)
    for (const found of all(line, form))
      if (!denied(line, found.index)) put({ kind: 'network', purpose, name, ...span(found) });
  for (const [form, medium] of words.mediumWords)
    for (const found of all(line, form))
      if (!former.test(line.slice(0, found.index))) put({ kind: 'medium', medium, ...span(found) });
  for (const [form, type] of words.typeWords)
    for (const found of all(line, form)) put({ kind: 'type', type, ...span(found) });
  for (const found of all(line, words.backupWord)) put({ kind: 'backup', ...span(found) });
  for (const found of all(line, words.mainWord)) put({ kind: 'main', ...span(found) });
  return taken.sort((a, b) => a.start - b.start);
}

/** Cells of a row of a table, with where they stand; one cell where it is no table. */
function cellsOf(line: string): Cell[] {
  const commas = line.match(/,/g)?.length ?? 0;
  const parted = /\t/.test(line)
    ? /\t{1,40}/g
    : /\|/.test(line)
      ? /\|/g
      : /;.*;/.test(line)
        ? /;/g
        : commas >= 2 && !/,\s+\p{Ll}/u.test(line)
          ? /,/g
          : /\s{2,200}/g;
  const cells: Cell[] = [];
  let start = 0;
  for (const found of [...line.matchAll(parted), undefined]) {
    const end = found?.index ?? line.length;
    const raw = line.slice(start, end);
    const text = raw.trim();
    if (text !== '') {
      const from = start + raw.indexOf(text);
      cells.push({ text, start: from, end: from + text.length });
    }
    if (found) start = found.index + found[0].length;
  }
  return cells;
}

/** Words without a value: the head of a table, or a label that stands alone. */
export const isHead = (line: string): boolean => !/\d{2}|@/.test(line) && /\p{L}/u.test(line);

/** Reads one row; `head` and `label` are what stands above it. */
export function readRow(text: string, head: readonly Cell[] | undefined, label: string): Row {
  const cells = cellsOf(text);
  const own = valueTokens(text);
  const inTable = head && cells.length >= 2 && cells.length <= head.length ? head : undefined;
  const free = (cell: At): boolean => !own.some(({ start, end }) => start < cell.end && end > cell.start);
  const labels = inTable
    ? cells.map((cell, index) => [inTable[index]!.text, cell] as const)
    : label !== '' && !/[:=]/.test(text) && cells.length === 1
      ? [[label, cells[0]!] as const]
      : [];
  const more = labels.flatMap(([name, cell]) => {
    const token = free(cell) || !inTable ? labelledToken(name, cell.text, cell) : undefined;
    return token && !own.some(({ kind }) => kind === token.kind) ? [token] : [];
  });
  const values = [...(inTable ? own : more.length > 0 ? [] : own), ...more].sort((a, b) => a.start - b.start);
  return { text, values, words: wordTokens(text, values), cells, usesAbove: more.length > 0, head: inTable };
}

/** Where clauses of a row begin and end: at commas, semicolons, brackets, and between sentences. */
export function clausesOf(line: string): At[] {
  const cuts = [...line.matchAll(/[;()]|,(?=\s|$)|[.!?](?=\s+\p{Lu})|[.!?]\s*$|\s\|\s|\t/gu)].map(
    ({ index }) => index,
  );
  return [...cuts, line.length].map((end, index) => ({ start: index === 0 ? 0 : cuts[index - 1]! + 1, end }));
}

/** A row that names several subnets, clause by clause; a row of a table and every other one is whole. */
export function partsOf(row: Row): readonly Row[] {
  const subnets = row.values.filter((token) => token.kind === 'address' && token.length !== undefined);
  if (subnets.length < 2 || row.head) return [row];
  return clausesOf(row.text).map(({ start, end }) => {
    const inside = (at: At): boolean => at.start >= start && at.end <= end;
    return {
      ...row,
      text: ' '.repeat(start) + row.text.slice(start, end),
      values: row.values.filter(inside),
      words: row.words.filter(inside),
      cells: row.cells.filter(inside),
    };
  });
}

/** Words before a value, back to the value before it; the head of its column, or the row above, where there are none. */
export function labelBefore(row: Row, token: At, above: string): string {
  const before = row.values.filter(({ end }) => end <= token.start).at(-1);
  const own = row.text.slice(before?.end ?? 0, token.start);
  // "198.51.100.53 and 198.51.100.54": one label for both.
  if (before && /^[\s,;/+&]{0,9}(?:and|or|then|plus|as well as)[\s,;:]{0,9}$/i.test(own))
    return labelBefore(row, before, above);
  if (/\p{L}/u.test(own)) return own;
  const cell = row.cells.findIndex(({ start, end }) => start <= token.start && end >= token.end);
  const column = row.head?.[cell]?.text ?? '';
  if (column !== '') return column;
  return before ? labelBefore(row, before, above) : above;
}

/** What is left of a row without its values: a name, four words at most. */
export function nameOf({ text, values, cells, head }: Row): string {
  const named =
    head?.findIndex((cell) => /^(?:name|device|host ?name|description|what)/i.test(cell.text)) ?? -1;
  if (named >= 0 && cells[named] && /\p{L}/u.test(cells[named].text)) return cells[named].text.slice(0, 60);
  let rest = text;
  for (const { start, end } of [...values].reverse()) rest = `${rest.slice(0, start)}\t${rest.slice(end)}`;
  return rest
    .replace(
      /\b(?:v-?lan|subnet|network|lan|mac|ip|gw|pool|ipv4|address|name|host(?:name)?|reserved|reservation|static|dynamic|dhcp|lease[ds]?|fixed|id|type|device|port|tcp|udp|forward(?:ed|s)?|gateway|router|mask|to|on|at|is|has|from|the|active|online|enabled?|keep|stays?|existing|current|old|as|with|dev|lladdr|reachable|stale|ether|eth\d|br\S*)\b|[:;,|=()[\]"'#*•→>?-]/gi,
      ' ',
    )
    .split(/[\s\t]+/)
    .filter((word) => /\p{L}/u.test(word) || /^\d{1,2}$/.test(word))
    .slice(0, 4)
    .join(' ')
    .replace(/^\d+ /, '')
    .trim();
}

/** The purpose that a name tells. */
export function purposeOf(name: string): Purpose {
  const fits = (form: RegExp): boolean => new RegExp(form.source, 'i').test(name);
  return (
    words.networkWords.find(([form]) => fits(form))?.[1] ??
    words.deviceWords.find(([form]) => fits(form))?.[2] ??
    'other'
  );
}

export const tradeName = (word: string): string => capitalized(word.replace(/'s$/, ''));
