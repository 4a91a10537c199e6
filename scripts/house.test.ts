import { describe, expect, test } from '@jest/globals';
import { ESLint } from 'eslint';
import { readFileSync, readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import ts from 'typescript';
// @ts-expect-error: the plan of the house is plain JavaScript, because the linter reads it.
import { floors as configured, refusal as refusalOf, roomOf as roomIn } from './house.mjs';

const floors = configured as Readonly<Record<'core' | 'web', readonly (readonly string[])[]>>;
const refusal = refusalOf as (from: string, to: string) => string | undefined;
const roomOf = roomIn as (house: string, file: string) => { name: string; floor: number } | undefined;
const houses = ['core', 'web'] as const;
const eslint = new ESLint({ overrideConfigFile: 'eslint.config.mjs' });

/** Rules that the linter finds broken in a file of this place. */
async function broken(code: string, filePath: string): Promise<string[]> {
  const [result] = await eslint.lintText(code, { filePath });
  return result!.messages
    .map(({ ruleId, message }) => ruleId ?? message)
    .filter((rule) => !rule.endsWith('no-unused-vars'));
}

const sources = (house: string): string[] =>
  (readdirSync(house, { recursive: true, encoding: 'utf8' }) as string[]).filter(
    (file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$|(^|\/)testing\/|\.config\.ts$/.test(file),
  );

describe('the plan of the house', () => {
  test.each(houses)('every file of %s stands in a room, and every room has a file', (house) => {
    const files = sources(house);
    expect(files.filter((file) => roomOf(house, file) === undefined)).toEqual([]);
    const used = new Set(files.map((file) => roomOf(house, file)!.floor));
    expect([...used].sort((a, b) => a - b)).toEqual(floors[house].map((_, floor) => floor));
  });

  test.each(houses)('%s has at most nine rooms on a floor', (house) => {
    const inside = (folder: string): string[] =>
      readdirSync(folder, { withFileTypes: true })
        .filter((each) => each.isDirectory() && each.name !== 'testing')
        .map(({ name }) => name);
    expect([house, ...(inside(house).length > 9 ? inside(house) : [])]).toEqual([house]);
    if (house === 'core')
      for (const floor of ['base', 'behaviour', 'intake', 'answers', 'editing', 'output'])
        expect(inside(join(house, floor)).length).toBeLessThanOrEqual(9);
  });

  test('stands in the README in its order', () => {
    const layout = readFileSync('README.md', 'utf8')
      .split('## How the code is laid out')[1]!
      .split('server/  ')[0]!;
    let above = '';
    const named = layout.split('\n').flatMap((line) => {
      const [, indent, name] = /^( {2,4})([\w*/-]+)\//.exec(line) ?? [];
      if (name === undefined) return [];
      if (indent!.length === 2) above = name;
      return indent!.length === 2 ? [name] : [`${above}/${name}`];
    });
    const rooms = floors.core.flat().filter((room) => !room.endsWith('.ts'));
    expect(named.filter((name) => rooms.includes(name))).toEqual(rooms);
  });

  test('a way up, sideways or around the face is refused; a way down is not', () => {
    const probe = (house: string, room: string): string =>
      `${house}/${room.endsWith('.ts') ? room : `${room.replace('*', 'site')}/probe.ts`}`;
    for (const house of houses)
      for (const [floor, row] of floors[house].entries())
        for (const room of row)
          for (const [other, beside] of floors[house].entries())
            for (const target of beside)
              if (target !== room)
                expect([
                  room,
                  target,
                  refusal(probe(house, room), probe(house, target)) === undefined,
                ]).toEqual([room, target, other < floor]);
    expect(refusal('web/sheets/site/probe.tsx', 'web/sheets/wifi/wifi.tsx')).toMatch('beside');
    expect(refusal('core/cellar/probe.ts', 'core/plan/at.ts')).toMatch('names no floor');
  });

  test.each(['core', 'web', 'server', 'cli'])('no circle of imports in %s', (house) => {
    const files = sources(house).map((file) => join(house, file));
    const below = new Map(
      files.map((file) => {
        const { importedFiles } = ts.preProcessFile(
          // A type is gone when the program runs.
          readFileSync(file, 'utf8').replace(/^(?:import|export) type [^;]*;/gm, ''),
        );
        return [file, importedFiles.map(({ fileName }) => join(dirname(file), fileName))];
      }),
    );
    const whole = new Set<string>();
    const circle = (file: string, way: readonly string[]): string[] | undefined => {
      if (way.includes(file)) return [...way.slice(way.indexOf(file)), file];
      if (whole.has(file)) return undefined;
      for (const next of below.get(file) ?? []) {
        const found = circle(next, [...way, file]);
        if (found) return found;
      }
      whole.add(file);
      return undefined;
    };
    for (const file of files) expect(circle(file, [])).toBeUndefined();
  });
});

describe('the linter', () => {
  test.each([
    ['core/base/net/probe.ts', '../../plan/at.ts'],
    ['server/probe.ts', '../core/plan/schema.ts'],
    ['web/sheets/site/probe.tsx', '../../../core/site/model.ts'],
    ['cli/probe.ts', '../core/answers/checks/index.ts'],
    ['web/app/probe.ts', '../../server/app.ts'],
    ['web/parts/probe.ts', '../app/shell.tsx'],
    ['server/probe.ts', '../web/state/api.ts'],
    ['core/plan/probe.ts', '../../server/app.ts'],
  ])('holds the plan: %s may not import %s', async (file, from) => {
    for (const code of [
      `export { x } from '${from}';`,
      `import '${from}';`,
      `import type { x } from '${from}';`,
      `export const x = import('${from}');`,
    ])
      expect([code, await broken(code, file)]).toEqual([code, ['house/floors']]);
  });

  test.each([
    ['core/base/net/probe.ts', 'react'],
    ['core/site/probe.ts', 'node:fs'],
  ])('%s may not import %s', async (file, from) => {
    expect(await broken(`export { x } from '${from}';`, file)).toEqual(['no-restricted-imports']);
  });

  test('lets everybody use the face of the core', async () => {
    for (const [file, from] of [
      ['server/probe.ts', '../core/index.ts'],
      ['web/sheets/site/probe.tsx', '../../../core/index.ts'],
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
