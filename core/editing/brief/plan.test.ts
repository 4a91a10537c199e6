import { describe, expect, test } from '@jest/globals';
import { runChecks } from '../../answers/checks/index.ts';
import { applyPatch } from '../../plan/patch.ts';
import { parsePlan } from '../../plan/read.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { forAnotherCustomer } from './another.ts';
import { interview } from './interview.ts';
import { confirmPatch, openOrigins } from './origins.ts';
import { patterns } from '../../intake/letter/patterns.ts';
import { planOfBrief } from './plan.ts';
import type { Answers } from './question.ts';
import { readBrief } from '../../intake/letter/read.ts';

const habits = { probes: ['192.0.2.54', '198.51.100.154'] };
const ids = (): (() => string) => {
  let count = 0;
  return () => `row-${(count += 1)}`;
};
const planFrom = (text: string, answers: Answers = {}): Plan => {
  const brief = readBrief(text);
  return planOfBrief(brief, interview(brief.facts, answers, habits).facts, ids());
};
const asked = (text: string, answers: Answers = {}): string[] =>
  interview(readBrief(text).facts, answers, habits).questions.map(({ id }) => id);
const blockers = (plan: Plan): string[] =>
  runChecks(compile(plan)).flatMap(({ rule, severity }) => (severity === 'blocker' ? [rule] : []));

/** A made-up shop with two lines, as its provider and its owner write. */
const shop = `Order confirmation for: two lines
Customer: Lantern Books
Installation address: 4 Weir Street, Porthaven

Line 1: fibre, 500/100 Mbit/s, PPPoE, VLAN 7
User name: 00471122@line.example
Password: Wren-Teapot-41
Line 2: LTE as backup
APN: internet.sim.example
SIM card is in the router.

Two tills and a card terminal, three cameras, an office printer. Guest Wi-Fi in the reading corner.
Card payments must be back within 60 seconds. The owner wants to come in from home.`;

