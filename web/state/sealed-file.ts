/** Names of files in the vault begin with this. */
export const filePrefix = 'file: ';

/** A settings file in the vault: with the box and the firmware it is of, for another one may load it and be wrong. */
export interface SealedFile {
  readonly name: string;
  readonly box: string;
  readonly version: string;
  readonly sha256: string;
  readonly base64: string;
}

/** Largest settings file that the vault takes, in bytes. */
export const largestFile = 2_000_000;

export const bytesOf = (base64: string): Uint8Array<ArrayBuffer> =>
  Uint8Array.from(atob(base64), (character) => character.charCodeAt(0));

export function base64Of(bytes: Uint8Array): string {
  let text = '';
  // A call takes so many arguments at most.
  for (let at = 0; at < bytes.length; at += 8192)
    text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return btoa(text);
}

/** SHA-256 of a file as 64 hexadecimal digits (FIPS 180-4), computed in this window. */
export async function sha256Of(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', bytes);
  return [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}
