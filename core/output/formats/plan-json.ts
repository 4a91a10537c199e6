import type { Plan } from '../../plan/schema.ts';
import { siteFileName, type SiteFormat } from './type.ts';

/** A plan as a file: JSON, two spaces, a last line end; reading it back gives the same plan. */
export const writePlan = (plan: Plan): string => `${JSON.stringify(plan, null, 2)}\n`;

export const planJson: SiteFormat = {
  says: 'The plan file, docs/plan-format.md',
  mediaType: 'application/json',
  fileName: ({ plan, revision }) =>
    `${siteFileName(plan.site.name)}${revision === undefined ? '' : `-revision-${revision}`}.netter.json`,
  write: ({ plan }) => writePlan(plan),
};
