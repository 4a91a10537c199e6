import { createHash, createPrivateKey, createPublicKey, diffieHellman } from 'node:crypto';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import { contains, formatPrefix, overlaps, type Prefix } from '../../base/net/prefix.ts';
import { ask } from '../../answers/path/ask.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { rangeOf } from '../../base/net/range.ts';
import { addr, block, demoPlan, good } from '../../testing/plans.ts';
import {
  freePeerAddress,
  freePool,
  poolProblem,
  profileOf,
  profileText,
  secretPlace,
  tunnelWorked,
} from './interface.ts';
import { keyPair, publicKeyOf, sharedSecret } from './key-pair.ts';
import { parseKey } from './keys.ts';
import { parseProfile, writeProfile, type Profile } from './profile.ts';
import { checkProfile } from './profile-check.ts';
import { peerVerdict } from './reach.ts';
import { allBut, fewest, nearBlocks, routesOf } from './routes.ts';
import { speedVerdict, speedWorked } from './speed.ts';
import { situations, simulateClient } from './situations.ts';
import { rankWays } from './which.ts';

const siteOf = (change: (plan: Plan) => void = () => {}): Site => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return compile(plan);
};
const farrow = siteOf();
const peerOf = (id: string, site = farrow) => site.vpn.peers.find((each) => each.id === id)!;
const hex = (text: string): Uint8Array => Uint8Array.from(Buffer.from(text, 'hex'));
const secretOf = (name: string): Uint8Array => Uint8Array.from(createHash('sha256').update(name).digest());

describe('keys', () => {
  test('the vectors of RFC 7748 section 6.1: the public half of each end, and what both agree on', () => {
    const base64 = (text: string): string => Buffer.from(text, 'hex').toString('base64');
    const alice = keyPair(hex('77076d0a7318a57d3c16c17251b26645df4c2f87ebc0992ab177fba51db92c2a'));
    const bob = keyPair(hex('5dab087e624a8a4b79e17f8b83800ee66f3bb1292618b6fd1c2f8b27ff88e0eb'));
    expect(alice.publicKey).toBe(base64('8520f0098930a754748b7ddcb43ef75a0dbf3a0d26381af4eba4a98eaa9b4e6a'));
    expect(bob.publicKey).toBe(base64('de9edb7d7b7dc1b4d35b61c2ece435373f8343c85b78674dadfc7e146f882b4f'));
    for (const [own, other] of [
      [alice, bob],
      [bob, alice],
    ] as const)
      expect(sharedSecret(own.privateKey, other.publicKey)).toBe(
        base64('4a5d9d5ba4ce2de1728e3bf480350f25e07e21c947d19e3376f09b3c1e161742'),
      );
  });

  test("the same keys as Node's own crypto makes, and the same secret at both ends", () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 32, maxLength: 32 }),
        fc.uint8Array({ minLength: 32, maxLength: 32 }),
        (one, two) => {
          const [a, b] = [keyPair(one), keyPair(two)];
          const node = (privateKey: string) =>
            createPrivateKey({
              key: Buffer.concat([
                Buffer.from('302e020100300506032b656e04220420', 'hex'),
                Buffer.from(privateKey, 'base64'),
              ]),
              format: 'der',
              type: 'pkcs8',
            });
          const publicOf = (privateKey: string): string =>
            createPublicKey(node(privateKey))
              .export({ format: 'der', type: 'spki' })
              .subarray(-32)
              .toString('base64');
          expect(a.publicKey).toBe(publicOf(a.privateKey));
          expect(sharedSecret(a.privateKey, b.publicKey)).toBe(sharedSecret(b.privateKey, a.publicKey));
          expect(sharedSecret(a.privateKey, b.publicKey)).toBe(
            diffieHellman({
              privateKey: node(a.privateKey),
              publicKey: createPublicKey(node(b.privateKey)),
            }).toString('base64'),
          );
        },
      ),
      { numRuns: 20 },
    );
  });

  test.each(['', 'abc', 'x'.repeat(44), `${'A'.repeat(42)}==`, `${'A'.repeat(43)}= `.repeat(2)])(
    '%j is no key',
    (text) => {
      expect(parseKey(text)).toMatchObject({ ok: false, problem: { code: 'key' } });
      expect(publicKeyOf(text).ok).toBe(false);
    },
  );
});

