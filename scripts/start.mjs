import { pathToFileURL } from 'node:url';
import { join } from 'node:path';
import { buildApp, installPackages, nodeIsFit, root } from './steps.mjs';

const fail = (says) => {
  console.error(says);
  process.exit(1);
};

if (!nodeIsFit) fail(`Netter needs Node 20.19 or newer; this is ${process.versions.node}.`);
if (!installPackages())
  fail(
    'The packages could not be installed. The lines above say why; once they are there, Netter needs no network.',
  );
if (!buildApp()) fail('The app could not be built. The lines above say why.');
const { serve } = await import(pathToFileURL(join(root, 'dist/server/main.mjs')).href);
await serve(root);
