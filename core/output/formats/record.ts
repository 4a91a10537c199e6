import { recordMarkdown } from '../record/markdown.ts';
import { siteFileName, type SiteFormat } from './type.ts';

/** The as-built record for other programs. */
export const recordJson: SiteFormat = {
  says: 'The as-built record, JSON',
  mediaType: 'application/json',
  fileName: ({ site, day }) => `${siteFileName(site.about.name)}-record-${day}.json`,
  write: ({ record }) => `${JSON.stringify(record(), null, 2)}\n`,
};

/** The as-built record to be read and kept beside other papers. */
export const recordText: SiteFormat = {
  says: 'The as-built record, Markdown (CommonMark with tables)',
  mediaType: 'text/markdown',
  fileName: ({ site, day }) => `${siteFileName(site.about.name)}-record-${day}.md`,
  write: ({ record }) => recordMarkdown(record()),
};
