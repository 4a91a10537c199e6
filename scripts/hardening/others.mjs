import { spawnSync } from 'node:child_process';
import { generateKeyPairSync, randomUUID, sign } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ask, launch, sleep } from './server.mjs';

/** Somebody else on the machine, pages from elsewhere, a second program on the folder, requests that never end. */
export async function others() {
  const folder = mkdtempSync(join(tmpdir(), 'netter-hard-others-'));
  const data = join(folder, 'data');
  const server = launch(data);
  const rows = [];
  try {
    if (!(await server.ready()))
      return [{ what: 'a server to try on', how: '', result: server.output(), good: false }];
    const { address, key } = JSON.parse(readFileSync(join(data, 'running.json'), 'utf8'));
    const { body } = await ask(data, '/api/sign-in/codes', { method: 'POST', body: {} });
    const { cookie, proof } = await signInAsBrowser(address, body.code);
    rows.push(await otherAccount(address, cookie, proof, data));
    rows.push(await elsewhere(address, key));
    rows.push(...(await secondProgram(data)));
    rows.push(await unfinished(address, server.child.pid));
  } finally {
    await server.end();
    rmSync(folder, { recursive: true, force: true });
  }
  return rows;
}

/** Signs in as a browser does: with a key of its own that signs each request (RFC 9449). */
async function signInAsBrowser(address, code) {
  const { publicKey, privateKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' });
  const { kty, crv, x, y } = publicKey.export({ format: 'jwk' });
  const part = (value) => Buffer.from(JSON.stringify(value)).toString('base64url');
  const proof = (nonce, method, path) => {
    const text = `${part({ typ: 'dpop+jwt', alg: 'ES256', jwk: { kty, crv, x, y } })}.${part({ jti: randomUUID(), htm: method, htu: address + path, nonce })}`;
    return `${text}.${sign('sha256', Buffer.from(text), { key: privateKey, dsaEncoding: 'ieee-p1363' }).toString('base64url')}`;
  };
  const nonce = (await fetch(`${address}/api/session`)).headers.get('dpop-nonce');
  const signIn = await fetch(`${address}/api/sign-in`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', dpop: proof(nonce, 'POST', '/api/sign-in') },
    body: JSON.stringify({ code }),
  });
  return {
    cookie: signIn.headers.get('set-cookie').split(';')[0],
    proof: (path) => proof(nonce, 'GET', path),
  };
}

async function otherAccount(address, cookie, proof, data) {
  const what = 'another account of the machine';
  if (process.getuid?.() !== 0)
    return { what, how: 'only the administrator can become one', result: 'not tried', good: true };
  const as = (uid, script) =>
    spawnSync(process.execPath, ['-e', script], {
      encoding: 'utf8',
      uid,
      gid: uid,
      cwd: '/',
      env: {},
    }).stdout.trim();
  const { port, host } = new URL(address);
  // By a raw socket of either family: the mapped address stands in another table of the kernel.
  const asked = (uid, family, path, headers) =>
    as(
      uid,
      `const s = require('net').connect({ port: ${port}, host: '${family}' }); let t = '';
       s.on('data', (d) => (t += d)).on('error', () => {}).on('close', () => console.log(t.split(' ')[1]));
       s.write(${JSON.stringify(`GET ${path} HTTP/1.1\r\nHost: ${host}\r\n${headers}Connection: close\r\n\r\n`)});`,
    );
  const routes = ['/api/sites', '/api/sites/farrow-sound', '/api/vault', '/%61pi/sites', '/api/backups'];
  const tried = routes.flatMap((path) =>
    ['127.0.0.1', '::ffff:127.0.0.1'].flatMap((family) =>
      [
        '',
        `Cookie: ${cookie}\r\n`,
        // Even a signature that was caught with it: the account is another one.
        `Cookie: ${cookie}\r\nDPoP: ${proof(path)}\r\n`,
      ].map((headers) => asked(65533, family, path, headers)),
    ),
  );
  const owner = asked(0, '127.0.0.1', '/api/sites', `Cookie: ${cookie}\r\nDPoP: ${proof('/api/sites')}\r\n`);
  const files = as(
    65533,
    `try { require('fs').readdirSync('${data}'); console.log('read') } catch (e) { console.log(e.code) }`,
  );
  const refused = tried.filter((status) => status === '401').length;
  return {
    what,
    how: `${routes.length} routes, both families, without and with a caught cookie and signature; the folder`,
    result: `${refused} of ${tried.length} refused; folder: ${files}; the owner: ${owner}`,
    good: refused === tried.length && files === 'EACCES' && owner === '200',
  };
}

