import { describe, expect, test } from '@jest/globals';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, soundPlan } from '../../testing/plans.ts';
import { judgedText } from '../../testing/visit.ts';
import { methodOf } from '../../behaviour/remote-access/methods/index.ts';
import { runSheet } from './sheet.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';

const sheetOf = (change: (plan: Plan) => unknown = () => {}): RunStep[] => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return runSheet(compile(plan));
};
const stepOf = (id: string, steps = sheetOf()): RunStep => steps.find((each) => each.id === id)!;
const values = ({ entries }: RunStep): string[] => entries.map(({ label, value }) => `${label}: ${value}`);

describe('the steps of failover', () => {
  test('watched before the rules, saved before anything is pulled, people told first, the way back before the next test', () => {
    const order = sheetOf().map(({ id }) => id);
    const places = [
      'watch:fibre',
      'failover-rules',
      'save',
      'warn-people',
      'pull:fibre',
      'plug-in:fibre',
      'brown-out:fibre',
      'second-network:fibre:tickets',
      'power-cut',
    ].map((id) => order.indexOf(id));
    expect(places).toEqual([...places].sort((a, b) => a - b));
    expect(places).not.toContain(-1);
  });

  test('lines that share the load are entered by their weights, in one order by their rank', () => {
    const rules = (change: (plan: Plan) => unknown): string[] =>
      values(stepOf('failover-rules', sheetOf(change)));
    expect(rules(() => {})).toContain('Use of the lines: Fibre, then Cellular');
    expect(
      rules((plan) => {
        plan.failover.sharing = 'weights';
        plan.uplinks[0]!.weight = 3;
      }),
    ).toContain('Use of the lines: Fibre 3, Cellular 1');
  });

  test('a site with one line has none of them', () => {
    expect(runSheet(compile(soundPlan())).some(({ id }) => /^(watch|pull|brown-out):/.test(id))).toBe(false);
  });

  test('the label on the plug, the commands, and what may be expected stand in the step', () => {
    const pull = stepOf('pull:fibre');
    expect(pull.title).toContain('A, blue');
    // A cable without link is noticed within a second, the routes change within two, and a ping goes out each second.
    expect(values(pull)).toContain('Expect a gap of: 0 to 4 s');
    expect(pull.entries.filter(({ value }) => value.includes('192.0.2.54'))).toHaveLength(3);
    // 4 × 2 + 1 s at worst, 2 s for the routes, 1 s for the ping; at best (4 - 1) × 2 + 1 + 1 - 1.
    expect(values(stepOf('brown-out:fibre'))).toContain('Expect a gap of: 7 to 12 s');
    expect(values(stepOf('warn-people'))).toContain('Passengers: nothing until the line is plugged in again');
    expect(stepOf('brown-out:fibre').cautions.join()).toMatch(/Never look into a fibre/);
  });

  test('a timed gap is judged beside what was to be expected', () => {
    const site = compile(demoPlan('farrow-sound'));
    const judged = (step: string, reading: string) => judgedText(site, step, reading)?.kind;
    expect([judged('pull:fibre', 'gap 3 s'), judged('pull:fibre', '40 s')]).toEqual(['good', 'bad']);
    expect([judged('brown-out:fibre', '9 s'), judged('brown-out:fibre', '1 s')]).toEqual(['good', 'doubt']);
    expect(judged('rate:fibre', '281, 279, 262')).toBe('good');
    expect(judged('rate:fibre', '120, 110, 130')).toBe('bad');
    expect(judged('rate:fibre', '281')).toBe('doubt');
  });
});

