import { expect, test } from '@jest/globals';
import { Decrypter } from 'age-encryption';
import { strFromU8, unzipSync } from 'fflate';
import { seal, sealBundle } from './seal.ts';

const passphrase = 'granite pelican violet Tuesday';
const opener = (word: string): Decrypter => {
  const decrypter = new Decrypter();
  decrypter.addPassphrase(word);
  return decrypter;
};

test('what is sealed opens with its passphrase, and with no other', async () => {
  const sealed = await seal('[Interface]\nPrivateKey = x\n', passphrase);
  expect(new TextDecoder().decode(sealed)).not.toContain('PrivateKey');
  // The first line of the format (age-encryption.org/v1).
  expect(new TextDecoder().decode(sealed.slice(0, 21))).toBe('age-encryption.org/v1');
  expect(await opener(passphrase).decrypt(sealed, 'text')).toBe('[Interface]\nPrivateKey = x\n');
  await expect(opener('another').decrypt(sealed, 'text')).rejects.toThrow();
});

test('a bundle holds each file under its name', async () => {
  const files = { 'Maren.conf': '[Interface]\n', 'Maren.txt': 'Open the gate panel, café door.\n' };
  const zip = await opener(passphrase).decrypt(await sealBundle(files, passphrase), 'uint8array');
  expect(
    Object.fromEntries(Object.entries(unzipSync(zip)).map(([name, bytes]) => [name, strFromU8(bytes)])),
  ).toEqual(files);
});
