import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { runChecks } from '../../answers/checks/index.ts';
import { dayAfter, daysBetween, isDay } from '../../base/days.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Finding } from '../domain-types/finding.ts';
import { everyRuleIsNamed } from '../../testing/broken.ts';
import { demoPlan, good, notWords } from '../../testing/plans.ts';
import { accessEvents, accessList } from './access.ts';
import { compareListing, parseListing } from './listing.ts';

const farrow = (change: (plan: Plan) => unknown = () => {}): Plan => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return plan;
};
const today = '2026-08-15';
const findings = (plan: Plan): Finding[] =>
  runChecks(compile(plan), today).filter(({ rule }) =>
    /^(vpn-(ended|ends-soon|silent|overlap-over)|certificate-)/.test(rule),
  );

test('an end is said thirty days before, and on that day already', () => {
  const on = (expires: string): string[] =>
    findings(farrow((plan) => (plan.vpn.peers[0]!.expires = expires))).map(({ rule }) => rule);
  expect(daysBetween(today, '2026-09-14')).toBe(30);
  expect(on('2026-09-14')).toContain('vpn-ends-soon');
  expect(on('2026-09-15')).not.toContain('vpn-ends-soon');
  // The last day itself is a day of access.
  expect(on(today)).toContain('vpn-ends-soon');
  expect(on('2026-08-14')).toContain('vpn-ended');
});

describe('days', () => {
  test.each([
    ['2027-02-29', false],
    ['2028-02-29', true],
    ['2027-2-9', false],
    ['1.3.2027', false],
    ['', false],
  ])('%j is a day: %s (Gregorian calendar)', (text, is) => expect(isDay(text)).toBe(is));

  test('so many days later, and back, whatever the season', () => {
    fc.assert(
      fc.property(fc.integer({ min: -4000, max: 4000 }), (days) => {
        const later = dayAfter('2026-03-28', days);
        expect(isDay(later)).toBe(true);
        expect(daysBetween('2026-03-28', later)).toBe(days);
      }),
    );
    // ISO 8601-1 section 5.2.2: 2028 has 366 days.
    expect(daysBetween('2028-01-01', '2029-01-01')).toBe(366);
  });
});

describe('what ends is found on its day', () => {
  everyRuleIsNamed(
    [
      ['vpn-ended', '/vpn/peers/0/expires', (p) => (p.vpn.peers[0]!.expires = '2026-08-14')],
      ['vpn-ends-soon', '/vpn/peers/0/expires', (p) => (p.vpn.peers[0]!.expires = '2026-09-01')],
      ['vpn-silent', '/vpn/peers/0/lastSeen', (p) => (p.vpn.peers[0]!.lastSeen = '2026-05-01')],
      [
        'vpn-overlap-over',
        '/vpn/peers/0/oldKey',
        (p) =>
          Object.assign(p.vpn.peers[0]!, { oldKey: p.vpn.peers[1]!.publicKey, oldKeyUntil: '2026-08-01' }),
      ],
      ['certificate-ended', '/vpn/certificates/0', (p) => p.vpn.certificates.push(certificate('2026-08-01'))],
      [
        'certificate-ends-soon',
        '/vpn/certificates/0',
        (p) => p.vpn.certificates.push(certificate('2026-09-01')),
      ],
    ],
    farrow,
    findings,
    ['vpn-ended', 'vpn-overlap-over'],
  );
  const certificate = (until: string): Plan['vpn']['certificates'][number] => ({
    id: 'c',
    person: 'Maren Holt',
    use: 'client',
    serial: '01',
    from: '2025-08-01',
    until,
    revoked: '',
    secret: 'c',
    pem: '',
  });

  test('on the day itself it still holds, a day later it does not; without a date nothing is said', () => {
    const ends = farrow((plan) => (plan.vpn.peers[0]!.expires = today));
    expect(findings(ends).map(({ rule }) => rule)).toContain('vpn-ends-soon');
    const site = compile(ends);
    expect(accessList(site, dayAfter(today, 1))[0]!.state).toBe('ended');
    expect(runChecks(site).filter(({ rule }) => /ended|ends-soon/.test(rule))).toEqual([]);
  });
});

