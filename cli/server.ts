import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { bad, ok, type Result } from '../core/index.ts';

/** The data folder that this account works with. */
const dataFolder = (): string => process.env.NETTER_DATA || join(homedir(), '.netter');

/** Asks the server something; an answer that is no success is a problem with the server's own sentence. */
export type Ask = (
  method: 'GET' | 'POST',
  path: string,
  body?: object | { readonly stream: ReadableStream; readonly type: string },
) => Promise<Result<unknown>>;

interface Running {
  readonly address: string;
  readonly key: string;
}

/**
 * Does something with the server of this account's data folder: the one that runs, or one that is started for it
 * and ended afterwards.
 */
export async function withServer<T>(act: (ask: Ask) => Promise<Result<T>>): Promise<Result<T>> {
  const running = runningServer();
  if (running && (await asker(running)('GET', '/api/session')).ok) return act(asker(running));
  const started = await startServer();
  if (!started.ok) return started;
  try {
    const own = runningServer();
    return own ? await act(asker(own)) : bad('server', 'The server ended before it could be asked.');
  } finally {
    started.value.kill('SIGTERM');
    await new Promise((resolve) => started.value.once('exit', resolve));
  }
}

/** Does something with the server that runs; without one it is a problem. */
export async function withRunning<T>(act: (ask: Ask) => Promise<Result<T>>): Promise<Result<T>> {
  const running = runningServer();
  return running
    ? act(asker(running))
    : bad('not-running', `No Netter runs on the data folder ${dataFolder()}. Start it: npm start.`);
}

/** Where the running server answers, and the key for it: in a file that only its owner can read. */
function runningServer(): Running | undefined {
  try {
    return JSON.parse(readFileSync(join(dataFolder(), 'running.json'), 'utf8')) as Running;
  } catch {
    return undefined;
  }
}

const asker =
  ({ address, key }: Running): Ask =>
  async (method, path, body) => {
    const streamed = body !== undefined && 'stream' in body;
    let reply: Response;
    try {
      reply = await fetch(`${address}${path}`, {
        method,
        headers: {
          authorization: `Bearer ${key}`,
          ...(body !== undefined && { 'content-type': streamed ? body.type : 'application/json' }),
        },
        ...(body !== undefined &&
          (streamed ? { body: body.stream, duplex: 'half' } : { body: JSON.stringify(body) })),
      } as RequestInit);
    } catch {
      return bad('server', `The server at ${address} does not answer.`);
    }
    const text = await reply.text();
    const json = text === '' ? {} : (JSON.parse(text) as { error?: string; says?: string; at?: string });
    return reply.ok
      ? ok(json)
      : bad(json.error ?? 'server', json.says ?? 'The server gave no reason.', json.at ?? '');
  };

/** A server on a port of its own. A folder that is begun for it gets no demo sites. */
async function startServer(): Promise<Result<ChildProcess>> {
  const script = fileURLToPath(new URL('../scripts/start.mjs', import.meta.url));
  const fresh = !existsSync(join(dataFolder(), 'database'));
  const child = spawn(process.execPath, [script], {
    stdio: ['ignore', 'pipe', 'pipe'],
    env: {
      ...process.env,
      NODE_OPTIONS: '',
      npm_lifecycle_event: undefined,
      NETTER_PORT: '0',
      NETTER_OPEN: 'no',
      ...(fresh && { NETTER_DEMO: 'no' }),
    },
  });
  return new Promise((resolve) => {
    let said = '';
    const read = (text: Buffer): void => {
      said += text.toString();
      if (said.includes('ready at')) resolve(ok(child));
    };
    child.stdout.on('data', read);
    child.stderr.on('data', read);
    child.once('exit', () =>
      resolve(bad('server', said.trim().split('\n').at(-1) || 'The server did not start.')),
    );
  });
}
