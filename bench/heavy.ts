import { pathToFileURL } from 'node:url';
import { acceptance, compile, parsePlan, runChecks, runSheet, type Plan } from '../core/index.ts';
import { deviceSchema, forwardSchema, reachSchema } from '../core/plan/schema.ts';
import { demoPlan, soundPlan } from '../core/testing/plans.ts';

/** A plan that grows with `size`, from a quarter (25) to the most that the schema allows (100). */
type Grow = (plan: Plan, size: number) => void;

const farrow = demoPlan('farrow-sound');
const mill = demoPlan('mill-lane');

function base(networks: number, devices: number, forwards: number, overlapping = false): Plan {
  return soundPlan((plan) => {
    const network = structuredClone(plan.networks[0]!);
    plan.networks = Array.from({ length: networks }, (_, index) => ({
      ...structuredClone(network),
      id: `n${index}`,
      name: `Network ${index}`,
      prefix: overlapping ? '10.0.0.0/16' : `10.${index}.0.0/16`,
      vlan: null,
    }));
    plan.devices = Array.from({ length: devices }, (_, index) => {
      const row = Math.floor(index / networks);
      return deviceSchema.parse({
        id: `d${index}`,
        name: `Device ${index}`,
        network: `n${index % networks}`,
        address: overlapping
          ? `10.0.${index >> 8}.${index & 255}`
          : `10.${index % networks}.0.${10 + (row % 240)}`,
        addressing: 'reserved',
        mac: `00:00:5e:00:${(index >> 8).toString(16).padStart(2, '0')}:${(index & 255).toString(16).padStart(2, '0')}`,
      });
    });
    plan.forwards = Array.from({ length: forwards }, (_, index) =>
      forwardSchema.parse({
        id: `f${index}`,
        uplink: plan.uplinks[0]!.id,
        outsidePorts: String(1000 + index),
        insidePorts: '80',
        device: `d${index % devices}`,
        purpose: 'a service',
      }),
    );
  });
}

const many = <T>(count: number, make: (index: number) => T): T[] =>
  Array.from({ length: Math.floor(count) }, (_, index) => make(index));

const grows: readonly (readonly [string, Grow])[] = [
  ['5 000 devices, 2 000 forwards, 200 networks', () => {}],
  [
    '2 000 reach rules',
    (plan, size) => {
      const id = (index: number): string => plan.networks[index % plan.networks.length]!.id;
      plan.reach = many(20 * size, (index) =>
        reachSchema.parse({ id: `r${index}`, from: id(index), to: id(index * 7 + 1) }),
      );
    },
  ],
  [
    '1 000 people, 50 groups of 200 grants',
    (plan, size) => {
      const [group, peer] = [farrow.vpn.groups[0]!, farrow.vpn.peers[0]!];
      plan.vpn = structuredClone({ ...farrow.vpn, pool: '10.250.0.0/16' });
      plan.vpn.groups = many(50, (index) => ({
        ...structuredClone(group),
        id: `g${index}`,
        name: `Group ${index}`,
        grants: many(2 * size, (grant) => ({
          ...structuredClone(group.grants[0]!),
          id: `x${grant}`,
          network: plan.networks[(index + grant) % plan.networks.length]!.id,
          device: '',
          service: '',
        })),
      }));
      plan.vpn.peers = many(10 * size, (index) => ({
        ...structuredClone(peer),
        id: `p${index}`,
        name: `Laptop ${index}`,
        person: `Person ${index}`,
        group: `g${index % 50}`,
        address: `10.250.${index >> 8}.${index & 255}`,
      }));
    },
  ],
  [
    '50 far sites of 200 blocks',
    (plan, size) => {
      plan.vpn = structuredClone({ ...farrow.vpn, peers: [] });
      plan.vpn.sites = many(size / 2, (index) => ({
        ...structuredClone(mill.vpn.sites[0]!),
        id: `s${index}`,
        name: `Far ${index}`,
        prefixes: many(2 * size, (block) => `172.${16 + (index % 16)}.${block}.0/24`),
        networks: plan.networks.slice(0, 50).map(({ id }) => id),
      }));
    },
  ],
  [
    '50 promises, 200 rules, 200 loads',
    (plan, size) => {
      const { rules, promises, loads } = farrow.failover;
      const network = (index: number): string => plan.networks[index % plan.networks.length]!.id;
      plan.uplinks = structuredClone(farrow.uplinks);
      for (const forward of plan.forwards) forward.uplink = plan.uplinks[0]!.id;
      plan.failover = {
        ...structuredClone(farrow.failover),
        causes: [],
        rules: many(2 * size, (index) => ({ ...rules[0]!, id: `fr${index}`, network: network(index) })),
        promises: many(size / 2, (index) => ({ ...promises[0]!, id: `fp${index}`, network: network(index) })),
        loads: many(2 * size, (index) => ({ ...loads[0]!, id: `fl${index}`, network: network(index) })),
      };
    },
  ],
];

export interface HeavyRow {
  readonly what: string;
  readonly size: number;
  readonly compileMs: number;
  readonly checksMs: number;
  readonly sheetMs: number;
  readonly acceptanceMs: number;
}

const timed = <T>(act: () => T): [T, number] => {
  const begun = performance.now();
  const value = act();
  return [value, Math.round(performance.now() - begun)];
};

function measure(what: string, size: number, plan: Plan): HeavyRow {
  const parsed = parsePlan(plan);
  if (!parsed.ok) throw new Error(`${what}: ${parsed.problem.at} ${parsed.problem.says}`);
  const [site, compileMs] = timed(() => compile(parsed.value));
  const [, checksMs] = timed(() => runChecks(site, '2026-03-02'));
  const [steps, sheetMs] = timed(() => runSheet(site));
  const [, acceptanceMs] = timed(() => acceptance(site, [], steps));
  return { what, size, compileMs, checksMs, sheetMs, acceptanceMs };
}

/** The heaviest plans that the schema allows, each at a quarter, at half and at full size. */
export function* heavyRows(): Generator<HeavyRow> {
  for (const [what, grow] of grows)
    for (const size of [25, 50, 100]) {
      const whole = what.startsWith('5 000');
      const plan = whole ? base(2 * size, 50 * size, 20 * size) : base(2 * size, 10 * size, 5 * size);
      grow(plan, size);
      yield measure(what, size, plan);
    }
  for (const size of [25, 50, 100])
    yield measure('5 000 devices on 200 networks that overlap', size, base(2 * size, 50 * size, size, true));
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href)
  for (const row of heavyRows()) console.log(JSON.stringify(row));
