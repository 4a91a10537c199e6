import { asLine } from '../text.ts';
import type { SiteRecordDocument } from './record.ts';

/** Characters that begin or end something in Markdown (CommonMark 0.31 section 2.4) or a table cell. */
const special = /[\\`*_[\]<>#|~]/g;
const cell = (text: string): string => asLine(text).replace(special, '\\$&');

const row = (cells: readonly string[]): string => `| ${cells.map(cell).join(' | ')} |`;

/** The record as Markdown (CommonMark, with the tables of GFM section 4.10). */
export function recordMarkdown(record: SiteRecordDocument): string {
  const lines = [
    `# ${cell(record.title)}`,
    '',
    `Record of the edge router. ${record.says}${record.demo ? ' An invented site.' : ''}`,
    '',
    ...record.facts.map(([label, value]) => `- ${cell(label)}: ${cell(value)}`),
  ];
  for (const { title, headings, rows, none } of record.sections) {
    lines.push('', `## ${cell(title)}`, '');
    if (rows.length === 0) lines.push(none);
    else lines.push(row(headings), `|${headings.map(() => ' --- |').join('')}`, ...rows.map(row));
  }
  return `${lines.join('\n')}\n`;
}
