import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readPlan } from '../../core/index.ts';
import { factNames } from '../store/facts.ts';
import type { Store } from '../store/store.ts';

const demoSites = ['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane', 'larch-house'];

/** Puts the demo sites into a new data folder, once: a demo site that was deleted stays deleted. `folder` holds their plans. */
export async function seedDemoSites(store: Store, folder: string): Promise<void> {
  if ((await store.fact(factNames.demoSites)) !== undefined) return;
  for (const name of [...demoSites].reverse()) {
    const plan = readPlan(readFileSync(join(folder, `${name}.json`), 'utf8'));
    if (!plan.ok) throw new Error(`The demo site ${name} cannot be read: ${plan.problem.says}`);
    await store.create(name, plan.value);
  }
  await store.setFact(factNames.demoSites, demoSites.join(' '));
}
