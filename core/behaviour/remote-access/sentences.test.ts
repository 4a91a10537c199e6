import { describe, expect, test } from '@jest/globals';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { addr, demoPlan, good } from '../../testing/plans.ts';
import { joinSites } from './join.ts';
import { methods } from './methods/index.ts';
import { vpnOverview } from './overview.ts';
import { checkProfile } from './profile-check.ts';
import { profileOf } from './interface.ts';
import { parseProfile } from './profile.ts';
import { peerVerdict, reachText } from './reach.ts';
import { simulateClient, type SituationName } from './situations.ts';
import { rankWays } from './which.ts';

// Whole sentences, as people at both ends read them: half of one helps nobody.

const siteOf = (name: string, change: (plan: Plan) => unknown = () => {}): Site => {
  const plan = demoPlan(name);
  change(plan);
  return compile(plan);
};
const farrow = siteOf('farrow-sound');
const weir = siteOf('weir-street');
const mill = siteOf('mill-lane');

describe('what happens to a remote user, with its times', () => {
  const handshake = [
    '0 client: Handshake to quay.farrow-ferries.example, port 51820: 148 bytes',
    '0.06 router: Key of Maren Holt, telephone is known: answer of 92 bytes',
    '0.12 both: Handshake done; keys for two minutes',
  ];
  const silence = (from: number): string[] =>
    [0, 5, 10].map(
      (later) =>
        `${Math.round((from + later) * 100) / 100} client: Handshake to quay.farrow-ferries.example, port 51820: no answer`,
    );
  const givenUp = (at: number): string =>
    `${at} client: Given up after 90 s; the tunnel says it is on, and sent bytes grow while received ones stay`;
  const slow = siteOf('farrow-sound', (plan) => (plan.vpn.keepAliveSeconds = 300));
  const none = siteOf('farrow-sound', (plan) => (plan.vpn.keepAliveSeconds = 0));

  test.each<[SituationName, works: boolean, says: string, events: string[], of?: Site]>([
    [
      'mobile',
      true,
      'It works: Maren Holt, telephone calls outward, so the NAT in between does not matter.',
      [...handshake, '0.42 both: The first page opens'],
    ],
    [
      'roaming',
      true,
      'It goes on after one packet; open sessions stay.',
      [
        ...handshake,
        '30.12 client: Wi-Fi is gone; the next packet leaves over mobile data',
        '31.62 router: The next packet that opens comes from another address: answers go there from now on',
      ],
    ],
    [
      'silence',
      true,
      'The site reaches the remote user at any time.',
      [...handshake, '600.12 both: A keep-alive every 25 s held the way open'],
    ],
    [
      'no-udp',
      false,
      'Use mobile data instead, or keep the way over TLS for such places; another UDP port helps only where single ports are closed.',
      [
        ...silence(0),
        '15 router: Nothing arrives: the network of the remote user lets no UDP out',
        givenUp(90),
      ],
    ],
    [
      'failover',
      false,
      'While Fibre is down there is no remote access: Cellular cannot be reached from outside. Ways out: a public address there, a hub or a mesh that both ends call, or say in the promise that it waits.',
      [
        ...handshake,
        '20.12 router: Fibre is down',
        ...silence(20.12),
        '35.12 router: Nothing arrives: over the lines that are left nobody can begin anything',
        givenUp(110.12),
      ],
    ],
    [
      'stale-key',
      false,
      'The profile has an old key of the router. Send a new profile; nothing else tells the remote user why.',
      [...silence(0), '15 router: A handshake that does not open with the present key: silence', givenUp(90)],
    ],
    [
      'oversize',
      true,
      'At an MTU of 1340 the tunnel passes even there.',
      [
        ...handshake,
        '1.12 client: A packet of 1340 bytes is 1400 outside; this line carries 1400',
        '1.12 both: It passes',
      ],
    ],
  ])('%s', (name, works, says, lines, of = farrow) => {
    const run = simulateClient(of, of.vpn.peers[0]!, name);
    expect({ works: run.works, says: run.says }).toEqual({ works, says });
    expect(run.events.map((each) => `${each.at} ${each.end}: ${each.says}`)).toEqual(lines);
  });

  test('a packet to who was idle beyond the NAT timeout is lost, and what helps is said', () => {
    for (const [of, seconds] of [
      [slow, 300],
      [none, 600],
    ] as const) {
      const run = simulateClient(of, of.vpn.peers[0]!, 'silence');
      expect(run.works).toBe(false);
      expect(run.events.map(({ at }) => at)).toContain(seconds + 0.12);
      expect(run.events.at(-1)!.says).toMatch(
        /^A packet to the remote user: the NAT forgot it after 30 to 120 s/,
      );
    }
  });
});

