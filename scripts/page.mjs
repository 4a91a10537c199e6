import { JSDOM } from 'jsdom';

/*
 * A page in jsdom, for tests that click and type. Names of the page are names of Node's own world here, but for those
 * that Node has already: what a browser and Node both know works as it does in Node.
 */
const { window } = new JSDOM('<!doctype html><html lang="en"><body></body></html>', {
  url: 'http://localhost/',
  pretendToBeVisual: true,
});
// No page is laid out here, so nothing scrolls.
window.Element.prototype.scrollIntoView ??= () => {};
// Rules of style are worked out anew at every question here, which takes seconds; who asks wants to know what is hidden,
// and only what an element says itself hides it.
window.getComputedStyle = (element) => element.style;
window.CSS ??= { escape: (text) => text.replace(/[^\w-]/g, '\\$&') };
const ofThePage = [
  'Event',
  'CustomEvent',
  'EventTarget',
  'MessageEvent',
  'document',
  'navigator',
  'location',
];
for (const name of Object.getOwnPropertyNames(window))
  if (!(name in globalThis) || ofThePage.includes(name))
    Object.defineProperty(globalThis, name, {
      configurable: true,
      writable: true,
      value: window[name],
    });
globalThis.window = window;
