#!/usr/bin/env node
import { register } from 'tsx/esm/api';

register();
const { run, runOnFolder } = await import('./main.ts');
const args = process.argv.slice(2);
process.exitCode = await (runOnFolder(args, process) ?? run(args, process));
