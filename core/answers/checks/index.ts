import { severityOrder, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { byCatalogue } from './by-catalogue/index.ts';
import { accessDates } from './access-dates.ts';
import { complete } from './complete.ts';
import { devices } from './devices.ts';
import { carried } from './carried.ts';
import { classes } from './classes.ts';
import { noDhcp } from './no-dhcp.ts';
import { place } from './place.ts';
import { purpose } from './purpose.ts';
import { commonSubnets } from './common-subnets.ts';
import { forwardDates } from './forward-dates.ts';
import { leases } from './leases.ts';
import { papers } from './paperwork-conflicts.ts';
import { routerFacts } from './router-facts.ts';
import { secretsInNotes } from './secrets-in-notes.ts';
import { shares } from './shares.ts';
import { timers } from './timers.ts';
import { expectations } from './expectations.ts';
import { exposed } from './exposed.ts';
import { probeTargets } from './probe-targets.ts';
import { falseAlarmRates } from './false-alarms.ts';
import { people } from './people.ts';
import { promises } from './promises.ts';
import { limits } from './limits.ts';
import { lineSubnets } from './line-subnets.ts';
import { backupMtu } from './backup-mtu.ts';
import { dnsFailover } from './dns-failover.ts';
import { inboundBackup } from './inbound-backup.ts';
import { fixedAddress } from './fixed-address.ts';
import { sharedCause } from './shared-cause.ts';
import { backupData } from './backup-data.ts';
import { supply } from './supply.ts';
import { switchingBack } from './switching-back.ts';
import { form } from './form.ts';
import { forwardCollision } from './forward-collision.ts';
import { forwardReach } from './forward-reach.ts';
import { forwardTarget } from './forward-target.ts';
import { insideBlock } from './inside-subnet.ts';
import { joinedSites } from './site-to-site.ts';
import { kit } from './kit.ts';
import { lines } from './lines.ts';
import { names } from './names.ts';
import { wifi } from './wifi.ts';
import { wiring } from './wiring.ts';
import { overlap } from './overlap.ts';
import { policyRules } from './policy-rules.ts';
import { pool } from './pool.ts';
import { ports } from './ports.ts';
import { resolvers } from './dns-servers.ts';
import { routes } from './routes.ts';
import { second } from './second.ts';
import { separation } from './separation.ts';
import { services } from './services.ts';
import { shadowed } from './shadowed.ts';
import { heldTwice } from './uniqueness.ts';
import { vpnPeople } from './vpn-people.ts';
import { vpnTunnel } from './vpn-tunnel.ts';
import { vpnWay } from './vpn-way.ts';

/** The registry of checks. A new check is one file and one line here. */
export const checks: readonly Check[] = [
  complete,
  people,
  place,
  form,
  overlap,
  insideBlock,
  pool,
  leases,
  noDhcp,
  classes,
  purpose,
  commonSubnets,
  heldTwice,
  resolvers,
  devices,
  services,
  forwardTarget,
  forwardCollision,
  forwardReach,
  exposed,
  forwardDates,
  routerFacts,
  lines,
  papers,
  carried,
  timers,
  shares,
  probeTargets,
  falseAlarmRates,
  policyRules,
  promises,
  lineSubnets,
  backupMtu,
  dnsFailover,
  inboundBackup,
  fixedAddress,
  sharedCause,
  backupData,
  switchingBack,
  vpnWay,
  vpnTunnel,
  vpnPeople,
  joinedSites,
  accessDates,
  ports,
  wiring,
  wifi,
  second,
  routes,
  separation,
  shadowed,
  expectations,
  names,
  secretsInNotes,
  limits,
  supply,
  kit,
];

/** Whether something is said about a field; about a row, whether something is said about any field of it. */
function speaks(spoken: ReadonlySet<string>, at: string): boolean {
  if (spoken.has(at)) return true;
  if (!/\/\d+$/.test(at)) return false;
  for (const each of spoken) if (each.startsWith(`${at}/`)) return true;
  return false;
}

/**
 * Everything that is wrong with a site, gravest first, in the order of the plan within one severity.
 * @param today ISO 8601 date; without it nothing is said about what ended or ends soon
 */
export function runChecks(site: Site, today = ''): Finding[] {
  const found: Finding[] = [];
  const spoken = new Set<string>();
  for (const check of checks)
    for (const each of check.run(site, today)) {
      found.push(each);
      spoken.add(each.at);
    }
  for (const law of byCatalogue)
    for (const each of law.run(site, today)) {
      if (!speaks(spoken, each.at)) found.push(each);
      spoken.add(each.at);
    }
  return found.sort((a, b) => severityOrder[a.severity] - severityOrder[b.severity]);
}
