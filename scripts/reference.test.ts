import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { generatedPages } from './reference.ts';
import { registries } from './registries.ts';

test.each([...registries(), ...generatedPages()])(
  '$path is as the source has it; `npm run reference` writes it anew',
  ({ path, text }) => {
    expect(readFileSync(new URL(`../${path}`, import.meta.url), 'utf8') === text).toBe(true);
  },
);
