import { cellularAir, satellite, wireless } from './air-lines.ts';
import { cable, dsl } from './copper-lines.ts';
import { fibre } from './fibre.ts';
import { behindRouter, ethernet, unknownMedium } from './plain.ts';
import type { MediumName } from '../../plan/schema.ts';
import type { Medium } from './type.ts';

/** The registry of media. A new medium is one module beside these, one line here, and its settings in the catalogue. */
const registry: { [Name in MediumName]: Medium<Name> } = {
  unknown: unknownMedium,
  ethernet,
  fibre,
  dsl,
  cable,
  cellular: cellularAir,
  wireless,
  satellite,
  router: behindRouter,
};

export const media = Object.values(registry) as readonly Medium[];
export const medium = (name: MediumName): Medium => registry[name] as Medium;
