import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { address, type Address } from '../../base/net/address.ts';
import type { Header } from '../../base/net/packet.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan } from '../../testing/plans.ts';
import { stageNames, type Side } from './decision.ts';
import { decided, lookedAt } from './explain.ts';
import { createRouter } from './router.ts';

const sites = ['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane', 'larch-house'].map((name) =>
  compile(demoPlan(name)),
);

/** Addresses that matter on the demo sites, and any others, of both families. */
const known: Address[] = sites.flatMap((site) => [
  ...site.lines.flatMap((line) => [line.address, line.publicAddress, line.gateway ?? line.address]),
  ...site.networks.flatMap((network) => network.routerAddress ?? []),
  ...site.devices.flatMap((device) => device.address ?? []),
  ...site.vpn.sites.flatMap(({ prefixes }) =>
    prefixes.map((prefix) => address(prefix.family, prefix.first + 5n)),
  ),
  site.outsider,
]);
const anyAddress = fc.oneof(
  fc.constantFrom(...known),
  fc.bigInt({ min: 0n, max: (1n << 32n) - 1n }).map((value) => address(4, value)),
  fc.bigInt({ min: 0n, max: (1n << 128n) - 1n }).map((value) => address(6, value)),
);
const anyPort = fc.oneof(fc.constantFrom(53, 80, 443, 8443, 51_820), fc.integer({ min: 1, max: 65_535 }));
const anyHeader: fc.Arbitrary<Header> = fc.record({
  protocol: fc.constantFrom('tcp', 'udp', 'icmp'),
  source: anyAddress,
  sourcePort: anyPort,
  destination: anyAddress,
  destinationPort: anyPort,
  sizeBytes: fc.constantFrom(60, 1400, 1492, 1500, 9000),
});

const anyCase = fc.constantFrom(...sites).chain((site) =>
  fc.record({
    site: fc.constant(site),
    down: fc.subarray(site.lines.map(({ id }) => id)).map((ids) => new Set(ids)),
    ingress: fc.constantFrom<Side>(
      ...site.networks.map((network): Side => ({ kind: 'network', network })),
      ...site.lines.map((line): Side => ({ kind: 'line', line })),
    ),
    header: anyHeader,
  }),
);

describe('the stages of the router', () => {
  test('are gone through in order, each from what the one before left, and only the last may stop', () => {
    fc.assert(
      fc.property(anyCase, ({ site, down, ingress, header }) => {
        const decisions = createRouter(site, down).decide(ingress, header);
        const order = decisions.map(({ stage }) => stageNames.indexOf(stage));
        expect(order).toEqual([...order].sort((a, b) => a - b));
        expect(decisions[0]!.before.header).toBe(header);
        for (const [index, decision] of decisions.entries()) {
          expect(decision.stop !== undefined).toBe(
            index === decisions.length - 1 && decision.stop !== undefined,
          );
          if (index > 0) expect(decision.before).toBe(decisions[index - 1]!.after);
        }
        const last = decisions.at(-1)!;
        // Whatever is not stopped has gone through all stages and leaves somewhere.
        if (!last.stop) expect([last.stage, last.after.egress !== undefined]).toEqual(['size', true]);
      }),
      { numRuns: 400 },
    );
  });

  test('a stage asked alone answers as in the row: it looks at its table and the passage, and at nothing else', () => {
    fc.assert(
      fc.property(anyCase, ({ site, down, ingress, header }) => {
        const router = createRouter(site, down);
        for (const decision of router.decide(ingress, header)) {
          const again = router.stages
            .map((stage) => stage.decide(decision.before))
            .find((each) => each?.stage === decision.stage && each.reason.kind === decision.reason.kind);
          expect(again).toEqual(decision);
        }
      }),
      { numRuns: 200 },
    );
  });

  test('only the two stages of NAT change a packet, and every decision can be put into words', () => {
    fc.assert(
      fc.property(anyCase, ({ site, down, ingress, header }) => {
        for (const decision of createRouter(site, down).decide(ingress, header)) {
          if (decision.before.header !== decision.after.header)
            expect(['destination NAT', 'source NAT']).toContain(decision.stage);
          for (const words of [lookedAt(decision), decided(decision)]) {
            expect(words.length).toBeGreaterThan(3);
            expect(words).not.toMatch(/undefined|NaN|\[object/);
          }
        }
      }),
      { numRuns: 400 },
    );
  });

  test('no packet of either family comes in without a forward or a service that names its port', () => {
    fc.assert(
      fc.property(anyCase, ({ site, down, ingress, header }) => {
        if (ingress.kind !== 'line') return;
        const last = createRouter(site, down).decide(ingress, header).at(-1)!;
        if (last.stop && last.stop !== 'answered') return;
        expect(header.protocol).not.toBe('icmp');
        const named = [
          ...site.forwards.map((rule) => rule.outside),
          ...site.services.map(({ ports }) => ports),
        ];
        const port = header.destinationPort;
        expect(named.some((range) => range && range.first <= port && port <= range.last)).toBe(true);
      }),
      { numRuns: 400 },
    );
  });
});
