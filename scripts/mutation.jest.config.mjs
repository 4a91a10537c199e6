// The tests of the folder that is looked at, and of those that speak for it: they are to find what is planted there.
const folder = process.env.NETTER_MUTATED ?? 'core';

/** Figures are checked against their sources where they are asked for, and laws where their answers are. */
const speakFor = {
  'core/behaviour/failover': ['core/intake/readings', 'core/base/worked'],
  'core/intake/readings': ['core/answers/acceptance'],
  'core/behaviour/remote-access': ['core/answers/path'],
  'core/base/worked': ['core/answers/sums', 'cli/sums'],
};

/** A planted mistake is switched on inside Jest's own context: there, libraries of ECMAScript modules are rewritten too. */
export default {
  rootDir: '..',
  testEnvironment: 'node',
  testTimeout: 240_000,
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  modulePathIgnorePatterns: ['<rootDir>/dist'],
  transform: {
    '^.+\\.tsx?$|node_modules/(?:@electric-sql|zod|drizzle-orm|fast-check|@noble)/.+\\.js$': [
      '<rootDir>/scripts/mutation-transform.mjs',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' } },
    ],
  },
  transformIgnorePatterns: ['node_modules/(?!@electric-sql/|zod/|drizzle-orm/|fast-check/|@noble/)'],
  testMatch: [folder, ...(speakFor[folder] ?? [])].map((each) =>
    each.startsWith('cli/') ? `<rootDir>/${each}.test.ts` : `<rootDir>/${each}/**/*.test.ts`,
  ),
};
