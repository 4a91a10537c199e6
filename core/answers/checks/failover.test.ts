import { describe, expect, test } from '@jest/globals';
import type { Plan } from '../../plan/schema.ts';
import { ask } from '../path/ask.ts';
import { compile } from '../../site/compile.ts';
import type { Finding } from '../../behaviour/domain-types/finding.ts';
import { everyRuleIsNamed, type Broken } from '../../testing/broken.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { runChecks } from './index.ts';

const farrow = (change: (plan: Plan) => unknown = () => {}): Plan => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return plan;
};
const findings = (plan: Plan): Finding[] => runChecks(compile(plan));
const watchOf = (plan: Plan, index = 0): Plan['uplinks'][number]['watch'] => plan.uplinks[index]!.watch;

const broken: Broken[] = [
  ['no-second-line', '/failover/promises/0', (p) => p.uplinks.pop()],
  ['failover-unnoticed', '/failover/notification', (p) => (p.failover.notification = '')],
  [
    'policy-shadowed',
    `/failover/rules/${demoPlan('farrow-sound').failover.rules.length}`,
    (p) => p.failover.rules.push({ ...p.failover.rules[0]!, id: 'again', protocol: 'tcp', ports: '443' }),
  ],
  [
    'policy-idle',
    `/failover/rules/${demoPlan('farrow-sound').failover.rules.length}`,
    (p) =>
      p.failover.rules.push({
        ...p.failover.rules[0]!,
        id: 'as-without',
        network: '',
        protocol: 'any',
        ports: '',
        lines: p.uplinks.map(({ id }) => id),
      }),
  ],
  ['not-watched', '/uplinks/0/watch/targets', (p) => (watchOf(p).targets = [])],
  ['one-target', '/uplinks/0/watch/targets', (p) => watchOf(p).targets.pop()],
  ['target-empty', '/uplinks/0/watch/targets/0/host', (p) => (watchOf(p).targets[0]!.host = '')],
  ['target-near', '/uplinks/1/watch/targets/0/host', (p) => (watchOf(p, 1).targets[0]!.host = '192.168.8.1')],
  ['target-near', '/uplinks/0/watch/targets/0/host', (p) => (watchOf(p).targets[0]!.host = '10.24.10.20')],
  ['target-unpinned', '/uplinks/0/watch/targets/1/pinned', (p) => (watchOf(p).targets[1]!.pinned = false)],
  [
    'target-shared',
    '/uplinks/1/watch/targets/0/host',
    (p) => (watchOf(p, 1).targets[0]!.host = '192.0.2.53'),
  ],
  ['will-flap', '/uplinks/0/watch/downAfter', (p) => (p.uplinks[0]!.failures.measuredLossPercent = 30)],
  [
    'window-flaps',
    '/uplinks/0/watch/windowLossPercent',
    (p) => {
      Object.assign(watchOf(p), { windowProbes: 4, windowLossPercent: 40 });
      p.uplinks[0]!.failures.measuredLossPercent = 3;
    },
  ],
  [
    'promise-not-moved',
    '/failover/promises/0',
    (p) =>
      p.failover.rules.unshift({
        ...p.failover.rules[0]!,
        id: 'x',
        network: 'tickets',
        protocol: 'tcp',
        ports: '443',
      }),
  ],
  ['promise-late', '/failover/promises/0', (p) => (watchOf(p).intervalSeconds = 30)],
  [
    'dial-too-slow',
    '/uplinks/1/standby',
    (p) => {
      p.uplinks[1]!.standby = 'dialled';
    },
  ],
  [
    'lines-one-block',
    '/uplinks/1/settings/dhcp/expectedAddress',
    (p) => {
      Object.assign(p.uplinks[0]!, { type: 'static' });
      Object.assign(p.uplinks[0]!.settings.static, {
        address: '192.168.8.9',
        prefixLength: '24',
        gateway: '192.168.8.1',
      });
    },
  ],
  ['backup-smaller', '/uplinks/1/mtuBytes', (p) => (p.uplinks[1]!.mtuBytes = 1400)],
  [
    'resolver-one-line',
    '/networks/0/resolvers',
    (p) => {
      Object.assign(p.uplinks[0]!, { type: 'static' });
      Object.assign(p.uplinks[0]!.settings.static, {
        address: '203.0.113.9',
        prefixLength: '30',
        gateway: '203.0.113.10',
        resolvers: ['198.51.100.53'],
      });
      p.networks[0]!.resolvers = ['198.51.100.53'];
    },
  ],
  ['no-own-resolver', '/failover/ownResolvers', (p) => (p.failover.ownResolvers = [])],
  ['forward-not-on-backup', '/forwards/0/uplink', () => {}],
  [
    'forward-one-line',
    '/forwards/0/uplink',
    (p) => {
      Object.assign(p.uplinks[1]!.handoff, { mode: 'none' });
      p.uplinks[1]!.settings.dhcp.expectedAddress = '198.51.100.200';
    },
  ],
  [
    'fixed-address',
    '/failover/fixedServices/0',
    (p) =>
      p.failover.fixedServices.push({ id: 'v', name: 'Voice provider', network: 'office', ports: '5060' }),
  ],
  ['shared-cause', '/failover/causes/0', () => {}],
  ['no-battery', '/failover/power/wattHours', (p) => (p.failover.power.wattHours = null)],
  ['cap-exceeded', '/failover/backupGigabytes', (p) => (p.failover.backupGigabytes = 0.1)],
  [
    'back-flaps',
    '/failover/back',
    (p) => {
      p.failover.back = 'at-once';
      watchOf(p).holdSeconds = 5;
    },
  ],
  [
    'back-nobody',
    '/failover/notification',
    (p) => {
      p.failover.back = 'by-hand';
      p.failover.notification = '';
    },
  ],
  [
    'promise-never',
    '/failover/promises/0',
    (p) => {
      p.failover.promises[0]!.kind = 'tunnel';
      p.failover.sessions = 'keep';
    },
  ],
];

