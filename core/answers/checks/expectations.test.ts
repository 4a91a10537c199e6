import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { applyPatch } from '../../plan/patch.ts';
import { ask } from '../path/ask.ts';
import { exposure } from '../exposure/exposure.ts';
import { expectationByPurpose, expectationOf } from '../exposure/expectation.ts';
import { exceeds, levelOf } from '../exposure/level.ts';
import { unexpected } from '../exposure/unexpected.ts';
import {
  exceptionSchema,
  planSchema,
  reachSchema,
  routerServiceSchema,
  type Plan,
} from '../../plan/schema.ts';
import { titleAt } from '../../plan/places.ts';
import { compile } from '../../site/compile.ts';
import type { Finding } from '../../behaviour/domain-types/finding.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { runChecks } from './index.ts';

const today = '2026-03-02';
/** Farrow Sound: Office (staff, managed from), Tickets (payment), Passengers (guests), Plant. */
const farrow = (change: (plan: Plan) => unknown = () => {}): Plan => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return plan;
};
const ofExpectations =
  /^(reach-unexpected|managed-from|equipment-open|outward-wide|router-outside|exception-)/;
const found = (plan: Plan): Finding[] =>
  runChecks(compile(plan), today).filter(({ rule }) => ofExpectations.test(rule));
/** What a change adds to what the demo site has already. */
const added = (change: (plan: Plan) => unknown): Finding[] => {
  const known = new Set(found(farrow()).map(({ rule, at }) => `${rule} ${at}`));
  return found(farrow(change)).filter(({ rule, at }) => !known.has(`${rule} ${at}`));
};
const rule = (values: object) => reachSchema.parse({ id: 'x', ...values });
const service = (name: string, ports: string, more: object = {}) =>
  routerServiceSchema.parse({ id: `s${ports}`, name, ports, ...more });

/** The device that the internet may reach, in another network. */
const movedLogger = (network: string, address: string) => (plan: Plan) =>
  Object.assign(
    plan.devices.find(({ id }) => id === 'tide-logger')!,
    { network, address },
  );