describe('routes into the tunnel', () => {
  /** A small space, so that every address of it can be tried: 10.0.0.0/24. */
  const space = block('10.0.0.0/24');
  const small = fc
    .tuple(fc.integer({ min: 0, max: 255 }), fc.integer({ min: 24, max: 32 }))
    .map(([host, length]) => block(formatPrefix(inside(host, length))));
  function inside(host: number, length: number): Prefix {
    const size = 2 ** (32 - length);
    const first = space.first + BigInt(Math.floor(host / size) * size);
    return { family: 4, first, last: first + BigInt(size) - 1n, length };
  }
  const holds = (blocks: readonly Prefix[], host: Address): boolean =>
    blocks.some((each) => contains(each, host));

  test('the fewest prefixes hold exactly what was asked for, and no smaller set does (brute force)', () => {
    fc.assert(
      fc.property(fc.array(small, { maxLength: 8 }), (blocks) => {
        const result = fewest(blocks.map(rangeOf));
        for (let value = space.first; value <= space.last; value += 1n)
          expect(holds(result, { family: 4, value })).toBe(holds(blocks, { family: 4, value }));
        // Minimal: no two of them are halves of one block, and none lies in another.
        for (const one of result)
          for (const two of result) {
            if (one === two) continue;
            expect(overlaps(one, two)).toBe(false);
            if (one.length === two.length && one.last + 1n === two.first) {
              const size = one.last - one.first + 1n;
              expect(one.first % (2n * size)).not.toBe(0n);
            }
          }
      }),
    );
  });

  test('everything but some subnets: each address is in exactly one of the two', () => {
    fc.assert(
      fc.property(
        fc.array(small, { minLength: 1, maxLength: 5 }),
        fc.bigInt({ min: 0n, max: 0xffff_ffffn }),
        (holes, value) => {
          const rest = fewest(allBut(4, holes));
          for (const host of [value, holes[0]!.first, holes[0]!.last + 1n].map((each): Address => ({
            family: 4,
            value: each,
          })))
            expect(holds(rest, host)).toBe(!holds(holes, host));
        },
      ),
    );
  });

  test('all but 0.0.0.0/1 and so on: 32 subnets around one host (arithmetic)', () => {
    expect(fewest(allBut(4, [block('203.0.113.9/32')]))).toHaveLength(32);
    expect(fewest(allBut(6, [block('2001:db8::1/128')]))).toHaveLength(128);
  });

  test('split: single devices; neighbours become one subnet; full and near cover both families or say what leaks', () => {
    expect(routesOf(farrow, peerOf('maren-phone')).routes.map(formatPrefix)).toEqual([
      '10.24.10.20/32',
      '10.24.40.20/31',
      '10.24.60.1/32',
      'fd5e:24a1:60c3:60::1/128',
    ]);
    const full = siteOf((plan) => {
      plan.vpn.groups[0]!.tunnel = 'full';
    });
    expect(routesOf(full, peerOf('maren-phone', full)).routes.map(formatPrefix)).toEqual([
      '0.0.0.0/0',
      '::/0',
    ]);
    const leaky = siteOf((plan) => {
      plan.vpn.groups[0]!.tunnel = 'full';
      plan.vpn.pool6 = '';
    });
    expect(routesOf(leaky, peerOf('maren-phone', leaky))).toMatchObject({ leaks: true });
    const near = siteOf((plan) => {
      plan.vpn.groups[0]!.tunnel = 'near';
    });
    const { routes } = routesOf(near, peerOf('maren-phone', near));
    const goes = (text: string): boolean => holds(routes, good(parseAddress(text)));
    expect([
      goes('203.0.113.1'),
      goes('192.168.1.1'),
      goes('10.24.40.21'),
      goes('10.24.40.99'),
      goes('fe80::1'),
      goes('2001:db8::9'),
    ]).toEqual([true, false, true, false, false, true]);
    expect(
      nearBlocks.filter(({ family }) => family === 4).some((each) => holds([each], addr('172.20.1.1'))),
    ).toBe(true);
  });
});

