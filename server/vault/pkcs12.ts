import 'reflect-metadata';
import { webcrypto } from 'node:crypto';
import { PemConverter } from '@peculiar/x509';
import * as asn1js from 'asn1js';
import * as pkijs from 'pkijs';

// Its types know fewer algorithms than this runtime's; the engine is the same.
pkijs.setEngine('node', new pkijs.CryptoEngine({ name: 'node', crypto: webcrypto as Crypto }) as never);

/** Rounds of key derivation (PBKDF2 with SHA-256, RFC 8018): what a telephone does within a second. */
const iterations = 100_000;
const shroudedKeyBag = '1.2.840.113549.1.12.10.1.2';
const certificateBag = '1.2.840.113549.1.12.10.1.3';
const localKeyId = '1.2.840.113549.1.9.21';
const friendlyName = '1.2.840.113549.1.9.20';

/**
 * A person's certificate and key in one file that telephones and desktops take (PKCS #12, RFC 7292): the key sealed
 * with AES, the whole under a MAC, both from the password.
 */
export async function toPkcs12(
  given: {
    readonly pem: string;
    readonly keyPem: string;
    readonly authorityPem: string;
    readonly name: string;
  },
  password: string,
): Promise<Uint8Array> {
  const secret = new TextEncoder().encode(password).buffer as ArrayBuffer;
  const certificateOf = (pem: string): pkijs.Certificate =>
    pkijs.Certificate.fromBER(PemConverter.decode(pem)[0]!);
  const keyBag = new pkijs.PKCS8ShroudedKeyBag({
    parsedValue: pkijs.PrivateKeyInfo.fromBER(PemConverter.decode(given.keyPem)[0]!),
  });
  await keyBag.makeInternalValues({
    password: secret,
    contentEncryptionAlgorithm: { name: 'AES-CBC', length: 256 } as never,
    hmacHashAlgorithm: 'SHA-256',
    iterationCount: iterations,
  });
  const attributes = [
    new pkijs.Attribute({
      type: localKeyId,
      values: [new asn1js.OctetString({ valueHex: Uint8Array.of(1).buffer })],
    }),
    new pkijs.Attribute({ type: friendlyName, values: [new asn1js.BmpString({ value: given.name })] }),
  ];
  const bag = (pem: string, bagAttributes?: pkijs.Attribute[]): pkijs.SafeBag =>
    new pkijs.SafeBag({
      bagId: certificateBag,
      bagValue: new pkijs.CertBag({ parsedValue: certificateOf(pem) }),
      ...(bagAttributes && { bagAttributes }),
    });
  const file = new pkijs.PFX({
    parsedValue: {
      integrityMode: 0,
      authenticatedSafe: new pkijs.AuthenticatedSafe({
        parsedValue: {
          safeContents: [
            {
              privacyMode: 0,
              value: new pkijs.SafeContents({
                safeBags: [
                  new pkijs.SafeBag({ bagId: shroudedKeyBag, bagValue: keyBag, bagAttributes: attributes }),
                  bag(given.pem, attributes),
                  bag(given.authorityPem),
                ],
              }),
            },
          ],
        },
      }),
    },
  });
  await file.parsedValue!.authenticatedSafe!.makeInternalValues({ safeContents: [{}] });
  await file.makeInternalValues({
    password: secret,
    iterations,
    pbkdf2HashAlgorithm: 'SHA-256',
    hmacHashAlgorithm: 'SHA-256',
  });
  return new Uint8Array(file.toSchema().toBER());
}
