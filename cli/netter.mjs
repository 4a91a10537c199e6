#!/usr/bin/env node
import { buildCommandLine, commandLine } from '../scripts/steps.mjs';
import { runCompiled } from './compiled.mjs';

if (!buildCommandLine()) {
  process.stderr.write(
    `${JSON.stringify({ error: 'program', at: '', says: 'netter could not be built. The lines above say why; npm ci in its folder installs what it needs.' })}\n`,
  );
  process.exit(2);
}
// Whoever reads the answer may stop reading: netter check PLAN.json | head.
process.stdout.on('error', ({ code }) => process.exit(code === 'EPIPE' ? 0 : 2));
const { run, runOnFolder } = runCompiled(commandLine).exports;
const args = process.argv.slice(2);
process.exitCode = await (runOnFolder(args, process) ?? run(args, process));
