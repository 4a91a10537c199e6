import { valueOf } from '../result.ts';
import { parseAddress, type Address } from './address.ts';

/** An IPv4 address as it stands in a text of anything else, and no part of a longer figure or name. */
export const ipv4InText = /(?<![\w.])\d{1,3}(?:\.\d{1,3}){3}(?![\w.])/g;

/** All IPv4 addresses of a text, in their order; what only looks like one is left out. */
export const addressesIn = (text: string): Address[] =>
  [...text.matchAll(ipv4InText)].flatMap(([found]) => valueOf(parseAddress(found)) ?? []);