describe('why one way and not another', () => {
  const reasons = (site: Site, way: string, down?: ReadonlySet<string>): readonly string[] =>
    rankWays(site, down).find((each) => each.way === way)!.reasons;
  const oneKey = 'One key per device, no login, and it reconnects when a phone changes networks.';

  test.each<[string, () => readonly string[], string[]]>([
    [
      'one that fits',
      () => reasons(farrow, 'wireguard'),
      ['The site accepts connections from outside over Fibre.', 'The router supports it.', oneKey],
    ],
    [
      'no line is up',
      () => reasons(farrow, 'wireguard', new Set(farrow.lines.map(({ id }) => id))),
      ['No line is up.', 'The router supports it.', oneKey],
    ],
    [
      'the router is not known',
      () => reasons(weir, 'wireguard'),
      [
        'The site accepts connections from outside over Cable.',
        'Check the data sheet of the router: does it support this?',
        oneKey,
      ],
    ],
    [
      'the line that is left is behind carrier NAT',
      () => reasons(farrow, 'wireguard', new Set(['fibre'])),
      [
        'No connection can be opened from outside: Cellular is behind carrier NAT.',
        'The router supports it.',
        oneKey,
      ],
    ],
    [
      'no line at all',
      () =>
        reasons(
          siteOf('farrow-sound', (plan) => (plan.uplinks = [])),
          'wireguard',
        ),
      ['No line is known yet.', 'The router supports it.', oneKey],
    ],
    [
      'the device in front hands on',
      () =>
        reasons(
          siteOf('farrow-sound', (plan) => {
            Object.assign(plan.uplinks[0]!.handoff, {
              mode: 'routes',
              insidePrefix: '192.168.99.0/24',
              insideAddress: '192.168.99.1',
              outsideAddress: '203.0.113.24',
              forwards: [{ id: 'f', protocol: 'udp', ports: '51820' }],
            });
          }),
          'wireguard',
        ),
      [
        'The site accepts connections from outside over Fibre, through the device in front.',
        'The router supports it.',
        oneKey,
      ],
    ],
    [
      'plain forwards, and whom they would not serve',
      () => reasons(farrow, 'forward'),
      [
        'The site accepts connections from outside over Fibre.',
        'The last resort: the service is open to the whole internet, and will be attacked.',
        'Duty managers: whole devices, networks or the router itself, which no forward should show.',
      ],
    ],
    [
      'plain forwards, and how many',
      () =>
        reasons(
          siteOf('farrow-sound', (plan) => (plan.vpn.groups[0]!.manages = false)),
          'forward',
        ),
      [
        'The site accepts connections from outside over Fibre.',
        'The last resort: the service is open to the whole internet, and will be attacked.',
        'It would take 3 port forwards: Gate panel of Gate controller, Tide readings of Tide logger, Printing of Office printer.',
      ],
    ],
    [
      'plain forwards, with nobody who needs one',
      () =>
        reasons(
          siteOf('farrow-sound', (plan) => (plan.vpn.peers = [])),
          'forward',
        ),
      [
        'The site accepts connections from outside over Fibre.',
        'The last resort: the service is open to the whole internet, and will be attacked.',
      ],
    ],
    [
      'an outside service',
      () => reasons(farrow, 'mesh'),
      [
        'Connects outward only, so carrier NAT does not matter.',
        'An outside service decides who gets in, and knows who connects and when.',
        'This customer allows no outside service.',
      ],
    ],
  ])('%s', (_case, said, expected) => {
    expect(said()).toEqual(expected);
  });

  test('plain forwards: worse without a line, worse still for what no forward may show', () => {
    const forward = (change?: (plan: Plan) => unknown, down?: ReadonlySet<string>) =>
      rankWays(siteOf('farrow-sound', change), down).find(({ way }) => way === 'forward')!;
    const services = (plan: Plan): unknown => (plan.vpn.groups[0]!.manages = false);
    const bothDown = new Set(['fibre', 'cellular']);
    expect(forward(services)).toMatchObject({ fits: true, known: true, score: -4 });
    expect(forward()).toMatchObject({ fits: false, known: true, score: -12 });
    expect(forward(services, bothDown)).toMatchObject({ fits: false, score: -20 });
    expect(forward(undefined, bothDown)).toMatchObject({ fits: false, score: -28 });
  });

  test('a grant of one service: neither ping nor another protocol or port, and nothing where its port is not known', () => {
    const may = (of: Site, protocol: 'tcp' | 'udp' | 'icmp', port: number, host = '10.24.40.21'): boolean =>
      peerVerdict(of, of.vpn.peers[2]!, { destination: addr(host), protocol, port }).allowed;
    expect([
      may(farrow, 'tcp', 443),
      may(farrow, 'tcp', 444),
      may(farrow, 'udp', 443),
      may(farrow, 'icmp', 0),
    ]).toEqual([true, false, false, false]);
    const gate = (ports: string): Site =>
      siteOf('farrow-sound', (plan) => {
        plan.devices.find(({ id }) => id === 'gate')!.services.find(({ id }) => id === 'panel')!.ports =
          ports;
      });
    expect(may(gate(''), 'tcp', 443)).toBe(false);
    const whole = (prefix: string): Site =>
      siteOf('farrow-sound', (plan) => {
        plan.networks.find(({ id }) => id === 'plant')!.prefix = prefix;
        plan.vpn.groups[1]!.grants = [{ id: 'g', network: 'plant', device: '', service: '' }];
      });
    expect(may(whole('10.24.40.0/24'), 'icmp', 0, '10.24.40.99')).toBe(true);
    expect(may(whole('10.24.40.0/24'), 'icmp', 0, '10.24.41.99')).toBe(false);
    expect(may(whole(''), 'icmp', 0, '10.24.40.99')).toBe(false);
  });

  test('who cannot use it: an app needs a device that takes apps, what is built in needs no browser-only one', () => {
    const of = (software: string): Site =>
      siteOf('farrow-sound', (plan) => plan.vpn.peers.forEach((peer) => Object.assign(peer, { software })));
    const fits = (software: string, way: string): boolean =>
      rankWays(of(software)).find((each) => each.way === way)!.fits;
    expect([fits('any', 'wireguard'), fits('built-in', 'wireguard'), fits('browser', 'wireguard')]).toEqual([
      true,
      false,
      false,
    ]);
    expect([fits('any', 'ikev2'), fits('built-in', 'ikev2'), fits('browser', 'ikev2')]).toEqual([
      true,
      true,
      false,
    ]);
  });

  test('what each way has typed into the router; forwards are typed as forwards', () => {
    const entries = (name: string): string[] =>
      methods
        .find((each) => each.name === name)!
        .entries(farrow)
        .map(({ label, value }) => `${label}: ${value}`);
    expect(entries('wireguard')).toEqual([
      'Remote access: point-to-site tunnel, UDP',
      'Private key: in the vault: tunnel-router',
      'Address of the router: 10.24.60.1/24, fd5e:24a1:60c3:60::1/64',
      'UDP port: udp 51820',
      'Tunnel MTU: 1340',
      'Allow on the lines: udp 51820, to the router itself',
    ]);
    expect(entries('tls')).toContain('Routes pushed: 10.24.40.0/24, 10.24.10.0/24');
    expect(entries('ikev2')).toContain(
      'Own identity: the name quay.farrow-ferries.example, as in its certificate (subject alternative name)',
    );
    expect(['mesh', 'hub', 'forward', 'dated'].flatMap(entries)).toEqual([]);
  });
});

