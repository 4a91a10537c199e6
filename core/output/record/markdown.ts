import { markdown, type Code } from '../../base/encode/index.ts';
import type { SiteRecordDocument } from './record.ts';

const row = (cells: readonly string[]): Code<'markdown'> => markdown`| ${markdown.joined(cells, ' | ')} |`;

/** The record as Markdown (CommonMark, with the tables of GFM section 4.10). */
export function recordMarkdown(record: SiteRecordDocument): string {
  return markdown.lines(
    markdown`# ${record.title}`,
    markdown``,
    markdown`Record of the edge router. ${record.says}${record.demo ? ' An invented site.' : ''}`,
    markdown``,
    record.facts.map(([label, value]) => markdown`- ${label}: ${value}`),
    record.sections.flatMap(({ title, headings, rows, none }) => [
      markdown``,
      markdown`## ${title}`,
      markdown``,
      ...(rows.length === 0
        ? [markdown`${none}`]
        : [
            row(headings),
            markdown`|${markdown.joined(
              headings.map(() => markdown`--- |`),
              '',
            )}`,
            ...rows.map(row),
          ]),
    ]),
    markdown``,
  ).text;
}