describe('who reaches what', () => {
  const services: [string, string, number][] = [
    ['gate', '10.24.40.21', 443],
    ['tide', '10.24.40.20', 8443],
    ['printer', '10.24.10.20', 631],
    ['gate, another port', '10.24.40.21', 22],
    ['desk', '10.24.20.5', 443],
    ['router page', '10.24.10.1', 443],
    ['internet', '203.0.113.200', 443],
  ];
  const reaches = (id: string, site = farrow): boolean[] =>
    services.map(
      ([, host, port]) =>
        peerVerdict(site, peerOf(id, site), { destination: addr(host), protocol: 'tcp', port }).allowed,
    );

  test('the duty manager reaches three services and the router, the contractor the gate panel, the lost tablet nothing', () => {
    expect(reaches('maren-phone')).toEqual([true, true, true, false, false, true, false]);
    expect(reaches('idris-laptop')).toEqual([true, false, false, false, false, false, false]);
    expect(reaches('old-tablet')).toEqual([false, false, false, false, false, false, false]);
  });

  test('only what is granted is reachable, whatever is asked', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...farrow.vpn.peers),
        fc.constantFrom(...farrow.devices),
        fc.constantFrom('tcp' as const, 'udp' as const),
        fc.constantFrom(22, 53, 80, 443, 631, 3389, 8443),
        (peer, device, protocol, port) => {
          const granted =
            !peer.revoked &&
            (peer.group?.grants ?? []).some(
              (grant) =>
                grant.device === device &&
                (!grant.service ||
                  (grant.service.protocol === protocol &&
                    grant.ports!.first <= port &&
                    port <= grant.ports!.last)),
            );
          expect(peerVerdict(farrow, peer, { destination: device.address!, protocol, port }).allowed).toBe(
            granted,
          );
        },
      ),
    );
  });

  test('Ask follows a remote user: granted, refused, and when the line that is called is down', () => {
    const outcome = (question: string) => {
      const { outcome: what, hops } = good(ask(farrow, question));
      return [what, hops.at(-1)!.stage];
    };
    expect(outcome('from maren-holt-telephone to gate-controller tcp 443')).toEqual(['delivered', 'arrival']);
    expect(outcome('from idris-vane-laptop to tide-logger tcp 8443')).toEqual(['refused', 'policy']);
    expect(outcome('from idris-vane-laptop to gate-controller tcp 443 when fibre is down')).toEqual([
      'impossible',
      'tunnel',
    ]);
  });

  test('addresses are given out once each, and never that of the router', () => {
    const plan = demoPlan('farrow-sound');
    plan.vpn.peers = [];
    const given = new Set<string>();
    for (let index = 0; index < 40; index += 1) {
      const next = formatAddress(freePeerAddress(compile(plan), 4)!);
      expect(given.has(next)).toBe(false);
      given.add(next);
      plan.vpn.peers.push({ ...demoPlan('farrow-sound').vpn.peers[0]!, id: `p${index}`, address: next });
    }
    expect(given.has('10.24.60.1')).toBe(false);
    // The all-routers address of the block and that of this router are not given out (RFC 4291 section 2.6.1).
    plan.vpn.peers = [];
    expect(formatAddress(freePeerAddress(compile(plan), 6)!)).toBe('fd5e:24a1:60c3:60::2');
  });

  test('a pool that is offered touches nothing here and nothing that homes use', () => {
    for (const name of ['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane']) {
      const site = compile(demoPlan(name));
      expect(poolProblem(site, freePool(site)!)).toBeUndefined();
    }
    expect(poolProblem(farrow, block('10.24.40.0/26'))?.says).toMatch(/overlaps Plant/);
    expect(poolProblem(farrow, block('192.168.1.0/24'))?.says).toMatch(/home routers/);
  });
});

