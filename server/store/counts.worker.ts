import { parentPort } from 'node:worker_threads';
import type { Plan } from '../../core/index.ts';
import { countFindings } from './counts.ts';

parentPort!.on('message', (plan: Plan) => {
  void countFindings(plan)
    .catch(() => ({ blockers: null, warnings: null }))
    .then((counts) => parentPort!.postMessage(counts));
});