everyRuleIsNamed(broken, farrow, findings, [
  'back-flaps',
  'dial-too-slow',
  'policy-idle',
  'policy-shadowed',
  'promise-late',
  'target-unpinned',
  'will-flap',
]);

test('the ferry office as it ships: the shared power strip, and nothing that breaks a promise', () => {
  expect(
    findings(farrow())
      .map(({ rule }) => rule)
      .sort(),
  ).toEqual([
    'carrier-nat',
    'forward-not-on-backup',
    'outward-wide',
    'outward-wide',
    'shared-cause',
    'vpn-not-on-backup',
  ]);
});

describe('packets follow the failover rules', () => {
  const site = compile(farrow());
  const outcome = (question: string): string => good(ask(site, question)).outcome;

  test('passengers wait for the fibre, everybody else leaves by cellular', () => {
    expect(outcome('from passengers to internet')).toBe('delivered');
    expect(outcome('from passengers to internet when fibre is down')).toBe('refused');
    expect(outcome('from tickets to internet when fibre is down')).toBe('delivered');
    const { hops } = good(ask(site, 'from passengers to internet when fibre is down'));
    expect(hops.at(-1)).toMatchObject({ stage: 'failover', at: '/failover/rules/0' });
  });

  test('a rule for one port is not a rule for all traffic', () => {
    const pinned = compile(
      farrow((plan) => {
        plan.failover.rules = [
          { id: 'r', network: 'office', protocol: 'udp', ports: '5060', lines: ['cellular'], says: 'Calls' },
        ];
      }),
    );
    const by = (question: string): string => JSON.stringify(good(ask(pinned, question)).hops);
    expect(by('from office to internet udp 5060')).toContain('leaving by Cellular');
    expect(by('from office to internet udp 5061')).toContain('leaving by Fibre');
    expect(by('from office to internet tcp 5060')).toContain('leaving by Fibre');
    expect(by('from tickets to internet udp 5060')).toContain('leaving by Fibre');
  });
});