describe('profiles', () => {
  test('text, read and written again, is the same profile', () => {
    const hosts = fc.tuple(fc.bigInt({ min: 0n, max: 0xffff_ffffn }), fc.integer({ min: 0, max: 32 }));
    const key = fc.uint8Array({ minLength: 32, maxLength: 32 }).map((bytes) => keyPair(bytes));
    fc.assert(
      fc.property(
        key,
        fc.array(hosts, { minLength: 1, maxLength: 3 }),
        fc.array(hosts, { maxLength: 5 }),
        fc.option(fc.integer({ min: 576, max: 1500 }), { nil: undefined }),
        fc.option(fc.integer({ min: 0, max: 120 }), { nil: undefined }),
        (pair, own, allowed, mtuBytes, keepAliveSeconds) => {
          const profile: Profile = {
            name: 'Quay, a telephone',
            privateKey: pair.privateKey,
            addresses: own.map(([value, length]) => ({ host: { family: 4, value }, length })),
            resolvers: ['10.24.60.1', 'quay.example'],
            mtuBytes,
            listenPort: undefined,
            peers: [
              {
                publicKey: pair.publicKey,
                presharedKey: '',
                endpoint: 'quay.example:51820',
                allowed: allowed.map(([value, length]) =>
                  block(
                    `${formatAddress({ family: 4, value: length === 0 ? 0n : (value >> BigInt(32 - length)) << BigInt(32 - length) })}/${length}`,
                  ),
                ),
                keepAliveSeconds,
              },
            ],
            unknown: [],
            commands: [],
          };
          const text = writeProfile(profile);
          expect(good(parseProfile(text))).toEqual(profile);
          expect(writeProfile(good(parseProfile(text)))).toBe(text);
        },
      ),
    );
  });

  test('without the vault the places of secrets hold names, and no secret is in the text', () => {
    const text = profileText(farrow, peerOf('maren-phone'));
    expect(text).toContain(secretPlace('tunnel-maren-telephone'));
    const { privateKey } = keyPair(secretOf('x'));
    expect(
      profileText(farrow, peerOf('maren-phone'), new Map([['tunnel-maren-telephone', privateKey]])),
    ).toContain(privateKey);
  });

  /** A sound profile of the duty manager's telephone, with its true key pair in the plan. */
  const pair = keyPair(secretOf('telephone'));
  const before = keyPair(secretOf('before'));
  const site = siteOf((plan) => {
    Object.assign(plan.vpn.peers[0]!, {
      publicKey: pair.publicKey,
      oldKey: before.publicKey,
      oldKeyUntil: '2026-12-01',
    });
  });
  const sound: Profile = { ...profileOf(site, peerOf('maren-phone', site)), privateKey: pair.privateKey };
  const rules = (
    change: Partial<Profile>,
    far: Partial<Profile['peers'][number]> = {},
    of = site,
  ): string[] =>
    checkProfile(of, {
      ...sound,
      ...change,
      peers: change.peers ?? [{ ...sound.peers[0]!, ...far }],
    }).faults.map(({ rule }) => rule);

  test('the profile that the plan writes has no fault', () => {
    expect(rules({})).toEqual([]);
    expect(checkProfile(site, good(parseProfile(writeProfile(sound)))).peer?.id).toBe('maren-phone');
  });

  test.each<[rule: string, change: Partial<Profile>, far: Partial<Profile['peers'][number]>]>([
    ['router-key-stale', {}, { publicKey: before.publicKey }],
    ['address-not-theirs', { addresses: [{ host: addr('10.24.60.77'), length: 32 }] }, {}],
    ['address-wide', { addresses: [{ host: addr('10.24.60.2'), length: 24 }] }, {}],
    ['no-ipv6', { addresses: [{ host: addr('10.24.60.2'), length: 32 }] }, {}],
    ['endpoint-private', {}, { endpoint: '192.168.1.1:51820' }],
    ['endpoint-other', {}, { endpoint: 'old.example:51820' }],
    ['no-endpoint', {}, { endpoint: '' }],
    ['port', {}, { endpoint: 'quay.farrow-ferries.example:51821' }],
    ['routes-missing', {}, { allowed: [block('10.24.10.20/32')] }],
    ['routes-wide', {}, { allowed: [block('10.24.0.0/16'), block('fd5e:24a1:60c3:60::1/128')] }],
    ['no-keep-alive', {}, { keepAliveSeconds: undefined }],
    ['keep-alive-long', {}, { keepAliveSeconds: 300 }],
    ['mtu-large', { mtuBytes: 1500 }, {}],
    ['mtu-small', { mtuBytes: 1200 }, {}],
    ['resolver', { resolvers: ['192.0.2.1'] }, {}],
    ['private-key', { privateKey: 'short' }, {}],
    ['no-private-key', { privateKey: '' }, {}],
    ['key-differs', { privateKey: keyPair(secretOf('another')).privateKey }, {}],
    ['old-key', { privateKey: before.privateKey }, {}],
    ['no-far-end', { peers: [] }, {}],
    ['unknown-line', { unknown: ['line 3: Colour'] }, {}],
  ])('%s is named', (rule, change, far) => {
    expect(rules(change, far)).toContain(rule);
  });

  test('a revoked device, a key in the open, and a profile that belongs to nobody', () => {
    const revoked = siteOf((plan) => {
      Object.assign(plan.vpn.peers[0]!, { publicKey: pair.publicKey, revoked: '2026-03-01' });
    });
    expect(rules({}, {}, revoked)).toContain('revoked');
    const own = siteOf((plan) => {
      Object.assign(plan.vpn.peers[0]!, { publicKey: pair.publicKey, ownKey: true });
    });
    expect(rules({}, {}, own)).toContain('key-in-the-open');
    expect(
      rules({
        privateKey: keyPair(secretOf('x')).privateKey,
        addresses: [{ host: addr('10.99.0.2'), length: 32 }],
      }),
    ).toContain('nobody');
  });

  test.each([
    ['', /no \[Interface\] section/],
    ['hello', /Line 1/],
    ['[Interface]\nAddress = 10.0.0.300/32', /Address/],
    ['[Interface]\nAddress = 10.0.0.3/32\n[Peer]\nAllowedIPs = everything', /AllowedIPs/],
  ])('what is no profile is refused in a sentence: %j', (text, says) => {
    expect(parseProfile(text)).toMatchObject({ ok: false, problem: { says: expect.stringMatching(says) } });
  });

  test('a profile as people paste it: small letters, remarks, several lines of one key, bare addresses', () => {
    const profile = good(
      parseProfile(
        '[interface]\r\nprivatekey = x # mine\r\naddress=10.24.60.2\r\n\r\n[PEER]\nallowedips = 10.24.10.0/24\nAllowedIPs = 10.24.40.21\n',
      ),
    );
    expect(profile.addresses.map(({ length }) => length)).toEqual([32]);
    expect(profile.peers[0]!.allowed.map(formatPrefix)).toEqual(['10.24.10.0/24', '10.24.40.21/32']);
  });
});

