/** What the list of sites needs of the core, and no more: it comes when a site is made or brought in from a file. */
export { readPlan } from '../../core/index.ts';
