import type { WanTypeName } from '../wan-types/names.ts';
import type { WanPort } from '../wan-types/profile.ts';
import { profiles } from '../wan-types/profiles.ts';
import type { WanTypeSettings } from '../plan/schema.ts';

/** The WAN port as the settings of the type in use describe it. */
export const wanPort = (type: WanTypeName, settings: WanTypeSettings): WanPort =>
  (profiles[type].port as (chosen: unknown) => WanPort)(settings[type]);
