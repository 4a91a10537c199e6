import { z } from 'zod';
import { cellularSettings } from './cellular/settings.ts';
import { dhcpSettings } from './dhcp/settings.ts';
import { dsLiteSettings } from './ds-lite/settings.ts';
import { datedSettings } from './l2tp/settings.ts';
import { pppoeSettings } from './pppoe/settings.ts';
import { staticSettings } from './static/settings.ts';
import { unknownSettings } from './unknown/settings.ts';

/**
 * What each WAN type stores in the plan. All of them are kept beside each other, so that trying another type and
 * coming back loses nothing.
 */
export const uplinkSettings = z.strictObject({
  unknown: unknownSettings.prefault({}),
  dhcp: dhcpSettings.prefault({}),
  static: staticSettings.prefault({}),
  pppoe: pppoeSettings.prefault({}),
  cellular: cellularSettings.prefault({}),
  'ds-lite': dsLiteSettings.prefault({}),
  l2tp: datedSettings.prefault({}),
  pptp: datedSettings.prefault({}),
});

export type UplinkSettings = z.output<typeof uplinkSettings>;
export const uplinkTypeNames = Object.keys(uplinkSettings.shape) as (keyof UplinkSettings)[];
export type UplinkTypeName = keyof UplinkSettings;
