/* What a test imports from the test runner: what the runner made global, with a limit of time that it does not have. */
import { ModernFakeTimers } from '@jest/fake-timers';

// Before any test moves the clock.
const { afterEach, beforeEach, describe, expect, it, setTimeout, clearTimeout } = globalThis;
export { afterEach, beforeEach, describe, expect, it };

// The runner itself waits with these.
const doNotFake = ['nextTick', 'setImmediate', 'clearImmediate', 'queueMicrotask'];
const timers = new ModernFakeTimers({
  config: { fakeTimers: { enableGlobally: true, doNotFake } },
  global: globalThis,
});
export const jest = {
  ...globalThis.jest,
  useFakeTimers: () => timers.useFakeTimers(),
  useRealTimers: () => timers.useRealTimers(),
  setSystemTime: (time) => timers.setSystemTime(time),
  advanceTimersByTimeAsync: (ms) => timers.advanceTimersByTimeAsync(ms),
};

/** Whatever waits for something that never comes ends, and says so. A busy machine is slow, and that is no failure. */
const longestMs = 240_000;

const limited = (act, ms = longestMs) =>
  async function (...given) {
    let timer;
    const late = new Promise((_, reject) => {
      timer = setTimeout(() => reject(new Error(`Not done after ${ms / 1000} s.`)), ms);
    });
    try {
      return await Promise.race([act(...given), late]);
    } finally {
      clearTimeout(timer);
    }
  };

const named = (make) => (name, act, ms) => make(name, limited(act, Math.max(ms ?? 0, longestMs)));
const hook = (make) => (act, ms) => make(limited(act, Math.max(ms ?? 0, longestMs)));

export const test = Object.assign(named(globalThis.test), {
  each: (...table) => named(globalThis.test.each(...table)),
  only: named(globalThis.test.only),
  skip: globalThis.test.skip,
});
export const beforeAll = hook(globalThis.beforeAll);
export const afterAll = hook(globalThis.afterAll);
