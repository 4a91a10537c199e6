import { spawnSync } from 'node:child_process';
import { createServer, type AddressInfo } from 'node:net';
import { expect, test } from '@jest/globals';
import { accountIn, accountOf, type Account } from './peer.ts';

const linux = process.platform === 'linux' ? test : test.skip;
const administrator = process.getuid?.() === 0;

/** Connects to a server here from a process of its own, under an account and by an address; what the server makes of it. */
async function seenBy(script: (port: number) => string, uid?: number): Promise<Account> {
  let seen: Account = 'untold';
  const server = createServer((socket) => {
    seen = accountOf(socket);
    socket.end();
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const { port } = server.address() as AddressInfo;
  const child = new Promise<void>((resolve) => {
    const { execPath } = process;
    // In a worker of the system, so that this process can answer meanwhile.
    void import('node:child_process').then(({ spawn }) =>
      spawn(execPath, ['-e', script(port)], {
        cwd: '/',
        env: {},
        ...(uid !== undefined && { uid, gid: uid }),
      }).once('exit', () => resolve()),
    );
  });
  await child;
  await new Promise((resolve) => server.close(resolve));
  return seen;
}
const connecting = (address: string) => (port: number) =>
  `require('net').connect({port:${port},host:'${address}'}).on('close',()=>process.exit()).on('error',()=>process.exit()).resume()`;

linux(
  'an account is known by either family: a mapped address is a socket of the other one',
  async () => {
    const accounts = administrator ? [0, 12345] : [process.getuid!()];
    for (const account of accounts)
      for (const address of ['127.0.0.1', '::ffff:127.0.0.1'])
        expect([address, await seenBy(connecting(address), administrator ? account : undefined)]).toEqual([
          address,
          account,
        ]);
  },
  60_000,
);

linux('this system has the tables, and a row of them looks as it is read here', () => {
  expect(spawnSync('head', ['-1', '/proc/net/tcp6'], { encoding: 'utf8' }).stdout).toMatch(
    /sl\s+local_address\s+remote_address\s+st .* uid\s+timeout inode/,
  );
});

// Rows as proc(5) describes them; the account is the eighth column, the inode the tenth.
const row = (local: string, remote: string, account: number | string, inode: number | string): string =>
  `   1: ${local} ${remote} 01 00000000:00000000 00:00000000 00000000 ${account}        0 ${inode} 1 0000000000000000 20 4 30 10 -1`;
const table = (...rows: string[]) => [{ text: rows.join('\n'), address: () => '0100007F' }];
const theirs = { address: '127.0.0.1', port: 0x1234 };
const ours = { address: '127.0.0.1', port: 4860 };
const mine = '0100007F:1234';
const here = '0100007F:12FC';

test.each([
  ['the socket itself', table(row(mine, here, 1000, 77)), 1000],
  ['the other end of it', table(row(here, mine, 1000, 77)), 'unknown'],
  ['nothing', table(), 'unknown'],
  // Closed by its program, a socket goes on for a while as the administrator's (TIME_WAIT, RFC 9293 section 3.3.2).
  ['a socket that nobody holds any more', table(row(mine, here, 0, 0)), 'unknown'],
  ['two that differ', table(row(mine, here, 1000, 77), row(mine, here, 1001, 78)), 'unknown'],
  ['an account without a number in this namespace', table(row(mine, here, 65534, 77)), 'unknown'],
  ['no number', table(row(mine, here, '-', 77)), 'unknown'],
])('%s', (_what, tables, account) => expect(accountIn(tables, theirs, ours, '65534')).toBe(account));
