import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import tseslint from 'typescript-eslint';

/** The layers of docs/layout: core imports no other; server, web and cli import core only, never each other. */
const layer = (folder, forbidden, outside = []) => ({
  files: [`${folder}/**/*.{ts,tsx}`],
  ignores: ['**/*.test.ts', 'core/testing/**'],
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          ...forbidden.map((other) => ({
            group: [`**/${other}/**`],
            message: `${folder} may not import from ${other}: see "How the code is laid out" in README.md.`,
          })),
          ...outside.map((name) => ({ group: [name], message: `${folder} has no place for ${name}.` })),
        ],
      },
    ],
  },
});

/** What would make the core depend on where and when it runs. */
const pure = {
  files: ['core/**/*.ts'],
  ignores: ['**/*.test.ts', 'core/testing/**'],
  rules: {
    'no-restricted-globals': ['error', 'fetch', 'setTimeout', 'setInterval', 'window', 'document', 'process'],
    'no-restricted-syntax': [
      'error',
      {
        selector: "CallExpression[callee.object.name='Math'][callee.property.name='random']",
        message: 'Randomness comes in as an argument.',
      },
      {
        selector: "CallExpression[callee.object.name='Date'][callee.property.name='now']",
        message: 'Time comes in as an argument.',
      },
      {
        selector: "NewExpression[callee.name='Date'][arguments.length=0]",
        message: 'Time comes in as an argument.',
      },
    ],
  },
};

const outsideOfCore = [
  'react*',
  '@mui/*',
  '@emotion/*',
  'swr',
  'fastify*',
  '@fastify/*',
  'drizzle*',
  '@electric-sql/*',
  'node:*',
  'comlink',
];

export default [
  { ignores: ['dist/', 'node_modules/', 'server/store/migrations/', 'coverage/'] },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      eqeqeq: 'error',
      'no-console': 'off',
    },
  },
  {
    files: ['**/*.mjs'],
    languageOptions: {
      globals: {
        process: 'readonly',
        console: 'readonly',
        fetch: 'readonly',
        AbortSignal: 'readonly',
        Buffer: 'readonly',
        URL: 'readonly',
        setTimeout: 'readonly',
      },
    },
  },
  {
    // Every reader is linear: a pattern that may try one stretch of text in more than one way is refused.
    files: ['{core,server,web,cli}/**/*.{ts,tsx}'],
    ignores: ['**/*.test.{ts,tsx}', '**/testing/**'],
    plugins: { regexp },
    rules: {
      'regexp/no-super-linear-backtracking': ['error', { report: 'potential' }],
      'regexp/no-super-linear-move': ['error', { report: 'potential' }],
    },
  },
  {
    files: ['web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  layer('core', ['server', 'web', 'cli', 'demo'], outsideOfCore),
  layer('server', ['web', 'cli']),
  layer('web', ['server', 'cli', 'demo']),
  layer('cli', ['server', 'web']),
  pure,
];
