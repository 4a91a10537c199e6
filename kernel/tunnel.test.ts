import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { linuxFiles } from '../core/output/formats/linux/index.ts';
import type { Plan } from '../core/plan/schema.ts';
import { compile } from '../core/site/compile.ts';
import { demoPlan } from '../core/testing/plans.ts';
import { profileText } from '../core/behaviour/remote-access/interface.ts';
import { whyNot } from './lab.ts';

/*
 * Two sites and a remote user, each with what is exported for it, over a WireGuard of its own: the routers by the
 * command of their files, the remote user with the profile. Both sites use one subnet, which is translated.
 */
const missing = ['/usr/bin/wireguard-go', '/usr/bin/wg', '/usr/bin/wg-quick', '/dev/net/tun'].filter(
  (path) => !existsSync(path),
);
const reason = whyNot() ?? (missing.length > 0 ? `no ${missing.join(', ')}` : undefined);
const onLinux = reason === undefined ? describe : describe.skip;

const stem = `t${process.pid}`;
const folder = mkdtempSync(join(tmpdir(), 'netter-tunnel-'));
const holders = new Map<string, ChildProcess>();
const places = ['weir', 'mill', 'user', 'net', 'printer', 'counter', 'shelf'];

const sh = (script: string, input?: string): string =>
  execFileSync('sh', ['-ec', script], { encoding: 'utf8', stdio: ['pipe', 'pipe', 'pipe'], input });
/** In a namespace whose sockets of WireGuard are its own. */
const at = (place: string, command: string): string =>
  sh(`nsenter -t ${holders.get(place)!.pid} -m -n sh -ec 'cd ${folder}/${place}; ${command}'`);
const answers = (place: string, host: string, more = ''): boolean => {
  try {
    at(place, `ping -c 1 -W 2 ${more} ${host} >/dev/null`);
    return true;
  } catch {
    return false;
  }
};
const newKey = (): { secret: string; public: string } => {
  const secret = sh('wg genkey').trim();
  return { secret, public: sh('wg pubkey', secret).trim() };
};

