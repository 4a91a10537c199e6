import { expect, test } from '@jest/globals';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { soundPlan } from '../../testing/plans.ts';
import { forwardCalls } from './forward-calls.ts';

// Schemes and their ports: IANA URI schemes, RFC 9110 section 4.2, RFC 7826 section 4.2, RFC 4253 (from memory).
const calls = (change: (plan: Plan) => unknown): string[] =>
  forwardCalls(compile(soundPlan(change as (plan: Plan) => void))).map(
    ({ outside, inside }) => `${outside} | ${inside}`,
  );
const service = (plan: Plan, ports: string) => (plan.devices[0]!.services[0]!.ports = ports);

test.each<[string, (plan: Plan) => unknown, string]>([
  ['TLS on another port', () => {}, 'https://203.0.113.9:8443 | https://10.24.10.20:8443'],
  [
    'the usual port is left out, outside and inside each for itself',
    (p) => {
      service(p, '443');
      p.forwards[0]!.outsidePorts = '8443';
    },
    'https://203.0.113.9:8443 | https://10.24.10.20',
  ],
  ['a stream', (p) => service(p, '554'), 'rtsp://203.0.113.9 | rtsp://10.24.10.20'],
  ['a port without a scheme', (p) => service(p, '4370'), '203.0.113.9:4370 | 10.24.10.20:4370'],
  ['a range', (p) => service(p, '5000-5003'), '203.0.113.9:5000-5003 | 10.24.10.20:5000-5003'],
  [
    'a name that follows the line, and hairpin NAT: one for both',
    (p) => {
      p.failover.dynamicName = 'site.example';
      p.router.hairpin = 'yes';
    },
    'https://site.example:8443 | https://site.example:8443',
  ],
])('%s', (_what, change, expected) => expect(calls(change)).toEqual([expected]));

test('what cannot be reached is not listed', () =>
  expect(
    calls((p) => {
      p.uplinks[0]!.type = 'dhcp';
      p.uplinks[0]!.settings.dhcp.expectedAddress = '100.64.0.9';
    }),
  ).toEqual([]));
