import type * as z from 'zod';
import type { Address } from '../base/net/address.ts';
import type { PortRange } from '../base/net/ports.ts';
import type { Prefix } from '../base/net/prefix.ts';
import type { ValueOf } from '../plan/field.ts';

/*
 * What the plan and the site need to know about a WAN type. One folder each beside this file: profile.ts is this part,
 * index.ts what is judged, entered and read, stand-in.ts a simulated far end. names.ts lists the folders.
 */

/** Facts about a line that letters, pages and people state, whatever type they end up in. */
export type LineFact =
  | 'address'
  | 'prefixLength'
  | 'gateway'
  | 'resolvers'
  | 'routedBlock'
  | 'delegatedPrefix'
  | 'userName'
  | 'password'
  | 'apn'
  | 'cardNumber'
  | 'pin'
  | 'pinTries'
  | 'capGigabytes'
  | 'tiedMac'
  | 'translator'
  | 'server';

/** Facts that belong to one site and one contract: they tell a line from all others, and go into no template. */
export const ownFacts = [
  'address',
  'gateway',
  'routedBlock',
  'delegatedPrefix',
  'userName',
  'password',
  'pin',
  'pinTries',
  'cardNumber',
  'tiedMac',
] as const satisfies readonly LineFact[];

/** What the settings of a WAN type say of the router's WAN port before anything is plugged in. */
export interface WanPort {
  readonly address: Address | undefined;
  /** Settings key where the address stands; the settings as a whole where it is empty. */
  readonly addressKey: string;
  readonly prefix: Prefix | undefined;
  readonly gateway: Address | undefined;
  /** A prefix that the provider sends to the address of the line. */
  readonly routedBlock: Prefix | undefined;
  readonly resolvers: readonly Address[];
  readonly resolversOffered: boolean;
  /** The router takes the default route that the line offers. */
  readonly defaultRoute: boolean;
  /** The provider translates, whatever the address looks like. */
  readonly carrierNat: boolean;
  /** Ports of the address that are this line's; all of them where it is undefined. */
  readonly ownPorts: readonly PortRange[] | undefined;
  /** Largest packet that such a line carries where nobody typed another. */
  readonly largestBytes: number;
  /** Bytes that the type puts around each packet on the wire. */
  readonly wrappingBytes: number;
}

/** A line that gives its values by itself, over plain Ethernet (IEEE 802.3: 1500 bytes). */
export const plainPort: WanPort = {
  address: undefined,
  addressKey: 'expectedAddress',
  prefix: undefined,
  gateway: undefined,
  routedBlock: undefined,
  resolvers: [],
  resolversOffered: true,
  defaultRoute: true,
  carrierNat: false,
  ownPorts: undefined,
  largestBytes: 1500,
  wrappingBytes: 0,
};

export interface Profile<Settings extends z.ZodObject = z.ZodObject> {
  /** As the choice and the findings call it. */
  readonly title: string;
  /** What it stores in the plan. All types keep theirs beside each other: trying another loses nothing. */
  readonly settings: Settings;
  readonly port: (settings: ValueOf<Settings>) => WanPort;
  /** The settings that hold facts, by the fact. */
  readonly holds: { readonly [Fact in LineFact]?: keyof Settings['shape'] & string };
}

/** A profile as it is written: its settings decide the types of the rest. */
export const profileOf = <Settings extends z.ZodObject>(profile: Profile<Settings>): Profile<Settings> =>
  profile;
