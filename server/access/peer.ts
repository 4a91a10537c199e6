import { readFileSync } from 'node:fs';
import type { Socket } from 'node:net';

/**
 * Account (user id) at the other end of a connection; `untold` where the system never tells, `unknown` where it does
 * and this connection is not to be found. What is unknown is refused.
 */
export type Account = number | 'unknown' | 'untold';

const known = new WeakMap<Socket, Account>();
/** A table is not read in one instant: a row can be missed while others come and go. */
const looks = 3;

/** The kernel's tables of connections, and how each writes an IPv4 address (proc(5)). */
const tables: readonly { readonly path: string; readonly address: (address: string) => string }[] = [
  { path: '/proc/net/tcp', address: littleEndian },
  // A socket of the other family reaches an IPv4 server by the mapped address (RFC 4291 section 2.5.5.2).
  { path: '/proc/net/tcp6', address: (address) => `0000000000000000FFFF0000${littleEndian(address)}` },
];

/** "0100007F" for 127.0.0.1. */
function littleEndian(address: string): string {
  return address
    .split('.')
    .reverse()
    .map((part) => Number(part).toString(16).padStart(2, '0'))
    .join('')
    .toUpperCase();
}

const portText = (port: number): string => port.toString(16).toUpperCase().padStart(4, '0');

/** Account at the other end of a connection from this machine, where the system tells: Linux does (proc(5)). */
export function accountOf(socket: Socket): Account {
  const before = known.get(socket);
  if (before !== undefined) return before;
  const { remoteAddress, remotePort, localAddress, localPort } = socket;
  let account: Account = 'unknown';
  if (process.platform !== 'linux') account = 'untold';
  else if (remoteAddress && remotePort && localAddress && localPort)
    for (let look = 0; look < looks && account === 'unknown'; look += 1)
      account = accountIn(
        tables.map(({ path, address }) => ({ text: read(path), address })),
        { address: remoteAddress, port: remotePort },
        { address: localAddress, port: localPort },
      );
  known.set(socket, account);
  return account;
}

interface End {
  readonly address: string;
  readonly port: number;
}

/**
 * Account that holds the socket from `theirs` to `ours`, both IPv4, out of the kernel's tables. A row without an
 * inode is a socket that nobody holds any more, and its account says nothing; an account that has no number here
 * (user namespaces) is not known either.
 */
export function accountIn(
  texts: readonly { readonly text: string; readonly address: (address: string) => string }[],
  theirs: End,
  ours: End,
  overflow = read('/proc/sys/kernel/overflowuid').trim(),
): number | 'unknown' {
  const plain = (address: string): string => address.replace(/^::ffff:/i, '');
  const holders = new Set<string>();
  for (const { text, address } of texts) {
    const local = `${address(plain(theirs.address))}:${portText(theirs.port)}`;
    const remote = `${address(plain(ours.address))}:${portText(ours.port)}`;
    for (const line of text.split('\n')) {
      const row = line.trim().split(/\s+/);
      if (row[1] === local && row[2] === remote && row[9] !== '0') holders.add(row[7] ?? '');
    }
  }
  const [holder] = holders;
  return holders.size === 1 && /^\d+$/.test(holder!) && holder !== overflow ? Number(holder) : 'unknown';
}

function read(path: string): string {
  try {
    return readFileSync(path, 'latin1');
  } catch {
    return '';
  }
}
