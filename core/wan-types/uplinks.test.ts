import { describe, expect, test } from '@jest/globals';
import { runChecks } from '../answers/checks/index.ts';
import { ask } from '../answers/path/ask.ts';
import { applyPatch } from '../plan/patch.ts';
import { portSchema, type Plan } from '../plan/schema.ts';
import { runSheet } from '../answers/run-sheet/sheet.ts';
import { compile } from '../site/compile.ts';
import { compiledCopy, good, soundPlan } from '../testing/plans.ts';
import { workingsAt } from '../answers/workings/index.ts';
import { callSheet, likelyTypes, missingFields } from './advice.ts';
import { wanTypes } from './index.ts';
import type { Paper } from './type.ts';
import { parseUserName } from '../base/net/identifiers.ts';
import type { WanTypeName } from '../plan/schema.ts';

const withLine = (type: WanTypeName, change: (uplink: Plan['uplinks'][number]) => void = () => {}): Plan =>
  soundPlan((plan) => {
    const uplink = plan.uplinks[0]!;
    uplink.type = type;
    Object.assign(uplink.settings.pppoe, { userName: 'pier@dial.example', secret: 'fibre' });
    uplink.settings.cellular.apn = 'internet.example';
    change(uplink);
  });
const rules = (plan: Plan): string[] => runChecks(compiledCopy(plan)).map(({ rule }) => rule);
const steps = (plan: Plan): string[] => runSheet(compiledCopy(plan)).map(({ id }) => id);

describe('which type it is', () => {
  const first = (
    medium: Parameters<typeof likelyTypes>[0],
    papers: Paper[],
    boxRoutes = false,
  ): string | undefined => likelyTypes(medium, papers, boxRoutes)[0]?.type;

  // Common practice, no source: what a practised person would take first.
  test.each([
    ['fibre', ['user', 'vlan'], false, 'pppoe'],
    ['fibre', ['block'], false, 'static'],
    ['dsl', [], false, 'dhcp'],
    ['dsl', ['user'], false, 'pppoe'],
    ['cable', [], false, 'dhcp'],
    ['cellular', ['apn'], false, 'cellular'],
    ['cellular', ['apn'], true, 'dhcp'],
    ['router', [], true, 'dhcp'],
    ['fibre', ['translator'], false, 'ds-lite'],
    ['ethernet', ['server', 'user', 'vlan'], false, 'pppoe'],
  ] as const)('%s with %j, box routes: %s → %s', (medium, papers, box, expected) =>
    expect(first(medium, [...papers], box)).toBe(expected),
  );

  test('each has its reasons, and what speaks against a type keeps it down', () => {
    for (const likely of likelyTypes('fibre', ['user', 'vlan'], false))
      expect(likely.reasons.length).toBeGreaterThan(0);
    expect(likelyTypes('cable', ['user'], false).find(({ type }) => type === 'pppoe')?.against).toHaveLength(
      1,
    );
  });

  test('a line nobody knows stops the handover and says so', () => {
    const plan = withLine('unknown');
    expect(rules(plan)).toContain('uplink-unknown');
    expect(runSheet(compile(plan)).find(({ id }) => id === 'uplink:fibre')!.cautions[0]).toMatch(/not known/);
  });
});

describe('the call sheet', () => {
  const questions = (plan: Plan) => {
    const site = compile(plan);
    return callSheet(site.lines[0]!, site.problems);
  };

  test('asks what this type needs, each question once, and marks what is known', () => {
    for (const { name } of wanTypes) {
      const asked = questions(withLine(name));
      expect(new Set(asked.map(({ id }) => id)).size).toBe(asked.length);
      for (const { asks, why } of asked)
        expect([asks, why]).toEqual([expect.stringMatching(/\?$/), expect.stringMatching(/\.$/)]);
    }
    const pppoe = questions(withLine('pppoe'));
    expect(pppoe.find(({ id }) => id === 'pppoe-userName')).toMatchObject({ known: true });
    expect(pppoe.find(({ id }) => id === 'vlan')).toMatchObject({ known: false, at: '/uplinks/0/vlan' });
    expect(questions(withLine('static')).some(({ id }) => id === 'static-gateway')).toBe(true);
  });

  test('an answer that was entered is known', () => {
    const plan = withLine('pppoe', (uplink) => {
      uplink.answers.push({ id: 'fault', answer: '0800 000 000, line 77', who: 'Desk', when: '2026-03-02' });
    });
    expect(questions(plan).find(({ id }) => id === 'fault')!.known).toBe(true);
  });

  test('fields that are missing are named', () => {
    const site = compile(
      withLine('pppoe', (uplink) => {
        uplink.settings.pppoe.userName = '';
      }),
    );
    expect(missingFields(site.lines[0]!, site.problems).map(({ term }) => term)).toEqual(['User name']);
  });
});