describe('the list of access', () => {
  const site = compile(farrow());

  test('each device once, with its state on that day', () => {
    expect(accessList(site, today).map(({ peer, state }) => [peer.id, state])).toEqual([
      ['maren-phone', 'in'],
      ['maren-laptop', 'in'],
      ['idris-laptop', 'in'],
      ['old-tablet', 'revoked'],
    ]);
  });

  test('with certificates it is the certificate that lets in, and what ends first ends it', () => {
    const certificate = {
      id: 'c',
      use: 'client' as const,
      serial: '01',
      from: '2026-03-02',
      revoked: '',
      secret: 'c',
      pem: '',
    };
    const states = (person: string, until: string) =>
      accessList(
        compile(
          farrow((plan) => {
            plan.vpn.way = 'ikev2';
            plan.vpn.certificates = [{ ...certificate, person, until }];
          }),
        ),
        today,
      ).map(({ state, says }) => `${state}: ${says}`);
    expect(states('Idris Vane, laptop', '2026-12-01')).toEqual([
      'no-key: no certificate yet',
      'no-key: no certificate yet',
      'in: until 2026-12-01',
      'revoked: revoked 2026-02-11',
    ]);
    // One for the person serves all devices of that person.
    expect(states('Maren Holt', '2026-08-20').slice(0, 2)).toEqual([
      'ends-soon: ends 2026-08-20',
      'ends-soon: ends 2026-08-20',
    ]);
  });

  test('events in the order of their days; nothing ends for who is revoked', () => {
    const events = accessEvents(site);
    expect(events.map(({ day }) => day)).toEqual(events.map(({ day }) => day).sort());
    const tablet = events.filter(({ who }) => who.includes('tablet')).map(({ what }) => what);
    expect(tablet).toEqual(['access given', 'revoked']);
  });
});

