import { register as registerHooks } from 'node:module';
import { register as registerTypeScript } from 'tsx/esm/api';

/** Tests run in Node itself, not in a context of their own, where every look at a global costs a hundred times as much. */
registerTypeScript();
// Whoever runs the tests has ended: what a test left open holds up nobody.
process.once('disconnect', () => process.exit());
registerHooks('./plain-node-hooks.mjs', import.meta.url);
