import { TestEnvironment } from 'jest-environment-jsdom';

/** What every browser has and jsdom lacks. */
const missing = {
  TextEncoder,
  TextDecoder,
  structuredClone,
  Uint8Array,
  CSS: { escape: (text) => text.replace(/[^\w-]/g, '\\$&') },
};

/** A page in jsdom, for tests that click and type. */
export default class Browser extends TestEnvironment {
  async setup() {
    await super.setup();
    Object.assign(this.global, missing);
    // No page is laid out here, so nothing scrolls.
    this.global.Element.prototype.scrollIntoView ??= () => {};
    this.global.AbortSignal.timeout ??= () => new this.global.AbortController().signal;
  }
}