describe('PPPoE', () => {
  test('carries 1492 (RFC 2516 section 7), or 1500 where it was agreed (RFC 4638)', () => {
    expect(compile(withLine('pppoe')).lines[0]!.mtuBytes).toBe(1492);
    const large = withLine('pppoe', (uplink) => {
      uplink.settings.pppoe.largePackets = true;
    });
    expect(compile(large).lines[0]!.mtuBytes).toBe(1500);
    const wrong = withLine('pppoe', (uplink) => {
      uplink.mtuBytes = 1500;
    });
    const finding = runChecks(compile(wrong)).find(({ rule }) => rule === 'mtu-large')!;
    expect(compile(good(applyPatch(wrong, finding.fix!.patch))).lines[0]!.mtuBytes).toBe(1492);
  });

  test('the run sheet clamps TCP to 1452 and 1432, tags the line, ends the old session first, activates before all', () => {
    const plan = withLine('pppoe', (uplink) =>
      Object.assign(uplink, { vlan: 7, vlanPriority: 1, medium: 'fibre' }),
    );
    const sheet = runSheet(compile(plan));
    const line = sheet.find(({ id }) => id === 'uplink:fibre')!;
    const values = line.entries.map(({ value }) => value);
    expect(values).toContain('1452 bytes over IPv4, 1432 over IPv6');
    expect(values).toContain('7, priority 1, tagged');
    const order = ['activation:fibre', 'light:fibre', 'old-session:fibre', 'uplink:fibre'].map((id) =>
      steps(plan).indexOf(id),
    );
    expect(order).toEqual([...order].sort((a, b) => a - b));
    expect(order[0]).toBeGreaterThanOrEqual(0);
    expect(JSON.stringify(sheet)).not.toContain('"value":""');
  });

  test.each([
    ['pier@dial.example', true],
    ['0049123456#0001@line.example', true],
    ['plainname', true],
    ['two words@x.example', false],
    ['a@b@c', false],
    ['@dial.example', false],
    ['pier@', false],
    ['x'.repeat(256), false],
  ])('user name "%s" is in order: %s (RFC 1334 section 2.2.1, RFC 7542 section 2.2)', (name, fine) =>
    expect(parseUserName(name).ok).toBe(fine),
  );

  test('a name without a realm, a missing password and a session that is not dialled again are found', () => {
    const plan = withLine('pppoe', (uplink) => {
      Object.assign(uplink.settings.pppoe, { userName: 'plainname', secret: '', reconnect: false });
    });
    expect(rules(plan)).toEqual(
      expect.arrayContaining(['user-without-realm', 'secret-missing', 'no-reconnect']),
    );
    expect(rules(withLine('pppoe'))).not.toEqual(expect.arrayContaining(['secret-missing']));
  });
});