describe('what passes is held against what a network is for (common practice, no source)', () => {
  test.each<
    [what: string, change: (plan: Plan) => unknown, severity: Finding['severity'], rule: string, says: RegExp]
  >([
    [
      'a forward into the payment network',
      movedLogger('tickets', '10.24.20.9'),
      'blocker',
      'reach-unexpected',
      /^Internet may reach Tickets \(tcp 8443\)\. Tickets is for payment, and nothing is expected to come in/,
    ],
    [
      'a forward into the network of the guests',
      movedLogger('passengers', '10.24.32.9'),
      'warning',
      'reach-unexpected',
      /^Internet may reach Passengers/,
    ],
    [
      'guests to everything of the office',
      (plan) => plan.reach.push(rule({ from: 'passengers', to: 'office' })),
      'blocker',
      'reach-unexpected',
      /^Passengers may reach everything of Office\. Passengers is for guests, and is expected to reach no other network/,
    ],
    [
      'guests to all ports of one server',
      (plan) => plan.reach.push(rule({ from: 'passengers', to: 'office', device: 'printer' })),
      'warning',
      'reach-unexpected',
      /^Passengers may reach everything of Office/,
    ],
    [
      'guests to one service of one printer',
      (plan) =>
        plan.reach.push(rule({ from: 'passengers', to: 'office', device: 'printer', service: 'print' })),
      'advice',
      'reach-unexpected',
      /^Passengers may reach Office \(tcp 631\)/,
    ],
    [
      'guests to one port of a whole network',
      (plan) => plan.reach.push(rule({ from: 'passengers', to: 'plant', protocol: 'tcp', ports: '8443' })),
      'blocker',
      'reach-unexpected',
      /^Passengers may reach Plant \(tcp 8443\)/,
    ],
    [
      'cameras into the office',
      (plan) => {
        plan.networks[3]!.purpose = 'cameras';
        plan.reach.push(rule({ from: 'plant', to: 'office' }));
      },
      'warning',
      'reach-unexpected',
      /^Plant may reach everything of Office\. Plant is for cameras/,
    ],
    [
      'the office into the payment network',
      (plan) => plan.reach.push(rule({ from: 'office', to: 'tickets' })),
      'warning',
      'reach-unexpected',
      /^Office may reach everything of Tickets\. Tickets is for payment, and no other network is expected to reach it/,
    ],
    [
      'remote users into the payment network',
      (plan) => plan.vpn.groups[0]!.grants.push({ id: 'g9', network: 'tickets', device: '', service: '' }),
      'warning',
      'reach-unexpected',
      /^Duty managers may reach everything of Tickets/,
    ],
    [
      'a contractor with a whole network where one device was meant',
      (plan) => (plan.vpn.groups[1]!.grants = [{ id: 'g9', network: 'plant', device: '', service: '' }]),
      'warning',
      'reach-unexpected',
      /^Gate contractor may reach everything of Plant.*remote users are expected to reach single devices only/,
    ],
    [
      'the shell of the router on the internet',
      (plan) => plan.router.services.push(service('Shell', '22', { outside: true })),
      'blocker',
      'router-outside',
      /Shell answers on the internet/,
    ],
    [
      'SNMP of the router on the internet',
      (plan) => plan.router.services.push(service('SNMP', '161', { protocol: 'udp', outside: true })),
      'blocker',
      'router-outside',
      /SNMP answers on the internet/,
    ],
    [
      'the DNS server of the router on the internet',
      (plan) => (plan.router.services[1]!.outside = true),
      'blocker',
      'router-outside',
      /used to attack others/,
    ],
    [
      'the shell of the router towards everybody inside',
      (plan) => plan.router.services.push(service('Shell', '22', { inside: 'all' })),
      'warning',
      'managed-from',
      /^Tickets, Passengers and Plant may open the pages of the router \(tcp 22\)/,
    ],
    [
      'the router managed from the network of the guests',
      (plan) => (plan.router.adminNetwork = 'passengers'),
      'warning',
      'managed-from',
      /^Passengers may open the pages of the router \(tcp 443\)/,
    ],
    [
      'the page of the cellular box open to guests',
      (plan) => (plan.reach = plan.reach.filter(({ id }) => id !== 'equipment-passengers')),
      'warning',
      'equipment-open',
      /^Passengers may open the pages of equipment in front of Cellular/,
    ],
  ])('%s', (_what, change, severity, name, says) => {
    const findings = added(change);
    expect([findings[0]!.severity, findings[0]!.rule]).toEqual([severity, name]);
    expect(findings[0]!.says).toMatch(says);
    // What hangs on it may follow, with less weight: a grant of a device that moved along.
    expect(findings.filter((each) => each.severity === severity)).toHaveLength(1);
    // The packet that shows it passes, as Ask follows it.
    const { packet } = findings[0]!;
    if (packet !== undefined)
      expect(good(ask(compile(farrow(change)), packet)).outcome).toMatch(/^(delivered|hairpin)$/);
  });

  test('guests through the tunnel to another site', () => {
    const plan = demoPlan('weir-street');
    plan.vpn.sites[0]!.networks = ['reading'];
    expect(found(plan)).toContainEqual(
      expect.objectContaining({
        rule: 'reach-unexpected',
        severity: 'blocker',
        says: expect.stringMatching(/^Reading room may reach .*Mill Lane branch library/),
      }),
    );
  });

  test('one rule that opens many pairs is one finding, and a rule nobody needs is none', () => {
    expect(
      added((plan) => plan.router.services.push(service('Shell', '22', { inside: 'all' }))),
    ).toHaveLength(1);
    expect(added((plan) => plan.reach.push(rule({ from: 'office', to: 'plant', device: 'gate' })))).toEqual(
      [],
    );
  });

  test('what its owner expects goes before what its purpose does', () => {
    const open = (plan: Plan): unknown => plan.reach.push(rule({ from: 'office', to: 'tickets' }));
    expect(
      added((plan) => {
        open(plan);
        plan.networks[1]!.expects.fromNetworks = 'everything';
      }),
    ).toEqual([]);
    expect(added((plan) => (plan.networks[3]!.expects.fromNetworks = 'nothing')).map(({ at }) => at)).toEqual(
      ['/reach/0'],
    );
  });

  test('nothing is offered that would change nothing: managed from the network of the guests', () => {
    const [first] = added((plan) => (plan.router.adminNetwork = 'passengers'));
    expect([first!.rule, first!.fix]).toEqual(['managed-from', undefined]);
  });

  test('the fix closes it, opens nothing, and brings no other finding', () => {
    for (const change of [
      (plan: Plan) => plan.reach.push(rule({ from: 'passengers', to: 'office' })),
      (plan: Plan) => plan.router.services.push(service('Shell', '22', { inside: 'all' })),
      (plan: Plan) => (plan.reach = plan.reach.slice(0, 2)),
      (plan: Plan) => plan.router.services.push(service('Shell', '22', { outside: true })),
    ]) {
      const [first] = added(change);
      const mended = planSchema.parse(good(applyPatch(farrow(change), first!.fix!.patch)));
      expect(found(mended).map((each) => each.rule)).toEqual(found(farrow()).map((each) => each.rule));
    }
  });
});

