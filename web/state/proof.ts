import { keepKey, keptKey } from './kept.ts';

/*
 * Each request is signed by a key of this browser, which no page of another program can reach: DPoP, RFC 9449, with
 * the server's nonce (section 8). A cookie alone lets nobody in.
 */

const keyName = 'session';
const algorithm = { name: 'ECDSA', namedCurve: 'P-256' } as const;
const text = new TextEncoder();

const base64url = (bytes: Uint8Array): string =>
  btoa(String.fromCharCode(...bytes))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
    .replaceAll('=', '');
const part = (value: object): string => base64url(text.encode(JSON.stringify(value)));

let key: Promise<{ readonly pair: CryptoKeyPair; readonly head: string }> | undefined;
/** The nonce that the server gave last: at first with the page. */
let nonce =
  typeof document === 'undefined'
    ? ''
    : (document.querySelector<HTMLMetaElement>('meta[name="dpop-nonce"]')?.content ?? '');

/** The key of this browser: kept in its database, made where there is none. */
function browserKey(): NonNullable<typeof key> {
  key ??= (async () => {
    const pair =
      (await keptKey(keyName)) ??
      ((await crypto.subtle.generateKey(algorithm, false, ['sign'])) as CryptoKeyPair);
    await keepKey(keyName, pair);
    const { kty, crv, x, y } = await crypto.subtle.exportKey('jwk', pair.publicKey);
    return { pair, head: part({ typ: 'dpop+jwt', alg: 'ES256', jwk: { kty, crv, x, y } }) };
  })();
  return key;
}

async function proofOf(method: string, url: URL): Promise<string> {
  const { pair, head } = await browserKey();
  const htu = `${url.origin}${url.pathname}`;
  const signed = `${head}.${part({ jti: crypto.randomUUID(), htm: method, htu, nonce })}`;
  const signature = await crypto.subtle.sign(
    { name: 'ECDSA', hash: 'SHA-256' },
    pair.privateKey,
    text.encode(signed),
  );
  return `${signed}.${base64url(new Uint8Array(signature))}`;
}

/** `fetch` for the server's own interface, signed. Asked once more where only the nonce was too old. */
export async function signedFetch(
  address: string,
  init: RequestInit & { method: string },
): Promise<Response> {
  // Where nothing can be kept there is no key, and the server says that nobody is signed in.
  if (typeof indexedDB === 'undefined') return fetch(address, init);
  const send = async (): Promise<Response> => {
    const headers = new Headers(init.headers);
    headers.set('DPoP', await proofOf(init.method, new URL(address, location.origin)));
    const reply = await fetch(address, { ...init, headers });
    nonce = reply.headers.get('DPoP-Nonce') ?? nonce;
    return reply;
  };
  const before = nonce;
  const reply = await send();
  return reply.status === 401 && nonce !== before ? send() : reply;
}
