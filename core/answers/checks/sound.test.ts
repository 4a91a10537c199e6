import { expect, test } from '@jest/globals';
import { portSchema, type Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { boxInFront, demoPlan, soundPlan } from '../../testing/plans.ts';
import { runChecks } from './index.ts';

const port = (id: string, more: object) => portSchema.parse({ id, name: id, ...more });

/** Unusual and right: nothing here stops an installer (common practice, no source). */
test.each<[string, (plan: Plan) => unknown]>([
  [
    'a summary route by way of a neighbour that holds the local subnets too (longest match, RFC 1812 section 5.2.4.3)',
    (plan) => plan.routes.push({ id: 'r', prefix: '10.0.0.0/8', via: '10.24.10.2', notes: '' }),
  ],
  [
    'untagged networks, each on a port of its own',
    (plan) => {
      for (const network of plan.networks) network.vlan = null;
      plan.router.ports = [
        port('1', { role: 'wan', uplink: 'fibre' }),
        port('2', { network: 'office' }),
        port('3', { network: 'guests' }),
      ];
    },
  ],
  [
    'a router that resolves by itself',
    (plan) => {
      plan.router.services.push({
        ...plan.router.services[0]!,
        id: 'dns',
        name: 'DNS server',
        protocol: 'both',
        ports: '53',
      });
      plan.failover.resolvers = 'own';
    },
  ],
  [
    'a public subnet that is routed to the site and in use inside',
    (plan) =>
      plan.networks.push({
        ...structuredClone(plan.networks[0]!),
        id: 'servers',
        name: 'Servers',
        vlan: 40,
        prefix: '203.0.113.64/28',
        routerAddress: '203.0.113.65',
        dhcp: { ...plan.networks[0]!.dhcp, enabled: false, from: '', to: '' },
        resolvers: ['203.0.113.65'],
      }),
  ],
  [
    'an inside network with IPv6',
    (plan) =>
      plan.networks.push({
        ...structuredClone(plan.networks[0]!),
        id: 'six',
        name: 'Office, IPv6',
        vlan: 60,
        prefix: 'fd5e:24a1:60c3:10::/64',
        routerAddress: 'fd5e:24a1:60c3:10::1',
        dhcp: { ...plan.networks[0]!.dhcp, enabled: false, from: '', to: '' },
        resolvers: ['fd5e:24a1:60c3:10::1'],
      }),
  ],
  [
    'a line with a /31 (RFC 3021)',
    (plan) =>
      Object.assign(plan.uplinks[0]!.settings.static, {
        address: '203.0.113.8',
        prefixLength: '31',
        gateway: '203.0.113.9',
      }),
  ],
  [
    'a router in front that cannot be bridged, with what must come in opened there',
    (plan) => {
      Object.assign(plan.uplinks[0]!, { type: 'dhcp', medium: 'router' });
      boxInFront(plan, { canBridge: 'no', forwards: [{ id: 'b', protocol: 'tcp', ports: '8443' }] });
    },
  ],
  [
    'the tied MAC address is that of the router that is installed',
    (plan) => {
      plan.uplinks[0]!.type = 'dhcp';
      plan.uplinks[0]!.settings.dhcp.expectedAddress = '203.0.113.9';
      plan.uplinks[0]!.settings.dhcp.tiedMac = '00:00:5e:00:53:70';
      plan.kit[0]!.mac = '00:00:5e:00:53:70';
    },
  ],
])('%s', (_what, change) => {
  const stops = runChecks(compile(soundPlan(change as (plan: Plan) => void)), '2026-03-02');
  expect(stops.filter(({ severity }) => severity === 'blocker').map(({ says }) => says)).toEqual([]);
});

test('a branch behind carrier NAT that calls its head office, with no remote users', () => {
  const plan = demoPlan('mill-lane');
  plan.uplinks = plan.uplinks.filter(({ type }) => type === 'cellular');
  plan.forwards = [];
  Object.assign(plan.vpn, { peers: [], groups: [] });
  plan.failover.rules = [];
  plan.failover.promises = [];
  const stops = runChecks(compile(plan), '2026-03-02').filter(({ severity }) => severity === 'blocker');
  expect(stops.map(({ says }) => says)).toEqual([]);
});

test('that a router in front translates is said once, however many forwards pass it', () => {
  const plan = soundPlan((p) => {
    Object.assign(p.uplinks[0]!, { type: 'dhcp', medium: 'router' });
    boxInFront(p, {
      canBridge: 'no',
      outsideAddress: '192.168.1.7',
      forwards: [{ id: 'b', protocol: 'tcp', ports: '8443' }],
    });
    p.forwards = [];
  });
  const about = runChecks(compile(plan), '2026-03-02').filter(({ rule }) => /nat|router|bridge/.test(rule));
  expect(about.map(({ rule, severity }) => [rule, severity])).toEqual([['behind-router', 'advice']]);
  expect(about[0]!.says).toContain('stays a router');
});
