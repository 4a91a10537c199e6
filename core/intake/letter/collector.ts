import type { Address } from '../../base/net/address.ts';
import type { PreparedRow } from './prepared.ts';
import type { Brief, Facts, FoundSecret, LineFacts, Mark, NetworkFacts, Purpose, Said } from './facts.ts';

/** An address with its length that a text gives a line. */
export interface Assigned {
  readonly address: Address;
  readonly length: number;
  readonly from: string;
}

/** A line as sentences name it. */
export function lineName(line: LineFacts): string {
  const medium = line.medium?.value;
  if (medium === undefined || medium === 'unknown') return line.backup ? 'the backup line' : 'the line';
  return medium === 'router' ? "the line behind another party's router" : `the ${medium} line`;
}

/** Gathers what is understood while a text is read from top to bottom: facts, marks, secrets, and what is spoken of. */
export class Collector {
  readonly facts: Facts = {
    site: {},
    contacts: [],
    lines: [],
    networks: [],
    devices: [],
    boxes: [],
    switches: [],
    wifi: [],
    rooms: [],
    remote: [],
    outside: [],
    opened: [],
  };
  readonly secrets: FoundSecret[] = [];
  /** What is to be kept with the first line, read before there was one. */
  readonly looseNotes: Said<string>[] = [];
  /** The line of the site that the text is speaking of. */
  current: LineFacts | undefined;
  /** A heading "Backup" that no line has taken yet. */
  backupPending = false;
  /** Words that stand alone in the row above: the label of what follows. */
  label = '';
  /** The row corrects what was read before. */
  corrects = false;
  /** Row of the text that is read, from 1. */
  row = 0;
  readonly #rows: readonly string[];
  readonly #prepared: readonly PreparedRow[];
  /** Addresses with their length that a text gives a line, in its order. */
  readonly #assigned = new Map<LineFacts, Assigned[]>();
  /** By the row. */
  readonly #marks = new Map<number, Mark[]>();
  readonly #usedRows = new Set<number>();

  constructor(rows: readonly string[], prepared: readonly PreparedRow[]) {
    this.#rows = rows;
    this.#prepared = prepared;
  }

  /** Marks a stretch of the row as understood; the first that marks it is right. */
  mark(at: { readonly start: number; readonly end: number }, says: string, secret = false): void {
    this.markTyped(this.#prepared[this.row - 1]!.typed(at), says, { secret });
  }

  /** The same for a stretch of the row as it was typed. */
  markTyped(
    at: { readonly start: number; readonly end: number },
    says: string,
    more: { readonly secret?: boolean; readonly void?: boolean } = {},
  ): void {
    const ofRow = this.#marks.get(this.row) ?? [];
    this.#marks.set(this.row, ofRow);
    if (ofRow.some((each) => !(at.end <= each.start || at.start >= each.end))) return;
    ofRow.push({
      line: this.row,
      start: at.start,
      end: at.end,
      says,
      ...(more.secret && { secret: true }),
      ...(more.void && { void: true }),
    });
  }

  /** A secret of what does not hold: nothing opens with it, and it is kept like any other. */
  hide(at: { readonly start: number; readonly end: number }, value: string): void {
    const says = 'a secret of what does not hold';
    this.secrets.push({ value: this.asTyped(value, at.start), says, kind: 'other' });
    this.mark(at, says, true);
  }

  /** A name or a secret as it was typed: what was read of the row may be a translation. */
  asTyped(value: string, from = 0): string {
    const prepared = this.#prepared[this.row - 1]!;
    const start = prepared.whole.indexOf(value, from);
    if (start < 0) return value;
    const at = prepared.typed({ start, end: start + value.length });
    return this.#rows[this.row - 1]!.slice(at.start, at.end);
  }

  /** The row names what stands in others. */
  useRow(): void {
    this.#usedRows.add(this.row);
  }

  /** The row above is the label, or the head of the table, of this one. */
  useRowAbove(): void {
    this.#usedRows.add(this.row - 1);
  }

  /** The row as it was typed. */
  get typedRow(): string {
    return this.#rows[this.row - 1]?.trim() ?? '';
  }

  /** Where the row that is read stands, in a sentence; never with a secret in it. */
  from(): string {
    const text = this.typedRow;
    const read = this.#prepared[this.row - 1]?.text ?? '';
    const quote =
      /pass|\bpin\b|puk|psk|key|pwd/i.test(`${text} ${read}`) || text.length > 80 ? '' : `: "${text}"`;
    return `From the text, line ${this.row}${quote}.`;
  }

  said = <T>(value: T): Said<T> => ({ value, from: this.from() });

  /** A further line of the site. */
  newLine(key: string): LineFacts {
    const taken = this.facts.lines.some((each) => each.key === key);
    const line: LineFacts = {
      key: taken ? `${key} ${this.facts.lines.length + 1}` : key,
      backup: this.backupPending,
      notes: [],
    };
    this.backupPending = false;
    this.facts.lines.push(line);
    return line;
  }

  /** An address with its length that is the line's, or is routed to it. */
  assign(line: LineFacts, address: Address, length: number): void {
    this.#assigned.set(line, [...this.assignedTo(line), { address, length, from: this.from() }]);
  }

  assignedTo = (line: LineFacts): readonly Assigned[] => this.#assigned.get(line) ?? [];

  /** The line that a fact belongs to; a fact without a line begins one. */
  line(): LineFacts {
    this.current ??= this.backupPending
      ? this.newLine('backup')
      : (this.facts.lines[0] ?? this.newLine('line'));
    return this.current;
  }

  /** The cellular line, for what only such a line has. */
  cellularLine(): LineFacts {
    const open = this.current && !this.current.medium ? this.current : undefined;
    const known = this.facts.lines.filter(({ medium }) => medium?.value === 'cellular');
    this.current =
      (known.includes(this.current!) ? this.current : known[0]) ?? open ?? this.newLine('cellular');
    this.current!.medium ??= this.said('cellular' as const);
    return this.current!;
  }

  /** The network of a name, or the one of its purpose. */
  network(purpose: Purpose, name: string): NetworkFacts {
    const key = name.toLowerCase();
    const known = this.facts.networks.find(
      (each) =>
        each.key === key || (each.purpose === purpose && !['other', 'staff', 'plant'].includes(purpose)),
    );
    if (known) return known;
    const network: NetworkFacts = { key, name: this.said(name.slice(0, 60)), purpose };
    this.facts.networks.push(network);
    return network;
  }

  brief(): Brief {
    const marks = [...this.#marks.values()].flat().sort((a, b) => a.line - b.line || a.start - b.start);
    const marked = new Set([...this.#usedRows, ...marks.map(({ line }) => line)]);
    const unused = this.#rows.flatMap((row, index) =>
      row.trim() !== '' && !marked.has(index + 1) ? [index + 1] : [],
    );
    return { facts: this.facts, marks, secrets: this.secrets, unused };
  }
}