describe('cellular', () => {
  test('carrier NAT is expected: nothing comes in, everything goes out', () => {
    const site = compile(withLine('cellular'));
    expect(site.lines[0]).toMatchObject({ inbound: 'impossible', translators: ['carrier'] });
    expect(good(ask(site, 'from office to internet tcp 443')).outcome).toBe('delivered');
    expect(good(ask(site, 'from internet to fibre tcp 8443')).outcome).toBe('impossible');
    expect(rules(withLine('cellular'))).toContain('forward-impossible');
  });

  test('a public address that is expected says more than the habit of the trade', () => {
    const site = compile(
      withLine('cellular', (uplink) => {
        uplink.settings.cellular.expectedAddress = '203.0.113.77';
      }),
    );
    expect(site.lines[0]!.inbound).toBe('direct');
  });

  test('the card: locked is a blocker, one wrong try a warning, a fresh one nothing', () => {
    const found = (tries: number) =>
      runChecks(
        compile(
          withLine('cellular', (uplink) => {
            uplink.settings.cellular.pinTriesLeft = tries;
          }),
        ),
      ).filter(({ rule }) => rule.startsWith('pin-'));
    expect([found(0)[0]!.severity, found(1)[0]!.severity, found(3)]).toEqual(['blocker', 'warning', []]);
  });

  test('a day beyond the cap is priced: 8 h at 5 Mb/s are 18 GB by hand', () => {
    const plan = withLine('cellular', (uplink) => {
      Object.assign(uplink.settings.cellular, { capGigabytes: 10, pricePerGigabyte: 4 });
    });
    const finding = runChecks(compile(plan)).find(({ rule }) => rule === 'cap-day')!;
    expect(finding.why.value).toBe(32);
    expect(finding.at).toBe('/uplinks/0/settings/cellular/capGigabytes');
  });

  test('authentication without a user is mended by the fix that is offered', () => {
    const plan = withLine('cellular', (uplink) => {
      uplink.settings.cellular.authentication = 'chap';
    });
    const finding = runChecks(compile(plan)).find(({ rule }) => rule === 'apn-user')!;
    expect(rules(good(applyPatch(plan, finding.fix!.patch)))).not.toContain('apn-user');
  });
});

describe('the other types', () => {
  test('DS-Lite: 1460 inside (RFC 6333 section 5.3), no way in over IPv4', () => {
    const site = compile(withLine('ds-lite'));
    expect(site.lines[0]).toMatchObject({ mtuBytes: 1460, inbound: 'impossible' });
    expect(rules(withLine('ds-lite'))).toEqual(
      expect.arrayContaining(['ds-lite-inbound', 'forward-impossible']),
    );
  });

  test('L2TP and PPTP are known and marked dated, with why', () => {
    for (const type of ['l2tp', 'pptp'] as const) {
      const finding = runChecks(compile(withLine(type))).find(({ rule }) => rule === 'dated-type')!;
      expect(finding).toMatchObject({ severity: 'warning', says: expect.stringMatching(/Ask the provider/) });
      expect(compile(withLine(type)).lines[0]!.mtuBytes).toBe(1460);
    }
  });

  test('static: a gateway outside the subnet only on purpose; a routed subnet lies apart from the line', () => {
    const outside = withLine('static', (uplink) => {
      uplink.settings.static.gateway = '203.0.113.129';
    });
    expect(rules(outside)).toContain('line-gateway');
    outside.uplinks[0]!.settings.static.gatewayOutside = true;
    expect(rules(outside)).not.toContain('line-gateway');
    const routed = withLine('static', (uplink) => {
      uplink.settings.static.routedBlock = '203.0.113.8/29';
    });
    expect(rules(routed)).toContain('routed-block');
    routed.uplinks[0]!.settings.static.routedBlock = '198.51.100.64/29';
    expect(rules(routed)).not.toContain('routed-block');
    // A routed /29 has eight addresses for 1:1 translation, or six hosts as a network (RFC 4632, arithmetic).
    const [worked] = workingsAt(compile(routed), '/uplinks/0/settings/static/routedBlock');
    expect(worked).toMatchObject({ value: 8, unit: 'addresses' });
    expect(worked!.steps.map(({ value }) => value).join()).toContain('6 hosts');
  });

  test('DHCP: renewal at half the lease (RFC 2131 section 4.4.5); a tied line forgets first, takes over last', () => {
    const plan = withLine('dhcp', (uplink) => {
      Object.assign(uplink.settings.dhcp, { leaseMinutes: 120, tiedMac: '00:00:5e:00:53:77' });
    });
    const site = compile(plan);
    expect(workingsAt(site, '/uplinks/0/settings/dhcp/leaseMinutes')[0]!.value).toBe(3600);
    const forget = runSheet(site).find(({ id }) => id === 'forget:fibre')!;
    expect(forget.highSeconds).toBe(120); // common practice, no source: up to 120 s without power
    expect(forget.entries[0]!.label).toMatch(/Second resort/);
    expect(forget.ifNot).toMatch(/undo it/);
    expect(steps(plan).indexOf('forget:fibre')).toBeLessThan(steps(plan).indexOf('uplink:fibre'));
  });

  test('an offered route that is refused is found, and the fix takes it', () => {
    const plan = withLine('dhcp', (uplink) => {
      uplink.settings.dhcp.useRoute = false;
    });
    const finding = runChecks(compile(plan)).find(({ rule }) => rule === 'route-refused')!;
    expect(rules(good(applyPatch(plan, finding.fix!.patch)))).not.toContain('route-refused');
  });
});

