#!/usr/bin/env node
import { register } from 'tsx/esm/api';

register();
const { run } = await import('./main.ts');
process.exitCode = run(process.argv.slice(2), process);
