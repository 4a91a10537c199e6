/**
 * The registry of WAN types, in the order in which they are offered: from the usual to the special. Each is a folder here; `npm run reference` writes
 * profiles.ts, index.ts and stand-ins.ts from this list.
 */
export const wanTypeNames = [
  'unknown',
  'dhcp',
  'static',
  'pppoe',
  'cellular',
  'ds-lite',
  'map-t',
  'l2tp',
  'pptp',
] as const;

export type WanTypeName = (typeof wanTypeNames)[number];
