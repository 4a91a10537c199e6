import fc from 'fast-check';
import { runChecks } from '../core/answers/checks/index.ts';
import { applyPatch } from '../core/plan/patch.ts';
import type { Plan } from '../core/plan/schema.ts';
import { compile } from '../core/site/compile.ts';
import { demoPlan, soundPlan } from '../core/testing/plans.ts';
import { brokenInside } from '../core/testing/broken-inside.ts';
import { brokenSites } from '../core/testing/broken-sites.ts';
import { anyWish, demoNames, planOfWish } from '../core/testing/wishes.ts';
import { compareWithKernel, isConfused, type Difference } from './compare.ts';
import { whyNot } from './lab.ts';
import { plantedPlan, wrongFiles } from './planted.ts';
import { compareReadings } from './readings.ts';

/*
 * Builds sites in network namespaces with the exported files, sends real packets, and compares with Ask; then compares
 * Ask with a second reading of the plan that shares no code with it.
 *   npm run kernel                        the demo sites, each broken site of the tests, 2 000 questions about random plans
 *   npm run kernel -- --plans 5 --seed 7  so many random plans, from this seed; --broken 0 leaves the broken sites out
 *   npm run kernel -- --planted           mistakes made on purpose in the files: each has to be found
 */
const args = process.argv.slice(2);
const option = (name: string, otherwise: number): number =>
  args.includes(name) ? Number(args[args.indexOf(name) + 1]) : otherwise;
const seed = option('--seed', 1);
const plans = option('--plans', 20);
const allBroken = [...brokenSites, ...brokenInside];
const broken = option('--broken', allBroken.length);
const perState = 40;

const reason = whyNot();
if (reason !== undefined) {
  console.log(`The comparison with the kernel needs network namespaces, iproute2 and nftables: ${reason}`);
  process.exit(1);
}
const total = { questions: 0, arrived: 0, differences: 0, readings: 0, misread: 0 };

/** Where a line and a network have one subnet, the site as the fix of that mistake leaves it (docs/decisions.md). */
function askable(plan: Plan): Plan | undefined {
  const site = compile(plan);
  if (!isConfused(site)) return plan;
  for (const { rule, fix } of runChecks(site)) {
    const mended = rule === 'overlap' && fix ? applyPatch(plan, fix.patch) : undefined;
    if (mended?.ok) return askable(mended.value);
  }
  return undefined;
}

async function compared(name: string, plan: Plan | undefined, each: number): Promise<void> {
  const site = plan && compile(plan);
  if (!site) {
    console.log(`${name}: left out, the lab would answer for one kind of router only`);
    return;
  }
  const { questions, arrived, differences } = await compareWithKernel(site, each, seed);
  console.log(`${name}: ${questions} questions, ${arrived} arrive, ${differences.length} differ`);
  differences.slice(0, 12).forEach(show);
  // The second reading takes no second of kernel time, so it is asked much more.
  const other = compareReadings(plan, 10 * each, seed);
  other.differences.slice(0, 12).forEach(({ question, down, asked, read }) => {
    console.log(`  ${question}${down.length > 0 ? ` with ${down.join()} down` : ''}`);
    console.log(`    asked: ${asked}\n    read:  ${read}`);
  });
  total.readings += other.questions;
  total.misread += other.differences.length;
  total.questions += questions;
  total.arrived += arrived;
  total.differences += differences.length;
}

function show({ question, down, asked, kernel }: Difference): void {
  console.log(`  ${question}${down.length > 0 ? ` with ${down.join()} down` : ''}`);
  console.log(`    asked:  ${asked}\n    kernel: ${kernel}`);
}

if (args.includes('--planted')) {
  let missed = 0;
  for (const [name, mistake] of Object.entries(wrongFiles)) {
    const [found] = (await compareWithKernel(compile(plantedPlan()), 400, seed, mistake)).differences;
    console.log(`${found ? 'found' : 'NOT FOUND'}: ${name}`);
    if (found) show(found);
    else missed += 1;
  }
  process.exit(missed === 0 ? 0 : 1);
}
for (const name of demoNames) await compared(name, askable(demoPlan(name)), 60);
const wishes = fc.sample(anyWish, { numRuns: plans, seed });
for (const [index, wish] of wishes.entries())
  await compared(`random plan ${index + 1} on ${wish.name}`, askable(planOfWish(wish)), perState);
for (const [rule, at, change] of allBroken.slice(0, broken)) {
  const plan = soundPlan(change);
  const site = compile(plan);
  // Without a line or a network there is nobody to ask.
  if (site.lines.length === 0 || site.networks.length === 0 || isConfused(site)) continue;
  await compared(`broken: ${rule} at ${at}`, plan, 15);
}
console.log(`${total.questions} questions, ${total.arrived} arrived, ${total.differences} differ.`);
console.log(`${total.readings} questions to the second reading, ${total.misread} differ.`);
process.exit(total.differences + total.misread === 0 ? 0 : 1);