describe('which way in', () => {
  test('the tunnel on fibre; when the fibre is down what both ends call comes first', () => {
    const best = (down: string[], change?: (plan: Plan) => void): string =>
      rankWays(siteOf(change), new Set(down))[0]!.way;
    expect(best([])).toBe('wireguard');
    expect(best(['fibre'])).toBe('hub');
    expect(best(['fibre'], (plan) => (plan.vpn.outsideService = 'allowed'))).toBe('mesh');
    expect(best([], (plan) => (plan.vpn.protocols = ['ikev2']))).toBe('ikev2');
  });

  test('what may be put on the devices of the people: no app at all leaves the way that systems have built in', () => {
    const bound = siteOf((plan) => plan.vpn.peers.forEach((each) => (each.software = 'built-in')));
    const ranked = rankWays(bound);
    expect(ranked[0]).toMatchObject({ way: 'ikev2', fits: true });
    expect(ranked.find(({ way }) => way === 'wireguard')).toMatchObject({ fits: false });
    // One of three that cannot: the tunnel still leads, and says who cannot use it. A revoked one does not count.
    const one = rankWays(siteOf((plan) => (plan.vpn.peers[2]!.software = 'browser')));
    expect(one[0]!.way).toBe('wireguard');
    expect(one[0]!.reasons.join()).toContain('1 of 3 devices may not take the app that it needs: Idris Vane');
    expect(
      rankWays(siteOf((plan) => (plan.vpn.peers[3]!.software = 'browser')))[0]!.reasons.join(),
    ).not.toContain('may not take');
  });

  test('who needs what: forwards never show whole devices or the router, and every service is one more forward', () => {
    const forward = (change?: (plan: Plan) => void) =>
      rankWays(siteOf(change)).find(({ way }) => way === 'forward')!;
    expect(forward()).toMatchObject({ fits: false });
    expect(forward().reasons.join()).toContain('Duty managers: whole devices, networks or the router');
    const services = forward((plan) => (plan.vpn.groups[0]!.manages = false));
    expect(services).toMatchObject({ fits: true });
    expect(services.reasons.join()).toContain('It would take 3 port forwards');
  });

  test('before anybody knows the address, nothing is said to fit or not to fit, and the tunnel still leads', () => {
    const ranked = rankWays(siteOf((plan) => (plan.uplinks[0]!.settings.pppoe.expectedAddress = '')));
    expect(ranked[0]).toMatchObject({ way: 'wireguard', known: false });
    expect(ranked[0]!.reasons[0]).toContain('note the address that Fibre gets');
    expect(rankWays(siteOf((plan) => (plan.uplinks = []))).filter(({ known }) => known)).toMatchObject([
      { way: 'forward' },
      { way: 'dated' },
    ]);
  });

  test('PPTP and bare L2TP are last and never fit; every way has its reasons', () => {
    const ranked = rankWays(farrow);
    expect(ranked.at(-1)).toMatchObject({ way: 'dated', fits: false });
    expect(ranked.every(({ reasons }) => reasons.length > 0)).toBe(true);
  });
});

