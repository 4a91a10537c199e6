import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compile } from '../../../core/index.ts';
import { soundPlan } from '../../../core/testing/plans.ts';
import { rulePicture } from './block-rule.tsx';

const picture = (change: Parameters<typeof soundPlan>[0] = () => {}) =>
  rulePicture(compile(soundPlan(change)), 0);

describe('the ruler of a subnet', () => {
  test('names its ends and the size of the pool', () => {
    expect(picture()).toMatchObject({
      first: '10.24.10.1',
      last: '10.24.10.254',
      pool: { size: '100' }, // .100 to .199
      held: [{ name: 'Server, 10.24.10.20' }],
    });
  });

  test('is not drawn while the subnet cannot be read, and shows no pool that is reversed', () => {
    expect(
      picture((plan) => {
        plan.networks[0]!.prefix = '10.24.10.0/';
      }),
    ).toBeUndefined();
    expect(
      picture((plan) => {
        plan.networks[0]!.dhcp.from = '10.24.10.220';
      })!.pool,
    ).toBeUndefined();
  });

  test('leaves out what lies outside: a router or a device of another subnet', () => {
    const found = picture((plan) => {
      plan.networks[0]!.routerAddress = '10.99.0.1';
      plan.devices[0]!.address = '10.99.0.20';
    })!;
    expect([found.router, found.held]).toEqual([undefined, []]);
  });

  test('every mark is on the ruler, and in the order of the addresses', () => {
    const host = fc.integer({ min: 1, max: 254 });
    fc.assert(
      fc.property(fc.uniqueArray(host, { minLength: 1, maxLength: 20 }), host, host, (hosts, from, to) => {
        const found = picture((plan) => {
          plan.networks[0]!.dhcp.from = `10.24.10.${Math.min(from, to)}`;
          plan.networks[0]!.dhcp.to = `10.24.10.${Math.max(from, to)}`;
          plan.devices = hosts.map((each) => ({
            ...plan.devices[0]!,
            id: `d${each}`,
            name: `d${each}`,
            address: `10.24.10.${each}`,
          }));
        })!;
        const places = found.held.map(({ at }) => at);
        for (const at of [...places, found.pool!.from, found.pool!.to, found.router!]) {
          expect(at).toBeGreaterThanOrEqual(0);
          expect(at).toBeLessThanOrEqual(100);
        }
        const byHost = [...hosts]
          .sort((a, b) => a - b)
          .map((each) => found.held.find(({ name }) => name.startsWith(`d${each},`))!.at);
        expect(byHost).toEqual([...byHost].sort((a, b) => a - b));
        expect(found.pool!.from).toBeLessThan(found.pool!.to);
      }),
      { numRuns: 60 },
    );
  });
});
