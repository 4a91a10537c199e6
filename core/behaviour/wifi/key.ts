import type { WifiNetwork } from '../../site/wifi.ts';

/** Letters and figures that nobody takes for another one, on a card or on the telephone. */
const letters = 'abcdefghjkmnpqrstuvwxyz23456789';
const groups = 4;
const groupLength = 5;

/**
 * A passphrase of twenty letters and figures in groups, some 99 bits: made of random bytes, of which those are left out
 * that would make one letter likelier than another. Undefined where the bytes did not suffice.
 */
export function wifiPassphrase(random: Uint8Array): string | undefined {
  const fair = 256 - (256 % letters.length);
  const chosen = [...random].filter((byte) => byte < fair).map((byte) => letters[byte % letters.length]!);
  if (chosen.length < groups * groupLength) return undefined;
  return Array.from({ length: groups }, (_, group) =>
    chosen.slice(group * groupLength, (group + 1) * groupLength).join(''),
  ).join('-');
}

/** What is wrong with a passphrase or key (IEEE 802.11 annex J.4); undefined where it can be used. */
export function passphraseProblem(secret: string): string | undefined {
  if (/^[0-9a-f]{64}$/i.test(secret) || /^[\x20-\x7e]{8,63}$/.test(secret)) return undefined;
  if (secret.length > 63)
    return `A passphrase has 63 characters at most, and this one has ${secret.length}; 64 hexadecimal digits would be a key.`;
  return secret.length < 8
    ? `A passphrase has 8 characters at least, and this one has ${secret.length}.`
    : 'A passphrase has only letters, figures and signs of ASCII: no umlaut, no accent.';
}

const escaped = (text: string): string => text.replace(/[\\;,:"]/g, (sign) => `\\${sign}`);

/** What a code to scan says of a Wi-Fi network (WPA3 specification section 7, from memory). */
export function wifiCode(
  { ssid, security, hidden }: Pick<WifiNetwork, 'ssid' | 'security' | 'hidden'>,
  secret: string,
): string {
  const type = security === 'open' ? '' : 'T:WPA;';
  const key = security === 'open' ? '' : `P:${escaped(secret)};`;
  return `WIFI:${type}S:${escaped(ssid)};${key}${hidden ? 'H:true;' : ''};`;
}