test('MTU: PPPoE leaves 1412 over IPv6, the worst usual network decides (the protocol, RFC 8200)', () => {
  const { value, steps } = tunnelWorked(farrow.lines[0]);
  expect(steps.map((each) => each.value)).toContain('1492 - 80 = 1412');
  expect(value).toBe(1340);
});

describe('speed', () => {
  test('100 up here, 40 down there, 180 in the box, 48 ms: the line decides at 37.14 Mb/s (arithmetic)', () => {
    const bound = speedWorked({
      senderUpMbps: 100,
      receiverDownMbps: 40,
      mtuBytes: 1340,
      encryptionMbps: 180,
      roundTripMs: 48,
    });
    // (1340 - 40) / (1340 + 60) = 92.857 %.
    expect(bound.value).toBeCloseTo(37.14, 2);
    // Nobody entered a window, so none is assumed.
    expect(bound.means).toMatch(/^The line decides\. One connection alone may be held back/);
    expect(Math.round(speedVerdict([33, 35, 34], bound)!.value)).toBe(92);
    expect(speedVerdict([33, 35], bound)).toBeUndefined();
    expect(speedVerdict([60, 61, 62], bound)!.means).toMatch(/beside the tunnel/);
  });

  test('a long way: the window decides (RFC 6349 section 3.3.1)', () => {
    expect(
      speedWorked({
        senderUpMbps: 500,
        receiverDownMbps: 500,
        mtuBytes: 1400,
        encryptionMbps: undefined,
        roundTripMs: 600,
        windowKilobytes: 256,
      }),
    ).toMatchObject({
      value: expect.closeTo(3.495, 3),
      means: 'The window decides.',
    });
  });
});

