import { bad, ok, type Result } from '../result.ts';

/** A 48-bit hardware address (IEEE 802) in lower case with colons, and what its first octet says of it. */
export interface MacAddress {
  readonly text: string;
  /** Second-lowest bit of the first octet: chosen by software, so it may change (private addresses of phones). */
  readonly locallyAdministered: boolean;
}

/** Reads a MAC address with colons, hyphens, dots or nothing between its twelve hexadecimal digits. */
export function parseMac(text: string): Result<MacAddress> {
  const typed = text.trim();
  if (typed === '') return bad('empty', 'Enter a value.');
  const wrong = /[^0-9a-f:.\-\s]/i.exec(typed)?.[0];
  if (wrong !== undefined)
    return bad(
      'mac-letter',
      `"${typed}" holds "${wrong}", which is no hexadecimal digit (0-9, a-f)${lookalike(wrong)}.`,
    );
  const digits = typed.replace(/[:.\-\s]/g, '').toLowerCase();
  if (digits.length !== 12)
    return bad('mac-length', `"${typed}" has ${digits.length} hexadecimal digits; a MAC address has 12.`);
  const first = parseInt(digits.slice(0, 2), 16);
  if ((first & 1) === 1)
    return bad(
      'mac-group',
      `"${typed}" is the address of a group of receivers: the first octet of one device's address is even.`,
    );
  if (/^0+$/.test(digits)) return bad('mac-zero', 'All zeros is a placeholder, not the address of a device.');
  return ok({ text: digits.match(/../g)!.join(':'), locallyAdministered: (first & 2) === 2 });
}

const lookalike = (letter: string): string => {
  const meant: Record<string, string> = { o: '0', i: '1', l: '1', s: '5', g: '6', z: '2' };
  const digit = meant[letter.toLowerCase()];
  return digit === undefined ? '' : `; perhaps ${digit}`;
};