describe('sites that are joined', () => {
  const apart = 'Reading room of Mill Lane branch library, Reading room of Weir Street library stay apart.';
  const twice =
    'Staff of Mill Lane branch library, Staff of Weir Street library: in use at another site too. Better renumber; until then each is seen under another subnet.';

  test.each<[string, () => readonly string[], string[]]>([
    [
      'two',
      () => joinSites([weir, mill]).says,
      ['Either end can open the tunnel; the first that sends brings it up.', apart, twice],
    ],
    [
      'three, every one to every other',
      () => joinSites([weir, farrow, mill]).says,
      [
        '3 tunnels, full mesh.',
        `Tickets of Farrow Sound ferry office, Passengers of Farrow Sound ferry office, ${apart}`,
        twice,
      ],
    ],
    [
      'three by a hub',
      () => joinSites([weir, farrow, mill], 'hub', mill).says,
      [
        '2 tunnels, all to Mill Lane branch library, which passes on between the others.',
        `Tickets of Farrow Sound ferry office, Passengers of Farrow Sound ferry office, ${apart}`,
        twice,
      ],
    ],
  ])('%s', (_case, said, expected) => {
    expect(said()).toEqual(expected);
  });

  test('one network alone stays apart, and where all take part and none is in use twice nothing is said of it', () => {
    const alone = siteOf('mill-lane', (plan) => {
      plan.networks = plan.networks.filter(({ purpose }) => purpose !== 'guests');
      plan.vpn.sites = [];
    });
    expect(joinSites([weir, alone]).says[1]).toBe('Reading room of Weir Street library stays apart.');
    const all = siteOf('farrow-sound', (plan) => {
      plan.networks = plan.networks.filter(({ id }) => id === 'office');
    });
    expect(joinSites([alone, all]).says).toEqual([
      'Either end can open the tunnel; the first that sends brings it up.',
    ]);
  });

  test('two that nobody can call say so, and what solves it', () => {
    const shut = (name: string): Site =>
      siteOf('mill-lane', (plan) => {
        Object.assign(plan, { vpn: { ...plan.vpn, sites: [] }, networks: plan.networks.slice(0, 1) });
        plan.site.name = name;
        plan.networks[0]!.prefix = name === 'One' ? '10.1.0.0/24' : '10.2.0.0/24';
        plan.networks[0]!.routerAddress = name === 'One' ? '10.1.0.1' : '10.2.0.1';
        for (const uplink of plan.uplinks)
          Object.assign(uplink.handoff, {
            mode: 'routes',
            insidePrefix: '192.168.99.0/24',
            insideAddress: '192.168.99.1',
            outsideAddress: '100.64.3.4',
          });
      });
    expect(joinSites([shut('One'), shut('Two'), farrow]).says[1]).toBe(
      'One and Two: neither can be reached from outside, so no tunnel comes up. A hub with a public address solves it.',
    );
  });
});

