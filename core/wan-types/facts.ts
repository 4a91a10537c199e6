import { asAt, type At } from '../plan/at.ts';
import { fieldAt } from '../plan/places.ts';
import type { UplinkPlan } from '../plan/schema.ts';
import type { Line } from '../site/model.ts';
import { wanTypeNames, type WanTypeName } from './names.ts';
import { ownFacts, type LineFact, type Profile } from './profile.ts';
import { profiles } from './profiles.ts';

/* A fact about a line, and the setting of a WAN type that holds it. */

/** The settings of a WAN type that hold facts, by the fact. */
export const holdsOf = (type: WanTypeName): Profile['holds'] => profiles[type].holds;

/** Whether a line of this type cannot be set up without the fact. */
export function needs(type: WanTypeName, fact: LineFact): boolean {
  const key = holdsOf(type)[fact];
  const field = key === undefined ? undefined : fieldAt(`/uplinks/0/settings/${type}/${key}`);
  return field !== undefined && 'needed' in field && field.needed !== false;
}

/** Where a line of this type holds the fact; undefined where it has no place for it. */
export function factAt({ at, type }: Pick<Line, 'at' | 'type'>, fact: LineFact): At | undefined {
  const key = holdsOf(type)[fact];
  return key === undefined ? undefined : asAt(`${at}/settings/${type}/${key}`);
}

/** The text of the setting that holds the fact, or empty; of the settings as typed, or as they were read. */
function textIn(settings: object, type: WanTypeName, fact: LineFact): string {
  const key = holdsOf(type)[fact];
  const own = (settings as Readonly<Record<WanTypeName, Readonly<Record<string, unknown>>>>)[type];
  const value = key === undefined ? '' : own[key];
  return typeof value === 'string' ? value : '';
}

/** The text that stands there, or empty. */
export const factText = ({ type, settings }: Line, fact: LineFact): string =>
  textIn(settings, type, fact).trim();

/**
 * The WAN type whose settings take a fact: the chosen one where it has a place for it, else the only one that has. A
 * fact that several could take belongs to none of them before one is chosen.
 */
export function takerOf(chosen: WanTypeName, fact: LineFact): WanTypeName | undefined {
  if (fact in holdsOf(chosen)) return chosen;
  const takers = wanTypeNames.filter((type) => fact in holdsOf(type));
  return takers.length === 1 ? takers[0] : undefined;
}

/** Every text of the settings by which somebody would look for this line; names of secrets are none. */
export const ownTexts = (settings: UplinkPlan['settings']): string[] =>
  wanTypeNames.flatMap((type) =>
    ownFacts
      .filter((fact) => fact !== 'password' && fact !== 'pin')
      .map((fact) => textIn(settings, type, fact))
      .filter((text) => text !== ''),
  );

/** The settings of a WAN type without what belongs to one site and one contract. */
export function withoutOwn(type: WanTypeName, settings: object): object {
  const own = new Set<unknown>(ownFacts.map((fact) => holdsOf(type)[fact]));
  return Object.fromEntries(Object.entries(settings).filter(([key]) => !own.has(key)));
}

/** Settings of a WAN type from the facts that are known; what it has no place for is left out. */
export const settingsWith = (
  type: WanTypeName,
  facts: { readonly [Fact in LineFact]?: unknown },
): Record<string, unknown> =>
  Object.fromEntries(
    (Object.entries(facts) as [LineFact, unknown][]).flatMap(([fact, value]) => {
      const key = holdsOf(type)[fact];
      return key === undefined || value === undefined ? [] : [[key, value]];
    }),
  );

/** The address that an uplink of the plan names, as typed; empty where it names none. */
export const typedAddress = ({ type, settings }: UplinkPlan): string => textIn(settings, type, 'address');