describe('rules that decide nothing', () => {
  const shadows = (...rows: object[]): string[] =>
    runChecks(
      compile(
        farrow(
          (plan) => (plan.reach = rows.map((row, index) => reachSchema.parse({ id: `r${index}`, ...row }))),
        ),
      ),
    ).flatMap((each) => (each.rule === 'reach-shadowed' ? [`${each.severity} ${each.at}`] : []));
  const all = { from: 'office', to: 'plant' };
  const gate = { ...all, device: 'gate' };

  test.each<[string, object[], string[]]>([
    ['below one that takes all and says the same', [all, gate], ['advice /reach/1']],
    [
      'below one that takes all and says otherwise',
      [{ ...all, action: 'refuse' }, gate],
      ['warning /reach/1'],
    ],
    ['above it, it decides', [{ ...gate, action: 'refuse' }, all], []],
    [
      'below two that take all of it together',
      [
        { ...all, protocol: 'tcp', ports: '1-1000' },
        { ...all, protocol: 'tcp', ports: '1001-65535' },
        { ...all, protocol: 'tcp', ports: '900-1100' },
      ],
      ['advice /reach/2'],
    ],
    [
      'one port is left',
      [
        { ...all, protocol: 'tcp', ports: '2-65535' },
        { ...all, protocol: 'tcp' },
      ],
      [],
    ],
    ['ping is left', [{ ...all, protocol: 'both' }, all], []],
    ['another network', [all, { ...all, to: 'tickets' }], []],
    [
      'outward, behind all of the internet',
      [
        { from: 'office', destination: 'internet', action: 'refuse' },
        { from: 'office', destination: 'internet', prefixes: ['203.0.113.0/24'] },
      ],
      ['warning /reach/1'],
    ],
    [
      'equipment is not the internet',
      [
        { from: 'office', destination: 'internet', action: 'refuse' },
        { from: 'office', destination: 'equipment' },
      ],
      [],
    ],
  ])('%s', (_what, rows, expected) => expect(shadows(...rows)).toEqual(expected));
});