describe('what the sheet shows of it', () => {
  test('each remote user: addresses, what opens, what is routed; a revoked one has none of it', () => {
    const { peers, pool, port, mtuBytes } = vpnOverview(farrow);
    expect({ pool, port, mtuBytes }).toEqual({ pool: '10.24.60.0/24', port: 51820, mtuBytes: 1340 });
    expect(peers[2]).toEqual({
      id: 'idris-laptop',
      name: 'Idris Vane, laptop',
      addresses: ['10.24.60.4', 'fd5e:24a1:60c3:60::4'],
      revoked: false,
      reaches: ['Gate panel of Gate controller'],
      routes: ['10.24.40.21/32', '10.24.60.1/32', 'fd5e:24a1:60c3:60::1/128'],
    });
    expect(peers[3]).toMatchObject({ revoked: true, reaches: [], routes: [] });
    expect(reachText(farrow.vpn.peers[0]!).at(-1)).toBe('the pages of the router');
    expect(vpnOverview(siteOf('farrow-sound', (plan) => (plan.vpn.pool = ''))).pool).toBe('');
  });

  test('each joined site: its subnets, who takes part, and the tunnel whichever line is down', () => {
    const [far] = vpnOverview(weir).sites;
    expect(far).toMatchObject({
      name: 'Mill Lane branch library',
      routes: ['172.24.0.0/24'],
      joined: ['Staff', 'Door counter'],
    });
    expect(far!.states.map(({ when, up }) => `${when}: ${up}`)).toEqual([
      'with every line up: itself',
      'while Cable of Weir Street library is down: no',
      'while the first line of Mill Lane branch library is down: itself',
      'while both first lines are down: no',
    ]);
  });
});

