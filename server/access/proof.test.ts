import { createHash } from 'node:crypto';
import { beforeEach, expect, test } from '@jest/globals';
import { movedClock, TestBrowser } from '../testing/store.ts';
import { Proofs } from './proof.ts';

const url = 'http://127.0.0.1:4860/api/sites';
let clock: ReturnType<typeof movedClock>;
let proofs: Proofs;
const browser = new TestBrowser();
beforeEach(() => {
  clock = movedClock();
  proofs = new Proofs(clock);
});
const check = (proof: string | undefined, method = 'GET', at = url) => proofs.check(proof, method, at);

test('the thumbprint is that of RFC 9449 section 6.1 (RFC 7638)', () => {
  const x = 'l8tFrhx-34tV3hRICRDY9zCkDlpBhF42UQUfWVAWBFs';
  const y = '9VE4jf_Ok_o64zbTTlcuNJajHmt6v9TDVrU0CdvGRDA';
  const thumbprint = createHash('sha256')
    .update(`{"crv":"P-256","kty":"EC","x":"${x}","y":"${y}"}`)
    .digest('base64url');
  expect(thumbprint).toBe('0ZcOCORZNYy-DWpqq30jZyJGHTN0d2HglBV3uiguA4I');
});

test('a request that is signed names the key that signed it, whatever the clock of the machine says', () => {
  expect(check(browser.proof(proofs.nonce(), 'GET', url))).toEqual({ key: browser.thumbprint });
  clock.at = new Date(0);
  expect(check(browser.proof(proofs.nonce(), 'GET', url))).toEqual({ key: browser.thumbprint });
});

test('a proof is good once, for one request, and for some minutes', () => {
  const proof = browser.proof(proofs.nonce(), 'GET', url);
  expect(check(proof, 'POST')).toEqual({ refused: 'wrong-proof' });
  expect(check(proof, 'GET', `${url}/quay`)).toEqual({ refused: 'wrong-proof' });
  expect(check(proof)).toHaveProperty('key');
  expect(check(proof)).toEqual({ refused: 'wrong-proof' });
  const early = browser.proof(proofs.nonce(), 'GET', url);
  clock.later(11);
  expect(check(early)).toHaveProperty('key');
  const late = browser.proof(proofs.nonce(), 'GET', url);
  clock.later(25);
  expect(check(late)).toEqual({ refused: 'old-nonce' });
  expect(check(browser.proof('made up', 'GET', url))).toEqual({ refused: 'old-nonce' });
});

test('what another key signed, what was changed, and what is no proof, prove nothing', () => {
  const good = (): string[] => browser.proof(proofs.nonce(), 'GET', url).split('.');
  const [head, , signature] = good();
  const [otherHead] = new TestBrowser().proof(proofs.nonce(), 'GET', url).split('.');
  const body = good()[1];
  for (const proof of [
    `${otherHead}.${good()[1]}.${good()[2]}`,
    `${head}.${body}.${signature}`,
    `${head}.${body}.`,
    `${head}.${body}`,
    `${good().join('.')}.x`,
    browser.proof(proofs.nonce(), 'GET', url, { jti: '' }),
    'x'.repeat(100_000),
    '..',
    '',
  ])
    expect(check(proof)).toEqual({ refused: 'wrong-proof' });
  // A point that is on no curve, and an algorithm that checks nothing (RFC 8725 section 2.1).
  const forged = (change: object): string => {
    const value = JSON.parse(Buffer.from(head!, 'base64url').toString()) as object;
    return `${Buffer.from(JSON.stringify({ ...value, ...change })).toString('base64url')}.${good()[1]}.${good()[2]}`;
  };
  const point = 'A'.repeat(43);
  expect(check(forged({ alg: 'none' }))).toEqual({ refused: 'wrong-proof' });
  expect(check(forged({ jwk: { kty: 'EC', crv: 'P-256', x: point, y: point } }))).toEqual({
    refused: 'wrong-proof',
  });
  expect(check(undefined)).toEqual({ refused: 'no-proof' });
});
