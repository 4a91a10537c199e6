import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { connect, createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { buildApp } from '../scripts/steps.mjs';
import { quick, root } from './testing/store.ts';

/** The real server as a process of its own, on a real data folder. */
interface Running {
  readonly process: ChildProcess;
  readonly output: () => string;
  readonly ended: Promise<number | null>;
}

const folder = mkdtempSync(join(tmpdir(), 'netter-server-'));
const demo = JSON.parse(readFileSync(join(root, 'demo/weir-street.json'), 'utf8'));
const started: ChildProcess[] = [];
// What people start is built: where it is not, or is older than its source, it is built first.
beforeAll(() => expect(buildApp()).toBe(true), 240_000);
afterAll(() => {
  for (const each of started) each.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

function launch(data: string, port: number): Running {
  const child = spawn(
    process.execPath,
    [
      quick,
      '--input-type=module',
      '-e',
      "const { serve } = await import('./dist/server/main.mjs'); await serve(process.cwd());",
    ],
    {
      cwd: root,
      env: { ...process.env, NODE_OPTIONS: '', NETTER_DATA: data, NETTER_PORT: String(port) },
    },
  );
  started.push(child);
  let output = '';
  child.stdout!.on('data', (text) => (output += String(text)));
  child.stderr!.on('data', (text) => (output += String(text)));
  return {
    process: child,
    output: () => output,
    ended: new Promise((resolve) => child.once('exit', resolve)),
  };
}

async function ready(server: Running): Promise<void> {
  let over = false;
  void server.ended.then(() => (over = true));
  while (!server.output().includes('ready at')) {
    if (over) throw new Error(`The server ended: ${server.output()}`);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

/** Asks as the command line does, with the key that lies in the data folder. */
function ask(
  data: string,
  path: string,
  options: { method?: string; body?: string } = {},
): Promise<Response> {
  const { address, key } = JSON.parse(readFileSync(join(data, 'running.json'), 'utf8')) as Record<
    string,
    string
  >;
  return fetch(`${address}${path}`, {
    ...options,
    headers: {
      authorization: `Bearer ${key}`,
      ...(options.body !== undefined && { 'content-type': 'application/json' }),
    },
  });
}

const put = (data: string, base: number): Promise<Response> =>
  ask(data, '/api/sites/weir-street', {
    method: 'PUT',
    body: JSON.stringify({ base, plan: { ...demo, site: { ...demo.site, notes: `saved on ${base}` } } }),
  });

describe('the server as a process', () => {
  test('says so in one sentence and ends with 1 when the port or the folder is taken', async () => {
    const port = await freePort();
    const first = launch(join(folder, 'held'), port);
    await ready(first);
    const sameFolder = launch(join(folder, 'held'), await freePort());
    expect(await sameFolder.ended).toBe(1);
    expect(sameFolder.output().trim().split('\n')).toEqual([
      expect.stringContaining('in use by another running Netter'),
    ]);
    const samePort = launch(join(folder, 'other'), port);
    expect(await samePort.ended).toBe(1);
    expect(samePort.output()).toContain(`Port ${port} is in use`);
    const list = await (await ask(join(folder, 'held'), '/api/sites')).json();
    expect(list.rows.map((row: { id: string }) => row.id).sort()).toEqual([
      'farrow-sound',
      'hollin-edge',
      'larch-house',
      'mill-lane',
      'weir-street',
    ]);
    // What Node's own parser refuses has the headers of every answer too.
    for (const head of [
      'GET / HTTP/9.9\r\n\r\n',
      `GET / HTTP/1.1\r\nHost: ${'x'.repeat(20_000)}\r\n\r\n`,
      '\0\0\r\n\r\n',
    ]) {
      const answer = await new Promise<string>((resolve) => {
        let text = '';
        const socket = connect(port, '127.0.0.1', () => socket.write(head));
        socket.on('data', (data) => (text += String(data))).on('close', () => resolve(text));
      });
      expect(answer).toMatch(/^HTTP\/1\.1 4\d\d /);
      for (const name of [
        'Content-Security-Policy',
        'X-Content-Type-Options',
        'X-Frame-Options',
        'Cache-Control',
      ])
        expect(answer).toContain(`${name}: `);
    }
    // Whatever is open does not hold up the end: events that are followed, a request that is half sent.
    const { key } = JSON.parse(readFileSync(join(folder, 'held', 'running.json'), 'utf8')) as { key: string };
    const events = await fetch(`http://127.0.0.1:${port}/api/vault/events`, {
      headers: { authorization: `Bearer ${key}` },
    });
    expect(events.headers.get('content-type')).toBe('text/event-stream');
    const half = connect(port, '127.0.0.1');
    half.on('error', () => {});
    half.write(`POST /api/sites HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nContent-Length: 99\r\n\r\n{`);
    first.process.kill('SIGTERM');
    expect(await first.ended).toBe(0);
    half.destroy();
    await events.body?.cancel().catch(() => {});
    expect(readdirSync(join(folder, 'held'))).toEqual(['database']);
  });

  test('nothing that was answered with 200 is lost by kill -9', async () => {
    const data = join(folder, 'killed');
    const port = await freePort();
    let acknowledged = 1;
    // On a slow machine a round answers little before it ends: then there are more of them.
    for (let round = 0; round < 10 || (acknowledged <= 11 && round < 40); round += 1) {
      const server = launch(data, port);
      await ready(server);
      const found = await (await ask(data, '/api/sites/weir-street')).json();
      // The save that was under way may have landed without its answer; none that was answered may be missing.
      expect([acknowledged, acknowledged + 1]).toContain(found.revision);
      if (found.revision > 1) expect(found.plan.site.notes).toBe(`saved on ${found.revision - 1}`);
      acknowledged = found.revision;
      const killAt = Date.now() + 60 + (round % 10) * 45 + Math.floor(round / 10) * 400;
      const killed = new Promise<void>((resolve) =>
        setTimeout(() => {
          server.process.kill('SIGKILL');
          resolve();
        }, killAt - Date.now()),
      );
      try {
        for (;;) {
          const reply = await put(data, acknowledged);
          if (reply.status === 200) acknowledged += 1;
        }
      } catch {
        // The connection broke: the server is gone.
      }
      await killed;
      await server.ended;
    }
    expect(acknowledged).toBeGreaterThan(10);
    const server = launch(data, port);
    await ready(server);
    const kept = await (await ask(data, '/api/sites/weir-street/revisions')).json();
    expect(kept[0].revision).toBeGreaterThanOrEqual(acknowledged);
    server.process.kill('SIGTERM');
    await server.ended;
  }, 240_000);
});
