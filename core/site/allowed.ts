import type { Address } from '../base/net/address.ts';
import { contains } from '../base/net/prefix.ts';
import type { AllowedSources } from './model.ts';

/** Whether a forward admits this source. */
export const admits = (allowed: AllowedSources, source: Address): boolean =>
  allowed.kind === 'everybody' ||
  (allowed.kind === 'some' && allowed.prefixes.some((prefix) => contains(prefix, source)));

/** An address that a forward admits; undefined where it admits nobody. `anybody` stands for the internet. */
export function admittedSource(allowed: AllowedSources, anybody: Address): Address | undefined {
  if (allowed.kind === 'everybody') return anybody;
  if (allowed.kind === 'nobody') return undefined;
  const [first] = allowed.prefixes;
  // The first host of a subnet; of a single address or a point-to-point link its first address.
  const offset = first!.length < (first!.family === 4 ? 31 : 127) ? 1n : 0n;
  return { family: first!.family, value: first!.first + offset };
}