describe('the steps of remote access', () => {
  test('the way in is open before people are entered, granted before it is saved, tested from outside after it', () => {
    const order = sheetOf().map(({ id }) => id);
    const places = ['vpn-interface', 'vpn-people', 'vpn-grants', 'save', 'vpn-test:maren-phone'].map((id) =>
      order.indexOf(id),
    );
    expect(places).toEqual([...places].sort((a, b) => a - b));
    expect(places).not.toContain(-1);
  });

  test('the test list says what must open and what must not; who is revoked is neither entered nor tested', () => {
    const listed = values(stepOf('vpn-test:idris-laptop'));
    expect(listed).toContain('Must open: Gate panel of Gate controller');
    expect(listed).toContain('Must not open: Ticket desk 1, 10.24.20.5');
    expect(listed).toContain('First hop: 10.24.60.1');
    expect(sheetOf().some(({ id }) => id === 'vpn-test:old-tablet')).toBe(false);
    expect(values(stepOf('vpn-people')).join()).not.toContain('lost on the quay');
  });

  test('a lost device has a step that proves it is out: with its key, from another network, and silence', () => {
    const out = stepOf('vpn-out:old-tablet');
    expect(values(out)[0]).toBe(`Not on the router: ${demoPlan('farrow-sound').vpn.peers[3]!.publicKey}`);
    expect(out.proof).toMatch(/without an answer/);
    const order = sheetOf().map(({ id }) => id);
    expect(order.indexOf('vpn-out:old-tablet')).toBeGreaterThan(order.indexOf('save'));
    expect(order).not.toContain('vpn-out:maren-phone');
  });

  test('during a rotation both keys are entered; a pre-shared key is named, never written', () => {
    const steps = sheetOf((plan) =>
      Object.assign(plan.vpn.peers[0]!, {
        oldKey: 'A'.repeat(43) + '=',
        oldKeyUntil: '2026-12-01',
        preshared: 'psk-maren',
      }),
    );
    const people = stepOf('vpn-people', steps);
    expect(values(people).join()).toMatch(/old key, until 2026-12-01: A{43}=/);
    expect(people.entries.find(({ label }) => label.includes('pre-shared'))).toMatchObject({
      secret: 'psk-maren',
      value: 'in the vault: psk-maren',
    });
  });

  test('site-to-site: entered, reached in both directions, and with a line pulled where a second one carries it', () => {
    const steps = runSheet(compile(demoPlan('weir-street')));
    const far = demoPlan('weir-street').vpn.sites[0]!;
    const join = values(stepOf(`vpn-site:${far.id}`, steps));
    expect(join).toContain(`Public key: ${far.publicKey}`);
    expect(join.find((each) => each.startsWith('Remote subnets'))).toContain(far.prefixes[0]);
    expect(join).toContain('May use it: Staff, Door counter; all others are refused');
    const own = far.translations.find(({ of }) => of === 'here')!;
    expect(join).toContain(`Staff is seen there as: ${own.real} as ${own.seen}, one to one, host part kept`);
    expect(steps.some(({ id }) => id.startsWith('vpn-site-pull'))).toBe(false);
    const other = runSheet(compile(demoPlan('mill-lane')));
    expect(values(other.find(({ id }) => id.startsWith('vpn-site-pull'))!)).toContain(
      'Expect it back within: 43 s',
    );
  });

  test('a hub passes on between the others, in both directions', () => {
    const plan = demoPlan('weir-street');
    plan.vpn.hub = true;
    plan.vpn.sites.push({ ...plan.vpn.sites[0]!, id: 'third', name: 'Third', prefixes: ['10.99.0.0/24'] });
    const hub = stepOf('vpn-hub', runSheet(compile(plan)));
    expect(values(hub)).toContain('Mill Lane branch library to Third: allowed, to 10.99.0.0/24');
    expect(hub.entries).toHaveLength(2);
  });
});

describe('parameter sheets of the other tunnels', () => {
  const listOf = (way: Plan['vpn']['way']): string => {
    const plan = demoPlan('farrow-sound');
    plan.vpn.way = way;
    return (methodOf(way)?.entries(compile(plan)) ?? [])
      .map(({ label, value }) => `${label}: ${value}`)
      .join('\n');
  };

  test('IKEv2: what RFC 8247 asks for, nothing that it forbids, and the ports of NAT traversal (RFC 7296 section 2.23)', () => {
    const text = listOf('ikev2');
    for (const wanted of ['AES-GCM', 'HMAC-SHA2-256', 'group 19', 'udp 500 and udp 4500', '10.24.60.0/24'])
      expect(text).toContain(wanted);
    // MUST NOT in RFC 8247 sections 2.1 to 2.4.
    expect(text).not.toMatch(/3DES|\bDES\b|MD5|group 2 |SHA1\b/);
  });

  test('TLS: version 1.3 (RFC 8446), a certificate a person, and the list of revoked ones', () => {
    const text = listOf('tls');
    for (const wanted of ['TLS 1.3', 'one a person', 'revoked']) expect(text).toContain(wanted);
  });

  test('nothing is entered where nobody comes in', () => {
    expect(listOf('none')).toBe('');
    expect(sheetOf((plan) => (plan.vpn.way = 'none')).some(({ id }) => id.startsWith('vpn-'))).toBe(false);
  });
});
