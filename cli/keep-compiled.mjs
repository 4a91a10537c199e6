import { commandLine } from '../scripts/steps.mjs';
import { runCompiled } from './compiled.mjs';

/* After the command line was built: a sum is run once, and what Node compiled for it is kept. */
const { exports, keep } = runCompiled(commandLine);
const nowhere = { write: () => true };
exports.run(['sum', '--list'], { stdout: nowhere, stderr: nowhere });
keep();
