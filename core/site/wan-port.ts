import type { Address } from '../base/net/address.ts';
import { prefixAround, type Prefix } from '../base/net/prefix.ts';
import type { UplinkTypeName } from '../plan/catalogue/wan-types.ts';
import type { UplinkSettings } from '../plan/schema.ts';

/** What the settings of a WAN type say of the router's WAN port before anything is plugged in. */
export interface WanPort {
  readonly address: Address | undefined;
  /** Settings key where the address stands. */
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
  /** Largest packet that such a line carries where nobody typed another. */
  readonly largestBytes: number;
  /** Bytes that the type puts around each packet on the wire. */
  readonly wrappingBytes: number;
}

/** A line that gives its values by itself, over plain Ethernet (IEEE 802.3: 1500 bytes). */
const plain: WanPort = {
  address: undefined,
  addressKey: 'expectedAddress',
  prefix: undefined,
  gateway: undefined,
  routedBlock: undefined,
  resolvers: [],
  resolversOffered: true,
  defaultRoute: true,
  carrierNat: false,
  largestBytes: 1500,
  wrappingBytes: 0,
};

/** IPv6 header around each packet (RFC 8200 section 3), and what an outdated dialled tunnel puts there. */
const tunnelBytes = 40;

type Readers = { readonly [Name in UplinkTypeName]: (settings: UplinkSettings[Name]) => WanPort };

const readers: Readers = {
  unknown: () => ({ ...plain, addressKey: '' }),
  dhcp: (settings) => ({
    ...plain,
    address: settings.expectedAddress,
    defaultRoute: settings.useRoute,
    resolversOffered: settings.useResolvers,
  }),
  static: ({ address, prefixLength, gateway, resolvers, routedBlock }) => ({
    ...plain,
    address,
    addressKey: 'address',
    prefix: address && prefixLength !== undefined ? prefixAround(address, prefixLength) : undefined,
    gateway,
    routedBlock,
    resolvers,
    resolversOffered: false,
  }),
  // RFC 2516 section 7: 8 of the 1500 bytes are the session's; RFC 4638 gives them back.
  pppoe: (settings) => ({
    ...plain,
    address: settings.expectedAddress,
    resolversOffered: settings.useResolvers,
    largestBytes: settings.largePackets ? 1500 : 1492,
    wrappingBytes: 8,
  }),
  cellular: (settings) => ({
    ...plain,
    address: settings.expectedAddress,
    carrierNat: settings.carrierNat,
  }),
  'ds-lite': () => ({
    ...plain,
    addressKey: 'gatewayName',
    carrierNat: true,
    largestBytes: 1500 - tunnelBytes,
    wrappingBytes: tunnelBytes,
  }),
  l2tp: () => dialled,
  pptp: () => dialled,
};

const dialled: WanPort = {
  ...plain,
  addressKey: 'server',
  largestBytes: 1500 - tunnelBytes,
  wrappingBytes: tunnelBytes,
};

/** The WAN port as the settings of the type in use describe it. */
export const wanPort = (type: UplinkTypeName, settings: UplinkSettings): WanPort =>
  (readers[type] as (chosen: unknown) => WanPort)(settings[type]);
