// Written from names.ts by `npm run reference`.
import { wanType as cellularWanType } from './cellular/index.ts';
import { wanType as dhcpWanType } from './dhcp/index.ts';
import { wanType as dsLiteWanType } from './ds-lite/index.ts';
import { wanType as l2tpWanType } from './l2tp/index.ts';
import { wanType as mapTWanType } from './map-t/index.ts';
import { wanType as pppoeWanType } from './pppoe/index.ts';
import { wanType as pptpWanType } from './pptp/index.ts';
import { wanType as staticWanType } from './static/index.ts';
import { wanType as unknownWanType } from './unknown/index.ts';
import type { WanTypeName } from './names.ts';
import type { WanType } from './type.ts';

const registry: { [Name in WanTypeName]: WanType<Name> } = {
  unknown: unknownWanType,
  dhcp: dhcpWanType,
  static: staticWanType,
  pppoe: pppoeWanType,
  cellular: cellularWanType,
  'ds-lite': dsLiteWanType,
  'map-t': mapTWanType,
  l2tp: l2tpWanType,
  pptp: pptpWanType,
};

export const wanTypes = Object.values(registry) as readonly WanType[];
export const wanType = (name: WanTypeName): WanType => registry[name] as WanType;
/** As texts are read: what stands later in the list is the more special, and is tried first. */
export const specialFirst = wanTypes.toReversed();
