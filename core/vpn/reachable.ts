import type { Line, Site } from '../site/model.ts';

/** The first line on which a connection can be opened from outside while these lines are down. */
export const reachable = (site: Site, down: ReadonlySet<string>): Line | undefined =>
  site.lines.find((line) => !down.has(line.id) && (line.inbound === 'direct' || line.inbound === 'by-box'));
