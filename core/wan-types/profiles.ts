// Written from names.ts by `npm run reference`.
import { profile as cellularProfile } from './cellular/profile.ts';
import { profile as dhcpProfile } from './dhcp/profile.ts';
import { profile as dsLiteProfile } from './ds-lite/profile.ts';
import { profile as l2tpProfile } from './l2tp/profile.ts';
import { profile as mapTProfile } from './map-t/profile.ts';
import { profile as pppoeProfile } from './pppoe/profile.ts';
import { profile as pptpProfile } from './pptp/profile.ts';
import { profile as staticProfile } from './static/profile.ts';
import { profile as unknownProfile } from './unknown/profile.ts';

export const profiles = {
  unknown: unknownProfile,
  dhcp: dhcpProfile,
  static: staticProfile,
  pppoe: pppoeProfile,
  cellular: cellularProfile,
  'ds-lite': dsLiteProfile,
  'map-t': mapTProfile,
  l2tp: l2tpProfile,
  pptp: pptpProfile,
} as const;