describe('remote users', () => {
  test('each situation ends in a sentence, and time only goes forward', () => {
    for (const site of ['farrow-sound', 'weir-street'].map((name) => compile(demoPlan(name))))
      for (const { name } of situations) {
        const { events, says } = simulateClient(site, site.vpn.peers[0]!, name);
        expect(says.length).toBeGreaterThan(20);
        expect(events.map(({ at }) => at)).toEqual(events.map(({ at }) => at).sort((a, b) => a - b));
      }
  });

  test('mobile data works, the lost tablet hears nothing, on cellular nobody comes in', () => {
    const phone = peerOf('maren-phone');
    expect(simulateClient(farrow, phone, 'mobile').works).toBe(true);
    expect(simulateClient(farrow, peerOf('old-tablet'), 'mobile')).toMatchObject({
      works: false,
      says: expect.stringContaining('revoked'),
    });
    expect(simulateClient(farrow, phone, 'failover')).toMatchObject({
      works: false,
      says: expect.stringContaining('Ways out'),
    });
    expect(simulateClient(farrow, phone, 'no-udp').works).toBe(false);
    expect(simulateClient(farrow, phone, 'oversize').works).toBe(true);
  });

  test("a hotel with the site's own subnet: single devices win, a whole network loses (longest match)", () => {
    expect(simulateClient(farrow, peerOf('maren-phone'), 'hotel').works).toBe(true);
    const wide = siteOf((plan) => {
      plan.vpn.groups[0]!.grants = [{ id: 'g', network: 'office', device: '', service: '' }];
    });
    expect(simulateClient(wide, peerOf('maren-phone', wide), 'hotel').works).toBe(false);
  });

  test('silence: a keep-alive of 25 s holds the way open, 300 s does not (RFC 4787 REQ-5)', () => {
    const slow = siteOf((plan) => {
      plan.vpn.keepAliveSeconds = 300;
    });
    expect(simulateClient(farrow, peerOf('maren-phone'), 'silence').works).toBe(true);
    expect(simulateClient(slow, peerOf('maren-phone', slow), 'silence').works).toBe(false);
  });
});

describe('what a group is not granted', () => {
  const may = (
    change: (plan: Plan) => unknown,
    host: string,
    protocol: 'tcp' | 'udp' | 'icmp',
    port: number,
  ) => {
    const site = siteOf((plan) => void change(plan));
    const peer = site.vpn.peers.find(({ group }) => group?.grants.some(({ service }) => service))!;
    return peerVerdict(site, peer, { destination: addr(host), protocol, port }).allowed;
  };
  const asIs = (): void => {};

  test('names only at a router that manages nothing for it; no other port of the router, and no ping', () => {
    const strip = (plan: Plan): void => plan.vpn.groups.forEach((group) => (group.manages = false));
    expect(may(strip, '10.24.10.1', 'udp', 53)).toBe(true);
    expect(may(strip, '10.24.10.1', 'tcp', 53)).toBe(true);
    expect(may(strip, '10.24.10.1', 'tcp', 443)).toBe(false);
    expect(may(strip, '10.24.10.1', 'icmp', 0)).toBe(false);
    expect(may(asIs, '10.24.10.1', 'tcp', 443)).toBe(true);
  });

  test('one service of a device: its port and protocol, and nothing beside them', () => {
    expect(may(asIs, '10.24.40.21', 'tcp', 443)).toBe(true);
    expect(may(asIs, '10.24.40.21', 'udp', 443)).toBe(false);
    expect(may(asIs, '10.24.40.21', 'tcp', 442)).toBe(false);
    expect(may(asIs, '10.24.40.21', 'icmp', 0)).toBe(false);
    expect(may(asIs, '10.24.40.22', 'tcp', 443)).toBe(false);
  });
});