describe('a plan from a brief', () => {
  test('a shop with two lines: addresses laid out, failover from the promise, remote access, no blocker', () => {
    const plan = planFrom(shop, { endpoint: 'books.dns.example' });
    expect(good(parsePlan(JSON.parse(JSON.stringify(plan))))).toEqual(plan);
    expect(blockers(plan)).toEqual([]);
    expect(plan.site).toMatchObject({ name: 'Lantern Books', street: '4 Weir Street', town: 'Porthaven' });
    expect(plan.uplinks.map(({ name, type, vlan }) => [name, type, vlan])).toEqual([
      ['Fibre', 'pppoe', 7],
      ['Cellular', 'cellular', null],
    ]);
    expect(plan.networks.map(({ purpose }) => purpose)).toEqual(['staff', 'payment', 'cameras', 'guests']);
    // Guests wait: a cellular line is paid by the gigabyte.
    expect(plan.failover.rules.map(({ lines }) => lines)).toEqual([[plan.uplinks[0]!.id]]);
    // The advisor's setting keeps the promise: worst case n × T + t (RFC 5880 section 6.8.4).
    const { intervalSeconds, downAfter, timeoutSeconds } = plan.uplinks[0]!.watch;
    expect(downAfter! * intervalSeconds! + timeoutSeconds!).toBeLessThan(60);
    expect(plan.forwards).toEqual([]);
    expect(plan.vpn).toMatchObject({ way: 'wireguard', groups: [{ name: 'Owner' }] });
    expect(JSON.stringify(plan)).not.toContain('Teapot');
    expect(plan.uplinks[0]!.settings.pppoe.secret).toBe('fibre-password');
  });

  test('asks only what decides something: a dozen questions for two lines and four networks', () => {
    expect(asked(shop).length).toBeLessThanOrEqual(12);
    const bare = 'two lines: fibre and cellular backup. office, guests, tills, cameras';
    expect(asked(bare).length).toBeLessThanOrEqual(12);
    // What an answer settles is asked no more, and what it opens is asked next.
    expect(asked('cellular')).toContain('box:cellular');
    expect(asked('cellular')).toContain('apn:cellular');
    expect(asked('cellular', { 'box:cellular': 'routes' })).not.toContain('apn:cellular');
    expect(asked('cellular', { 'box:cellular': 'routes' })).toContain('box-subnet:cellular');
  });

  test('an answer that cannot be read says so, and the likely one stands', () => {
    const { questions, facts } = interview(readBrief('fibre, PPPoE, user a1@line.example').facts, {
      'vlan:fibre': '4095',
    });
    expect(questions.find(({ id }) => id === 'vlan:fibre')?.problem).toMatch(/1 to 4094/);
    expect(facts.lines[0]!.vlan).toBeUndefined();
  });

  test('asking for a port is answered with remote access, unless everybody is meant', () => {
    const cameras = planFrom('fibre with DHCP\nthe cameras must be visible from outside');
    expect(cameras.forwards).toEqual([]);
    expect(cameras.vpn.groups[0]!.grants).toHaveLength(1);
    const web = planFrom(
      'fibre, 203.0.113.2/30, gateway 203.0.113.1, DNS 198.51.100.53\nThe web server must be reachable from the internet, port 443',
    );
    expect(web.forwards.map(({ outsidePorts, insidePorts }) => outsidePorts || insidePorts)).toEqual(['443']);
    expect(blockers(web)).toEqual([]);
    const office = planFrom(
      'fibre, 203.0.113.2/30, gateway 203.0.113.1, DNS 198.51.100.53\nThe recorder must be reachable from 198.51.100.7, tcp 8443',
    );
    expect(office.forwards[0]!.sources).toEqual(['198.51.100.7']);
  });

  test('every pattern gives a plan whose blockers only wait for what its owner or provider knows', () => {
    const waits = new Set([
      'missing',
      'no-upstream-resolver',
      'vpn-no-endpoint',
      'forward-impossible',
      'vpn-impossible',
      'vpn-not-reachable',
    ]);
    for (const { title, text } of patterns)
      expect([title, blockers(planFrom(text)).filter((rule) => !waits.has(rule))]).toEqual([title, []]);
  });

  test('two sites of different names get private blocks that do not overlap', () => {
    const [one, other] = ['Quay shop', 'Hill shop'].map((name) =>
      planFrom('fibre with DHCP', { name }).networks[0]!.prefix.split('.').slice(0, 2).join('.'),
    );
    expect(one).not.toBe(other);
  });

  test('Wi-Fi, cables and boxes of a letter stand in the plan, each with its line of the text, and block nothing', () => {
    const plan = planFrom(`Fibre 500/100, DHCP.
Wi-Fi: "Ropeworks" for us with WPA3, "Ropeworks Visitors" for visitors until 31 October 2027, 20 Mbit/s at most.
An access point on the second floor with 2.4 and 5 GHz, a Cat 6 cable of 45 m goes there.
In the tasting room the visitors need 15 Mbit/s. A PoE switch with 8 ports, 65 W.`);
    const guests = plan.networks.find(({ purpose }) => purpose === 'guests')!;
    expect(blockers(plan)).toEqual([]);
    expect(guests.limitDownMbps).toBe(20);
    expect(plan.wifi.networks).toMatchObject([
      { ssid: 'Ropeworks', security: 'wpa3', isolation: false },
      { ssid: 'Ropeworks Visitors', network: guests.id, isolation: true, until: '2027-10-31' },
    ]);
    const point = plan.kit.find(({ role }) => role === 'access-point')!;
    expect(plan.wifi.radios.map(({ box, band }) => [box, band])).toEqual([
      [point.id, '2.4'],
      [point.id, '5'],
    ]);
    expect(plan.wifi.rooms).toMatchObject([{ name: 'tasting room', wantedMbps: 15 }]);
    expect(plan.wiring.runs).toMatchObject([{ toBox: point.id, category: 'cat6', metres: 45 }]);
    expect(plan.kit.find(({ role }) => role === 'switch')).toMatchObject({ poeWatts: 65 });
    const told = openOrigins(plan).map(({ at }) => at);
    for (const at of ['/wifi/networks/1/ssid', '/wifi/rooms/0/wantedMbps', '/wiring/runs/0/category'])
      expect(told).toContain(at);
  });
});

