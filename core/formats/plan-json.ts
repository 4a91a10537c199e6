import type { Plan } from '../plan/schema.ts';

/** A plan as a file: JSON, two spaces, a last line end; reading it back gives the same plan. */
export const writePlan = (plan: Plan): string => `${JSON.stringify(plan, null, 2)}\n`;

/** A file name that every desktop takes. */
export const planFileName = (plan: Plan, revision: number): string => {
  const name = plan.site.name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .toLowerCase();
  return `${name || 'site'}-revision-${revision}.netter.json`;
};
