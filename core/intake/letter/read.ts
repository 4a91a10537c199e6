import { chooseSubnet } from './addresses.ts';
import { needs } from '../../wan-types/facts.ts';
import { asText, longestPasted } from '../../base/text.ts';
import { readBoxes } from './boxes.ts';
import { Collector } from './collector.ts';
import type { Brief, Facts } from './facts.ts';
import { readDeviceRow, readForwardRow, readNetworkRow, readTiedMac } from './lists.ts';
import { prepare } from './prepared.ts';
import { readProse } from './prose.ts';
import { isHead, partsOf, readRow, type Cell } from './row.ts';
import { valueTokens } from './tokens.ts';
import { readWifi } from './wifi.ts';
import { readSite } from './site-words.ts';

/** Longest row of a text that is looked at, and how many rows. */
const longestRow = 1000;
const mostRows = 2000;

/** Reads what somebody has of a site: a letter, an order, a list, a sentence. Nothing in it can make this fail. */
export function readBrief(text: string): Brief {
  const rows = asText(text.slice(0, longestPasted))
    .split('\n')
    .slice(0, mostRows)
    .map((row) => row.slice(0, longestRow).trimEnd());
  const prepared = prepare(rows);
  const collector = new Collector(rows, prepared);
  let head: readonly Cell[] | undefined;
  /** Cells of the row above. */
  let columns = 0;
  // What is quoted was written before what answers it.
  const inOrder = [...prepared.entries()].sort(
    ([, one], [, other]) => Number(one.quoted) - Number(other.quoted),
  );
  for (const [index, { text, whole, voids, corrects, labels }] of inOrder) {
    collector.row = index + 1;
    collector.corrects = corrects;
    if (labels) collector.useRow();
    if (voids.length > 0)
      for (const token of valueTokens(whole))
        if (token.kind === 'secret' && text.slice(token.start, token.end).trim() === '')
          collector.hide(token, token.value);
    for (const each of voids) collector.markTyped(each, each.says, { void: true });
    if (text.trim() === '') {
      collector.label = '';
      head = undefined;
      columns = 0;
      continue;
    }
    const left = readWifi(readBoxes(text, collector), collector);
    const row = readRow(left, head, collector.label);
    if (row.usesAbove || row.head) collector.useRowAbove();
    readSite(row, collector);
    readTiedMac(row, collector);
    for (const part of partsOf(row))
      if (
        !readDeviceRow(part, collector) &&
        !readForwardRow(part, collector) &&
        !readNetworkRow(part, collector)
      )
        readProse(part, collector);
    // What the next row has to know of this one: a head of columns, or a label that stands alone.
    // Labels with their values in two columns are no head: the row above had as many cells.
    if (
      row.cells.length >= 2 &&
      isHead(text) &&
      !/[:=]\s/.test(text) &&
      !(columns === 2 && row.cells.length === 2)
    )
      head = row.cells;
    else if (row.cells.length < 2) head = undefined;
    columns = row.cells.length;
    const alone = text.trim();
    collector.label =
      isHead(text) && alone.length <= 40 && row.cells.length === 1 ? alone.replace(/[:=]\s*$/, '') : '';
  }
  for (const line of collector.facts.lines) chooseSubnet(line, collector.assignedTo(line));
  settle(collector.facts);
  collector.facts.lines[0]?.notes.push(...collector.looseNotes);
  return collector.brief();
}

/** What only the whole text tells. */
function settle({ lines }: Facts): void {
  for (const line of lines) {
    const card = line.apn ?? line.cardNumber;
    if (card) line.medium ??= { value: 'cellular', from: card.from };
    const fixed = line.address ?? line.gateway ?? line.block ?? line.network;
    const dialled = (line.type && needs(line.type.value, 'userName')) || line.user !== undefined;
    if (fixed && !dialled && line.medium?.value !== 'cellular')
      line.type ??= { value: 'static', from: fixed.from };
    if (line.user && line.medium?.value !== 'cellular')
      line.type ??= { value: 'pppoe', from: line.user.from };
    if (line.medium?.value === 'router' && line.box) line.type ??= { value: 'dhcp', from: line.box.from };
  }
}
