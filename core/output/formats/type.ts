import type { Plan } from '../../plan/schema.ts';
import type { SiteRecordDocument } from '../record/record.ts';
import type { Site } from '../../site/model.ts';
import type { Secrets } from '../../behaviour/remote-access/interface.ts';
import type { Peer } from '../../site/vpn.ts';

/** What files of a site are made from. */
export interface Sources {
  readonly plan: Plan;
  readonly site: Site;
  readonly siteId: string;
  /** Number of the saved revision; undefined where the plan comes from a file. */
  readonly revision: number | undefined;
  /** ISO 8601 date. */
  readonly day: string;
  /** When the file is made, ISO 8601 in UTC. */
  readonly stampedAt: string;
  /** Made only where a format needs it. */
  readonly record: () => SiteRecordDocument;
}

/** What is the same of every file: its kind, and what it is for. */
interface File {
  readonly says: string;
  /** IANA media type. */
  readonly mediaType: string;
}

/** A file of the whole site. */
export interface SiteFormat extends File {
  readonly fileName: (sources: Sources) => string;
  readonly write: (sources: Sources) => string;
}

/** Several files of the whole site that belong together, by their names in one folder. */
export interface FolderFormat {
  readonly says: string;
  readonly write: (sources: Sources) => ReadonlyMap<string, string>;
}

/** A file for one client of the remote access. */
export interface PeerFormat extends File {
  readonly fileName: (peer: Peer) => string;
  /** Without secrets their places hold the names under which the vault keeps them. */
  readonly write: (site: Site, peer: Peer, secrets?: Secrets) => string;
}

/** The name of a site in a file name that every desktop takes. */
export const siteFileName = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .toLowerCase() || 'site';
