// Written from names.ts by `npm run reference`.
import type { StandIn } from '../behaviour/provider-sim/stand-in.ts';
import { standIn as cellularStandIn } from './cellular/stand-in.ts';
import { standIn as dhcpStandIn } from './dhcp/stand-in.ts';
import { standIn as dsLiteStandIn } from './ds-lite/stand-in.ts';
import { standIn as l2tpStandIn } from './l2tp/stand-in.ts';
import { standIn as mapTStandIn } from './map-t/stand-in.ts';
import { standIn as pppoeStandIn } from './pppoe/stand-in.ts';
import { standIn as pptpStandIn } from './pptp/stand-in.ts';
import { standIn as staticStandIn } from './static/stand-in.ts';
import type { WanTypeName } from './names.ts';

/** The simulated far ends, by WAN type. A line nobody knows has none. */
export const standIns: { readonly [Name in WanTypeName]?: StandIn } = {
  dhcp: dhcpStandIn,
  static: staticStandIn,
  pppoe: pppoeStandIn,
  cellular: cellularStandIn,
  'ds-lite': dsLiteStandIn,
  'map-t': mapTStandIn,
  l2tp: l2tpStandIn,
  pptp: pptpStandIn,
};