describe('a profile as it was pasted', () => {
  test('its name is the first remark that gives one; remarks behind values and empty lines do not matter', () => {
    const profile = good(
      parseProfile(
        '# Name = Quay office\n#Name=second\n\n[Interface]\nAddress = 10.24.60.2/32 # mine\n  \n[Peer]\n',
      ),
    );
    expect(profile).toMatchObject({ name: 'Quay office', unknown: [], commands: [] });
    expect(profile.addresses).toHaveLength(1);
    expect(profile.peers).toHaveLength(1);
  });

  test.each([
    ['#Name=a b ', 'a b'],
    ['# name = A', 'A'],
    ['x # Name = no', ''],
    ['#  Name = no', 'no'],
    ['#  something else', ''],
    ['# Name =', ''],
  ])('a remark %j names it %j', (remark, name) => {
    expect(
      parseProfile(
        `[Interface]\nAddress = 10.24.60.2/32\n${remark.startsWith('x') ? `DNS = ${remark}` : remark}`,
      ),
    ).toMatchObject({ ok: true, value: { name } });
  });

  test.each(['x[Interface]', '[Interface]x', '[]', '[a b]'])('%j is no section', (line) => {
    expect(parseProfile(`${line}\nAddress = 10.24.60.2/32`)).toMatchObject({ ok: false });
  });

  test('what is not known and what would run a command are told with their lines', () => {
    const profile = good(
      parseProfile(
        '[Interface]\nAddress = 10.24.60.2/32\nColour = red\nPostUp = rm\n[Peer]\nDNS = 192.0.2.1\n',
      ),
    );
    expect(profile.unknown).toEqual(['line 3: Colour', 'line 6: DNS']);
    expect(profile.commands).toEqual(['line 4: PostUp']);
  });

  test('a device that keeps its key alone: a profile without the key is in order, one with it is not', () => {
    const own = siteOf('farrow-sound', (plan) => (plan.vpn.peers[0]!.ownKey = true));
    const profile = { ...profileOf(own, own.vpn.peers[0]!), privateKey: '' };
    const rules = (privateKey: string): string[] =>
      checkProfile(own, { ...profile, privateKey }).faults.map(({ rule }) => rule);
    expect(rules('')).not.toContain('key-in-the-open');
    expect(rules(`${'A'.repeat(43)}=`)).toContain('key-in-the-open');
  });

  test('sentences about keys name whose they are', () => {
    const peer = { ...farrow.vpn.peers[3]! };
    const says = (change: object): string[] =>
      checkProfile(farrow, { ...profileOf(farrow, peer), ...change }).faults.map((each) => each.says);
    expect(says({})).toContain(
      'Maren Holt, tablet, lost on the quay is revoked since 2026-02-11: the router refuses it, as it should.',
    );
    expect(says({ peers: [] })).toContain('It has no [Peer] section, so it connects to nothing.');
  });
});
