import { z } from 'zod';
import { dhcpSettings } from './dhcp/settings.ts';
import { staticSettings } from './static/settings.ts';

/**
 * What each WAN type stores in the plan. All of them are kept beside each other, so that trying another type and
 * coming back loses nothing.
 */
export const uplinkSettings = z.strictObject({
  dhcp: dhcpSettings.prefault({}),
  static: staticSettings.prefault({}),
});

export type UplinkSettings = z.output<typeof uplinkSettings>;
export const uplinkTypeNames = Object.keys(uplinkSettings.shape) as (keyof UplinkSettings)[];
export type UplinkTypeName = keyof UplinkSettings;
