import { expect, test } from '@jest/globals';
import { existsSync, readdirSync, readFileSync } from 'node:fs';

const pages = [
  // A log of changes tells of what is gone.
  ...readdirSync('.').filter((name) => name.endsWith('.md') && name !== 'CHANGELOG.md'),
  ...readdirSync('docs')
    .filter((name) => name.endsWith('.md'))
    .map((name) => `docs/${name}`),
];

/** Paths of the repository that a page names, in backticks or as the end of a link. */
function pathsIn(page: string): string[] {
  const text = readFileSync(page, 'utf8');
  const quoted = [
    ...text.matchAll(/`((?:core|web|server|cli|e2e|kernel|bench|scripts|docs|demo)\/[\w./-]+)`/g),
  ];
  const linked = [...text.matchAll(/\]\((?!https?:|#)([^)#\s]+)/g)].map(([, path]) =>
    page.startsWith('docs/') ? `docs/${path}` : path!,
  );
  return [...quoted.map(([, path]) => path!), ...linked].map((path) => path.replace(/^docs\/\.\.\//, ''));
}

test.each(pages)('every path that %s names is there', (page) => {
  expect(pathsIn(page).filter((path) => !existsSync(path))).toEqual([]);
});