describe('where a value came from', () => {
  test('stands with it until somebody confirms or changes it, and stays right when rows move', () => {
    const plan = planFrom(shop);
    const at = (now: Plan, place: string): string | undefined =>
      openOrigins(now).find((origin) => origin.at === place)?.says;
    expect(at(plan, '/uplinks/0/vlan')).toMatch(/^From the text, line 5/);
    expect(at(plan, '/networks/0/prefix')).toMatch(/^Usual value/);
    const moved = { ...plan, uplinks: [...plan.uplinks].reverse() };
    expect(at(moved, '/uplinks/1/vlan')).toMatch(/^From the text, line 5/);
    const typed = good(applyPatch(plan, [{ op: 'replace', path: '/uplinks/0/vlan', value: 8 }]));
    expect(at(typed, '/uplinks/0/vlan')).toBeUndefined();
    const one = openOrigins(plan).find((origin) => origin.at === '/uplinks/0/vlan')!;
    const confirmed = good(applyPatch(plan, confirmPatch(plan, new Set([one.id]))));
    expect(at(confirmed, '/uplinks/0/vlan')).toBeUndefined();
    expect(openOrigins(confirmed)).toHaveLength(openOrigins(plan).length - 1);
    expect(good(applyPatch(plan, confirmPatch(plan))).origins).toEqual([]);
  });
});

describe('as this site, for another customer', () => {
  test('keeps how it is set up and nothing of whom it was for', () => {
    const plan = demoPlan('farrow-sound');
    const next = forAnotherCustomer(plan, 'Next quay', ids());
    expect(good(parsePlan(JSON.parse(JSON.stringify(next))))).toEqual(next);
    expect(next.networks).toEqual(plan.networks);
    const text = JSON.stringify(next);
    for (const theirs of [
      plan.uplinks[0]!.settings.pppoe.userName,
      plan.vpn.publicKey,
      plan.vpn.peers[0]!.person,
      plan.site.customer,
      plan.kit[0]!.serial,
      ...plan.devices.flatMap(({ mac }) => (mac === '' ? [] : [mac])),
      ...plan.contacts.map(({ phone }) => phone).filter((phone) => phone !== ''),
    ])
      expect([theirs, text.includes(theirs)]).toEqual([theirs, false]);
  });
});

test('another house gets the ways of the first one, on its own boxes, without names, keys and cables', () => {
  const plan = demoPlan('larch-house');
  const next = forAnotherCustomer(plan, 'Next house', ids());
  const site = compile(next);
  expect(site.second.map(({ way, box }) => [way, box?.model])).toEqual(
    compile(plan).second.map(({ way, box }) => [way, box?.model]),
  );
  expect(site.wifi.radios.every(({ box }) => box !== undefined)).toBe(true);
  const text = JSON.stringify(next);
  for (const theirs of ['Larch House', 'wifi-guests', 'Combe Bakery', '192.168.60.10', 'U1', 'LH-1-4410'])
    expect([theirs, text.includes(theirs)]).toEqual([theirs, false]);
});

test('boxes behind the router come with a way, a free address, and what is still to be decided', () => {
  let ids = 0;
  const brief = readBrief('Surgery, fibre. An access point in the annexe. The pharmacy has its own router.');
  const plan = planOfBrief(brief, brief.facts, () => `id${(ids += 1)}`);
  expect(plan.second.map(({ way, place, dhcp }) => [way, place, dhcp])).toEqual([
    ['access-point', 'annexe', false],
    ['undecided', '', true],
  ]);
  expect(plan.kit.map(({ model }) => model)).toEqual(
    expect.arrayContaining(['Access point, annexe', "Pharmacy's router"]),
  );
  const site = compile(plan);
  const [point] = site.second;
  expect(point!.address).toBeDefined();
  expect(runChecks(site).filter(({ at }) => at.startsWith('/second/0'))).toEqual([]);
  expect(runChecks(site).map(({ rule }) => rule)).toContain('second-way');
});
