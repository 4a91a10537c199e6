import { bound, type BoundStage, type StageName } from '../core/router/decision.ts';
import { policy, policyTable } from '../core/router/policy.ts';
import type { Router } from '../core/router/router.ts';
import type { Site } from '../core/site/model.ts';
import type { Mistake } from './readings.ts';

/* Mistakes that are made on purpose: whatever compares readings, stages and kernel has to find each of them. */

const without =
  (name: StageName) =>
  (router: Router): Router =>
    withStages(router, ({ stages }) => stages.filter((stage) => stage.name !== name));

/** The same router with other stages: each decides on what the one before has left. */
function withStages(router: Router, change: (router: Router) => readonly BoundStage[]): Router {
  const stages = change(router);
  return {
    ...router,
    stages,
    decide: (ingress, header) => {
      const nothing = { forward: undefined, hairpin: undefined, route: undefined, egress: undefined };
      let passage: Parameters<BoundStage['decide']>[0] = { ingress, header, ...nothing };
      const decisions = [];
      for (const stage of stages) {
        const decision = stage.decide(passage);
        if (!decision) continue;
        decisions.push(decision);
        if (decision.stop) break;
        passage = decision.after;
      }
      return decisions;
    },
  };
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
  'no stage checks sources': without('source check'),
  'no stage refuses': without('policy'),
  'no stage translates on the way out': without('source NAT'),
  'no stage follows rules about lines': without('failover'),
  'nothing is for the router itself': without('router itself'),
  'no forward is looked for': without('destination NAT'),
  'rules of the plan are not looked at, only the defaults': (router, site) =>
    replaced('policy', () => bound(policy(policyTable({ ...site, reach: [] }))))(router),
};

export const mistakeOf = (
  site: ((site: Site) => Site) | undefined,
  router: ((router: Router, site: Site) => Router) | undefined,
  sound: Site,
): Mistake => ({ ...(site && { site }), ...(router && { router: (whole: Router) => router(whole, sound) }) });

/** What the exported files say, and should not: by file, the change of its text. */
export const wrongFiles: Readonly<Record<string, readonly [file: string, change: (text: string) => string]>> =
  {
    'no source is checked on lines': [
      'netter.nft',
      (text) => text.replace(/^.*iifname "wan\d+" ip6? saddr .* drop$/gm, ''),
    ],
    'what comes in by a line passes': [
      'netter.nft',
      (text) => text.replace(/ct status dnat accept/g, 'accept'),
    ],
    'networks reach one another': [
      'netter.nft',
      (text) => text.replace(/(chain forward \{[^\n]*\n[^\n]*)/, '$1\n    iifname "lan1" accept'),
    ],
    'nothing is translated on the way out': [
      'netter.nft',
      (text) => text.replace(/^.*masquerade.*$/gm, '').replace(/^.*oifname "wan\d+".* snat .*$/gm, ''),
    ],
    'a forward leads one port too far': [
      'netter.nft',
      (text) =>
        text.replace(
          /(dnat ip to [\d.]+:)(\d+)/g,
          (_, to: string, port: string) => `${to}${Number(port) + 1}`,
        ),
    ],
    'refused lines are refused no more': ['routes.sh', (text) => text.replace(/ prohibit/g, ' lookup main')],
    'a known connection is not told from a new one': [
      'netter.nft',
      (text) => text.replace(/ct state established,related meta mark set ct mark accept/, ''),
    ],
    'the router answers everybody': [
      'netter.nft',
      (text) => text.replace(/(chain input \{[^\n]*\n)/, '$1    accept\n'),
    ],
  };