async function elsewhere(address, key) {
  const host = new URL(address).host;
  const tries = [
    [{ 'sec-fetch-site': 'cross-site' }, '/api/sites'],
    [{ 'sec-fetch-site': 'same-site' }, '/api/sites'],
    [{ 'sec-fetch-site': 'cross-site' }, '/%61pi/sites'],
    [{ origin: 'http://elsewhere.example' }, '/api/sites'],
    [{ origin: `http://localhost:1` }, '/api/sites'],
  ];
  let refused = 0;
  for (const [headers, path] of tries)
    if (
      (await fetch(address + path, { headers: { ...headers, authorization: `Bearer ${key}` } })).status ===
      403
    )
      refused += 1;
  // Raw, for these a client library does not send: another name, and an absolute target.
  const raw = (head) =>
    new Promise((resolve) => {
      const socket = connect(Number(host.split(':')[1]), '127.0.0.1');
      let text = '';
      socket.on('data', (chunk) => (text += chunk));
      socket.on('close', () => resolve(Number(text.split(' ')[1])));
      socket.write(`${head}\r\nConnection: close\r\nAuthorization: Bearer ${key}\r\n\r\n`);
    });
  const statuses = [
    await raw('GET /api/sites HTTP/1.1\r\nHost: elsewhere.example'),
    await raw(`GET ${address}/api/sites HTTP/1.1\r\nHost: ${host}\r\nSec-Fetch-Site: cross-site`),
  ];
  const page = await fetch(address);
  const framed =
    page.headers.get('x-frame-options') === 'DENY' &&
    /frame-ancestors 'none'/.test(page.headers.get('content-security-policy'));
  return {
    what: 'frames, origins, names, targets',
    how: `${tries.length + statuses.length} requests from elsewhere, one page`,
    result: `${refused + statuses.filter((status) => status >= 400).length} refused; frames ${framed ? 'refused' : 'allowed'}`,
    good: refused === tries.length && statuses.every((status) => status >= 400) && framed,
  };
}

async function secondProgram(data) {
  const places = [
    ['the same machine', []],
    ['another network namespace', ['unshare', '-n']],
    ['a container (own network and processes)', ['unshare', '-n', '-p', '-f', '--mount-proc']],
  ];
  const rows = [];
  for (const [where, before] of places) {
    if (before.length > 0 && spawnSync(before[0], [...before.slice(1), 'true']).status !== 0) {
      rows.push({
        what: `a second program, ${where}`,
        how: 'not allowed here',
        result: 'not tried',
        good: true,
      });
      continue;
    }
    const second = launch(data, { before });
    const code = await second.ended;
    const refused = /in use by another running Netter/.test(second.output());
    rows.push({
      what: `a second program, ${where}`,
      how: 'one start',
      result: refused ? 'refused' : `ended with ${code}`,
      good: refused,
    });
  }
  return rows;
}

const memoryOf = (pid) =>
  Number(/VmRSS:\s*(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'latin1'))?.[1] ?? 0) / 1024;

/** Requests that are begun and never ended are closed, and keep no memory. */
async function unfinished(address, pid) {
  const count = 150;
  const { hostname, port } = new URL(address);
  const before = memoryOf(pid);
  let closed = 0;
  const begun = Date.now();
  const sockets = Array.from({ length: count }, (_, index) => {
    const socket = connect(Number(port), hostname);
    socket.on('error', () => {});
    socket.resume();
    socket.on('close', () => (closed += 1));
    // Half of them stop in the head, half in the body.
    socket.write(
      index % 2 === 0
        ? `POST /api/sites HTTP/1.1\r\nHost: ${hostname}:${port}\r\n`
        : `POST /api/sign-in HTTP/1.1\r\nHost: ${hostname}:${port}\r\nContent-Type: application/json\r\nContent-Length: 3000000\r\n\r\n${'x'.repeat(20_000)}`,
    );
    return socket;
  });
  while (closed < count && Date.now() - begun < 50_000) await sleep(200);
  const seconds = Math.round((Date.now() - begun) / 1000);
  for (const socket of sockets) socket.destroy();
  const kept = Math.round(memoryOf(pid) - before);
  return {
    what: 'requests that never end',
    how: `${count}, in the head and in the body`,
    result: `${closed} closed within ${seconds} s; memory ${kept >= 0 ? '+' : ''}${kept} MB`,
    good: closed === count && kept < 150,
  };
}
