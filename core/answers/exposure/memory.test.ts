import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { anyWish, planOfWish } from '../../testing/wishes.ts';
import { exposureRows, type MatrixRow } from './matrix.ts';
import { ExposureMemory } from './memory.ts';

/** One edit of a plan, as people make them, with a number that says where and how. */
const edits: readonly ((plan: Plan, turn: number) => unknown)[] = [
  (plan, turn) => plan.reach.splice(turn % (plan.reach.length + 1), 1),
  (plan) => plan.reach.reverse(),
  (plan, turn) => {
    for (const rule of plan.reach.slice(0, 1)) rule.to = plan.networks[turn % plan.networks.length]!.id;
  },
  (plan, turn) => plan.forwards.splice(turn % (plan.forwards.length + 1), 1),
  (plan) => {
    for (const forward of plan.forwards.slice(0, 1)) forward.sources = ['203.0.113.64/26'];
  },
  (plan, turn) => {
    for (const forward of plan.forwards.slice(-1)) forward.outsidePorts = String(2000 + turn);
  },
  (plan, turn) => (plan.networks[turn % plan.networks.length]!.name = `Renamed ${turn}`),
  (plan, turn) => (plan.router.hairpin = turn % 2 === 0 ? 'no' : 'yes'),
  (plan) => plan.devices.reverse(),
];

const fresh = (plan: Plan): MatrixRow[] => [...exposureRows(compile(plan))];

test('after any edits the table is what it would be, computed anew', () =>
  fc.assert(
    fc.property(
      anyWish,
      fc.array(fc.tuple(fc.nat({ max: edits.length - 1 }), fc.nat({ max: 50 })), { maxLength: 4 }),
      (wish, turns) => {
        let plan = planOfWish(wish);
        const memory = new ExposureMemory();
        const shown = (): MatrixRow[] => [...memory.rows(plan, compile(plan))];
        expect(shown()).toEqual(fresh(plan));
        for (const [edit, turn] of turns) {
          plan = structuredClone(plan);
          edits[edit]!(plan, turn);
          expect(shown()).toEqual(fresh(plan));
        }
      },
    ),
    { numRuns: 25 },
  ));
