import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { applyPatch } from '../../plan/patch.ts';
import { planSchema, type Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Finding } from '../../behaviour/domain-types/finding.ts';
import { brokenInside } from '../../testing/broken-inside.ts';
import { brokenSites } from '../../testing/broken-sites.ts';
import { demoPlan, good, planOf, soundPlan } from '../../testing/plans.ts';
import { runChecks } from './index.ts';
import { harmOf } from './fix-safety.ts';

const broken = [...brokenSites, ...brokenInside];

const findings = (plan: Plan): Finding[] => runChecks(compile(plan));
const rulesOf = (plan: Plan): string[] => findings(plan).map((each) => each.rule);

describe('checks', () => {
  test('a sound site has no findings', () => expect(findings(soundPlan())).toEqual([]));

  test.each(broken)('%s at %s', (rule, at, change) => {
    const found = findings(soundPlan(change)).find((each) => each.rule === rule && each.at === at);
    expect(found).toBeDefined();
    expect(found!.says).toMatch(/^[A-Z0-9"].*[.?]$/);
    expect(found!.why.steps.length).toBeGreaterThan(0);
    expect(found!.source).not.toBe('');
  });

  test('the rules that have a fix offer it, it corrects the fault, and it brings no new blocker', () => {
    const offered = new Set<string>();
    for (const [rule, at, change] of broken) {
      const plan = soundPlan(change);
      const before = findings(plan);
      const fix = before.find((each) => each.rule === rule && each.at === at)?.fix;
      if (!fix) continue;
      offered.add(rule);
      const mended = good(applyPatch(plan, fix.patch));
      const finding = before.find((each) => each.rule === rule && each.at === at)!;
      expect([rule, harmOf(compile(plan), compile(mended), finding, runChecks)]).toEqual([rule, undefined]);
      const after = findings(mended);
      expect(after.filter((each) => each.rule === rule && each.at === at)).toEqual([]);
      const blockers = (list: Finding[]): string[] =>
        list.filter((each) => each.severity === 'blocker').map((each) => `${each.rule} ${each.at}`);
      expect(blockers(after).filter((each) => !blockers(before).includes(each))).toEqual([]);
    }
    expect([...offered].sort()).toEqual([
      'apn-user',
      'device-address',
      'duplicate-address',
      'duplicate-vlan',
      'forward-collision',
      'forward-count',
      'forward-own-service',
      'forward-second',
      'forward-unstable',
      'forward-uplink',
      'line-gateway',
      'mtu-large',
      'no-reconnect',
      'no-resolver',
      'no-source-nat',
      'not-private',
      'overlap',
      'pool-edge',
      'pool-held',
      'pool-outside',
      'pool-reversed',
      'pool-router',
      'pool-small',
      'reach-dangling',
      'reach-unexpected',
      'route-refused',
      'router-address',
      'router-outside',
      'row-contradicts',
      'second-address',
      'second-channel',
      'second-dhcp',
      'second-inside',
      'second-pool',
      'second-route',
      'second-routes',
      'wifi-dense',
      'wifi-no-block',
      'wifi-power',
    ]);
  });

  test('moving a network takes its router, pool, DNS servers and devices along', () => {
    const plan = soundPlan((p) => {
      p.networks[0]!.prefix = '10.24.30.0/24';
      p.networks[0]!.routerAddress = '10.24.30.1';
      p.networks[0]!.dhcp.from = '10.24.30.100';
      p.networks[0]!.dhcp.to = '10.24.30.199';
      p.networks[0]!.resolvers = ['10.24.30.1'];
      p.devices[0]!.address = '10.24.30.20';
      p.networks.reverse();
    });
    const fix = findings(plan).find((each) => each.rule === 'overlap')!.fix!;
    const mended = good(applyPatch(plan, fix.patch));
    expect(mended.networks[1]).toMatchObject({
      prefix: '10.24.10.0/24',
      routerAddress: '10.24.10.1',
      resolvers: ['10.24.10.1'],
      dhcp: { from: '10.24.10.100', to: '10.24.10.199' },
    });
    expect(mended.devices[0]!.address).toBe('10.24.10.20');
    expect(findings(mended)).toEqual([]);
  });

  test('limited sources soften what an exposed service is, an open one blocks', () => {
    const severity = (sources: string[]): string | undefined =>
      findings(
        soundPlan((p) => {
          p.devices[0]!.services[0]!.ports = '445';
          p.forwards[0]!.sources = sources;
        }),
      ).find((each) => each.rule === 'exposed-never')?.severity;
    expect([severity([]), severity(['198.51.100.0/29'])]).toEqual(['blocker', 'warning']);
  });

  test('/29, /30 and /31 subnets are read right', () => {
    const line = (address: string, prefixLength: string, gateway: string): string[] =>
      rulesOf(
        soundPlan((p) => {
          Object.assign(p.uplinks[0]!.settings.static, { address, prefixLength, gateway });
        }),
      );
    expect(line('203.0.113.9', '255.255.255.248', '203.0.113.14')).toEqual([]);
    expect(line('203.0.113.9', '/29', '203.0.113.15')).toEqual(['line-gateway']); // broadcast of the /29
    expect(line('203.0.113.8', '31', '203.0.113.9')).toEqual([]); // RFC 3021
    expect(line('203.0.113.8', '31', '203.0.113.8')).toEqual(['line-gateway']);
  });

  test('the demo sites: one teaches, two are ready', () => {
    expect(rulesOf(demoPlan('hollin-edge'))).toEqual(
      expect.arrayContaining([
        'overlap',
        'forward-second',
        'forward-unstable',
        'no-resolver',
        'pool-small',
        'exposed-clear',
        'reach-unexpected',
      ]),
    );
    for (const name of ['farrow-sound', 'weir-street'])
      expect(findings(demoPlan(name)).filter((each) => each.severity === 'blocker')).toEqual([]);
  });

  test('half-typed and hostile text never stops the checks', () => {
    const text = fc.oneof(
      fc.string({ maxLength: 40 }),
      fc.constantFrom(
        '10.24.10.',
        '10.24.10.0/',
        '/',
        '::',
        '0/0',
        '255.255.255.255/32',
        '0.0.0.0/0',
        '1-',
        '99999',
      ),
    );
    fc.assert(
      fc.property(text, text, text, text, text, (a, b, c, d, e) => {
        const plan = soundPlan((p) => {
          Object.assign(p.networks[0]!, {
            prefix: a,
            routerAddress: b,
            resolvers: [c],
            dhcp: { ...p.networks[0]!.dhcp, from: d, to: e },
          });
          Object.assign(p.uplinks[0]!.settings.static, { address: b, prefixLength: c, gateway: d });
          Object.assign(p.devices[0]!, { mac: a, address: e });
          p.forwards[0]!.outsidePorts = c;
          p.forwards[0]!.sources = [d, e];
          p.routes.push({ id: 'r', prefix: a, via: b, notes: '' });
        });
        for (const each of findings(planSchema.parse(plan)))
          if (each.fix) good(applyPatch(plan, each.fix.patch));
      }),
      { numRuns: 300 },
    );
    expect(rulesOf(planOf({}))).toEqual(
      expect.arrayContaining(['no-name', 'no-uplink', 'no-network', 'no-router']),
    );
  });
});

describe('the pool', () => {
  const rulesOf = (change: (plan: Plan) => void): [string, string][] =>
    findings(soundPlan(change)).map(({ rule, severity }) => [rule, severity]);

  test('an address in it that is set by hand is given to somebody else one day: that stops; a reserved one is warned of', () => {
    const held = (addressing: 'fixed' | 'reserved') =>
      rulesOf((plan) => Object.assign(plan.devices[0]!, { address: '10.24.10.120', addressing }));
    expect(held('fixed')).toContainEqual(['pool-held', 'blocker']);
    expect(held('reserved')).toContainEqual(['pool-held', 'warning']);
  });

  test('as many addresses as devices are enough, one more device is one too many', () => {
    // 10.24.10.100 to .199 are 100 addresses; the server has one of its own outside of them.
    const small = (expected: number): boolean =>
      rulesOf((plan) => {
        plan.networks[0]!.expectedDevices = expected;
      }).some(([rule]) => rule === 'pool-small');
    expect([101, 102].map(small)).toEqual([false, true]);
    // A reservation inside the pool takes its address from the pool, and its device from those that wait.
    const inside = (expected: number): boolean =>
      rulesOf((plan) => {
        plan.networks[0]!.expectedDevices = expected;
        plan.devices[0]!.address = '10.24.10.120';
      }).some(([rule]) => rule === 'pool-small');
    expect([100, 101].map(inside)).toEqual([false, true]);
  });
});