describe('media', () => {
  test('fibre: a power that the route does not explain is found, with the window', () => {
    const plan = (measuredDbm: number): Plan =>
      withLine('pppoe', (uplink) => {
        uplink.medium = 'fibre';
        Object.assign(uplink.media.fibre, {
          system: 'gpon-b',
          lengthKm: 4,
          connectors: 4,
          splices: 6,
          splitterWays: 32,
          sentDbm: 3,
          measuredDbm,
        });
      });
    expect(rules(plan(-18)).filter((rule) => rule.startsWith('optical'))).toEqual([]);
    expect(rules(plan(-29))).toContain('optical-too-weak');
    expect(rules(plan(-2))).toContain('optical-overload');
    const light = runSheet(compile(plan(-18))).find(({ id }) => id === 'light:fibre')!;
    expect(light.cautions.join()).toMatch(/never look into a fibre/i);
    expect(light.entries.map(({ value }) => value)).toContain('-21.2 to -16.9 dBm');
  });

  test.each([
    ['dsl', { marginDb: 4, filters: true }, 'dsl-margin'],
    ['dsl', { marginDb: 9, filters: false }, 'dsl-filters'],
    ['dsl', { errorsPerHour: 900, filters: true }, 'dsl-errors'],
    ['cable', { powerDbmv: -11 }, 'cable-power'],
    ['cable', { snrDb: 29 }, 'cable-snr'],
    ['cable', { upstreamDbmv: 52 }, 'cable-upstream'],
    ['cable', { upstreamDbmv: 31 }, 'cable-upstream'],
    ['wireless', { alignmentBeforeDbm: -60, alignmentAfterDbm: -66 }, 'wireless-alignment'],
    ['satellite', { roundTripMs: 640 }, 'satellite-delay'],
    ['satellite', { roundTripMs: 90, heightKm: 35_786 }, 'faster-than-light'],
    ['cellular', { bands: '3, seven' }, 'bands-form'],
    ['router', {}, 'router-not-described'],
  ] as const)('%s with %j: %s', (medium, settings, rule) => {
    const plan = withLine('dhcp', (uplink) => {
      uplink.medium = medium;
      Object.assign(uplink.media[medium], settings);
    });
    expect(rules(plan)).toContain(rule);
  });

  test('not yet activated is a state of its own', () => {
    expect(rules(withLine('dhcp', (uplink) => Object.assign(uplink, { activation: 'not-yet' })))).toContain(
      'not-activated',
    );
    expect(
      steps(withLine('dhcp', (uplink) => Object.assign(uplink, { activation: 'active' }))),
    ).not.toContain('activation:fibre');
  });
});

