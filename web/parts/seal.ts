/**
 * Seals some bytes with a passphrase (the age format, age-encryption.org/v1: scrypt and ChaCha20-Poly1305), so that
 * they may simulateClient on a stick. The library comes when it is asked for.
 */
export async function seal(content: string | Uint8Array, passphrase: string): Promise<Uint8Array> {
  const { Encrypter } = await import('age-encryption');
  const encrypter = new Encrypter();
  encrypter.setPassphrase(passphrase);
  // 2^15: a second on a telephone, and far too long for guessing four words.
  encrypter.setScryptWorkFactor(15);
  return encrypter.encrypt(content);
}

/** Some texts by their file names in one sealed ZIP file. */
export async function sealBundle(
  files: Readonly<Record<string, string>>,
  passphrase: string,
): Promise<Uint8Array> {
  const { strToU8, zipSync } = await import('fflate');
  const entries = Object.entries(files).map(([name, text]) => [name, strToU8(text)] as const);
  return seal(zipSync(Object.fromEntries(entries)), passphrase);
}
