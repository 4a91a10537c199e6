import { cellular } from './cellular/index.ts';
import { dhcp } from './dhcp/index.ts';
import { dsLite } from './ds-lite/index.ts';
import { l2tp } from './l2tp/index.ts';
import { pppoe } from './pppoe/index.ts';
import { pptp } from './pptp/index.ts';
import type { UplinkTypeName } from '../plan/schema.ts';
import { fixed } from './static/index.ts';
import type { UplinkType } from './type.ts';
import { unknown } from './unknown/index.ts';

/** The registry of WAN types. A new type is a folder beside these, one line here, and its settings in the catalogue. */
const registry: { [Name in UplinkTypeName]: UplinkType<Name> } = {
  unknown,
  dhcp,
  static: fixed,
  pppoe,
  cellular,
  'ds-lite': dsLite,
  l2tp,
  pptp,
};

export const uplinkTypes = Object.values(registry) as readonly UplinkType[];
export const uplinkType = (name: UplinkTypeName): UplinkType => registry[name] as UplinkType;
