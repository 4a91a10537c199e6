import { runChecks } from '../../answers/checks/index.ts';
import { applyPatch } from '../../plan/patch.ts';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';

/**
 * Findings that a new plan mends by itself, because the fix follows from what is in it and asks nobody: pages of
 * equipment closed to networks that manage nothing, names in the tunnel, a pool beside a fixed address, a promise that
 * faster probes keep, a free address for a second router.
 */
const mended = new Set([
  'equipment-open',
  'vpn-no-resolver',
  'pool-held',
  'pool-edge',
  'promise-late',
  'second-address',
]);

/** More rounds than this mean that two fixes undo each other. */
const mostRounds = 30;

/** Takes the fixes of such findings, one after the other, until none is left. */
export function takeFixes(plan: Plan): Plan {
  let now = plan;
  for (let round = 0; round < mostRounds; round += 1) {
    const open = runChecks(compile(now)).find(({ rule, fix }) => fix !== undefined && mended.has(rule));
    const next = open?.fix && applyPatch(now, open.fix.patch);
    if (!next?.ok) return now;
    now = next.value;
  }
  return now;
}