describe('exceptions', () => {
  const open = (plan: Plan): unknown => plan.reach.push(rule({ from: 'office', to: 'tickets' }));
  const accepted =
    (until: string, more: object = {}) =>
    (plan: Plan) => {
      open(plan);
      plan.exceptions.push(
        exceptionSchema.parse({
          id: 'e',
          from: 'office',
          to: 'tickets',
          acceptedBy: 'Maren Holt',
          reason: 'The old till has its display there.',
          until,
          ...more,
        }),
      );
    };

  test('with a name, a reason and a day it is quiet until that day, and not after it', () => {
    expect(added(accepted('2026-03-02'))).toEqual([]);
    const ended = added(accepted('2026-03-01'));
    expect(ended.map((each) => each.rule).sort()).toEqual(['exception-ended', 'reach-unexpected']);
    expect(ended.find((each) => each.rule === 'exception-ended')!.says).toMatch(
      /from Office to Tickets ended on 2026-03-01\. Maren Holt accepted it/,
    );
  });

  test.each([{ acceptedBy: ' ' }, { reason: '' }, { until: '' }, { until: 'soon' }])(
    'without one of the three it is not accepted: %j',
    (more) => {
      expect(
        added(accepted('2027-01-01', more))
          .map((each) => each.rule)
          .sort(),
      ).toEqual(['exception-open', 'reach-unexpected']);
    },
  );

  test('what a finding offers to accept is the row that makes it quiet', () => {
    const [first] = added(open);
    const plan = planSchema.parse(good(applyPatch(farrow(open), first!.accept!)));
    Object.assign(plan.exceptions[0]!, { acceptedBy: 'Maren Holt', reason: 'Known.', until: '2026-12-31' });
    expect(found(plan).map((each) => each.rule)).toEqual(found(farrow()).map((each) => each.rule));
  });

  test('one that covers nothing can go', () => {
    expect(
      added((plan) => plan.exceptions.push(exceptionSchema.parse({ id: 'e', from: 'office', to: 'router' }))),
    ).toMatchObject([{ rule: 'exception-idle', severity: 'advice', fix: { says: 'Remove the exception' } }]);
  });
});

test('docs/judgement.md says of each purpose what the table of expectations says', () => {
  const text = readFileSync('docs/judgement.md', 'utf8');
  const words = { nothing: 'nothing', named: 'single devices', everything: 'everything' } as const;
  for (const [purpose, expected] of Object.entries(expectationByPurpose)) {
    const cells = new RegExp(`^\\| ${titleAt('/networks/*/purpose', purpose)} +\\|(.*)\\|$`, 'm')
      .exec(text)![1]!
      .split('|')
      .map((cell) => cell.trim());
    expect([purpose, ...cells.slice(0, 7)]).toEqual([
      purpose,
      words[expected.fromInternet],
      words[expected.fromNetworks],
      words[expected.fromRemoteUsers],
      words[expected.fromSites],
      words[expected.toNetworks],
      expected.toInternet === 'named' ? 'named addresses' : words[expected.toInternet],
      words[expected.toSites],
    ]);
  }
});

test('looking only where something may be unexpected finds what looking everywhere does', () => {
  for (const name of ['farrow-sound', 'weir-street', 'mill-lane', 'hollin-edge', 'larch-house']) {
    const plan = demoPlan(name);
    plan.networks.forEach((network, index) => {
      network.purpose = (['guests', 'payment', 'staff', 'cameras'] as const)[index % 4]!;
    });
    const site = compile(plan);
    const expected = new Set(
      exposure(site).flatMap((passing) => {
        const { sender, reached } = passing;
        if (reached.kind !== 'network') return [];
        const own = sender.kind === 'network' ? sender.network : undefined;
        if (own === reached.network) return [];
        const to = expectationOf(site, reached.network);
        const by = { internet: to.fromInternet, group: to.fromRemoteUsers, site: to.fromSites };
        const levels = own
          ? [to.fromNetworks, expectationOf(site, own).toNetworks]
          : [sender.kind === 'network' ? to.fromNetworks : by[sender.kind]];
        return levels.some((level) => exceeds(levelOf(passing), level))
          ? [`${sender.id} ${reached.network.id}`]
          : [];
      }),
    );
    const seen = unexpected(site).filter(({ passing }) => passing.reached.kind === 'network');
    expect(new Set(seen.map(({ from, to }) => `${from.id} ${to.id}`))).toEqual(expected);
  }
});
