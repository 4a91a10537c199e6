import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { demoPlan, good, soundPlan } from '../../testing/plans.ts';
import { ask, type Answer } from './ask.ts';
import { follow } from './follow.ts';
import { endpointNames, flowOf, parseQuery } from './query.ts';

const farrow = compile(demoPlan('farrow-sound'));
const hollin = compile(demoPlan('hollin-edge'));
const weir = compile(demoPlan('weir-street'));
const answer = (site: Site, question: string): Answer => good(ask(site, question));

describe('the ferry office, packet by packet', () => {
  // Worked out by hand from the plan: who may reach what, and which rule says so.
  test.each([
    ['from office to internet tcp 443', 'delivered'],
    ['from tickets to internet tcp 443', 'delivered'],
    ['from passengers to internet tcp 443', 'delivered'],
    ['from plant to internet udp 123', 'delivered'],
    ['from passengers to office tcp 445', 'refused'],
    ['from passengers to tickets tcp 443', 'refused'],
    ['from passengers to plant tcp 8443', 'refused'],
    ['from passengers to 203.0.113.9 tcp 8443', 'refused'],
    ['from tickets to office tcp 445', 'refused'],
    ['from plant to tickets tcp 443', 'refused'],
    ['from internet to fibre tcp 8443', 'refused'],
    ['from 198.51.100.26 to fibre tcp 8443', 'delivered'],
    ['from 198.51.100.26 to fibre udp 8443', 'refused'],
    ['from 198.51.100.26 to fibre tcp 443', 'refused'],
    ['from internet to cellular tcp 8443', 'impossible'],
    ['from 198.51.100.26 to cellular tcp 8443', 'impossible'],
    ['from office to internet tcp 443 when fibre is down', 'delivered'],
    ['from office to internet tcp 443 when fibre and cellular are down', 'no-route'],
    ['from 198.51.100.26 to fibre tcp 8443 when fibre is down', 'dropped'],
    ['from office to internet tcp 443 size 1492', 'delivered'],
    ['from office to internet tcp 443 size 1493', 'dropped'],
  ] as const)('%s: %s', (question, outcome) => expect(answer(farrow, question).outcome).toBe(outcome));

  test('the outside sees the address of the line that is up', () => {
    const seen = (question: string): string => {
      const { hops } = answer(farrow, question);
      return hops.at(-1)!.after.split(':')[0]!;
    };
    expect(seen('from office to internet tcp 443')).toBe('203.0.113.9');
    expect(seen('from office to internet tcp 443 when fibre is down')).not.toBe('203.0.113.9');
  });

  test('a refusal names the row that refused, and the reply is not even looked at', () => {
    const refused = answer(farrow, 'from internet to fibre tcp 8443');
    expect(refused.hops.at(-1)!.stops).toBe(true);
    expect(refused.says).toMatch(/Tide readings|allowed/);
    expect(refused.reply).toEqual([]);
  });
});

describe('the campsite and the library', () => {
  test('equal subnets on two sides have no right answer, so nothing passes that way', () => {
    expect(answer(hollin, 'from office to internet tcp 443').outcome).not.toBe('delivered');
  });

  test('where only one side has the subnet, packets leave through both translators', () => {
    const { hops, outcome } = answer(hollin, 'from pitches to internet tcp 443 when fixed wireless is down');
    expect(outcome).toBe('delivered');
    expect(hops.some(({ node }) => /carrier/i.test(node))).toBe(true);
  });

  test('the library has one line, and without it there is no route', () => {
    expect(answer(weir, 'from staff to internet tcp 443').outcome).toBe('delivered');
    expect(answer(weir, 'from staff to internet tcp 443 when cable is down').outcome).toBe('no-route');
  });
});

describe('whatever is asked of whatever site', () => {
  const sites = [farrow, hollin, weir, compile(soundPlan())];
  const anything = fc
    .record({
      site: fc.constantFrom(...sites),
      from: fc.nat(),
      to: fc.nat(),
      protocol: fc.constantFrom('tcp', 'udp'),
      port: fc.integer({ min: 1, max: 65_535 }),
    })
    .map(({ site, from, to, protocol, port }) => {
      const names = endpointNames(site);
      return {
        site,
        question: `from ${names[from % names.length]} to ${names[to % names.length]} ${protocol} ${port}`,
      };
    });

  test('the header that leaves one hop is the header that comes to the next', () => {
    fc.assert(
      fc.property(anything, ({ site, question }) => {
        const flow = flowOf(site, good(parseQuery(question)));
        if (!flow.ok) return;
        const { hops, reply } = follow(site, flow.value);
        for (const way of [hops, reply])
          for (const [index, hop] of way.entries())
            if (index > 0) expect(hop.before).toEqual(way[index - 1]!.after);
      }),
      { numRuns: 200 },
    );
  });

  test('the same question has the same answer, and only the last hop stops', () => {
    fc.assert(
      fc.property(anything, ({ site, question }) => {
        const first = ask(site, question);
        expect(ask(site, question)).toEqual(first);
        if (!first.ok) return expect(first.problem.says).toMatch(/\.$/);
        const { hops, outcome, says } = first.value;
        expect(says).toMatch(/\.$/);
        expect(hops.slice(0, -1).every(({ stops }) => !stops)).toBe(true);
        expect(['delivered', 'hairpin'].includes(outcome)).toBe(!hops.at(-1)!.stops);
      }),
      { numRuns: 200 },
    );
  });

  test('nothing from outside gets to a device that no forward names', () => {
    const named = (site: Site): Set<string> =>
      new Set(site.forwards.flatMap(({ device }) => (device?.address ? [String(device.address.value)] : [])));
    fc.assert(
      fc.property(
        fc.constantFrom(...sites),
        fc.nat(),
        fc.integer({ min: 1, max: 65_535 }),
        (site, which, port) => {
          const line = site.lines[which % site.lines.length]!;
          const flow = flowOf(site, good(parseQuery(`from internet to ${line.name} tcp ${port}`)));
          if (!flow.ok) return;
          const trace = follow(site, flow.value);
          if (trace.outcome === 'delivered' && trace.arrived)
            expect(named(site)).toContain(String(trace.arrived.destination.value));
        },
      ),
      { numRuns: 300 },
    );
  });

  test('guests reach no inside network, on any port, whatever is down', () => {
    const inside = ['office', 'tickets', 'plant'];
    fc.assert(
      fc.property(
        fc.constantFrom(...inside),
        fc.constantFrom('tcp', 'udp'),
        fc.integer({ min: 1, max: 65_535 }),
        fc.boolean(),
        (to, protocol, port, down) => {
          const question = `from passengers to ${to} ${protocol} ${port}${down ? ' when fibre is down' : ''}`;
          expect(answer(farrow, question).outcome).toBe('refused');
        },
      ),
      { numRuns: 150 },
    );
  });
});
