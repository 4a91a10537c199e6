import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './steps.mjs';

const file = join(root, 'docs/licences.md');

/** The licences of all that is installed where the program only runs, from the lock file. */
export function licencesText() {
  const { packages } = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'));
  const byLicence = new Map();
  for (const [path, { version, license, dev, devOptional }] of Object.entries(packages)) {
    if (path === '' || dev || devOptional) continue;
    const name = path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length);
    const licence = license ?? 'not stated';
    byLicence.set(licence, new Set([...(byLicence.get(licence) ?? []), `${name} ${version}`]));
  }
  const rows = [...byLicence].sort(([a], [b]) => (a < b ? -1 : 1));
  return [
    '# Licences of what is shipped',
    '',
    'Packages that `npm start` installs, by licence, from the lock file. Written by `npm run licences`; `npm test` fails where it is not up to date. Packages that only development needs are not in it, and not installed for `npm start`.',
    '',
    ...rows.flatMap(([licence, names]) => [`## ${licence}`, '', [...names].sort().join(', '), '']),
  ].join('\n');
}

export const licencesAreFresh = () => readFileSync(file, 'utf8') === licencesText();

if (process.argv[1] === join(root, 'scripts/licences.mjs')) writeFileSync(file, licencesText());
