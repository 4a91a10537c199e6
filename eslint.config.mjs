import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import regexp from 'eslint-plugin-regexp';
import tseslint from 'typescript-eslint';

/**
 * The layers of the core, bottom up: none imports one that stands above it, in types or in values. The order is that
 * of "How the code is laid out" in README.md.
 */
export const coreLayers = [
  ['result.ts', 'days.ts', 'text.ts'],
  ['encode'],
  ['net'],
  ['worked'],
  ['plan'],
  ['site'],
  ['terms'],
  // Laws: how things behave.
  ['media'],
  ['wiring'],
  ['wifi'],
  ['second'],
  ['uplinks'],
  ['faults'],
  ['failover'],
  ['vpn'],
  ['router'],
  // Answers.
  ['path'],
  ['exposure'],
  ['readings'],
  ['runsheet'],
  ['acceptance'],
  ['visit'],
  ['found'],
  ['checks'],
  ['workings'],
  ['record'],
  ['formats'],
  ['sums'],
  ['brief'],
  ['desk'],
  ['picture'],
  ['index.ts'],
];

const layoutNote = 'see "How the code is laid out" in README.md.';
const notTests = ['**/*.test.{ts,tsx}', 'core/testing/**'];

/** What a file of one place may not import: patterns and messages. */
const layer = (files, patterns) => ({
  files,
  ignores: notTests,
  rules: { 'no-restricted-imports': ['error', { patterns }] },
});

const named = (names) => names.map((name) => name.replace('.', '\\.')).join('|');

const coreLayer = (names, index) => {
  const above = coreLayers.slice(index + 1).flat();
  const folders = above.filter((name) => !name.endsWith('.ts'));
  const files = above.filter((name) => name.endsWith('.ts'));
  return layer(
    names.map((name) => (name.endsWith('.ts') ? `core/${name}` : `core/${name}/**/*.ts`)),
    [
      ...outsideOfCore,
      {
        regex: `^(?:\\.\\.?/)+(?:(?:${named(folders)})/|(?:${named(files)})$)`,
        message: `This stands above ${names.join(', ')}: ${layoutNote}`,
      },
    ],
  );
};

/** The face of the core is core/index.ts; server, web and command line know nothing of each other. */
const outer = (folder, others, extra = []) =>
  layer(
    [`${folder}/**/*.{ts,tsx}`],
    [
      {
        regex: `^(?:\\.\\./)+(?:${named(others)})/`,
        message: `${folder} may not import from there: ${layoutNote}`,
      },
      { regex: '^(?:\\.\\./)+core/(?!index\\.ts$)', message: `Import core/index.ts only: ${layoutNote}` },
      ...extra,
    ],
  );

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
      regex: '^(?:\\.\\./)+(?:server|web|cli|demo|bench)/',
      message: `The core imports none of them: ${layoutNote}`,
    },
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
      member('Date', 'parse', 'Its answer depends on the machine: see core/days.ts.'),
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
  ...coreLayers.map(coreLayer),
  outer('server', ['web', 'cli']),
  outer('web', ['server', 'cli', 'demo']),
  outer('cli', ['server', 'web']),
  pure,
];
