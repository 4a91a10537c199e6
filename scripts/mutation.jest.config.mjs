import config from '../jest.config.mjs';

// The tests of the folder that is looked at: they are to find what is planted there, and they are quick.
const folder = process.env.NETTER_MUTATED ?? 'core';
const { displayName: _name, testMatch: _match, ...shared } = config.projects[0];
export default { ...shared, rootDir: '..', testMatch: [`<rootDir>/${folder}/**/*.test.ts`] };