describe('the sockets of the router', () => {
  const sockets = (...rows: Partial<Plan['router']['ports'][number]>[]): string[] =>
    rules(
      soundPlan((plan) => {
        plan.router.ports = rows.map((row, index) =>
          portSchema.parse({ id: `p${index}`, name: `${index}`, ...row }),
        );
      }),
    ).filter((rule) => /port|line-(twice|without)/.test(rule));

  test('one WAN port for the line and a LAN port are in order', () => {
    expect(sockets({ role: 'wan', uplink: 'fibre' }, { role: 'lan', network: 'office' })).toEqual([]);
  });

  test.each([
    ['the line in a LAN port', [{ role: 'lan', uplink: 'fibre' }], 'port-role'],
    ['the line in a port that is off', [{ role: 'off', uplink: 'fibre' }, { role: 'lan' }], 'port-role'],
    [
      'an inside network on the WAN port',
      [{ role: 'wan', uplink: 'fibre', network: 'office' }, {}],
      'port-role',
    ],
    [
      'one line in two sockets',
      [{ role: 'wan', uplink: 'fibre' }, { role: 'wan', uplink: 'fibre' }, {}],
      'line-twice',
    ],
    ['a line without a socket', [{ role: 'lan' }], 'line-without-port'],
    ['nothing for the inside', [{ role: 'wan', uplink: 'fibre' }], 'no-lan-port'],
    ['two rows of one name', [{ name: 'A', role: 'wan', uplink: 'fibre' }, { name: 'A' }], 'port-twice'],
    ['a line in a port that is LAN only', [{ role: 'wan', built: 'lan', uplink: 'fibre' }, {}], 'port-built'],
    [
      'the inside on a port that is WAN only',
      [
        { role: 'wan', uplink: 'fibre' },
        { built: 'wan', network: 'office' },
      ],
      'port-built',
    ],
  ] as const)('%s', (_name, rows, rule) => expect(sockets(...rows)).toContain(rule));

  test('a line without a port is offered a free one that can be one, and then has it', () => {
    const plan = soundPlan((p) => {
      p.router.ports = (['lan', 'unknown', 'either'] as const).map((built, index) =>
        portSchema.parse({ id: `p${index}`, name: `${index}`, built, network: index === 0 ? 'office' : '' }),
      );
    });
    const found = runChecks(compile(plan)).find(({ rule }) => rule === 'line-without-port')!;
    expect(found.says).toMatch(/Free, and can be one: 2\.$/);
    const mended = good(applyPatch(plan, found.fix!.patch));
    expect(mended.router.ports[2]).toMatchObject({ role: 'wan', uplink: plan.uplinks[0]!.id });
    expect(rules(mended)).not.toContain('line-without-port');
  });
});

test('a packet as large as a PPPoE line carries leaves, one byte more does not (RFC 2516 section 7)', () => {
  const site = compile(withLine('pppoe'));
  const outcome = (size: number): string =>
    good(ask(site, `from office to internet tcp 443 size ${size}`)).outcome;
  expect([outcome(1492), outcome(1493)]).toEqual(['delivered', 'dropped']);
});

describe('measured rates', () => {
  const measured = (direction: 'down' | 'up', ...rates: number[]): Plan =>
    withLine('static', (uplink) => {
      Object.assign(uplink, { rateDownMbps: 300, rateUpMbps: 100 });
      uplink.runs = rates.map((mbps, index) => ({
        id: `r${index}`,
        direction,
        mbps,
        wired: true,
        hour: 9 + index,
      }));
    });

  test('as sold is no finding; less is one, with its median and the best that TCP can show', () => {
    expect(rules(measured('down', 281, 279, 283))).not.toContain('rate-apart');
    const finding = runChecks(compile(measured('down', 151, 149, 152))).find(
      ({ rule }) => rule === 'rate-apart',
    )!;
    // Median 151 of 300 × 1460 / 1538 = 284.79 (RFC 6349 section 4.1.1).
    expect([finding.at, finding.why.value]).toEqual(['/uplinks/0/rateDownMbps', expect.closeTo(53.02, 2)]);
  });

  test('each direction is judged by its own runs, and too few are not judged', () => {
    expect(rules(measured('up', 20, 21, 19))).toContain('rate-apart');
    expect(rules(measured('up', 20, 21))).not.toContain('rate-apart');
    const site = compile(measured('up', 20, 21, 19));
    expect(workingsAt(site, '/uplinks/0/rateUpMbps').map(({ value }) => value)).toEqual([
      expect.closeTo(21.07, 2),
      expect.closeTo(94.93, 2),
    ]);
    expect(workingsAt(site, '/uplinks/0/rateDownMbps')).toHaveLength(1);
    expect(workingsAt(site, '/uplinks/0/runs/1/mbps').map(({ value }) => value)).toEqual([
      expect.closeTo(21.07, 2),
      expect.closeTo(94.93, 2),
    ]);
  });
});
