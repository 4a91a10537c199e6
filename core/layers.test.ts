import { describe, expect, test } from '@jest/globals';
import { ESLint } from 'eslint';
import { readdirSync, readFileSync } from 'node:fs';
// @ts-expect-error: the configuration of the linter is plain JavaScript.
import { coreLayers as configured } from '../eslint.config.mjs';

const coreLayers = configured as readonly (readonly string[])[];
const eslint = new ESLint({ overrideConfigFile: 'eslint.config.mjs' });

/** Rules that the linter finds broken in a file of this place. */
async function broken(code: string, filePath: string): Promise<string[]> {
  const [result] = await eslint.lintText(code, { filePath });
  return result!.messages
    .map(({ ruleId, message }) => ruleId ?? message)
    .filter((rule) => !rule.endsWith('no-unused-vars'));
}

const fileIn = (name: string): string => (name.endsWith('.ts') ? `core/${name}` : `core/${name}/probe.ts`);
const importOf = (from: string, to: string): string => {
  const up = from.endsWith('.ts') ? './' : '../';
  return `${up}${to.endsWith('.ts') ? to : `${to}/probe.ts`}`;
};

describe('the layers of the core', () => {
  test('name every folder and file that it has', () => {
    const there = readdirSync('core', { withFileTypes: true })
      .map(({ name }) => name)
      .filter((name) => name !== 'testing' && !name.endsWith('.test.ts'));
    expect(coreLayers.flat().sort()).toEqual(there.sort());
  });

  test('stand in the README in their order', () => {
    const layout = readFileSync('README.md', 'utf8')
      .split('## How the code is laid out')[1]!
      .split('server/  ')[0]!;
    const named = [...layout.matchAll(/^ {2}([a-z]+)\//gm)].map(([, name]) => name);
    expect(named).toEqual(coreLayers.flat().filter((name) => !name.endsWith('.ts')));
  });

  test('an import from above is refused, as a value and as a type; one from below is not', async () => {
    for (const [index, names] of coreLayers.entries())
      for (const name of names)
        for (const other of [coreLayers[index - 1]?.[0], coreLayers[index + 1]?.[0], 'index.ts']) {
          if (other === undefined || other === name) continue;
          const above = coreLayers.findIndex((layer) => layer.includes(other)) > index;
          for (const word of ['import', 'import type', 'export'])
            expect([
              name,
              word,
              other,
              await broken(`${word} { x } from '${importOf(name, other)}';`, fileIn(name)),
            ]).toEqual([name, word, other, above ? ['no-restricted-imports'] : []]);
        }
  });

  test.each([
    ['server/probe.ts', '../core/plan/schema.ts'],
    ['web/sheets/probe.tsx', '../../core/site/model.ts'],
    ['cli/probe.ts', '../core/checks/index.ts'],
    ['web/app/probe.ts', '../../server/app.ts'],
    ['server/probe.ts', '../web/app/api.ts'],
    ['core/net/probe.ts', 'react'],
    ['core/plan/probe.ts', '../../server/app.ts'],
    ['core/site/probe.ts', 'node:fs'],
  ])('%s may not import %s', async (file, from) => {
    expect(await broken(`export { x } from '${from}';`, file)).toEqual(['no-restricted-imports']);
  });

  test('the face of the core is there for all', async () => {
    for (const [file, from] of [
      ['server/probe.ts', '../core/index.ts'],
      ['web/sheets/probe.tsx', '../../core/index.ts'],
    ] as const)
      expect(await broken(`export { x } from '${from}';`, file)).toEqual([]);
  });

  test.each([
    'export const a = Date.now();',
    'export const a = new Date();',
    'export const a = Date();',
    "export const a = Date.parse('2026-01-01');",
    'export const a = performance.now();',
    'export const a = globalThis.performance.now();',
    'export const a = Math.random();',
    'export const a = crypto.getRandomValues(new Uint8Array(4));',
    'export const a = globalThis.crypto.randomUUID();',
    "import { randomBytes } from '@noble/hashes/utils.js';\nexport const a = randomBytes(4);",
    "export const a = fetch('x');",
    'export const a = process.env;',
    'setTimeout(() => {}, 1);',
  ])('a clock, randomness or the world outside is refused: %s', async (code) => {
    const found = await broken(code, 'core/site/probe.ts');
    expect(found.length).toBeGreaterThan(0);
    expect(found.every((rule) => rule.startsWith('no-restricted-'))).toBe(true);
  });
});
