/**
 * Seals a text with a passphrase (the age format, age-encryption.org/v1: scrypt and ChaCha20-Poly1305), so that it may
 * travel on a stick. The library comes when it is asked for.
 */
export async function sealText(text: string, passphrase: string): Promise<Uint8Array> {
  const { Encrypter } = await import('age-encryption');
  const encrypter = new Encrypter();
  encrypter.setPassphrase(passphrase);
  // 2^15: a second on a telephone, and far too long for guessing four words.
  encrypter.setScryptWorkFactor(15);
  return encrypter.encrypt(text);
}
