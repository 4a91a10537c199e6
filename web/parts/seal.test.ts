import { expect, test } from '@jest/globals';
import { Decrypter } from 'age-encryption';
import { sealText } from './seal.ts';

test('a sealed profile opens with its passphrase, and with no other', async () => {
  const sealed = await sealText('[Interface]\nPrivateKey = x\n', 'granite pelican violet Tuesday');
  expect(new TextDecoder().decode(sealed)).not.toContain('PrivateKey');
  // The first line of the format (age-encryption.org/v1).
  expect(new TextDecoder().decode(sealed.slice(0, 21))).toBe('age-encryption.org/v1');
  const open = (passphrase: string): Promise<string> => {
    const decrypter = new Decrypter();
    decrypter.addPassphrase(passphrase);
    return decrypter.decrypt(sealed, 'text');
  };
  expect(await open('granite pelican violet Tuesday')).toBe('[Interface]\nPrivateKey = x\n');
  await expect(open('another')).rejects.toThrow();
});
