import { bound, type BoundStage, type StageName } from '../core/behaviour/router/decision.ts';
import { policy, policyTable } from '../core/behaviour/router/policy.ts';
import { decide, type Router } from '../core/behaviour/router/router.ts';
import { forwardSchema, type Plan } from '../core/plan/schema.ts';
import type { Site } from '../core/site/model.ts';
import { demoPlan } from '../core/testing/plans.ts';
import type { WrongFile } from './compare.ts';
import type { Mistake } from './readings.ts';

/* Mistakes that are made on purpose: whatever compares readings, stages and kernel has to find each of them. */

const leftOut =
  (name: StageName) =>
  (router: Router): Router =>
    withStages(router, ({ stages }) => stages.filter((stage) => stage.name !== name));

/** The same router with other stages: each decides on what the one before has left. */
function withStages(router: Router, change: (router: Router) => readonly BoundStage[]): Router {
  const stages = change(router);
  return { ...router, stages, decide: (ingress, header) => decide(stages, ingress, header) };
}

const replaced =
  (name: StageName, change: (stage: BoundStage) => BoundStage) =>
  (router: Router): Router =>
    withStages(router, ({ stages }) => stages.map((stage) => (stage.name === name ? change(stage) : stage)));

/** The same stages by the way on which mistakes come in: it makes none itself. */
export const noMistake = (router: Router): Router => withStages(router, ({ stages }) => stages);

/** What the plan is taken to say, and should not. */
export const misreadings: Readonly<Record<string, (site: Site) => Site>> = {
  'a rule about one service is a rule about every service': (site) => ({
    ...site,
    reach: site.reach.map((rule) => ({ ...rule, protocols: undefined, ports: undefined })),
  }),
  'a rule that refuses is one that allows': (site) => ({
    ...site,
    reach: site.reach.map((rule) => ({ ...rule, action: 'allow' as const })),
  }),
  'the last rule that fits decides': (site) => ({ ...site, reach: [...site.reach].reverse() }),
  'a range of ports ends one port early': (site) => ({
    ...site,
    reach: site.reach.map((rule) => ({
      ...rule,
      ports: rule.ports && { ...rule.ports, last: Math.max(rule.ports.first, rule.ports.last - 1) },
    })),
    forwards: site.forwards.map((forward) => ({
      ...forward,
      outside: forward.outside && {
        ...forward.outside,
        last: Math.max(forward.outside.first, forward.outside.last - 1),
      },
    })),
  }),
  'every source may use every forward': (site) => ({
    ...site,
    forwards: site.forwards.map((forward) => ({
      ...forward,
      allowed: { kind: 'everybody' as const, says: 'everybody' },
    })),
  }),
  'a forward takes TCP and UDP, whatever it says': (site) => ({
    ...site,
    forwards: site.forwards.map((forward) => ({ ...forward, protocol: 'both' as const })),
  }),
  'every network is connected with another site': (site) => ({
    ...site,
    vpn: { ...site.vpn, sites: site.vpn.sites.map((far) => ({ ...far, networks: site.networks })) },
  }),
  'a grant of one device is a grant of its network': (site) => ({
    ...site,
    vpn: {
      ...site.vpn,
      peers: site.vpn.peers.map((peer) => ({
        ...peer,
        group: peer.group && {
          ...peer.group,
          grants: peer.group.grants.map((grant) => ({ ...grant, device: undefined, service: undefined })),
        },
      })),
    },
  }),
  'every service of the router answers to every network': (site) => ({
    ...site,
    services: site.services.map((service) => ({ ...service, inside: 'all' as const })),
  }),
  'a rule about one network and its line is about all of them': (site) => ({
    ...site,
    failover: {
      ...site.failover,
      rules: site.failover.rules.map((rule) => ({ ...rule, network: undefined })),
    },
  }),
  'every line translates': (site) => {
    for (const line of site.lines) Object.assign(line, { sourceNat: true });
    return site;
  },
};

/** What the stages do, and should not. */
export const wrongStages: Readonly<Record<string, (router: Router, site: Site) => Router>> = {
  'no stage checks sources': leftOut('source check'),
  'no stage refuses': leftOut('policy'),
  'no stage translates on the way out': leftOut('source NAT'),
  'no stage follows rules about lines': leftOut('failover'),
  'nothing is for the router itself': leftOut('router itself'),
  'no forward is looked for': leftOut('destination NAT'),
  'rules of the plan are not looked at, only the defaults': (router, site) =>
    replaced('policy', () => bound(policy(policyTable({ ...site, reach: [] }))))(router),
};

export const mistakeOf = (
  site: ((site: Site) => Site) | undefined,
  router: ((router: Router, site: Site) => Router) | undefined,
  sound: Site,
): Mistake => ({ ...(site && { site }), ...(router && { router: (whole: Router) => router(whole, sound) }) });

/** A site on which every row of the files matters to somebody. */
export function plantedPlan(): Plan {
  const plan = demoPlan('farrow-sound');
  plan.forwards.push(
    forwardSchema.parse({
      id: 'open',
      purpose: 'Open to all',
      uplink: 'fibre',
      device: plan.forwards[0]!.device,
      protocol: 'udp',
      insidePorts: '7000',
      outsidePorts: '7000-7003',
    }),
  );
  plan.router.hairpin = 'yes';
  return plan;
}

const without =
  (pattern: RegExp) =>
  (text: string): string =>
    text
      .split('\n')
      .filter((line) => !pattern.test(line))
      .join('\n');

/** What the exported files say, and should not. */
export const wrongFiles: Readonly<Record<string, WrongFile>> = {
  'no source is checked on lines': {
    file: 'netter.nft',
    change: without(/iifname "wan\d+" ip6? saddr .* drop$/),
  },
  'no source is checked on networks': {
    file: 'netter.nft',
    change: without(/iifname "lan\d+" ip6? saddr != .* drop$/),
  },
  'one network reaches the others': {
    file: 'netter.nft',
    change: (text) => text.replace(/(chain forward \{\n[^\n]*\n)/, '$1    iifname "lan3" accept\n'),
  },
  'nothing is translated on the way out': { file: 'netter.nft', change: without(/masquerade/) },
  'a forward leads one port too far': {
    file: 'netter.nft',
    change: (text) =>
      text.replace(/(dnat ip to [\d.]+:)(\d+)/g, (_, to: string, port: string) => `${to}${Number(port) + 1}`),
  },
  'every source may use a forward': { file: 'netter.nft', change: without(/ip saddr != .* drop$/) },
  'what is refused on a line goes another way': {
    file: 'routes.sh',
    change: (text) => text.replaceAll(' prohibit', ' lookup $(table_of wan1)'),
  },
  'the router answers everybody': {
    file: 'netter.nft',
    change: (text) => text.replace(/(chain input \{\n[^\n]*\n)/, '$1    accept\n'),
  },
  'a forward that is used from inside keeps the source': {
    file: 'netter.nft',
    change: without(/ct status dnat ct mark != .* snat/),
  },
};
