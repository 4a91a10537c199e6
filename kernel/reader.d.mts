import type { Plan } from '../core/plan/schema.ts';

/** An address as the second reader has it. */
export interface Host {
  readonly family: 4 | 6;
  readonly value: bigint;
}

export interface Sender {
  readonly kind: 'network' | 'outside' | 'front' | 'client' | 'site' | 'behind' | 'router';
  readonly id: string;
}

export interface Packet {
  readonly protocol: 'tcp' | 'udp' | 'icmp';
  readonly source: Host;
  readonly destination: Host;
  readonly port: number;
}

/** Where a packet arrives and as what; `nothing` where it does not, `unsaid` where the plan alone does not say. */
export interface Meaning {
  readonly place: string;
  readonly source?: Host | undefined;
  readonly destination?: Host;
  readonly port?: number;
  readonly answered?: boolean;
}

export interface Facts {
  readonly networks: readonly unknown[];
}

export function host(text: string): Host | undefined;
export function read(plan: Plan): Facts;
export function meaning(facts: Facts, from: Sender, packet: Packet, down: ReadonlySet<string>): Meaning;
