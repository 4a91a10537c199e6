import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from '../steps.mjs';

export const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

export const freePort = () =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });

const running = new Set();
/** Nothing that was started outlives the run. */
process.on('exit', () => running.forEach((child) => child.kill('SIGKILL')));

/** Starts the built server on a data folder, by a command in front of it if wanted; resolves as soon as it is begun. */
export function launch(data, { port = 0, before = [], env = {} } = {}) {
  const [command, ...args] = [...before, process.execPath, join(root, 'scripts/start.mjs')];
  const child = spawn(command, args, {
    cwd: root,
    env: {
      ...process.env,
      NODE_OPTIONS: '',
      NETTER_DATA: data,
      NETTER_PORT: String(port),
      NETTER_OPEN: 'no',
      ...env,
    },
  });
  running.add(child);
  let output = '';
  child.stdout.on('data', (text) => (output += text));
  child.stderr.on('data', (text) => (output += text));
  const ended = new Promise((resolve) =>
    child.once('exit', (code, signal) => {
      running.delete(child);
      resolve(code ?? signal);
    }),
  );
  return {
    child,
    ended,
    output: () => output,
    /** True once it is ready, false where it ended before. */
    ready: async (longestMs = 60_000) => {
      const until = Date.now() + longestMs;
      while (Date.now() < until) {
        if (output.includes('sign-in#')) return true;
        if (child.exitCode !== null || child.signalCode !== null) return false;
        await sleep(15);
      }
      return false;
    },
    end: async (signal = 'SIGTERM') => {
      child.kill(signal);
      return ended;
    },
  };
}

/** Asks the server of a data folder, as the command line does. */
export async function ask(data, path, { method = 'GET', body } = {}) {
  const { address, key } = JSON.parse(readFileSync(join(data, 'running.json'), 'utf8'));
  const reply = await fetch(address + path, {
    method,
    headers: {
      authorization: `Bearer ${key}`,
      ...(body !== undefined && { 'content-type': 'application/json' }),
    },
    ...(body !== undefined && { body: JSON.stringify(body) }),
    signal: AbortSignal.timeout(20_000),
  });
  return { status: reply.status, body: reply.status === 204 ? undefined : await reply.json() };
}

/** Saves one site again and again until something breaks; how many saves were acknowledged, and their last revision. */
export async function saveOn(data, plan, from, stopped = () => false, site = 'weir-street') {
  let revision = from;
  let acknowledged = 0;
  let refused = 0;
  try {
    while (!stopped()) {
      const notes = `saved on ${revision}`;
      const { status } = await ask(data, `/api/sites/${site}`, {
        method: 'PUT',
        body: { base: revision, plan: { ...plan, site: { ...plan.site, notes } } },
      });
      if (status === 200) {
        revision += 1;
        acknowledged += 1;
      } else {
        refused += 1;
        if (status !== 507) break;
        await sleep(20);
      }
    }
  } catch {
    // The server is gone: that is what is tried.
  }
  return { revision, acknowledged, refused };
}

/** The revision that is there, and whether its plan is the one that was saved under that number. */
export async function present(data, site = 'weir-street') {
  const { body } = await ask(data, `/api/sites/${site}`);
  const { revision, plan } = body;
  return { revision, plan, sound: revision === 1 || plan.site.notes === `saved on ${revision - 1}` };
}
