import type { Exchange } from './languages/index.ts';
import { choicesIn, rolesOf } from './languages/labels.ts';
import type { Role } from './languages/lexicon.ts';
import { addressLike, hasRate, hasVolume, looksLikeMask } from './tokens.ts';
import { backupWord, mainWord, mediumWords, ordinalWord, typeWords } from './words.ts';

/*
 * Forms, tables, lists and columns set a label beside, above or at the head of a value in many ways. All of them are
 * read as one: the label in English, a colon, the value. A label counts only where its value has the shape of what it
 * names, so that a heading, a sentence or a person's name stays what it is.
 */

interface Cell {
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

export interface FormRow {
  readonly exchanges: readonly Exchange[];
  /** Names and secrets: no word in them is translated. */
  readonly asTyped: readonly { readonly start: number; readonly end: number }[];
  /** It only names what stands below it. */
  readonly labels: boolean;
}

/** What the readers call each role. */
const english: Readonly<Record<Role, string>> = {
  password: 'password',
  pin: 'SIM PIN',
  apn: 'APN',
  aftr: 'AFTR',
  mtu: 'MTU',
  vlan: 'VLAN ID',
  priority: 'VLAN priority',
  dns1: 'primary DNS server',
  dns2: 'secondary DNS server',
  dns: 'DNS servers',
  mask: 'subnet mask',
  gateway: 'gateway',
  down: 'download',
  up: 'upload',
  rate: 'bandwidth',
  cap: 'data allowance',
  userName: 'user name',
  type: 'WAN type',
  medium: 'medium',
  address: 'IP address',
  key: 'Wi-Fi key',
  leave: '',
  foreign: '',
};

const word = /^["'“„«]?[^\s"“”„«»]{2,128}["'”“»]?$/;
const phrase = /^[\p{L}\d'-]{2,20}(?: [\p{L}\d'-]{2,20}){2,9}$/u;
/** Stars, lines and dots where a value would stand. */
const placeholder = /^(?:[x*._•●\-–—?#]{2,}|n\/?a|tbd|tba|none|-)$/i;
const named = (value: string): boolean =>
  word.test(value) && !placeholder.test(value) && /[\p{L}\d]/u.test(value);
/** A label of something else is no name and no password. */
const isLabel = (value: string): boolean => !/\d/.test(value) && rolesOf(value).length > 0;

/** "PIN of the SIM" and "PPPoE user" name something else than a medium or a type. */
const isOther = (value: string): boolean =>
  rolesOf(value).some((role) => !['type', 'medium', 'address', 'rate', 'down', 'up', 'leave'].includes(role));

const has = (words: readonly (readonly [RegExp, string])[], value: string): boolean =>
  words.some(([form]) => value.search(form) >= 0);

const saysElsewhere = (value: string): boolean =>
  choicesIn('change', value).some(({ text }) => text === 'elsewhere');

/** Whether a value has the shape of what its label names. */
function fits(role: Role, label: string, value: string): boolean {
  switch (role) {
    case 'password':
      // Several words are a passphrase, where none says that it comes by another way.
      return (named(value) || phrase.test(value)) && !saysElsewhere(value) && !isLabel(value);
    case 'userName':
      return named(value) && value.length >= 3 && !isLabel(value);
    case 'pin':
      return /^\d{4,8}$/.test(value);
    case 'apn':
      return /^[a-z0-9][\w.-]{1,99}$/i.test(value) && !isLabel(value);
    case 'aftr':
      return /^[\w-]+(?:\.[\w-]+)+$/.test(value) || addressLike(value);
    case 'mtu':
      return /^\d{3,4}(?!\d)/.test(value);
    case 'vlan':
      return /^(?:(?:id|tag|vlan)\s?)?\d{1,4}(?![\d.:/])/i.test(value);
    case 'priority':
      return /^[0-7]\b/.test(value);
    case 'dns':
    case 'dns1':
    case 'dns2':
    case 'gateway':
    case 'address':
      return addressLike(value);
    case 'mask':
      return looksLikeMask(value);
    case 'down':
    case 'up':
    case 'rate':
      return hasRate(value) || (/^\d[\d.,/ ]*$/.test(value) && hasRate(`1 ${unitOf(label) ?? '-'}`));
    case 'cap':
      return hasVolume(value) || (/^\d[\d.,]*$/.test(value) && hasVolume(`1 ${unitOf(label) ?? '-'}`));
    case 'type':
      return !isOther(value) && (choicesIn(role, value).length > 0 || has(typeWords, value));
    case 'medium':
      return !isOther(value) && (choicesIn(role, value).length > 0 || has(mediumWords, value));
    case 'key':
    case 'leave':
    case 'foreign':
      return true;
  }
}

/** "Download (Mbit/s)", "Data volume in GB": the label has the unit. */
const unitOf = (label: string): string | undefined =>
  /[([]\s?([kMGT][\w/]{1,7})\s?[)\]]|\sin\s([kMGT][\w/]{1,7})$/.exec(label)?.slice(1).find(Boolean);

/** A sentence names nothing, and is no value. */
const isSentence = (text: string): boolean =>
  /[.!?]$/.test(text) ? /\s\S+\s/.test(text) : /\p{L}{4}[.!?]\s+\p{Lu}/u.test(text);

/** "Line 2", "Primary connection": it says of which line what follows is. */
const isHeading = (label: string): boolean =>
  [ordinalWord, backupWord, mainWord].some((form) => label.search(form) >= 0);

const roleOf = (label: string, value: string): Role | undefined =>
  label.length <= 48 && value !== '' && !isHeading(label) && !isSentence(label) && !isSentence(value)
    ? rolesOf(label).find((role) => fits(role, label, value))
    : undefined;

const leaders = /\s?\.{3,200}\s?|\s?(?:\. ){3,99}\.?\s?|\s?…{1,99}\s?|\s?_{3,200}\s?|\s{2,200}/g;
const listMark = /^[\s>|]*(?:(?:[*•·▪‣–—-]|\d{1,2}[.)])\s+)?/;

/** Cells of a row with where they stand; an empty one counts where a sign parts them. */
function cellsOf(row: string): Cell[] {
  const from = listMark.exec(row)![0].length;
  const body = row.slice(from).replace(/(?<![\s|])[\s|]{1,999}$/, '');
  if (body.trim() === '') return [];
  // A semicolon parts cells only where nothing else does: "198.51.100.53; 198.51.100.54" is one value.
  const sign = /\t/.test(body)
    ? /\t{1,40}/g
    : /\|/.test(body)
      ? /\|/g
      : /;/.test(body) && !/:\s|\s{2}|\.{3}|[^;]{49}/.test(body)
        ? /;/g
        : undefined;
  const cells: Cell[] = [];
  let start = 0;
  for (const found of [...body.matchAll(sign ?? leaders), undefined]) {
    const raw = body.slice(start, found?.index ?? body.length);
    const text = raw.trim();
    const at = from + start + (text === '' ? 0 : raw.indexOf(text));
    if (text !== '' || sign) cells.push({ text, start: at, end: at + text.length });
    if (found) start = found.index + found[0].length;
  }
  return cells;
}

const parted = /^(.{2,48}?)\s?(?:[:=：]|\s[-–—]\s|\s(?=\/\d{1,2}$))(.*)$/u;

/** "Label: value" within a cell; the value is empty where it stands in the next one. */
function within(cell: Cell): { label: Cell; value: Cell } | undefined {
  const found = parted.exec(cell.text);
  if (!found || /\d{3}|@|https?$/.test(found[1]!)) return undefined;
  const value = found[2]!.trim();
  const start = value === '' ? cell.end : cell.start + cell.text.lastIndexOf(value);
  return {
    label: { text: found[1]!, start: cell.start, end: cell.start + found[1]!.length },
    value: { text: value, start, end: cell.end },
  };
}

/** Several labels with their values in one cell: "VLAN: 7, MTU: 1492". */
function partsOf(cell: Cell): Cell[] {
  const parts: Cell[] = [];
  let start = 0;
  for (const found of [
    ...cell.text.matchAll(/(?:[,;]\s+|\s[-–·•/]\s)(?=\p{L}[^:=,;]{1,40}[:=]\s?\S)/gu),
    undefined,
  ]) {
    const end = found?.index ?? cell.text.length;
    parts.push({ text: cell.text.slice(start, end), start: cell.start + start, end: cell.start + end });
    if (found) start = found.index + found[0].length;
  }
  return parts;
}

/** "Password: comes by post": nothing that stands there is one. */
const elsewhere = (label: string, value: Cell): boolean =>
  /\s/.test(value.text) &&
  !/^["“„]|[:=]|(?=\S{0,60}\d)(?=\S{0,60}[\p{L}!#%&*+?@^~])\S{5}/u.test(value.text) &&
  rolesOf(label)[0] === 'password' &&
  saysElsewhere(value.text);

/** What a label says that a secret opens; undefined where it names none. */
function secretOf(label: string): 'line' | 'Wi-Fi' | 'other' | undefined {
  const found = rolesOf(label);
  const elsewhere = found.includes('leave') || found.includes('foreign');
  const password = found.includes('password');
  if (password && !elsewhere) return 'line';
  if (found.includes('key') || (password && /wi-?fi|wlan|wireless/i.test(label))) return 'Wi-Fi';
  return password || (elsewhere && found.includes('pin')) ? 'other' : undefined;
}

/** The secret of a value: a word, a passphrase, or the first of several words where it has the shape of one. */
function secretIn(value: Cell): Cell | undefined {
  if (named(value.text) || phrase.test(value.text))
    return saysElsewhere(value.text) || isLabel(value.text) ? undefined : value;
  const [first] = value.text.split(/\s/);
  const text = first!.replace(/[),.;]{1,3}$/, '');
  return looksSecret.test(text) ? { text, start: value.start, end: value.start + text.length } : undefined;
}
const looksSecret = /^(?=\S{0,99}\d)(?=\S{0,99}[\p{L}!#%&*+?^~])\S{5,128}$/u;

/** What a label names that is read here: other readers know the labels of the rest, and need them where they stand. */
const namesHere = (label: string): boolean => {
  const found = rolesOf(label);
  if (secretOf(label) !== undefined) return true;
  return found[0] !== 'leave' && found.some((role) => role !== 'foreign');
};

const keptAsTyped: ReadonlySet<Role> = new Set(['password', 'userName', 'apn', 'aftr', 'pin']);

class Form {
  readonly rows: { exchanges: Exchange[]; asTyped: { start: number; end: number }[]; labels: boolean }[];
  constructor(count: number) {
    this.rows = Array.from({ length: count }, () => ({ exchanges: [], asTyped: [], labels: false }));
  }

  /** What is read in place of a label and what stands between it and its value; false where it names nothing. */
  pair(row: number, label: string, from: number, value: Cell): boolean {
    const into = this.rows[row]!;
    const both = /^(\S{3,128})(\s?[/|;,]\s{1,3})(\S{3,128})$/.exec(value.text);
    if (both && rolesOf(label)[0] === 'password' && rolesOf(label).includes('userName')) {
      // "User name / password: lind62 / Zk-15002"
      const name = value.start + both[1]!.length;
      const second = name + both[2]!.length;
      into.exchanges.push({ start: from, end: value.start, text: `${english.userName}: ` });
      into.exchanges.push({ start: name, end: second, text: `; ${english.password}: ` });
      into.asTyped.push({ start: value.start, end: name }, { start: second, end: value.end });
      return true;
    }
    const opens = isSentence(label) ? undefined : secretOf(label);
    if (opens) {
      const secret = secretIn(value);
      if (secret) this.secret(row, from, secret, opens);
      // "Password: comes by post": nothing that stands there is one.
      else if (elsewhere(label, value)) into.exchanges.push({ start: from, end: value.end, text: ' ' });
      return secret !== undefined || elsewhere(label, value);
    }
    const role = roleOf(label, value.text);
    if (role === undefined || role === 'leave' || role === 'key') return false;
    if (role === 'foreign') {
      // What its label would be taken for is no fact of the line.
      const taken = rolesOf(label).some((each) => each !== 'foreign');
      if (taken) into.exchanges.push({ start: from, end: value.end, text: ' ' });
      return taken;
    }
    into.exchanges.push({ start: from, end: value.start, text: `${english[role]}: ` });
    if (keptAsTyped.has(role)) into.asTyped.push({ start: value.start, end: value.end });
    if (role === 'type' || role === 'medium')
      for (const each of choicesIn(role, value.text))
        into.exchanges.push({
          start: value.start + each.start,
          end: value.start + each.end,
          text: each.text,
        });
    const unit = /^\d[\d.,/ ]*$/.test(value.text) ? unitOf(label) : undefined;
    if (unit !== undefined && (role === 'down' || role === 'up' || role === 'rate' || role === 'cap'))
      into.exchanges.push({ start: value.end, end: value.end, text: ` ${unit}` });
    return true;
  }

  /** A secret, and what it opens; several words are one. */
  secret(row: number, from: number, value: Cell, opens: 'line' | 'Wi-Fi' | 'other'): void {
    const into = this.rows[row]!;
    const label = { line: english.password, 'Wi-Fi': english.key, other: `other ${english.password}` }[opens];
    const quote = phrase.test(value.text) ? '"' : '';
    into.exchanges.push({ start: from, end: value.start, text: `; ${label}: ${quote}` });
    if (quote !== '') into.exchanges.push({ start: value.end, end: value.end, text: quote });
    into.asTyped.push({ start: value.start, end: value.end });
  }

  /** A semicolon between two cells of a table is no part of either. */
  cut(row: number, text: string, from: number, to = from): void {
    const at = text.slice(from, to).indexOf(';');
    if (at >= 0) this.rows[row]!.exchanges.push({ start: from + at, end: from + at + 1, text: '\t' });
  }

  /** A row that only names what others hold. */
  name(row: number, text: string): void {
    this.rows[row]!.exchanges.push({ start: 0, end: text.length, text: ' ' });
    this.rows[row]!.labels = true;
  }
}

/** Columns of devices, networks and forwards have readers of their own. */
const ofLists =
  /^(?:name|device|host(?: ?name)?|mac|mac address|network|ssid|ports?|(?:inside|outside|from|to) ports?|room|place|subnet|lease|description)$/i;
const rule = /^[\s|:+=-]*$/;

/** Reads which rows are forms; what is none has no exchanges. */
export function formsOf(rows: readonly string[]): readonly FormRow[] {
  const form = new Form(rows.length);
  const cells = rows.map(cellsOf);
  for (let row = 0; row < rows.length; row += 1) {
    const below =
      linesOver(row, rows, cells, form) ||
      changesOver(row, rows, cells, form) ||
      headOver(row, rows, cells, form) ||
      stackOver(row, rows, cells, form);
    if (below > 0) {
      row += below;
      continue;
    }
    const own = cells[row]!;
    for (let at = 0; at < own.length; at += 1) {
      const next = own[at + 1];
      const parts = partsOf(own[at]!);
      const inside = within(parts.at(-1)!);
      if (parts.length === 1 && next && (inside === undefined || inside.value.text === '')) {
        const label = inside?.label.text ?? own[at]!.text;
        if (!within(next) && form.pair(row, label, own[at]!.start, next)) {
          at += 1;
          continue;
        }
      }
      for (const part of parts) {
        const pair = within(part);
        if (pair) form.pair(row, pair.label.text, part.start, pair.value);
      }
    }
  }
  return form.rows;
}

/** A head of lines ("Line 1 | Line 2", "Main line | Backup") over rows that begin with a label. */
function linesOver(row: number, rows: readonly string[], cells: readonly Cell[][], form: Form): number {
  const head = cells[row]!.filter(({ text }) => text !== '');
  const lines = isHeading(head[0]?.text ?? '') ? head : head.slice(1);
  if (lines.length !== 2 || !lines.every(({ text }) => isHeading(text) && !/[:=]/.test(text))) return 0;
  let taken = 0;
  for (let at = row + 1; at < rows.length; at += 1) {
    const [label, ...values] = cells[at]!;
    if (rule.test(rows[at]!) && rows[at]!.trim() !== '') {
      taken += 1;
      continue;
    }
    if (!label || values.length !== 2) break;
    if (!namesHere(label.text)) {
      if (rolesOf(label.text).length === 0) break;
      taken += 1;
      continue;
    }
    form.rows[at]!.exchanges.push({ start: label.start, end: label.end, text: ' ' });
    values.forEach((value, index) => {
      if (value.text === '' || placeholder.test(value.text)) return;
      form.rows[at]!.exchanges.push({ start: value.start, end: value.start, text: `; line ${index + 1}, ` });
      form.pair(at, label.text, value.start, value);
    });
    taken += 1;
  }
  if (taken > 0) form.name(row, rows[row]!);
  return taken;
}

/** A head "old | new" over rows that begin with a label: what was is blanked. */
function changesOver(row: number, rows: readonly string[], cells: readonly Cell[][], form: Form): number {
  const head = cells[row]!;
  const old = head.findIndex(({ text }) => choicesIn('change', text)[0]?.text === 'old');
  const now = head.findIndex(({ text }) => choicesIn('change', text)[0]?.text === 'new');
  if (head.length > 3 || old < 0 || now < 0) return 0;
  let taken = 0;
  for (let at = row + 1; at < rows.length; at += 1) {
    const own = cells[at]!;
    const rest = own.length - head.length;
    if (rule.test(rows[at]!) && rows[at]!.trim() !== '') {
      taken += 1;
      continue;
    }
    const label = own[0];
    const value = own[now + rest];
    const was = own[old + rest];
    if (!label || !value || !was || value === label || was === label) break;
    if (namesHere(label.text) && form.pair(at, label.text, value.start, value)) {
      form.rows[at]!.exchanges.push({ start: label.start, end: label.end, text: ' ' });
      const secret = rolesOf(label.text)[0] === 'pin' || secretOf(label.text) !== undefined;
      if (secret && named(was.text)) form.secret(at, was.start, was, 'other');
      else form.rows[at]!.exchanges.push({ start: was.start, end: was.end, text: ' ' });
    }
    taken += 1;
  }
  if (taken > 0) form.name(row, rows[row]!);
  return taken;
}

/** A head of labels over rows of values; how many rows below the head were taken. */
function headOver(row: number, rows: readonly string[], cells: readonly Cell[][], form: Form): number {
  const head = cells[row]!;
  if (head.length < 2 || head.some(({ text }) => ofLists.test(text)) || /\d{2}|@/.test(rows[row]!)) return 0;
  if (head.some(({ text }) => rolesOf(text)[0] === 'leave' && !namesHere(text))) return 0;
  if (head.filter(({ text }) => namesHere(text)).length < 2) return 0;
  // "Addressing | fixed IP address": every second cell is the value of the one before.
  const alternating = head.every(({ text }, at) => {
    const role = roleOf(text, head[at + 1]?.text ?? '');
    return at % 2 === 1 || (role !== undefined && !['key', 'leave', 'foreign'].includes(role));
  });
  if (alternating) return 0;
  let taken = 0;
  for (let at = row + 1; at < rows.length; at += 1) {
    if (rule.test(rows[at]!) && rows[at]!.trim() !== '') {
      taken += 1;
      continue;
    }
    const values = cells[at]!;
    if (values.length !== head.length) break;
    const fitting = values.filter((value, column) =>
      secretOf(head[column]!.text) ? secretIn(value) : roleOf(head[column]!.text, value.text),
    );
    const open = values.filter(
      (value, column) =>
        value.text === '' || placeholder.test(value.text) || elsewhere(head[column]!.text, value),
    );
    if (fitting.length === 0 || fitting.length + open.length < 2) break;
    values.forEach((value, column) => {
      form.pair(at, head[column]!.text, value.start, value);
      form.cut(at, rows[at]!, value.end, values[column + 1]?.start);
    });
    taken += 1;
  }
  if (taken === 0) return 0;
  form.name(row, rows[row]!);
  return taken;
}

/** One label, or several, each alone in its row, over as many values. */
function stackOver(row: number, rows: readonly string[], cells: readonly Cell[][], form: Form): number {
  const labelAt = (at: number): string | undefined => {
    const own = cells[at];
    if (own?.length !== 1) return undefined;
    const pair = within(own[0]!);
    if (pair && pair.value.text !== '') return undefined;
    const label = pair?.label.text ?? own[0]!.text;
    if (isSentence(label) || /\d{2}/.test(label) || isHeading(label)) return undefined;
    return namesHere(label) ? label : undefined;
  };
  const labels: string[] = [];
  for (
    let label = labelAt(row);
    label !== undefined && labels.length < 40;
    label = labelAt(row + labels.length)
  )
    labels.push(label);
  const [below] = cells[row + 1] ?? [];
  if (labels.length > 0 && below && cells[row + 1]!.length === 1 && elsewhere(labels[0]!, below)) {
    form.pair(row + 1, labels[0]!, below.start, below);
    form.name(row, rows[row]!);
    return 1;
  }
  for (let count = labels.length; count > 0; count -= 1) {
    const values = labels.slice(0, count).map((_, index) => {
      const own = cells[row + count + index];
      return own?.length === 1 ? own[0] : undefined;
    });
    const all = values.every((value, index) => {
      if (!value || within(value)) return false;
      return secretOf(labels[index]!) ? secretIn(value) : roleOf(labels[index]!, value.text);
    });
    if (!all) continue;
    values.forEach((value, index) => {
      form.pair(row + count + index, labels[index]!, value!.start, value!);
      form.name(row + index, rows[row + index]!);
    });
    return 2 * count - 1;
  }
  return 0;
}
