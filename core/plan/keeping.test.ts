import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { keeping } from './keeping.ts';

const anyRows = fc.uniqueArray(
  fc.record({ id: fc.string({ maxLength: 2 }), list: fc.array(fc.nat(3), { maxLength: 3 }) }),
  { selector: ({ id }) => id },
);

test('what says the same is the same object, and the document says what it said', () => {
  fc.assert(
    fc.property(anyRows, anyRows, fc.anything(), (before, after, other) => {
      const result = keeping({ rows: before, other }, structuredClone({ rows: after, other: 1 }));
      expect(result).toEqual({ rows: after, other: 1 });
      for (const row of result.rows) {
        const old = before.find(({ id }) => id === row.id);
        expect(row === old).toBe(old !== undefined && JSON.stringify(old) === JSON.stringify(row));
      }
    }),
  );
  const plan = { a: [{ id: 'x', deep: { y: [1, 2] } }], b: null };
  expect(keeping(plan, structuredClone(plan))).toBe(plan);
  expect(keeping(undefined, plan)).toBe(plan);
  expect(keeping({ a: [] }, plan)).toEqual(plan);
});
