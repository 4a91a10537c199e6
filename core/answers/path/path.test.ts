import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { address, formatAddress } from '../../base/net/address.ts';
import { contains, formatPrefix, prefixAround } from '../../base/net/prefix.ts';
import { reachSchema, type Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { addr, demoPlan, good, planOf, soundPlan } from '../../testing/plans.ts';
import { withBoxes } from '../../testing/wishes.ts';
import { ask, type Answer } from './ask.ts';
import { follow } from './follow.ts';
import { reversed } from '../../base/net/packet.ts';
import { endpointNames, flowOf, parseQuery } from './query.ts';
import { createRouter } from '../../behaviour/router/router.ts';

const answer = (plan: Plan, question: string): Answer => good(ask(compile(plan), question));
const stages = ({ hops }: Answer): string[] => hops.map((hop) => hop.stage);
const carrier = (plan: Plan): void => {
  plan.uplinks[0]!.type = 'dhcp';
  plan.uplinks[0]!.settings.dhcp.expectedAddress = '100.64.12.7';
};
const boxed = (plan: Plan): void => {
  plan.uplinks[0]!.type = 'dhcp';
  plan.uplinks[0]!.settings.dhcp.expectedAddress = '192.168.8.2';
  Object.assign(plan.uplinks[0]!.handoff, {
    mode: 'routes',
    name: 'box',
    insidePrefix: '192.168.8.0/24',
    insideAddress: '192.168.8.1',
    outsideAddress: '203.0.113.77',
  });
};

describe('outbound', () => {
  test('the stages come in order and source NAT puts the line address in (RFC 3022 section 2.2)', () => {
    const found = answer(soundPlan(), 'from office to internet tcp 443');
    expect(found.outcome).toBe('delivered');
    expect(stages(found)).toEqual([
      'gateway',
      'source check',
      'destination NAT',
      'route',
      'policy',
      'source NAT',
      'size',
      'arrival',
    ]);
    expect(found.hops.find((hop) => hop.stage === 'source NAT')).toMatchObject({
      before: '10.24.10.100:49152 > 198.51.100.7:443 tcp',
      after: '203.0.113.9:49152 > 198.51.100.7:443 tcp',
    });
    expect(found.seenFrom).toBe('203.0.113.9');
    expect(found.reply.at(-1)!.after).toBe('198.51.100.7:443 > 10.24.10.100:49152 tcp');
  });

  test('through a box and a carrier the source changes at each', () => {
    const found = answer(
      soundPlan((plan) => {
        boxed(plan);
        plan.uplinks[0]!.handoff.outsideAddress = '100.64.12.7';
      }),
      'from office to internet',
    );
    expect(found.hops.filter((hop) => hop.changed).map((hop) => [hop.kind, hop.after.split(':')[0]])).toEqual(
      [
        ['router', '192.168.8.2'],
        ['box', '100.64.12.7'],
        ['carrier', '192.0.2.1'],
      ],
    );
    expect(found.reply.map((hop) => hop.kind)).toEqual(['host', 'carrier', 'box', 'router']);
  });

  test('without source NAT the provider throws private sources away (RFC 1918 section 3)', () => {
    const found = answer(
      soundPlan((plan) => {
        plan.uplinks[0]!.sourceNat = false;
      }),
      'from office to internet',
    );
    expect([found.outcome, found.hops.at(-1)!.stage]).toEqual(['dropped', 'provider']);
  });

  test('a false source is dropped (RFC 2827)', () => {
    const site = compile(soundPlan());
    const flow = good(flowOf(site, good(parseQuery('from office to internet'))));
    const forged = { ...flow, header: { ...flow.header, source: addr('10.24.30.99') } };
    const trace = follow(site, forged);
    expect([trace.outcome, trace.hops.at(-1)!.stage]).toEqual(['dropped', 'source check']);
  });

  test('a packet larger than the line is dropped and the sender told the size', () => {
    const plan = soundPlan((each) => {
      each.uplinks[0]!.mtuBytes = 1492;
    });
    expect(answer(plan, 'from office to internet tcp 443 size 1492').outcome).toBe('delivered');
    const large = answer(plan, 'from office to internet tcp 443 size 1493');
    expect([large.outcome, large.hops.at(-1)!.stage]).toEqual(['dropped', 'size']);
  });

  test('the next line takes over when the first is down, and none is no route', () => {
    const plan = demoPlan('farrow-sound');
    expect(
      answer(plan, 'from office to internet').hops.find((hop) => hop.stage === 'source NAT')!.after,
    ).toMatch(/^203\.0\.113\.9:/);
    expect(
      answer(plan, 'from office to internet when fibre is down').hops.find(
        (hop) => hop.stage === 'source NAT',
      )!.after,
    ).toMatch(/^192\.168\.8\.2:/);
    expect(answer(plan, 'from office to internet when fibre and cellular are down').outcome).toBe('no-route');
  });
});

describe('subnets on two sides', () => {
  // RFC 1812 section 5.2.4.3 has no answer for two equal prefixes on two sides: the next hop is looked for inside.
  const clash = (inside: string): Plan =>
    soundPlan((plan) => {
      boxed(plan);
      Object.assign(plan.uplinks[0]!.handoff, { insidePrefix: '10.24.10.0/24', insideAddress: inside });
      plan.uplinks[0]!.settings.dhcp.expectedAddress = '10.24.10.250';
      plan.uplinks[0]!.handoff.forwards.push({ id: 'b', protocol: 'tcp', ports: '8443' });
    });

  test('nothing leaves by a line whose subnet an inside network uses too, and nothing comes in', () => {
    for (const question of [
      'from office to internet',
      'from guests to internet',
      'from internet to fibre tcp 8443',
    ])
      expect(answer(clash('10.24.10.254'), question)).toMatchObject({
        outcome: 'dropped',
        says: expect.stringContaining('the same subnet'),
      });
  });

  test('so it is with a line that is expected to get an inside address', () => {
    const plan = soundPlan((each) => {
      each.uplinks[0]!.type = 'dhcp';
      each.uplinks[0]!.settings.dhcp.expectedAddress = '10.24.10.77';
    });
    expect(answer(plan, 'from office to internet').outcome).toBe('dropped');
  });
});

describe('inbound', () => {
  test('a forward delivers; everything else is refused by the default', () => {
    const open = answer(soundPlan(), 'from internet to 203.0.113.9 tcp 8443');
    expect([open.outcome, open.hops.at(-1)!.node]).toEqual(['delivered', 'Server']);
    expect(open.reply.at(-1)!.after).toBe('203.0.113.9:8443 > 198.51.100.7:49152 tcp');
    const closed = answer(soundPlan(), 'from internet to 203.0.113.9 tcp 22');
    expect([closed.outcome, closed.hops.at(-1)!.stage]).toEqual(['refused', 'router itself']);
  });

  test('allowed sources decide by membership', () => {
    const plan = demoPlan('farrow-sound'); // lets in 198.51.100.24/29: .24 to .31
    expect(answer(plan, 'from 198.51.100.31 to 203.0.113.9 tcp 8443').outcome).toBe('delivered');
    const outside = answer(plan, 'from 198.51.100.32 to 203.0.113.9 tcp 8443');
    expect([outside.outcome, outside.hops.at(-1)!.at]).toEqual(['refused', '/forwards/0/sources']);
  });

  test('a source that cannot be read lets nobody in', () => {
    const plan = soundPlan((each) => {
      each.forwards[0]!.sources = ['198.51.100'];
    });
    expect(answer(plan, 'from internet to 203.0.113.9 tcp 8443').outcome).toBe('refused');
  });

  test('carrier NAT makes it impossible (RFC 6598 section 1); private addresses too', () => {
    expect(answer(soundPlan(carrier), 'from internet to fibre tcp 8443').outcome).toBe('impossible');
    expect(answer(soundPlan(), 'from internet to 10.24.10.20 tcp 8443').outcome).toBe('impossible');
    expect(answer(soundPlan(), 'from internet to 192.0.2.200 tcp 8443').outcome).toBe('no-route');
  });

  test('a router of its own needs a forward of its own', () => {
    const alone = answer(soundPlan(boxed), 'from internet to fibre tcp 8443');
    expect([alone.outcome, alone.hops.at(-1)!.kind]).toEqual(['refused', 'box']);
    const both = answer(
      soundPlan((plan) => {
        boxed(plan);
        plan.uplinks[0]!.handoff.forwards.push({ id: 'b', protocol: 'tcp', ports: '8443' });
      }),
      'from internet to fibre tcp 8443',
    );
    expect(both.outcome).toBe('delivered');
    expect(both.reply.at(-1)!.after).toBe('203.0.113.77:8443 > 198.51.100.7:49152 tcp');
  });

  test('outside ports map to inside ports one by one', () => {
    const plan = soundPlan((each) => {
      each.forwards[0] = {
        ...each.forwards[0]!,
        service: '',
        protocol: 'udp',
        insidePorts: '5000-5009',
        outsidePorts: '6000-6009',
      };
    });
    expect(answer(plan, 'from internet to fibre udp 6004').hops.at(-1)!.after).toBe(
      '198.51.100.7:49152 > 10.24.10.20:5004 udp',
    );
  });
});

describe('inside', () => {
  test('a hairpin is turned round with the outside address as source (RFC 4787 REQ-9)', () => {
    const found = answer(soundPlan(), 'from office to 203.0.113.9 tcp 8443');
    expect(found.outcome).toBe('hairpin');
    expect(found.hops.at(-1)!.after).toBe('203.0.113.9:49152 > 10.24.10.20:8443 tcp');
    expect(found.reply.at(-1)!.after).toBe('203.0.113.9:8443 > 10.24.10.100:49152 tcp');
  });

  test('a router without hairpin NAT takes what is asked of its outside address for itself', () => {
    const flat = soundPlan((plan) => (plan.router.hairpin = 'no'));
    const found = answer(flat, 'from office to 203.0.113.9 tcp 8443');
    expect(found.outcome).toBe('refused');
    expect(found.hops.map(({ at }) => at)).toContain('/router/hairpin');
    expect(answer(flat, 'from internet to fibre tcp 8443').outcome).toBe('delivered');
  });

  test('what is sent to the outside address of the other line goes round by the internet, through both boxes', () => {
    const plan = demoPlan('farrow-sound');
    withBoxes(plan);
    plan.forwards.push({ ...plan.forwards[0]!, id: 'other', uplink: 'cellular', sources: [] });
    const found = answer(plan, 'from passengers to 203.0.113.171 tcp 8443');
    expect(found.says).toBe('Delivered to Tide logger on Plant.');
    expect(found.seenFrom).toBe('203.0.113.170');
    expect(answer(plan, 'from passengers to 203.0.113.171 tcp 443').outcome).toBe('refused');
  });

  test('a gateway that is no other host carries nothing, and what comes in by it is not answered (RFC 1122 section 3.3.1.1)', () => {
    const own = soundPlan((plan) => (plan.uplinks[0]!.settings.static.gateway = '203.0.113.9'));
    expect(answer(own, 'from office to internet tcp 443').outcome).toBe('dropped');
    const lost = answer(own, 'from internet to fibre tcp 8443');
    expect([lost.outcome, lost.reply]).toEqual(['dropped', []]);
    expect(lost.says).toMatch(/its answer is lost/);
  });

  test('ping from outside is answered where the router does so', () => {
    const outcome = (pingOutside: boolean): string =>
      answer(
        soundPlan((plan) => (plan.router.pingOutside = pingOutside)),
        'from internet to fibre ping',
      ).outcome;
    expect([outcome(true), outcome(false)]).toEqual(['delivered', 'refused']);
  });

  test('networks are apart unless an allowance names them, and only for what it names', () => {
    expect(answer(soundPlan(), 'from guests to server tcp 8443').outcome).toBe('refused');
    expect(answer(soundPlan(), 'from guests to 203.0.113.9 tcp 8443').outcome).toBe('refused');
    const narrow = soundPlan((plan) => {
      plan.reach.push(
        reachSchema.parse({ id: 'r', from: 'guests', to: 'office', device: 'server', service: 'api' }),
      );
    });
    expect(answer(narrow, 'from guests to server tcp 8443').outcome).toBe('delivered');
    expect(answer(narrow, 'from guests to server tcp 22').outcome).toBe('refused');
    expect(answer(narrow, 'from guests to 10.24.10.21 tcp 8443').outcome).toBe('refused');
  });

  test('an allowance for a service that is gone allows nothing', () => {
    const plan = soundPlan((each) => {
      each.reach.push(
        reachSchema.parse({ id: 'r', from: 'guests', to: 'office', device: 'server', service: 'gone' }),
      );
    });
    expect(answer(plan, 'from guests to server tcp 8443').outcome).toBe('refused');
  });

  test('neighbours do not meet the router', () => {
    expect(stages(answer(soundPlan(), 'from office to server tcp 22'))).toEqual(['own network', 'arrival']);
  });
});

describe('questions', () => {
  test('know Wi-Fi names and rooms as the networks behind them, and boxes by their names', () => {
    const larch = compile(demoPlan('larch-house'));
    const asked = (text: string) => good(ask(larch, text));
    const guests = asked('from Larch House guests to internet tcp 443');
    expect(guests.hops).toEqual(asked('from guests to internet tcp 443').hops);
    expect(asked('from the attic rooms to internet').outcome).toBe('delivered');
    expect(asked('from the house to Router, upstairs landing tcp 80').says).toMatch(
      /10\.24\.50\.2 on House: Router, upstairs landing/,
    );
    expect(asked('from Larch House guests to Wireless bridge, barn tcp 80').outcome).toBe('refused');
    expect(asked("from house to provider's box tcp 80").outcome).toBe('delivered');
  });

  test('are read in words, and what cannot be read says how', () => {
    expect(good(parseQuery('from Passengers to tide-logger tcp 8443 size 1400 when fibre is down'))).toEqual({
      from: 'Passengers',
      to: 'tide-logger',
      protocol: 'tcp',
      port: 8443,
      sizeBytes: 1400,
      down: ['fibre'],
    });
    expect(good(parseQuery('office to internet ping'))).toMatchObject({ protocol: 'icmp', port: 0 });
    for (const text of [
      '',
      'tcp 443',
      'from office to internet tcp',
      'from office to internet tcp 70000',
      'from a to b when it rains',
      'from a to b size 9',
    ])
      expect(parseQuery(text)).toMatchObject({ ok: false, problem: { code: 'query' } });
    expect(ask(compile(soundPlan()), 'from cellar to internet')).toMatchObject({
      ok: false,
      problem: { code: 'unknown-name', says: expect.stringContaining('office') },
    });
    expect(ask(compile(soundPlan()), 'from office to internet when copper is down')).toMatchObject({
      ok: false,
      problem: { code: 'unknown-line' },
    });
  });

  test.each([
    ['from office to internet tcp/8443', 'tcp', 8443, 60],
    ['from office to internet 8443/tcp', 'tcp', 8443, 60],
    ['from office to internet udp port 53', 'udp', 53, 60],
    ['from office to internet port 22', 'tcp', 22, 60],
    ['from office to internet ssh', 'tcp', 22, 60],
    ['from office to internet DNS', 'udp', 53, 60],
    ['from office to internet tcp 443 1500 bytes', 'tcp', 443, 1500],
    ['from office to internet tcp 443 size 1500', 'tcp', 443, 1500],
  ])('"%s" is %s %s with %s bytes', (text, protocol, port, sizeBytes) =>
    expect(good(parseQuery(text))).toMatchObject({ to: 'internet', protocol, port, sizeBytes }),
  );

  test.each<[question: string, code: string, change: (plan: Plan) => unknown]>([
    ['from server to internet', 'no-network', (plan) => (plan.devices[0]!.network = '')],
    ['from office to internet', 'no-host', (plan) => (plan.networks[0]!.prefix = '10.24.')],
    ['from office to guests', 'no-host', (plan) => (plan.networks[1]!.prefix = '')],
    [
      'from office to server tcp 8443',
      'no-host',
      (plan) => Object.assign(plan.devices[0]!, { network: '', address: '', addressing: 'automatic' }),
    ],
    ['from office to router', 'no-router-address', (plan) => (plan.networks[0]!.routerAddress = '')],
    ['from internet to router', 'no-line', (plan) => (plan.uplinks = [])],
    ['from internet to outside', 'same-ends', () => {}],
    ['from 10.24.10.20 to server', 'same-ends', () => {}],
  ])('%s cannot be followed (%s), and the sentence says what is missing', (question, code, change) => {
    const plan = soundPlan();
    change(plan);
    const answer = ask(compile(plan), question);
    expect(answer).toMatchObject({ ok: false, problem: { code } });
    if (!answer.ok) expect(answer.problem.says).toMatch(/^[A-Z].{20,}\.$/);
  });
});

describe('properties', () => {
  test('the longest prefix wins, against a naive search', () => {
    const rows = fc.uniqueArray(
      fc
        .tuple(fc.bigInt(0n, 255n), fc.integer({ min: 9, max: 30 }))
        .map(([bits, length]) =>
          formatPrefix(prefixAround(address(4, (10n << 24n) | (bits << 12n) | 77n), length)),
        ),
      { minLength: 1, maxLength: 25 },
    );
    fc.assert(
      fc.property(rows, fc.bigInt(0n, 255n), (prefixes, bits) => {
        const site = compile(
          planOf({
            networks: prefixes.map((prefix, index) => ({ id: `n${index}`, name: `n${index}`, prefix })),
          }),
        );
        const host = address(4, (10n << 24n) | (bits << 12n) | 77n);
        const naive = Math.max(
          -1,
          ...site.networks.filter((each) => contains(each.prefix!, host)).map((each) => each.prefix!.length),
        );
        expect(createRouter(site, new Set()).route.find(host)?.prefix.length ?? -1).toBe(naive);
      }),
    );
  });

  test('a reply always finds its way back through every translation it came out of', () => {
    const sites = ['farrow-sound', 'hollin-edge', 'weir-street', 'larch-house'].map((name) =>
      compile(demoPlan(name)),
    );
    const extra = [soundPlan(), soundPlan(boxed), soundPlan(carrier)].map(compile);
    const all = [...sites, ...extra];
    let delivered = 0;
    fc.assert(
      fc.property(
        fc.nat({ max: all.length - 1 }),
        fc.nat(),
        fc.nat(),
        fc.constantFrom('tcp 443', 'tcp 8443', 'udp 53', 'ping'),
        fc.boolean(),
        (which, from, to, service, down) => {
          const site = all[which]!;
          const names = endpointNames(site);
          const late = down && site.lines[0] ? ` when ${site.lines[0].name} is down` : '';
          const query = good(
            parseQuery(`from ${names[from % names.length]} to ${names[to % names.length]} ${service}${late}`),
          );
          const flow = flowOf(site, query);
          if (!flow.ok) return;
          const trace = follow(site, flow.value);
          const arrived = trace.outcome === 'delivered' || trace.outcome === 'hairpin';
          expect(trace.answered !== undefined).toBe(arrived);
          if (!trace.answered) return;
          delivered += 1;
          const sent = trace.hops[0]!.before;
          const text = (header: typeof sent): string =>
            `${formatAddress(header.source)} ${header.sourcePort} ${formatAddress(header.destination)} ${header.destinationPort}`;
          // The router's own packets get their source when they are routed.
          const start = flow.value.origin.kind === 'router' ? trace.hops[0]!.after : sent;
          expect(text(trace.answered)).toBe(text(reversed(start)));
        },
      ),
      { numRuns: 600 },
    );
    expect(delivered).toBeGreaterThan(50);
  });
});