describe("the router's own list", () => {
  const plan = farrow();
  const site = compile(plan);
  const key = (index: number): string => plan.vpn.peers[index]!.publicKey;
  const router = plan.vpn.publicKey;
  const secret = 'c2VjcmV0c2VjcmV0c2VjcmV0c2VjcmV0c2VjcmV0c2U=';
  const epoch = Date.parse('2026-08-14T10:00:00Z') / 1000;
  const forms = {
    'a table with tabs': [
      [secret, router, '51820', 'off'],
      [
        key(0),
        '(none)',
        '198.51.100.7:41000',
        '10.24.60.2/32,fd5e:24a1:60c3:60::2/128',
        epoch,
        '1600000000',
        '12',
        '25',
      ],
      [key(1), secret, '(none)', '10.24.60.3/32', '0', '1700000000', '0', 'off'],
    ]
      .map((row) => row.join('\t'))
      .join('\n'),
    sentences: `interface: tunnel
  public key: ${router}
  private key: (hidden)
peer: ${key(0)}
  endpoint: 198.51.100.7:41000
  allowed ips: 10.24.60.2/32, fd5e:24a1:60c3:60::2/128
  latest handshake: 21 hours, 3 minutes ago
peer: ${key(1)}
  preshared key: ${secret}
  allowed ips: 10.24.60.3/32
  latest handshake: never`,
    'a configuration': `[Interface]
PrivateKey = ${secret}
ListenPort = 51820
[Peer]
# telephone, seen 2026-08-14
PublicKey = ${key(0)}
AllowedIPs = 10.24.60.2/32, fd5e:24a1:60c3:60::2/128
[Peer]
PublicKey = ${key(1)}
PresharedKey = ${secret}
AllowedIPs = 10.24.60.3/32`,
  };

  test.each(Object.entries(forms))('%s: two peers with their addresses, and no secret', (_form, text) => {
    const listed = good(parseListing(text, today)).filter(({ publicKey }) => publicKey !== router);
    expect(listed.map(({ publicKey }) => publicKey)).toEqual([key(0), key(1)]);
    expect(listed.map(({ allowed }) => allowed.length)).toEqual([2, 1]);
    expect(
      JSON.stringify(listed, (_, value: unknown) => (typeof value === 'bigint' ? String(value) : value)),
    ).not.toContain(secret);
  });

  test('the last handshake, from seconds since 1970 and from words; never is never', () => {
    const seen = (form: keyof typeof forms) =>
      good(parseListing(forms[form], today))
        .filter(({ publicKey }) => publicKey !== router)
        .map((each) => each.seen);
    expect(seen('a table with tabs')).toEqual(['2026-08-14', 'never']);
    expect(seen('sentences')).toEqual(['2026-08-14', 'never']);
    expect(good(parseListing(`${key(0)}\t${epoch}`, today))[0]!.seen).toBe('2026-08-14');
  });

  test('a time longer ago than the protocol exists is no time', () => {
    const seen = (words: string): string =>
      good(parseListing(`peer: ${key(0)}\n  latest handshake: ${words} ago`, today))[0]!.seen;
    expect(seen('3 weeks, 1 day')).toBe('2026-07-24');
    expect(seen('99999999999999999999 years')).toBe('');
    expect(seen('0 seconds')).toBe(today);
  });

  const compared = (rows: [key: string, allowed: string, rest?: string][], of = site) =>
    compareListing(
      of,
      good(
        parseListing(
          rows
            .map(([each, allowed, rest = '']) => `peer: ${each}\nallowed ips: ${allowed}\n${rest}`)
            .join('\n'),
          today,
        ),
      ),
      today,
    );
  const sound: [string, string][] = [
    [key(0), '10.24.60.2/32, fd5e:24a1:60c3:60::2/128'],
    [key(1), '10.24.60.3/32'],
    [key(2), '10.24.60.4/32'],
  ];

  test('a router that holds what the plan holds: nothing to say, and when each was last seen', () => {
    const seen = compared([[key(0), '10.24.60.2/32', 'latest handshake: 3 days ago'], sound[1]!, sound[2]!]);
    expect(seen).toMatchObject({ faults: [], known: 3, seen: [{ index: 0, day: '2026-08-12' }] });
  });

  test.each<[rule: string, rows: [string, string, string?][], change?: (plan: Plan) => unknown]>([
    ['unknown-key', [...sound, [secret, '10.24.60.99/32']]],
    ['revoked-in', [...sound, [key(3), '10.24.60.5/32']]],
    ['ended-in', sound, (p) => (p.vpn.peers[0]!.expires = '2026-01-01')],
    ['wide', [[key(0), '10.24.60.0/24'], sound[1]!, sound[2]!]],
    ['other-address', [[key(0), '10.24.60.77/32'], sound[1]!, sound[2]!]],
    ['not-entered', sound.slice(1)],
    ['never-seen', [[key(0), '10.24.60.2/32', 'latest handshake: never'], sound[1]!, sound[2]!]],
    ['silent', [[key(0), '10.24.60.2/32', 'latest handshake: 20 weeks ago'], sound[1]!, sound[2]!]],
    [
      'old-key-in',
      [...sound, [secret, '10.24.60.2/32']],
      (p) => Object.assign(p.vpn.peers[0]!, { oldKey: secret, oldKeyUntil: '2026-08-01' }),
    ],
  ])('%s', (...each) => {
    const [rule, rows, change] = each;
    const { faults } = compared(rows, compile(farrow(change)));
    expect(faults.map((each) => each.rule)).toEqual([rule]);
    expect(faults[0]!.says.length).toBeGreaterThan(40);
    expect(faults[0]!.says).not.toMatch(notWords);
  });

  test('a joined site that is missing on the router; nothing that could be a list', () => {
    const weir = demoPlan('weir-street');
    const only = compared(
      weir.vpn.peers.map(({ publicKey, address }) => [publicKey, `${address}/32`]),
      compile(weir),
    );
    expect(only.faults.map(({ rule }) => rule)).toEqual(['site-not-entered']);
    expect(parseListing('nothing here', today)).toMatchObject({ ok: false, problem: { code: 'listing' } });
  });
});
