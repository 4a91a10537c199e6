import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import tseslint from 'typescript-eslint';
import { houseRule } from './scripts/house.mjs';
import { wordsRule } from './scripts/words.mjs';

const notTests = ['**/*.test.{ts,tsx}', '**/testing/**'];

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
]
  .map((name) => ({ group: [name], message: `The core has no place for ${name}.` }))
  .concat([
    {
      regex: '^@noble/hashes/utils',
      importNames: ['randomBytes'],
      message: 'Randomness comes in as an argument.',
    },
  ]);

const randomness = 'Randomness comes in as an argument.';
const time = 'Time comes in as an argument.';
const member = (object, property, message) => ({
  selector: `MemberExpression[object.name='${object}'][property.name='${property}']`,
  message,
});

/** What would make the core depend on where and when it runs. */
const pure = {
  files: ['core/**/*.ts'],
  ignores: notTests,
  rules: {
    'no-restricted-globals': [
      'error',
      ...['fetch', 'setTimeout', 'setInterval', 'queueMicrotask', 'window', 'document', 'process'],
      ...['navigator', 'localStorage'],
      { name: 'performance', message: time },
      { name: 'crypto', message: randomness },
    ],
    'no-restricted-syntax': [
      'error',
      member('Math', 'random', randomness),
      member('Date', 'now', time),
      member('Date', 'parse', 'Its answer depends on the machine: see core/base/days.ts.'),
      member('globalThis', 'crypto', randomness),
      member('globalThis', 'performance', time),
      { selector: "CallExpression[callee.name='Date']", message: time },
      { selector: "NewExpression[callee.name='Date'][arguments.length=0]", message: time },
      { selector: "CallExpression[callee.property.name='randomUUID']", message: randomness },
      { selector: "CallExpression[callee.property.name='randomSecretKey']", message: randomness },
    ],
  },
};

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
        TextEncoder: 'readonly',
        TextDecoder: 'readonly',
        structuredClone: 'readonly',
        AbortSignal: 'readonly',
        Buffer: 'readonly',
        URL: 'readonly',
        setTimeout: 'readonly',
        clearTimeout: 'readonly',
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
  {
    files: ['{core,server,web,cli}/**/*.{ts,tsx}'],
    ignores: notTests,
    plugins: { house: { rules: { floors: houseRule, words: wordsRule } } },
    rules: { 'house/floors': 'error', 'house/words': 'error' },
  },
  {
    files: ['core/**/*.ts'],
    ignores: notTests,
    rules: { 'no-restricted-imports': ['error', { patterns: outsideOfCore }] },
  },
  pure,
];
