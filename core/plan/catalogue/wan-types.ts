import type * as z from 'zod';
import { profiles } from '../../wan-types/profiles.ts';
import { wanTypeNames, type WanTypeName } from '../../wan-types/names.ts';
import { oneInUse } from '../field.ts';

type Profiles = typeof profiles;
type Schemas = {
  [Name in WanTypeName]: ReturnType<Profiles[Name]['settings']['prefault']>;
};

const each = <Value>(of: (name: WanTypeName) => Value): Record<WanTypeName, Value> =>
  Object.fromEntries(wanTypeNames.map((name) => [name, of(name)])) as Record<WanTypeName, Value>;

export const wanTypeTitles = each((name) => profiles[name].title);

/** What each WAN type stores in the plan, beside each other. */
export const wanTypeSettings = oneInUse(
  each((name) => (profiles[name].settings as z.ZodObject).prefault({} as never)) as unknown as Schemas,
  'type',
);
