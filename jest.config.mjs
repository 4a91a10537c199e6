const shared = {
  transform: {
    '^.+\\.tsx?$|node_modules/(?:@electric-sql|zod|drizzle-orm|fast-check|@noble)/.+\\.js$': [
      '<rootDir>/scripts/jest-transform.mjs',
      {
        jsc: {
          parser: { syntax: 'typescript', tsx: true },
          target: 'es2022',
          transform: { react: { runtime: 'automatic' } },
        },
        module: { type: 'es6' },
      },
    ],
  },
  transformIgnorePatterns: ['node_modules/(?!@electric-sql/|zod/|drizzle-orm/|fast-check/|@noble/)'],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  testEnvironment: 'node',
  // Styles stand beside the parts that they belong to; a test draws no colours.
  moduleNameMapper: { '\\.css$': '<rootDir>/scripts/no-styles.mjs' },
  modulePathIgnorePatterns: ['<rootDir>/dist'],
};

const plain = {
  runner: ['jest-light-runner', { runtime: 'child_process' }],
  transform: {},
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  modulePathIgnorePatterns: shared.modulePathIgnorePatterns,
};

export default {
  // A busy machine is slow, and that is no fault of what is tested: speed is measured by npm run bench.
  testTimeout: 240_000,
  projects: [
    // Needs a document, and clocks that a test moves.
    {
      ...shared,
      displayName: 'web',
      setupFiles: ['<rootDir>/scripts/drawn.mjs'],
      testMatch: ['<rootDir>/web/**/*.test.ts?(x)'],
    },
    // Everything else runs in Node as it is (scripts/plain-node.mjs), which takes little more than half the time.
    {
      ...plain,
      displayName: 'unit',
      testMatch: ['<rootDir>/{core,server,cli,demo,scripts,kernel}/**/*.test.ts'],
    },
    { ...plain, displayName: 'e2e', testMatch: ['<rootDir>/e2e/**/*.e2e.ts'] },
  ],
};