onLinux(`tunnels with the exported files${reason === undefined ? '' : ` (left out: ${reason})`}`, () => {
  beforeAll(async () => {
    const keys = { weir: newKey(), mill: newKey(), user: newKey() };
    const line = (plan: Plan, address: string, gateway: string): void => {
      plan.uplinks.splice(1);
      Object.assign(plan.uplinks[0]!, { type: 'static' });
      plan.uplinks[0]!.handoff.mode = 'none';
      Object.assign(plan.uplinks[0]!.settings.static, { address, prefixLength: '24', gateway });
    };
    const weir = demoPlan('weir-street');
    line(weir, '203.0.113.10', '203.0.113.1');
    weir.vpn.publicKey = keys.weir.public;
    Object.assign(weir.vpn.endpoints[0]!, { uplink: weir.uplinks[0]!.id, host: '203.0.113.10' });
    Object.assign(weir.vpn.sites[0]!, { publicKey: keys.mill.public, endpoint: '198.51.100.10' });
    Object.assign(weir.vpn.peers[0]!, { publicKey: keys.user.public, secret: 'user-key', ownKey: false });
    const mill = demoPlan('mill-lane');
    line(mill, '198.51.100.10', '198.51.100.1');
    mill.vpn.publicKey = keys.mill.public;
    Object.assign(mill.vpn.sites[0]!, { publicKey: keys.weir.public, endpoint: '203.0.113.10' });

    for (const place of places) {
      mkdirSync(join(folder, place));
      sh(`ip netns add ${stem}${place}`);
      const holder = spawn('ip', [
        ...['netns', 'exec', `${stem}${place}`, 'unshare', '-m', 'sh', '-c'],
        'mkdir -p /run/wireguard; mount -t tmpfs wg /run/wireguard; ip link set lo up; echo ready; exec sleep 600',
      ]);
      holders.set(place, holder);
      await new Promise((resolve) => holder.stdout.once('data', resolve));
    }
    const wire = (one: string, name: string, other: string, otherName: string): void => {
      sh(
        `ip link add ${name} netns ${stem}${one} type veth peer name ${otherName} netns ${stem}${other}; ip -n ${stem}${other} link set ${otherName} up; ip -n ${stem}${one} link set ${name} up`,
      );
    };
    // The internet, with a far end for each line.
    wire('weir', 'wan1', 'net', 'weir');
    wire('mill', 'wan1', 'net', 'mill');
    wire('user', 'eth0', 'net', 'user');
    wire('weir', 'lan1', 'printer', 'eth0');
    wire('weir', 'lan3', 'counter', 'eth0');
    wire('weir', 'lan2', 'counter', 'unused');
    wire('mill', 'lan1', 'shelf', 'eth0');
    wire('mill', 'lan2', 'shelf', 'unused');
    at(
      'net',
      'echo 1 > /proc/sys/net/ipv4/ip_forward; ip addr add 203.0.113.1/24 dev weir; ip addr add 198.51.100.1/24 dev mill; ip addr add 192.0.2.1/24 dev user',
    );
    at('user', 'ip addr add 192.0.2.77/24 dev eth0; ip route add default via 192.0.2.1');
    const device = (place: string, address: string, gateway: string): void => {
      at(place, `ip addr add ${address} dev eth0; ip route add default via ${gateway}`);
    };
    device('printer', '10.61.10.20/24', '10.61.10.1');
    device('counter', '10.61.40.3/28', '10.61.40.1');
    device('shelf', '10.61.10.30/24', '10.61.10.1');

    for (const [place, plan] of [
      ['weir', weir],
      ['mill', mill],
    ] as const) {
      for (const [name, text] of linuxFiles(compile(plan))) {
        const file = join(folder, place, name);
        mkdirSync(dirname(file), { recursive: true });
        writeFileSync(file, text.replaceAll('/run/netter', join(folder, place, 'state')));
      }
      mkdirSync(join(folder, place, 'secrets'));
      writeFileSync(join(folder, place, 'secrets/wg0.key'), keys[place].secret, { mode: 0o600 });
      at(
        place,
        `NETTER_STATE=${folder}/${place}/state sh netter.sh apply > log 2>&1 || { cat log >&2; exit 1; }`,
      );
    }
    const site = compile(weir);
    const profile = profileText(site, site.vpn.peers[0]!, new Map([['user-key', keys.user.secret]]));
    writeFileSync(join(folder, 'user/wg0.conf'), profile, { mode: 0o600 });
    const [, address] = /^Address = (\S+)/m.exec(profile)!;
    const [, mtu] = /^MTU = (\d+)/m.exec(profile)!;
    const [, routes] = /^AllowedIPs = (.+)$/m.exec(profile)!;
    at(
      'user',
      [
        'wireguard-go wg0 >/dev/null 2>&1',
        `wg-quick strip ${folder}/user/wg0.conf > stripped`,
        'wg setconf wg0 stripped',
        `ip addr add ${address} dev wg0`,
        `ip link set wg0 mtu ${mtu} up`,
        ...routes!.split(/, */).map((each) => `ip route add ${each} dev wg0`),
      ].join('; '),
    );
  });
  afterAll(() => {
    for (const place of places)
      try {
        sh(`ip netns pids ${stem}${place} | xargs -r kill -9; ip netns del ${stem}${place}`);
      } catch {
        // It was never made.
      }
    for (const holder of holders.values()) holder.kill('SIGKILL');
    rmSync(folder, { recursive: true, force: true });
  });

  test('a remote user reaches what the group is granted, and nothing else', () => {
    expect(answers('user', '10.61.10.20')).toBe(true);
    expect(answers('user', '10.61.40.3')).toBe(false);
    expect(answers('user', '10.61.60.1')).toBe(false);
  });

  test('the other site reaches by the translated subnet what has the same addresses there', () => {
    expect(answers('shelf', '172.24.1.20')).toBe(true);
    expect(answers('shelf', '10.61.40.3')).toBe(true);
    // The other way, from behind the translation.
    expect(answers('printer', '172.24.0.30')).toBe(true);
    // What is not connected is not reached: remote users do not go on.
    expect(answers('user', '172.24.0.30')).toBe(false);
  });

  test('both tunnels use the UDP port of the plan, and nothing of them goes in the clear', () => {
    expect(at('weir', 'wg show wg0 listen-port').trim()).toBe('51820');
    expect(at('mill', 'wg show wg0 listen-port').trim()).toBe('51820');
    const handshakes = at('weir', 'wg show wg0 latest-handshakes').trim().split('\n');
    expect(handshakes.filter((each) => !each.endsWith('\t0'))).toHaveLength(2);
    expect(answers('user', '10.61.10.20', '-I 192.0.2.77')).toBe(false);
  });

  test('a neighbour on the side of the provider gets in by no address of the inside', () => {
    at('net', 'ip route add 10.61.0.0/16 via 203.0.113.10');
    for (const host of ['10.61.10.20', '10.61.40.3', '10.61.60.2'])
      expect([host, answers('net', host)]).toEqual([host, false]);
    // With an address of the inside as its own, neither.
    at('net', 'ip addr add 10.61.10.99/32 dev lo');
    expect(answers('net', '10.61.40.3', '-I 10.61.10.99')).toBe(false);
  });

  test('segments are cut to the tunnel, although neither end knows of it (RFC 9293 section 3.7.1)', async () => {
    const node = process.execPath;
    const inside = (place: string, code: string): ChildProcess =>
      spawn('nsenter', ['-t', String(holders.get(place)!.pid), '-m', '-n', node, '-e', code]);
    const server = inside(
      'counter',
      'require("net").createServer(() => {}).listen(8080, () => console.log("ready"))',
    );
    await new Promise((resolve) => server.stdout!.once('data', resolve));
    const client = inside(
      'shelf',
      'const s = require("net").connect(8080, "10.61.40.3", () => console.log("open")); setTimeout(() => {}, 20000)',
    );
    await new Promise((resolve) => client.stdout!.once('data', resolve));
    const told = at('counter', 'ss -tinH state established sport = :8080');
    server.kill('SIGKILL');
    client.kill('SIGKILL');
    const mtu = Number(at('weir', 'cat /sys/class/net/wg0/mtu'));
    const mss = Number(/\bmss:(\d+)/.exec(told)?.[1]);
    // The system takes up to 40 bytes of options off what the other end has said.
    expect(mss).toBeLessThanOrEqual(mtu - 40);
    expect(mss).toBeGreaterThanOrEqual(mtu - 80);
  });

  test('a packet as large as the tunnel says passes whole, and a larger one does not', () => {
    const mtu = Number(at('user', 'cat /sys/class/net/wg0/mtu'));
    expect(answers('user', '10.61.10.20', `-M do -s ${mtu - 28}`)).toBe(true);
    expect(answers('user', '10.61.10.20', `-M do -s ${mtu - 27}`)).toBe(false);
  });
});
