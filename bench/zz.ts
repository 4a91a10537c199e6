import { browser } from './browser.ts';
await browser((...row) => console.log(row.join(' | ')));
