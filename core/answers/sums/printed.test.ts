import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Worked } from '../../base/worked/worked.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan } from '../../testing/plans.ts';
import { workingsAt } from '../workings/index.ts';
import { runSum, sums } from './index.ts';

const number = String.raw`-?\d+(?:\.\d+)?(?:e-?\d+)?`;

/** What an expression of numbers and + - × / ^ ( ) log2 log10 comes to; undefined where it holds anything else. */
function evaluate(text: string): number | undefined {
  const plain = text
    .replaceAll('\u202f', '')
    .replaceAll('½', '0.5')
    .replaceAll('×', '*')
    .replaceAll('^', '**')
    .replaceAll(/log(2|10)/g, 'Math.log$1')
    .replaceAll('√', 'Math.sqrt')
    // A sign before a number that is raised wants brackets.
    .replaceAll(/(^|\()-(\d+(?:\.\d+)?)/g, '$1(-$2)');
  if (!/\d/.test(plain) || /[^-+*/().\d\s]/.test(plain.replaceAll(/Math\.(log2|log10|sqrt)|e-?\d+/g, '')))
    return undefined;
  return Number(new Function(`return (${plain});`)());
}

/** Every place of a plan, as JSON Pointers. */
function pointersOf(value: unknown, at = ''): string[] {
  if (typeof value !== 'object' || value === null) return [at];
  return [at, ...Object.entries(value).flatMap(([key, inner]) => pointersOf(inner, `${at}/${key}`))];
}

/** How far a printed figure may be off the value it stands for: half of its last place. */
const halfPlace = (printed: string): number => 0.5 * 10 ** -(printed.split('.')[1]?.length ?? 0);

/** A line "expression = 12.5" is exact, "expression ≈ 12.5" is rounded: what it says has to hold. */
function checkLine(value: string): boolean {
  const match = new RegExp(String.raw`^(.+?) ([=≈]) (${number})(?=$|[^\d.])`, 'u').exec(
    value.replaceAll('\u202f', ''),
  );
  if (!match) return false;
  const [, expression = '', sign, printed = ''] = match;
  const computed = evaluate(expression);
  if (computed === undefined) return false;
  const off = Math.abs(computed - Number(printed));
  if (sign === '=') expect([value, off <= Math.abs(computed) * 1e-9 + 1e-12]).toEqual([value, true]);
  else {
    // Parts that are rounded themselves move the total by no more than a few of their last places; in a sum that
    // nearly cancels out, by half a last place of each.
    const parts = /^[-+().\d\s]+$/.test(expression) ? (expression.match(/\d+\.\d+/g) ?? []) : [];
    const moved = parts.reduce((sum, part) => sum + halfPlace(part), Math.abs(computed) * 0.01);
    expect([value, off <= halfPlace(printed) + moved]).toEqual([value, true]);
  }
  return true;
}

/** Steps "12", "+ 3", "- 1" … that lead to a plain figure: as printed they combine to it, or it says that it is rounded. */
function checkChain({ name, steps }: Worked): number {
  let sum: number | undefined;
  let parts = 0;
  let checked = 0;
  for (const { says, value } of steps) {
    const text = value.replaceAll('\u202f', '');
    const part = new RegExp(`^([-+×]) (${number})(?=$|[^\\d.])`, 'u').exec(text);
    const plain = new RegExp(`^(≈ )?(${number})(?=$| [a-zA-Z%])`, 'u').exec(text);
    if (part && sum !== undefined) {
      const amount = Number(part[2]);
      sum = part[1] === '+' ? sum + amount : part[1] === '-' ? sum - amount : sum * amount;
      parts += 1;
    } else if (plain) {
      if (sum !== undefined && parts > 0 && !plain[1]) {
        const off = Math.abs(sum - Number(plain[2]));
        expect([name, says, value, off < 1e-6]).toEqual([name, says, value, true]);
        checked += 1;
      }
      sum = Number(plain[2]);
      parts = 0;
    } else sum = undefined;
  }
  return checked;
}

test('what is printed adds up: a line holds as it stands, or says that it is rounded', () => {
  const seen = new Set<string>();
  for (const { name, inputs } of sums)
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 4000 }), { minLength: inputs.length, maxLength: inputs.length }),
        (factors) => {
          const given = Object.fromEntries(
            inputs.map(({ name: key, example }, index) => {
              const factor = factors[index]! / 1000;
              const moved = /^-?\d+(\.\d+)?$/.test(example)
                ? [
                    String(Number((Number(example) * factor).toFixed(2))),
                    String(Math.round(Number(example) * factor)),
                  ]
                : [];
              // The example itself where the sum does not take the moved one: whole numbers, choices.
              const fits = moved.find((text) => {
                const tried = runSum(name, {
                  ...Object.fromEntries(inputs.map((each) => [each.name, each.example])),
                  [key]: text,
                });
                return tried.ok;
              });
              return [key, fits ?? example];
            }),
          );
          const answer = runSum(name, given);
          if (!answer.ok) return;
          for (const { value } of answer.value.steps) if (checkLine(value)) seen.add(name);
          if (checkChain(answer.value) > 0) seen.add(name);
        },
      ),
      { numRuns: 40 },
    );
  // The test is no test where nothing is read: most sums have a line or a chain that it can compute again.
  expect(seen.size).toBeGreaterThan(sums.length / 2);
});

test('the same holds for the Workings of every field of the demo sites', () => {
  let read = 0;
  for (const name of ['farrow-sound', 'hollin-edge', 'mill-lane', 'weir-street', 'larch-house']) {
    const plan = demoPlan(name);
    const site = compile(plan);
    for (const at of pointersOf(plan))
      for (const each of workingsAt(site, at)) {
        read += checkChain(each);
        for (const { value } of each.steps) if (checkLine(value)) read += 1;
      }
  }
  expect(read).toBeGreaterThan(100);
});
