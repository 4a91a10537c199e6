import { promisesOf } from '../acceptance/promises.ts';
import { compareReach } from '../exposure/compare.ts';
import type { Patch } from '../../plan/patch.ts';
import type { Site } from '../../site/model.ts';
import { severityOrder, type Finding } from '../../behaviour/domain-types/finding.ts';

/** Why a fix is not offered, where it is not. */
export type Harm = 'stays' | 'brings' | 'loses-promise' | 'opens';

const countBy = (findings: readonly Finding[], severity: Finding['severity']): Map<string, number> => {
  const counts = new Map<string, number>();
  for (const each of findings)
    if (severityOrder[each.severity] <= severityOrder[severity])
      counts.set(each.rule, (counts.get(each.rule) ?? 0) + 1);
  return counts;
};

/** The row of a list that a pointer is in: "/forwards/0" of "/forwards/0/device". */
const rowOf = (at: string): string => /^(?:\/[a-zA-Z]+)*?\/\d+/.exec(at)?.[0] ?? at;

/**
 * What a fix would do beside mending: nothing, if it is one to offer. Its finding has to be gone; no finding of the same
 * weight or more may come; no promise that was kept on paper may be lost; and no rule that it writes may open a way,
 * unless it is the rule that the finding is about.
 * @param after the site with the fix applied
 * @param check all findings of a site
 */
export function harmOf(
  before: Site,
  after: Site,
  finding: Finding,
  check: (site: Site) => readonly Finding[],
): Harm | undefined {
  const { rule, severity, fix } = finding;
  const [old, young] = [check(before), check(after)];
  const count = (findings: readonly Finding[]): number =>
    findings.filter((each) => each.rule === rule).length;
  if (count(young) >= count(old)) return 'stays';
  const known = countBy(old, severity);
  for (const [each, times] of countBy(young, severity)) if (times > (known.get(each) ?? 0)) return 'brings';
  const kept = (site: Site): Map<string, boolean> =>
    new Map(promisesOf(site).map(({ id, paper }) => [id, paper.kept]));
  const now = kept(after);
  for (const [id, was] of kept(before)) if (was && now.get(id) === false) return 'loses-promise';
  return fix && opensMore(before, after, finding, fix.patch) ? 'opens' : undefined;
}

function opensMore(before: Site, after: Site, { at, also = [] }: Finding, patch: Patch): boolean {
  const own = new Set([at, ...also].map(rowOf));
  const written = new Set(patch.map(({ path }) => rowOf(path.replace(/\/-$/, ''))));
  return compareReach(before, after).some(
    (change) =>
      change.kind === 'opens' &&
      change.at !== undefined &&
      written.has(rowOf(change.at)) &&
      !own.has(rowOf(change.at)),
  );
}
