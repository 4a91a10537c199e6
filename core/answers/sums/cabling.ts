import { bad, ok, type Result } from '../../base/result.ts';
import { runRateWorked, sharedRunWorked, type CableCategory } from '../../base/worked/cabling.ts';
import { listOf, needed, numberBetween, optional, sum, wholeBetween, type Sum } from './sum.ts';

const categories = ['cat5', 'cat5e', 'cat6', 'cat6a', 'cat7', 'cat8', 'om3', 'om4', 'os2'] as const;

/** "Cat 6A" and "cat6a" are the same. */
function category(text: string): Result<CableCategory> {
  const plain = text.toLowerCase().replace(/[^a-z0-9]/g, '');
  const found = categories.find((each) => each === plain);
  return found
    ? ok(found)
    : bad('category', `"${text}" is not a category; known are ${categories.join(', ')}.`);
}

const mbps = numberBetween(0.1, 400_000);

export const cablingSums: readonly Sum[] = [
  sum(
    'run-rate',
    'Largest rate of a cable from its category, its length and its ends',
    {
      category: needed('category of the cable', '', 'cat6', category),
      metres: needed('length', 'm', '55', numberBetween(0, 100_000)),
      pairs: optional('pairs that are connected', '', '4', wholeBetween(1, 4)),
      ends: optional('rates of the ports', 'Mb/s', '10000,10000', listOf(mbps, 2)),
    },
    (given) =>
      runRateWorked({
        category: given.category,
        metres: given.metres,
        ...(given.pairs !== undefined && { pairs: given.pairs }),
        ...(given.ends !== undefined && { ends: given.ends }),
      }),
  ),
  sum(
    'shared-run',
    'Load of a cable that carries a line and leads to its users',
    {
      down: needed('download of the line', 'Mb/s', '300', mbps),
      up: needed('upload of the line', 'Mb/s', '100', mbps),
      carries: optional('rate of the run', 'Mb/s', '1000', mbps),
    },
    ({ down, up, carries }) => sharedRunWorked(down, up, carries ?? null),
  ),
];
