import { accessCsv } from './access-csv.ts';
import { calendar } from './calendar.ts';
import { linux } from './linux/index.ts';
import { planJson } from './plan-json.ts';
import { recordJson, recordText } from './record.ts';
import type { FolderFormat, PeerFormat, SiteFormat } from './type.ts';
import { wireguardProfile } from './wireguard.ts';

/** The registry of files of a site, by the name for `netter export --as`. A new one is a file beside these and one line here. */
export const siteFormats = {
  plan: planJson,
  'record-json': recordJson,
  'record-markdown': recordText,
  'access-csv': accessCsv,
  calendar,
} satisfies Record<string, SiteFormat>;

/** The same of folders with several files. */
export const folderFormats = { linux } satisfies Record<string, FolderFormat>;

/** The same of files for one client of the remote access. */
export const peerFormats = { wireguard: wireguardProfile } satisfies Record<string, PeerFormat>;

export type SiteFormatName = keyof typeof siteFormats;
export type FolderFormatName = keyof typeof folderFormats;
export type PeerFormatName = keyof typeof peerFormats;

export type { Sources } from './type.ts';
