import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compile } from '../../site/compile.ts';
import { demoPlan, good } from '../../testing/plans.ts';
import { profileText } from './interface.ts';
import { keyPair } from './key-pair.ts';
import { compareListing, parseListing } from './listing.ts';
import { parseProfile, type Profile } from './profile.ts';
import { checkProfile } from './profile-check.ts';

const site = compile(demoPlan('farrow-sound'));
const today = '2026-08-15';

/** What people paste by mistake, and the pieces of what they should. */
const piece = fc.oneof(
  fc.string({ maxLength: 40 }),
  fc.constantFrom(
    '[Interface]',
    '[Peer]',
    'PrivateKey = ',
    'PublicKey = ',
    'Address = 10.24.60.2/32',
    'Address = 10.24.60.2/99, fe80::',
    'AllowedIPs = 0.0.0.0/0, ::/0',
    'AllowedIPs = not a subnet',
    'Endpoint = [2001:db8::1]:51820',
    'Endpoint = :::',
    'MTU = 99999999',
    'PersistentKeepalive = off',
    'DNS = ',
    '# a remark = [Peer]',
    'peer: ',
    'latest handshake: 99999999999999999999 years ago',
    '\t0\t0\t',
    site.vpn.publicKey,
    site.vpn.peers[0]!.publicKey,
  ),
);
const pasted = fc.array(piece, { maxLength: 25 }).map((lines) => lines.join('\n'));

test('a profile that runs commands on the device that loads it is a blocker, whoever wrote it', () => {
  const peer = site.vpn.peers[0]!;
  for (const key of ['PostUp', 'preup', 'POSTDOWN', 'PreDown']) {
    const text = profileText(site, peer).replace('[Peer]', `${key} = curl example.com\n\n[Peer]`);
    const { faults } = checkProfile(site, good(parseProfile(text)));
    expect(faults).toContainEqual(expect.objectContaining({ severity: 'blocker', rule: 'command' }));
  }
});

describe('whatever is pasted', () => {
  test('as a profile: it is judged or refused in a sentence, and nothing is thrown', () => {
    fc.assert(
      fc.property(pasted, (text) => {
        const parsed = parseProfile(text);
        if (!parsed.ok) expect(parsed.problem.says).toMatch(/[.]$/);
        else for (const { says } of checkProfile(site, parsed.value).faults) expect(says).toMatch(/[.]$/);
      }),
      { numRuns: 300 },
    );
  });

  test('as the list of a router: it is compared or refused in a sentence, and nothing is thrown', () => {
    fc.assert(
      fc.property(pasted, (text) => {
        const parsed = parseListing(text, today);
        if (!parsed.ok) expect(parsed.problem.says).toMatch(/[.]$/);
        else {
          const { faults, seen } = compareListing(site, parsed.value, today);
          for (const { says } of faults) expect(says).toMatch(/[.?]$/);
          for (const { day } of seen) expect(day).toMatch(/^\d{4}-\d\d-\d\d$/);
        }
      }),
      { numRuns: 300 },
    );
  });

  test('no sentence about a profile repeats its private key or its pre-shared key, whatever is wrong with it', () => {
    const secret = fc.uint8Array({ minLength: 32, maxLength: 32 }).map((bytes) => keyPair(bytes).privateKey);
    fc.assert(
      fc.property(
        secret,
        secret,
        fc.constantFrom('', ' ', 'x', '=='),
        fc.constantFrom(0, 1, 2, 3),
        (own, shared, damage, index) => {
          const text = profileText(site, site.vpn.peers[index]!)
            .replace(/PrivateKey = .*/, `PrivateKey = ${own}${damage}`)
            .replace('[Peer]', `[Peer]\nPresharedKey = ${shared}`);
          const { faults } = checkProfile(site, good(parseProfile(text)));
          expect(faults.length).toBeGreaterThan(0);
          for (const { says } of faults)
            for (const each of [own, shared]) expect(says).not.toContain(each.slice(0, 16));
        },
      ),
      { numRuns: 60 },
    );
  });

  test('a line of a list that holds a secret is passed over, in each form that routers show', () => {
    const { privateKey, publicKey } = keyPair(Uint8Array.from({ length: 32 }, () => 7));
    const shown = [
      `${privateKey}\t${publicKey}\t51820\toff`,
      `PrivateKey = ${privateKey}`,
      `  private key: ${privateKey}`,
      `  preshared key: ${privateKey}`,
      `PresharedKey = ${privateKey}`,
      `Pre-Shared-Key ${privateKey}`,
    ];
    for (const line of shown) {
      const text = `${line}\npeer: ${site.vpn.peers[0]!.publicKey}`;
      const keys = good(parseListing(text, today)).map((each) => each.publicKey);
      expect([line, keys]).toEqual([line, [site.vpn.peers[0]!.publicKey]]);
    }
  });
});

describe('an imported profile', () => {
  const text = profileText(site, site.vpn.peers[0]!);
  const read = (change: (text: string) => string): Profile => good(parseProfile(change(text)));

  test.each<[what: string, change: (text: string) => string]>([
    ['other line ends', (each) => each.replace(/\n/g, '\r\n')],
    ['keys in other letters', (each) => each.replace(/^([A-Za-z]+) =/gm, (key) => key.toLowerCase())],
    ['no spaces', (each) => each.replace(/ = /g, '=')],
    ['remarks and empty lines', (each) => each.replace(/\n/g, ' # noted\n\n')],
    [
      'a subnet a line',
      (each) =>
        each.replace(/AllowedIPs = (.*)/, (_, list: string) =>
          list
            .split(', ')
            .map((block) => `AllowedIPs = ${block}`)
            .join('\n'),
        ),
    ],
  ])('is the same with %s', (_what, change) => {
    const { name: _ignored, ...plain } = read((each) => each);
    const { name: _other, ...changed } = read(change);
    expect(changed).toEqual(plain);
  });

  test.each<[what: string, text: string, says: RegExp]>([
    ['nothing of a tunnel', 'hello', /line 1/i],
    ['half of one', '[Peer]\nPublicKey = x', /no \[Interface\] section/],
    ['an address that is none', '[Interface]\nAddress = 10.300.0.1/32', /Address: /],
    ['a subnet that is none', '[Interface]\n[Peer]\nAllowedIPs = everything', /"everything" is no prefix/],
  ])('%s is refused in a sentence', (_what, each, says) => {
    const parsed = parseProfile(each);
    expect(parsed).toMatchObject({ ok: false, problem: { says: expect.stringMatching(says) } });
  });
});
