import { describe, expect, test } from '@jest/globals';
import { runChecks } from '../../answers/checks/index.ts';
import { ask } from '../../answers/path/ask.ts';
import { workingsAt } from '../../answers/workings/index.ts';
import { bringUp } from '../../behaviour/provider-sim/bench.ts';
import { formatAddress } from '../../base/net/address.ts';
import { applyPatch } from '../../plan/patch.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { analyse, faulty } from '../../testing/analyser.ts';
import { compiledCopy, good, soundPlan } from '../../testing/plans.ts';

type Settings = Plan['uplinks'][number]['settings']['map-t'];

/** A sound site whose first line has the rule of RFC 7597 appendix A, example 1 (from memory). */
const withMap = (change: (settings: Settings) => void = () => {}): Plan =>
  soundPlan((plan) => {
    const [uplink] = plan.uplinks;
    uplink!.type = 'map-t';
    const settings = uplink!.settings['map-t'];
    Object.assign(settings, {
      delegated: '2001:db8:12:3400::/56',
      ruleIpv6: '2001:db8::/40',
      ruleIpv4: '192.0.2.0/24',
      eaBits: 16,
    });
    change(settings);
  });
const findings = (plan: Plan) => runChecks(compiledCopy(plan));
const rules = (plan: Plan): string[] => findings(plan).map(({ rule }) => rule);

describe('a line of addresses and ports', () => {
  test('has the address and the ports of the standard, and 1480 bytes (RFC 7599)', () => {
    const [line] = compile(withMap()).lines;
    expect(formatAddress(line!.address)).toBe('192.0.2.18');
    expect(line).toMatchObject({ addressKnown: true, inbound: 'direct', mtuBytes: 1480 });
    expect(line!.ownPorts).toHaveLength(63);
    const [worked] = workingsAt(compile(withMap()), '/uplinks/0/settings/map-t/delegated');
    expect(worked).toMatchObject({ value: '192.0.2.18, 63 × 4 ports' });
  });

  test('a forward on a port of another subscriber goes nowhere, and one of its own arrives', () => {
    const plan = withMap();
    const [forward] = plan.forwards;
    forward!.uplink = plan.uplinks[0]!.id;
    forward!.outsidePorts = '443';
    const says = (port: number) =>
      ask(compiledCopy(plan), `from internet to 192.0.2.18 tcp ${port}`).ok
        ? good(ask(compiledCopy(plan), `from internet to 192.0.2.18 tcp ${port}`)).outcome
        : undefined;
    expect(says(443)).toBe('impossible');
    const found = findings(plan).find(({ rule }) => rule === 'forward-foreign-port')!;
    expect(found).toMatchObject({ severity: 'blocker', says: expect.stringContaining('1232') });
    // What another forward has is not offered.
    plan.forwards.push({ ...structuredClone(forward!), id: 'other', outsidePorts: '1232' });
    expect(findings(plan).find(({ rule }) => rule === 'forward-foreign-port')!.says).toContain(
      'such as 1233',
    );
    plan.forwards.pop();
    forward!.outsidePorts = '1232';
    expect(rules(plan)).not.toContain('forward-foreign-port');
    expect(says(1232)).toBe('delivered');
    forward!.outsidePorts = '1232-1236';
    expect(rules(plan)).toContain('forward-foreign-port');
  });

  test.each<[string, string, (settings: Settings) => void]>([
    ['the rule is that of others', 'map-rule', (own) => (own.ruleIpv6 = '2001:db8:ff00::/40')],
    ['too many bits', 'map-rule', (own) => (own.eaBits = 30)],
    ['half of the rule', 'map-rule-incomplete', (own) => (own.ruleIpv4 = '')],
    ['no prefix yet', 'map-ports-unknown', (own) => (own.delegated = '')],
    ['a shared address', 'map-shared-ports', () => {}],
  ])('%s is said: %s', (_, rule, change) => {
    expect(rules(withMap(change))).toContain(rule);
  });

  test('an offset that leaves no ports is put right by the fix', () => {
    const plan = withMap((own) => {
      own.psidOffset = 12;
    });
    const found = findings(plan).find(({ rule }) => rule === 'map-rule')!;
    expect(rules(good(applyPatch(plan, found.fix!.patch)))).not.toContain('map-rule');
  });

  test('the rule travels in the answer of the line (RFC 7598), as a general analyser reads it', () => {
    const [line] = compile(withMap()).lines;
    const exchange = bringUp(line!, '', 1)!;
    expect(analyse(exchange, ['frame.number'], faulty)).toEqual([]);
    const rows = analyse(
      exchange,
      [
        'dhcpv6.msgtype',
        'dhcpv6.s46_rule.ea_len',
        'dhcpv6.s46_rule.ipv4_prefix',
        'dhcpv6.s46_rule.ipv6_prefix_len',
        'dhcpv6.s46_portparam.offset',
        'dhcpv6.s46_dmr.dmr_pref_len',
      ],
      'dhcpv6',
    );
    expect(rows.map(([kind]) => kind)).toEqual(['1', '2', '3', '7']);
    expect(rows.at(-1)).toEqual(['7', '16', '192.0.2.0', '40', '6', '64']);
    for (const [fault, part] of [
      ['no-server', 'IPv6 line'],
      ['no-rule', 'no mapping rule'],
      ['no-relay', 'border relay'],
    ])
      expect(bringUp(line!, fault!, 1)).toMatchObject({ up: false, says: expect.stringContaining(part!) });
  });
});
