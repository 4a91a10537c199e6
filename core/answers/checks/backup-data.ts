import { backupDataOf, capOf } from '../../behaviour/failover/demand.ts';
import { type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { figure } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** Whether the data allowance of the backup lasts. */
export const backupData: Check = {
  name: 'data over the backup',
  run: (site) => (site.lines.length < 2 ? [] : data(site)),
};

function data(site: Site): Finding[] {
  const carried = backupDataOf(site);
  const cap = capOf(site, site.lines[1]);
  if (!carried || cap === undefined || carried.value <= cap) return [];
  return [
    note(
      'cap-exceeded',
      'warning',
      '/failover/backupGigabytes',
      `${site.lines[1]!.name} would carry ${figure(carried.value)} GB a month and its allowance is ${cap} GB. Block what can wait on it: guests, updates, backups.`,
      carried,
    ),
  ];
}
