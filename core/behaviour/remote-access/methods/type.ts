import type { WayName } from '../../../plan/schema.ts';
import type { Line, Site } from '../../../site/model.ts';
import type { Peer } from '../../../site/vpn.ts';
import type { Entry } from '../../domain-types/step.ts';

export type MethodName = Exclude<WayName, 'none'>;

/** What the ranking looks at: the site with some of its lines down. */
export interface Situation {
  readonly site: Site;
  /** Lines that are up. */
  readonly lines: readonly Line[];
  /** The one on which connections from outside arrive. */
  readonly line: Line | undefined;
  /** Whether that is known: it depends on an address that somebody has to note. */
  readonly known: boolean;
  /** How connections from outside arrive, or why they do not, in a sentence. */
  readonly inbound: string;
  /** The address stays, or a name follows it. */
  readonly lasting: boolean;
}

export interface Fit {
  readonly fits: boolean;
  readonly known: boolean;
  /** Higher is better; a sum of points (common practice, no source). */
  readonly score: number;
  readonly reasons: readonly string[];
}

/** A method of remote access: how well it fits a site, what is entered on the router and on the device. */
export interface Method {
  readonly name: MethodName;
  /** What has to be on the device: an app of its own, what systems have built in, or nothing. */
  readonly client: 'app' | 'built-in' | 'nothing';
  /** The router waits for connections from outside. */
  readonly listens: boolean;
  /** Clients are configured on the router itself, with keys or certificates of the site. */
  readonly ownServer: boolean;
  readonly fit: (situation: Situation) => Fit;
  /** Values to enter on the router; none where nothing is entered there. */
  readonly entries: (site: Site) => readonly Entry[];
  /** How it comes onto the device of a peer. `host` is the endpoint, or words that stand for it. */
  readonly install: (peer: Peer, host: string) => readonly string[];
}

/** Where the installer has to do it together with the person. */
export const together = (): readonly string[] => ['The installer sets the device up with you.'];
