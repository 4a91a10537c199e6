import { readFileSync } from 'node:fs';
import type { Socket } from 'node:net';

const known = new WeakMap<Socket, number | undefined>();

/** An address and port as the kernel's table has them: "0100007F:12FC" for 127.0.0.1:4860. */
const entry = (address: string, port: number): string =>
  `${address
    .split('.')
    .reverse()
    .map((part) => Number(part).toString(16).padStart(2, '0'))
    .join('')}:${port.toString(16).padStart(4, '0')}`.toUpperCase();

/**
 * Account (user id) at the other end of a connection from this machine, where the system tells: Linux keeps it in
 * /proc/net/tcp (proc(5)). Undefined on other systems and for a connection that it does not list.
 */
export function accountOf(socket: Socket): number | undefined {
  if (known.has(socket)) return known.get(socket);
  const account = lookUp(socket);
  known.set(socket, account);
  return account;
}

function lookUp({ remoteAddress, remotePort, localAddress, localPort }: Socket): number | undefined {
  if (process.platform !== 'linux' || !remoteAddress || !remotePort || !localAddress || !localPort)
    return undefined;
  const mine = entry(remoteAddress, remotePort);
  const theirs = entry(localAddress, localPort);
  try {
    for (const line of readFileSync('/proc/net/tcp', 'latin1').split('\n')) {
      const [, local, remote, , , , , account] = line.trim().split(/\s+/);
      if (local === mine && remote === theirs) return Number(account);
    }
  } catch {
    // A system without the table: nothing is known.
  }
  return undefined;
}
