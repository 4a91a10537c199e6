import type { Line } from '../../site/model.ts';

/** Something on the way between the router and the line. */
export interface Message {
  /** Seconds since the line was plugged in. */
  readonly at: number;
  /** Place in the run, among all messages and sights. */
  readonly order: number;
  readonly from: 'router' | 'line';
  /** Its name in the protocol: "DISCOVER", "PADI". */
  readonly name: string;
  readonly says: string;
  /** The Ethernet frame; messages of a modem's radio have none here. */
  readonly frame?: Uint8Array;
}

/** What the person at the cabinet sees from that moment on. */
export interface Sight {
  readonly at: number;
  readonly order: number;
  readonly light: string;
  readonly status: string;
  readonly log: string;
}

export interface Exchange {
  readonly messages: readonly Message[];
  readonly sights: readonly Sight[];
  readonly up: boolean;
  readonly endsAt: number;
  /** What happened, and what the installer would do about it. */
  readonly says: string;
}

export interface Fault {
  readonly name: string;
  readonly title: string;
}

/** A simulated far end of a WAN type: it answers, refuses or stays silent, in its true time. */
export interface StandIn {
  readonly faults: readonly Fault[];
  /** `fault` is one of the names, or empty; `random` gives numbers from 0 to 1, the same seed the same run. */
  readonly run: (line: Line, fault: string, from: Recorder, random: () => number) => Outcome;
}

export interface Outcome {
  readonly up: boolean;
  readonly says: string;
}

/** Takes down what happens; time only goes forward. */
export class Recorder {
  readonly messages: Message[] = [];
  readonly sights: Sight[] = [];
  #now: number;
  #order = 0;

  constructor(start = 0) {
    this.#now = start;
  }

  get now(): number {
    return this.#now;
  }

  wait(seconds: number): void {
    this.#now = Math.round((this.#now + seconds) * 1e6) / 1e6;
  }

  send(from: Message['from'], name: string, says: string, frame?: Uint8Array): void {
    this.messages.push({
      at: this.#now,
      order: (this.#order += 1),
      from,
      name,
      says,
      ...(frame && { frame }),
    });
  }

  see(light: string, status: string, log: string): void {
    this.sights.push({ at: this.#now, order: (this.#order += 1), light, status, log });
  }
}

/** Numbers from 0 to 1 from a seed (the mulberry generator): enough for waits, not for secrets. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** The addresses of the two ends on the wire: documentation MAC addresses (RFC 9542 section 2.1.2). */
export const routerMac = '00:00:5e:00:53:01';
export const lineMac = '00:00:5e:00:53:fe';
export const everyoneMac = 'ff:ff:ff:ff:ff:ff';

export const tagOf = (line: Line): { id: number; priority: number } | undefined => {
  const { vlan, vlanPriority } = line;
  return vlan === null || vlan < 1 || vlan > 4094 ? undefined : { id: vlan, priority: vlanPriority ?? 0 };
};
