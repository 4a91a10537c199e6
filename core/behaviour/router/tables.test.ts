import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { addressOf } from '../../testing/plans.ts';
import { hasPort, protocolsMeet } from '../../base/net/ports.ts';
import { contains, prefixAround } from '../../base/net/prefix.ts';
import type { Forward, Route } from '../../site/model.ts';
import { forwardTable } from './forward-table.ts';
import { routeTable } from './route-table.ts';

describe('the route table', () => {
  // A small corner of the address space, so that blocks nest and collide often.
  const base = 10n << 24n;
  const anyRoute = fc
    .tuple(fc.nat({ max: 255 }), fc.integer({ min: 24, max: 32 }))
    .map(([host, length]): Route => {
      const prefix = prefixAround(addressOf(base + BigInt(host)), length);
      return { at: '/routes/0', says: '', prefix, target: { kind: 'via' } as Route['target'] };
    });
  const longestFirst = (routes: Route[]): Route[] =>
    [...routes].sort((a, b) => b.prefix.length - a.prefix.length);

  test('answers like a search through all rows, for every address of the corner', () => {
    fc.assert(
      fc.property(fc.array(anyRoute, { maxLength: 24 }), (rows) => {
        const routes = longestFirst(rows);
        const { find } = routeTable(routes);
        for (let host = 0n; host < 260n; host += 1n) {
          const destination = addressOf(base + host - 2n);
          expect(find(destination)).toBe(routes.find(({ prefix }) => contains(prefix, destination)));
        }
      }),
    );
  });

  test('keeps the families apart, and of equal subnets takes the row that was written first', () => {
    const everything = (family: 4 | 6, at: Route['at']): Route => ({
      at,
      says: '',
      prefix: prefixAround({ family, value: 0n }, 0),
      target: { kind: 'via' } as Route['target'],
    });
    const { find } = routeTable([
      everything(4, '/routes/0'),
      everything(4, '/routes/1'),
      everything(6, '/routes/2'),
    ]);
    expect(find(addressOf(base))?.at).toBe('/routes/0');
    expect(find({ family: 6, value: 1n })?.at).toBe('/routes/2');
    expect(find({ family: 6, value: (1n << 128n) - 1n })?.at).toBe('/routes/2');
    expect(routeTable([]).find(addressOf(base))).toBeUndefined();
  });
});

describe('the table of forwards', () => {
  const anyForward = fc
    .record({
      first: fc.integer({ min: 1, max: 40 }),
      more: fc.constantFrom(0, 0, 0, 1, 5, 20),
      protocol: fc.constantFrom('tcp' as const, 'udp' as const, 'both' as const),
    })
    .map(({ first, more, protocol }) => ({ protocol, outside: { first, last: first + more } }) as Forward);

  test('answers with the first rule of the plan that takes the port, single or range', () => {
    fc.assert(
      fc.property(fc.array(anyForward, { maxLength: 20 }), (rules) => {
        const table = forwardTable(rules);
        expect(table.size).toBe(rules.length);
        for (let port = 0; port <= 62; port += 1)
          for (const protocol of ['tcp', 'udp'] as const)
            expect(table.find(protocol, port)).toBe(
              rules.find((rule) => hasPort(rule.outside!, port) && protocolsMeet(rule.protocol, protocol)),
            );
      }),
    );
  });
});
