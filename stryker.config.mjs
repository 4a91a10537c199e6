const folder = process.env.NETTER_MUTATED ?? 'core';

/** One folder of the core: `npm run mutation` runs it for several, and on a sample (scripts/mutation.mjs). */
export default {
  testRunner: 'jest',
  testRunnerNodeArgs: ['--experimental-vm-modules', '--no-warnings'],
  jest: { projectType: 'custom', configFile: 'scripts/mutation.jest.config.mjs' },
  coverageAnalysis: 'perTest',
  mutate: [`${folder}/**/*.ts`, '!**/*.test.ts'],
  // Sentences and names are for people to read: a changed one is no wrong figure.
  mutator: { excludedMutations: ['StringLiteral'] },
  ignoreStatic: true,
  ignorePatterns: ['dist', 'docs', 'e2e', 'bench', 'web', 'server', '.netter*'],
  tempDirName: 'dist/mutation',
  reporters: ['json', 'clear-text'],
  jsonReporter: { fileName: `dist/mutation-${folder.replaceAll('/', '-')}.json` },
  clearTextReporter: { allowColor: false, logTests: false, reportTests: false, reportScoreTable: false },
  thresholds: { high: 80, low: 60, break: null },
  timeoutMS: 20_000,
  concurrency: 2,
};
