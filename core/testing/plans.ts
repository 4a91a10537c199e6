import type { Site } from '../site/model.ts';
import { compile } from '../site/compile.ts';
import { readFileSync } from 'node:fs';
import { address, parseAddress, type Address } from '../base/net/address.ts';
import { parsePrefix, type Prefix } from '../base/net/prefix.ts';
import { planVersion } from '../plan/version.ts';
import { readPlan } from '../plan/read.ts';
import { planSchema, type Plan } from '../plan/schema.ts';
import type { Result } from '../base/result.ts';
import type * as z from 'zod';

type PlanInput = Omit<z.input<typeof planSchema>, 'format' | 'version'>;

/** The value of a result that a test knows to be good. */
export function good<T>(result: Result<T>): T {
  if (!result.ok) throw new Error(`${result.problem.code}: ${result.problem.says}`);
  return result.value;
}

export const addr = (text: string): Address => good(parseAddress(text));
/** The IPv4 address of a number. */
export const addressOf = (value: bigint): Address => address(4, value);
export const block = (text: string): Prefix => good(parsePrefix(text));

/** A plan from what a test cares about; everything else is as in a new plan. */
export const planOf = (input: PlanInput): Plan =>
  planSchema.parse({ format: 'netter-plan', version: planVersion, ...input });

/** A small sound site: one direct line, an office and guests, a server that outside may reach on tcp 8443. */
export const soundPlan = (change: (plan: Plan) => void = () => {}): Plan => {
  const plan = planOf({
    demo: true,
    site: { name: 'Test site', street: '4 Sail Lane', town: 'Larch Quay' },
    contacts: [{ id: 'keys', name: 'Maren Holt', role: 'keys', phone: '+44 1632 960001' }],
    kit: [{ id: 'router', role: 'router' }],
    router: {
      factoryAddress: '192.168.1.1/24',
      adminNetwork: 'office',
      services: [{ id: 'admin', name: 'Administration page', protocol: 'tcp', ports: '443' }],
    },
    uplinks: [
      {
        id: 'fibre',
        name: 'Fibre',
        type: 'static',
        settings: {
          static: {
            address: '203.0.113.9',
            prefixLength: '30',
            gateway: '203.0.113.10',
            resolvers: ['198.51.100.53'],
          },
        },
      },
    ],
    networks: [
      {
        id: 'office',
        name: 'Office',
        purpose: 'staff',
        vlan: 10,
        prefix: '10.24.10.0/24',
        routerAddress: '10.24.10.1',
        dhcp: { from: '10.24.10.100', to: '10.24.10.199' },
        resolvers: ['10.24.10.1'],
      },
      {
        id: 'guests',
        name: 'Guests',
        purpose: 'guests',
        vlan: 30,
        prefix: '10.24.30.0/24',
        routerAddress: '10.24.30.1',
        dhcp: { from: '10.24.30.20', to: '10.24.30.250' },
        resolvers: ['10.24.30.1'],
      },
    ],
    devices: [
      {
        id: 'server',
        name: 'Server',
        mac: '00:00:5e:00:53:01',
        network: 'office',
        addressing: 'reserved',
        address: '10.24.10.20',
        services: [{ id: 'api', name: 'Readings', protocol: 'tcp', ports: '8443' }],
      },
    ],
    forwards: [{ id: 'f1', purpose: 'Readings', uplink: 'fibre', device: 'server', service: 'api' }],
  });
  change(plan);
  return plan;
};

/** A device that routes in front of the first line. */
export function boxInFront(plan: Plan, more: Partial<Plan['uplinks'][number]['handoff']> = {}): void {
  Object.assign(plan.uplinks[0]!.handoff, {
    mode: 'routes',
    insidePrefix: '192.168.8.0/24',
    outsideAddress: '203.0.113.77',
    ...more,
  });
}

/** One of the demo sites that ship with the program. */
export const demoPlan = (name: string): Plan =>
  good(readPlan(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8')));

/** The site of a plan that goes on changing: what is compiled is frozen. */
export const compiledCopy = (plan: Plan): Site => compile(structuredClone(plan));

/** What a value that is no text becomes in a sentence: none may say it. */
export const notWords = /\b(?:undefined|null|NaN|Infinity|true)\b|\[object/;

/** The plan with another value at a JSON Pointer; all else stays the very same. */
export function setAt(plan: Plan, at: string, value: unknown): Plan {
  const put = (inner: unknown, [key, ...rest]: readonly string[]): unknown => {
    if (key === undefined) return value;
    if (Array.isArray(inner)) return inner.with(Number(key), put(inner[Number(key)], rest));
    const owner = inner as Readonly<Record<string, unknown>>;
    return { ...owner, [key]: put(owner[key], rest) };
  };
  return put(plan, at.split('/').slice(1)) as Plan;
}
