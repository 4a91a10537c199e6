const plain = {
  // In Node as it is (scripts/plain-node.mjs): a context of its own for each suite reads every module anew.
  runner: ['jest-light-runner', { runtime: 'child_process' }],
  transform: {},
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  modulePathIgnorePatterns: ['<rootDir>/dist'],
};

export default {
  testSequencer: '<rootDir>/scripts/longest-first.mjs',
  // A busy machine is slow, and that is no fault of what is tested: speed is measured by npm run bench.
  testTimeout: 240_000,
  projects: [
    {
      ...plain,
      displayName: 'unit',
      testMatch: ['<rootDir>/{core,server,cli,demo,scripts,kernel}/**/*.test.ts'],
    },
    {
      ...plain,
      displayName: 'web',
      setupFiles: ['<rootDir>/scripts/drawn.mjs'],
      testMatch: ['<rootDir>/web/**/*.test.ts?(x)'],
      testPathIgnorePatterns: ['/node_modules/', '\\.page\\.test\\.tsx$'],
    },
    {
      ...plain,
      displayName: 'page',
      setupFiles: ['<rootDir>/scripts/page.mjs'],
      testMatch: ['<rootDir>/web/**/*.page.test.tsx'],
    },
    { ...plain, displayName: 'e2e', testMatch: ['<rootDir>/e2e/**/*.e2e.ts'] },
  ],
};
