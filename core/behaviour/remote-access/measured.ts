import type { Site } from '../../site/model.ts';
import type { Worked } from '../../base/worked/worked.ts';
import { tunnelMtu } from './interface.ts';
import { speedVerdict, speedWorked } from './speed.ts';

/** What the tunnel of this site can give a client in one direction, and what was measured beside it. */
export function speedOf(site: Site, direction: 'down' | 'up'): Worked[] {
  const { vpn } = site;
  const { endpoints } = vpn;
  const line = endpoints[0]?.line ?? site.lines[0];
  const down = direction === 'down';
  const here = down ? line?.rateUpMbps : line?.rateDownMbps;
  if (here === null || here === undefined || vpn.clientDownMbps === null) return [];
  const bound = speedWorked({
    senderUpMbps: down ? here : vpn.clientDownMbps,
    receiverDownMbps: down ? vpn.clientDownMbps : here,
    mtuBytes: tunnelMtu(site),
    encryptionMbps: vpn.encryptionMbps ?? undefined,
    roundTripMs: vpn.roundTripMs ?? undefined,
  });
  const runs = vpn.runs.filter((run) => run.direction === direction).flatMap(({ mbps }) => mbps ?? []);
  const verdict = speedVerdict(runs, bound);
  return verdict ? [verdict, bound] : [bound];
}
