import 'reflect-metadata';
import { webcrypto } from 'node:crypto';
import * as x509 from '@peculiar/x509';

x509.cryptoProvider.set(webcrypto as Crypto);

/** One curve for all: P-256 with SHA-256, which every end of IKEv2 and TLS knows (RFC 5480, RFC 8422). */
const algorithm = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' } as const;
const authorityYears = 10;
const day = 86_400_000;

export interface Issued {
  readonly pem: string;
  readonly keyPem: string;
  /** Hexadecimal. */
  readonly serial: string;
  readonly from: string;
  readonly until: string;
}

const keys = (): Promise<CryptoKeyPair> =>
  webcrypto.subtle.generateKey(algorithm, true, ['sign', 'verify']) as Promise<CryptoKeyPair>;

const toPem = async (key: CryptoKey): Promise<string> =>
  x509.PemConverter.encode(await webcrypto.subtle.exportKey('pkcs8', key as never), 'PRIVATE KEY');

const fromPem = (pem: string): Promise<CryptoKey> =>
  webcrypto.subtle.importKey('pkcs8', x509.PemConverter.decode(pem)[0]!, algorithm, true, [
    'sign',
  ]) as Promise<CryptoKey>;

/** A name as it stands in a certificate: commas and the like would end it (RFC 4514 section 2.4). */
const named = (name: string): string => `CN=${name.replace(/[,+"\\<>;=]/g, ' ').trim() || 'unnamed'}`;
const dateOf = (date: Date): string => date.toISOString().slice(0, 10);
const newSerial = (): string => {
  const bytes = webcrypto.getRandomValues(new Uint8Array(16));
  // Positive, and of full length (RFC 5280 section 4.1.2.2).
  bytes[0] = (bytes[0]! & 0x3f) | 0x40;
  return Buffer.from(bytes).toString('hex');
};

/** A certificate authority for one site: its own certificate, signed by itself (RFC 5280). */
export async function makeAuthority(site: string, now: Date): Promise<Issued> {
  const pair = await keys();
  const serial = newSerial();
  const notAfter = new Date(now.getTime() + authorityYears * 365 * day);
  const certificate = await x509.X509CertificateGenerator.createSelfSigned({
    serialNumber: serial,
    name: named(`${site}, remote access`),
    notBefore: now,
    notAfter,
    signingAlgorithm: algorithm,
    keys: pair,
    extensions: [
      new x509.BasicConstraintsExtension(true, 0, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.keyCertSign | x509.KeyUsageFlags.cRLSign, true),
      await x509.SubjectKeyIdentifierExtension.create(pair.publicKey),
    ],
  });
  return {
    pem: certificate.toString('pem'),
    keyPem: await toPem(pair.privateKey),
    serial,
    from: dateOf(now),
    until: dateOf(notAfter),
  };
}

/** A certificate for one person, or for the router, with an end date (RFC 5280; extended uses of RFC 4945 and RFC 5280). */
export async function issue(
  authority: { readonly pem: string; readonly keyPem: string },
  wanted: {
    readonly name: string;
    readonly use: 'client' | 'server';
    readonly days: number;
    readonly now: Date;
  },
): Promise<Issued> {
  const issuer = new x509.X509Certificate(authority.pem);
  const pair = await keys();
  const serial = newSerial();
  const end = wanted.now.getTime() + wanted.days * day;
  // Nothing outlives the one who signed it.
  const notAfter = new Date(Math.min(end, issuer.notAfter.getTime()));
  const certificate = await x509.X509CertificateGenerator.create({
    serialNumber: serial,
    subject: named(wanted.name),
    issuer: issuer.subject,
    notBefore: wanted.now,
    notAfter,
    signingAlgorithm: algorithm,
    publicKey: pair.publicKey,
    signingKey: await fromPem(authority.keyPem),
    extensions: [
      new x509.BasicConstraintsExtension(false, undefined, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.digitalSignature, true),
      new x509.ExtendedKeyUsageExtension([
        wanted.use === 'server' ? x509.ExtendedKeyUsage.serverAuth : x509.ExtendedKeyUsage.clientAuth,
      ]),
      ...(wanted.use === 'server'
        ? [new x509.SubjectAlternativeNameExtension([{ type: 'dns', value: wanted.name.trim() }])]
        : []),
      await x509.SubjectKeyIdentifierExtension.create(pair.publicKey),
      await x509.AuthorityKeyIdentifierExtension.create(issuer.publicKey),
    ],
  });
  return {
    pem: certificate.toString('pem'),
    keyPem: await toPem(pair.privateKey),
    serial,
    from: dateOf(wanted.now),
    until: dateOf(notAfter),
  };
}

/** The list of revoked certificates, signed, good for 30 days (RFC 5280 section 5). */
export async function revocations(
  authority: { readonly pem: string; readonly keyPem: string },
  revoked: readonly { readonly serial: string; readonly date: string }[],
  now: Date,
): Promise<string> {
  const issuer = new x509.X509Certificate(authority.pem);
  const list = await x509.X509CrlGenerator.create({
    issuer: issuer.subject,
    thisUpdate: now,
    nextUpdate: new Date(now.getTime() + 30 * day),
    signingAlgorithm: algorithm,
    signingKey: await fromPem(authority.keyPem),
    entries: revoked.map(({ serial, date }) => ({
      serialNumber: serial,
      revocationDate: Number.isNaN(Date.parse(date)) ? now : new Date(date),
    })),
  });
  // The label that every reader knows (RFC 7468 section 6).
  return x509.PemConverter.encode(list.rawData, 'X509 CRL');
}
