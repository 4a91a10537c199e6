import config from '../jest.config.mjs';

// The tests of the folder that is looked at, and of those that speak for it: they are to find what is planted there.
const folder = process.env.NETTER_MUTATED ?? 'core';
const { displayName: _name, testMatch: _match, ...shared } = config.projects[0];

/** Figures are checked against their sources where they are asked for, and laws where their answers are. */
const speakFor = {
  'core/failover': ['core/readings', 'core/worked'],
  'core/readings': ['core/acceptance'],
  'core/vpn': ['core/path'],
  'core/worked': ['core/sums', 'cli/sums'],
};

export default {
  ...shared,
  rootDir: '..',
  testMatch: [folder, ...(speakFor[folder] ?? [])].map((each) =>
    each.startsWith('cli/') ? `<rootDir>/${each}.test.ts` : `<rootDir>/${each}/**/*.test.ts`,
  ),
};
