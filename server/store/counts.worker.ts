import { parentPort } from 'node:worker_threads';
import type { Plan, SiteRecord } from '../../core/index.ts';
import { countFindings, uncounted } from './counts.ts';

parentPort!.on('message', ({ plan, records }: { plan: Plan; records: readonly SiteRecord[] }) => {
  void countFindings(plan, records)
    .catch(() => uncounted)
    .then((counts) => parentPort!.postMessage(counts));
});
