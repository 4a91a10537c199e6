import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { floors } from './house.mjs';
import { root, runNode } from './steps.mjs';

/*
 * Mistakes are planted in the core one by one, and the tests of the folder and of those that speak for it must find them.
 *   npm run mutation                      a sample of every room of the core; docs/mutation.md is written anew
 *   npm run mutation -- core/answers/checks   one folder; its row in docs/mutation.md is written anew
 *   npm run mutation -- --every 1         all of it; takes hours
 */
const args = process.argv.slice(2);
const option = (name, otherwise) => (args.includes(name) ? Number(args[args.indexOf(name) + 1]) : otherwise);
const every = option('--every', 25);
const seed = option('--seed', 1);
const named = args.filter((each) => each.startsWith('core'));
const rooms = floors.core
  .flat()
  .filter((room) => !room.endsWith('.ts'))
  .map((room) => `core/${room}`);
const folders = named.length > 0 ? named : rooms;
const linesInPiece = 8;

/** One piece of lines in every so many, from a start that the seed decides: the same seed, the same sample. */
function sampleOf(folder) {
  const files = readdirSync(join(root, folder), { recursive: true })
    .map((name) => join(folder, String(name)))
    .filter((path) => /\.ts$/.test(path) && !/\.test\.ts$/.test(path) && statSync(join(root, path)).isFile())
    .sort();
  let piece = seed;
  return files.flatMap((path) => {
    const lines = readFileSync(join(root, path), 'utf8').split('\n').length;
    const taken = [];
    for (let first = 1; first <= lines; first += linesInPiece, piece += 1)
      if (piece % every === 0) taken.push(`${path}:${first}-${Math.min(lines, first + linesInPiece - 1)}`);
    return taken;
  });
}

const rows = [];
for (const folder of folders) {
  const report = `dist/mutation-${folder.replaceAll('/', '-')}.json`;
  const code = runNode(
    ['node_modules/@stryker-mutator/core/bin/stryker.js', 'run', '--mutate', sampleOf(folder).join(',')],
    { env: { ...process.env, NETTER_MUTATED: folder, NETTER_RUNS: '10' } },
  );
  if (code !== 0) process.exit(code);
  const { files } = JSON.parse(readFileSync(join(root, report), 'utf8'));
  const states = Object.values(files).flatMap(({ mutants }) => mutants.map(({ status }) => status));
  const count = (...names) => states.filter((each) => names.includes(each)).length;
  const found = count('Killed', 'Timeout');
  const all = found + count('Survived', 'NoCoverage');
  rows.push({ folder, found, all });
  console.log(`${folder}: ${found} of ${all} found`);
}

const percent = ({ found, all }) => (all === 0 ? '-' : `${Math.round((100 * found) / all)} %`);
const file = join(root, 'docs/mutation.md');

/** Rows of earlier runs, for folders that were not looked at now. */
const earlier = existsSync(file)
  ? [...readFileSync(file, 'utf8').matchAll(/^\| (core\/[\w/-]+) +\| (\d+) +\| (\d+) +\|/gm)].map(
      ([, folder, all, found]) => ({ folder, all: Number(all), found: Number(found) }),
    )
  : [];
const table = [...new Set([...earlier.map(({ folder }) => folder), ...folders])]
  .sort()
  .map((folder) => [...rows, ...earlier].find((row) => row.folder === folder));
const total = table.reduce((sum, row) => ({ found: sum.found + row.found, all: sum.all + row.all }), {
  found: 0,
  all: 0,
});
console.log(`All: ${total.found} of ${total.all} found, ${percent(total)}`);
writeFileSync(
  file,
  `# Planted mistakes

\`npm run mutation\` plants mistakes in the core one by one and runs the tests of the folder and of those that speak for it (scripts/mutation.jest.config.mjs); a mistake that no test finds survives. This is a sample: one piece of ${linesInPiece} lines in every ${every}, seed ${seed}. Changed sentences are left out.

| folder | planted | found | share |
| --- | --- | --- | --- |
${[...table, { folder: '**all**', ...total }]
  .map((row) => `| ${row.folder} | ${row.all} | ${row.found} | ${percent(row)} |`)
  .join('\n')}
`,
);
