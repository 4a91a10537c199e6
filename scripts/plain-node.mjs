import { register as registerHooks } from 'node:module';
import { register as registerTypeScript } from 'tsx/esm/api';

/** Tests run in Node itself, not in a context of their own, where every look at a global costs a hundred times as much. */
registerTypeScript();
// Whoever runs the tests has ended: what a test left open holds up nobody.
process.once('disconnect', () => process.exit());
registerHooks('./plain-node-hooks.mjs', import.meta.url);

/*
 * The runner gives a worker its settings when it asks. Where two begin at once, the answer to the first goes to the
 * second as well, which has not asked yet and does not listen, and is never given again: it would wait for ever. So what
 * came too early is kept, and handed over when it is asked for.
 */
if (process.send) {
  let settings;
  let listens = false;
  const keep = (message) => {
    if (message?.type === 'jest-light-runner-worker-data') settings = message;
  };
  // Not before somebody else listens: messages wait for the first listener, and would be lost to the others.
  process.on('newListener', (event) => {
    if (event !== 'message' || listens) return;
    listens = true;
    process.on('message', keep);
  });
  const send = process.send.bind(process);
  process.send = (message, ...rest) => {
    if (message !== 'jest-light-runner-get-worker-data' || settings === undefined)
      return send(message, ...rest);
    setTimeout(() => process.emit('message', settings), 0);
    return true;
  };
}
