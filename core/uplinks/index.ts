import { dhcp } from './dhcp/index.ts';
import { fixed } from './static/index.ts';
import type { UplinkTypeName } from './settings.ts';
import type { UplinkType } from './type.ts';

/** The registry of WAN types. A new type is a folder beside these, one line here and one in settings.ts. */
const registry: { [Name in UplinkTypeName]: UplinkType<Name> } = { dhcp, static: fixed };

export const uplinkTypes = Object.values(registry) as readonly UplinkType[];
export const uplinkType = (name: UplinkTypeName): UplinkType => registry[name] as UplinkType;
