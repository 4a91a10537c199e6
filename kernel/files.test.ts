import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { linuxFiles } from '../core/output/formats/linux/index.ts';
import { compile } from '../core/site/compile.ts';
import { demoPlan } from '../core/testing/plans.ts';
import { whyNot } from './lab.ts';

/*
 * The exported files put to work as their README says, on a router that nobody has prepared: by its own command, with
 * a real DHCP server and client on the line, with rules of somebody else beside them.
 */
const reason = whyNot();
const programs = ['/usr/sbin/dnsmasq', '/bin/busybox'].every((path) => existsSync(path));
const tunnels = ['/usr/bin/wg', '/usr/bin/wireguard-go', '/dev/net/tun'].every((path) => existsSync(path));
const onLinux = reason === undefined ? describe : describe.skip;

const stem = `f${process.pid}`;
const router = `${stem}r`;
const provider = `${stem}p`;
const folder = mkdtempSync(join(tmpdir(), 'netter-files-'));
const state = join(folder, 'state');
const children: ChildProcess[] = [];

const sh = (script: string): string =>
  execFileSync('sh', ['-ec', script], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
const later = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
/** A `sleep` that ends when the test says so: how busy the machine is changes nothing. */
const clock = mkdtempSync(join(tmpdir(), 'netter-clock-'));
writeFileSync(
  join(clock, 'sleep'),
  `#!/bin/sh\nwhile [ ! -e ${clock}/$1.over ]; do /bin/sleep 0.05; done\n: > ${clock}/$1.seen\n`,
  { mode: 0o755 },
);
const on = (place: string, command: string): string =>
  sh(`cd ${folder}; PATH=${clock}:$PATH NETTER_STATE=${state} ip netns exec ${place} ${command}`);
const pass = async (minutes: number): Promise<void> => {
  writeFileSync(join(clock, `${minutes * 60}.over`), '');
  while (!existsSync(join(clock, `${minutes * 60}.seen`))) await later(50);
  for (const what of ['over', 'seen']) rmSync(join(clock, `${minutes * 60}.${what}`));
};
/** All that the kernel was told, as it lists it. */
const told = (): string =>
  [
    on(router, 'ip rule show'),
    on(router, 'ip route show table all'),
    on(router, 'ip addr show').replace(/valid_lft.*/g, ''),
    on(router, 'nft list ruleset').replace(/counter packets \d+ bytes \d+/g, ''),
  ]
    .join('\n')
    // What the kernel gives itself comes when it comes.
    .split('\n')
    .filter((line) => !/fe80:|ff00:|tentative/.test(line))
    .join('\n');

onLinux(`the files of a site at work${reason === undefined ? '' : ` (left out: ${reason})`}`, () => {
  beforeAll(() => {
    // One line by DHCP, one by PPP that has not come up.
    const plan = demoPlan('farrow-sound');
    Object.assign(plan.uplinks[1]!, { type: 'dhcp' });
    for (const [name, text] of linuxFiles(compile(plan))) {
      mkdirSync(dirname(join(folder, name)), { recursive: true });
      writeFileSync(
        join(folder, name),
        text.replaceAll('/run/netter', state).replaceAll('/etc/netter', folder),
        { mode: text.startsWith('#!/bin/sh') ? 0o755 : 0o644 },
      );
    }
    writeFileSync(join(folder, 'ports.local'), 'port2 px2\nport3 px3\n');
    mkdirSync(state, { recursive: true });
    sh(
      [
        ...[router, provider].flatMap((each) => [`ip netns add ${each}`, `ip -n ${each} link set lo up`]),
        // Ports as the machine has them, and interfaces with a tag, which this kernel may have no way to make.
        ...['px3', 'wan1eth', 'lan2', 'lan3', 'lan4'].map(
          (name) => `ip link add ${name} netns ${router} type veth peer name ${name} netns ${provider}`,
        ),
        `ip link add px2 netns ${router} type veth peer name eth0 netns ${provider}`,
        `ip -n ${provider} link set px3 up`,
        `ip -n ${provider} addr add 198.51.100.1/24 dev eth0`,
        `ip -n ${provider} link set eth0 up`,
        // Somebody else's, in the numbers that anybody might use.
        `ip -n ${router} rule add pref 12345 fwmark 0x7 lookup 99`,
        `ip netns exec ${router} nft add table inet other`,
      ].join('\n'),
    );
  });
  afterAll(() => {
    for (const child of children) child.kill('SIGKILL');
    for (const each of [router, provider]) sh(`ip netns del ${each} 2>/dev/null || true`);
    for (const each of [folder, clock]) rmSync(each, { recursive: true, force: true });
  });

  test('check loads nothing', () => {
    const before = told();
    on(router, 'sh netter.sh check');
    expect(told()).toBe(before);
  });

  /** Everything that a run may change; a port that is switched on stays so. */
  const left = (): string =>
    [
      ...['-4', '-6'].flatMap((family) => [
        on(router, `ip ${family} rule show`),
        on(router, `ip ${family} route show table all`)
          .split('\n')
          // What the kernel gives itself comes when it comes.
          .filter((line) => !/fe80:|ff00:|proto kernel/.test(line))
          .join('\n'),
      ]),
      on(router, 'ip -o addr show scope global').replace(/valid_lft.*/g, ''),
      on(router, 'nft list ruleset'),
      on(router, 'ls /sys/class/net').split(/\s+/).sort().join(' '),
      on(
        router,
        'sh -c "cd /proc/sys/net; grep . ipv4/ip_forward ipv4/conf/*/rp_filter ipv6/conf/all/forwarding"',
      ),
    ].join('\n');
  /** Waits for what a timer does, however busy the machine is. */
  const until = async (done: () => boolean): Promise<void> => {
    for (let tries = 0; tries < 300 && !done(); tries += 1) await later(200);
  };
  const unconfirmed = (): boolean => existsSync(join(state, 'unconfirmed'));

  test('with nothing to take back, revert says so and touches nothing', () => {
    const before = left();
    expect(() => on(router, 'sh netter.sh revert')).toThrow(/there is nothing to take back/);
    expect(left()).toBe(before);
  });

  test('what is never confirmed leaves nothing: no rule, address, interface, name of a port, setting', async () => {
    const before = left();
    on(router, 'sh netter.sh apply 1');
    expect(left()).not.toBe(before);
    expect(on(router, 'ip link show dev lan1')).toContain('lan1');
    await pass(1);
    await until(() => left() === before);
    expect(left()).toBe(before);
  });

  test('one line without its interface holds up nothing: addresses, filter and rules are there', () => {
    on(router, 'sh netter.sh apply');
    expect(on(router, 'ip addr show dev lan1')).toMatch(/inet 10\.24\.10\.1/);
    expect(on(router, 'nft list table inet netter')).toContain('chain forward');
    expect(on(router, 'ip rule show')).toMatch(/10000:.*suppress_prefixlength 0 proto 87/);
  });

  (programs ? test : test.skip)(
    'a lease gives the line its next hop, whatever the plan expected, and takes it again',
    async () => {
      children.push(
        spawn('ip', [
          ...[
            'netns',
            'exec',
            provider,
            'dnsmasq',
            '--keep-in-foreground',
            '--conf-file=/dev/null',
            '--port=0',
          ],
          ...[
            '--interface=eth0',
            '--dhcp-range=198.51.100.50,198.51.100.60,255.255.255.0,2m',
            '--dhcp-option=3,198.51.100.1',
          ],
          ...[`--dhcp-leasefile=${folder}/leases`, '--no-ping', `--pid-file=${folder}/dnsmasq.pid`],
        ]),
      );
      await later(500);
      const found = on(
        router,
        `timeout 20 busybox udhcpc -i wan2 -s ${folder}/hooks/udhcpc -n -q -t 5 -T 1 2>&1`,
      );
      expect(found).toMatch(/lease of 198\.51\.100\.\d+ obtained/);
      expect(on(router, 'ip route show table 258')).toMatch(
        /default via 198\.51\.100\.1 dev wan2 proto 87 onlink/,
      );
      expect(on(router, 'ip rule show')).toMatch(/19000:\tfrom all lookup 258 proto 87/);
      expect(on(router, 'nft list set inet netter wan2_address')).toMatch(
        /elements = \{ 198\.51\.100\.\d+ \}/,
      );
      // Guests may not leave by this line: there is a rule that refuses, and there was one at every moment.
      expect(on(router, 'ip rule show')).toMatch(/12000:\tfrom all fwmark 0x201 prohibit proto 87/);
    },
  );

  (programs ? test : test.skip)(
    'a second run changes nothing, keeps the address of the line, and loses no packet',
    async () => {
      const before = told();
      const packets = spawn('ip', [
        'netns',
        'exec',
        router,
        'ping',
        '-i',
        '0.02',
        '-c',
        '150',
        '198.51.100.1',
      ]);
      let heard = '';
      packets.stdout.on('data', (text) => (heard += String(text)));
      const ended = new Promise((resolve) => packets.once('exit', resolve));
      await later(300);
      for (let run = 0; run < 2; run += 1) on(router, 'sh netter.sh apply');
      await ended;
      expect(heard).toMatch(/150 packets transmitted, 150 received/);
      expect(told()).toBe(before);
    },
  );

  test('a session brings its own interface; a cable that loses its link gives way without being named', async () => {
    // The far end of PPP is the only one there is: a pair of interfaces stands for it, and the hook is pppd's.
    sh(
      `ip link add wan1 netns ${router} type veth peer name ppp netns ${provider}; ip -n ${router} link set wan1 up; ip -n ${provider} link set ppp up`,
    );
    const watch = spawn('ip', [
      ...['netns', 'exec', router, 'sh', '-c'],
      `cd ${folder}; NETTER_STATE=${state} exec sh netter.sh watch`,
    ]);
    children.push(watch);
    sh(
      `cd ${folder}; mkdir -p ip-up.d; cp hooks/ppp ip-up.d/netter; NETTER_STATE=${state} PPP_IFACE=wan1 PPP_LOCAL=203.0.113.9 ip netns exec ${router} sh ip-up.d/netter`,
    );
    expect(on(router, 'ip rule show')).toMatch(/19000:\tfrom all lookup 257 proto 87/);
    expect(on(router, 'ip route show table 257')).toMatch(/default dev wan1 proto 87/);
    expect(on(router, 'nft list set inet netter wan1_address')).toContain('203.0.113.9');
    sh(`ip -n ${provider} link set ppp down`);
    await later(1_500);
    expect(on(router, 'ip rule show')).toMatch(
      programs ? /19000:\tfrom all lookup 258 proto 87/ : /12000:.*prohibit/,
    );
    sh(`ip -n ${provider} link set ppp up`);
    await later(1_500);
    expect(on(router, 'ip rule show')).toMatch(/19000:\tfrom all lookup 257 proto 87/);
  });

  test('another plan that is not confirmed goes back whole, to what was confirmed last; what is confirmed stays', async () => {
    // The tunnel lists its peers in whatever order.
    const peers = (): string => (tunnels ? on(router, 'wg showconf wg0').split('\n').sort().join('\n') : '');
    const everything = (): string => `${left()}\n${peers()}`;
    const before = everything();
    const keep = ['netter.nft', 'addresses.sh', 'sysctl.conf', ...(tunnels ? ['wg0.conf'] : [])].map(
      (name) => [name, readFileSync(join(folder, name), 'utf8')] as const,
    );
    writeFileSync(
      join(folder, 'netter.nft'),
      'table inet netter\ndelete table inet netter\ntable inet netter {\n chain locked_out {\n  type filter hook input priority 0; policy drop;\n }\n}\n',
    );
    writeFileSync(
      join(folder, 'addresses.sh'),
      'ip addr flush dev lan1 scope global; ip addr add 10.99.0.1/24 dev lan1; ip route add 192.0.2.0/24 via 10.99.0.7 table 258 proto 87; ip link set lan1 mtu 1400',
    );
    writeFileSync(join(folder, 'sysctl.conf'), 'net.ipv4.ip_forward = 0\n');
    if (tunnels) writeFileSync(join(folder, 'wg0.conf'), '[Interface]\nListenPort = 40000\n');
    // Twice: the second has a clock of its own, and what was never confirmed is nothing to go back to.
    on(router, 'sh netter.sh apply 1');
    on(router, 'sh netter.sh apply 4');
    await pass(1);
    await later(500);
    expect(unconfirmed()).toBe(true);
    expect(on(router, 'nft list table inet netter')).toContain('locked_out');
    await pass(4);
    await until(() => everything() === before);
    expect(everything()).toBe(before);
    on(router, 'sh netter.sh apply 2');
    on(router, 'sh netter.sh confirm');
    await pass(2);
    await later(500);
    expect(on(router, 'nft list table inet netter')).toContain('locked_out');
    for (const [name, text] of keep) writeFileSync(join(folder, name), text);
  });

  test('removed by one command, nothing of it is left, and nothing of others is gone', () => {
    on(
      router,
      'sh -c "cp -R . /tmp/netter-removed-$$; PATH=/usr/sbin:/usr/bin:/sbin:/bin sh netter.sh remove; rm -rf /tmp/netter-removed-$$"',
    );
    const rules = sh(`ip netns exec ${router} ip rule show`);
    expect(rules).not.toContain('proto 87');
    expect(rules).toContain('12345:\tfrom all fwmark 0x7 lookup 99');
    expect(sh(`ip netns exec ${router} nft list tables`).trim()).toBe('table inet other');
    const links = sh(`ip -n ${router} -o link show`);
    for (const name of ['px2', 'px3']) expect(links).toContain(`${name}@`);
    expect(sh(`ip -n ${router} addr show dev px3`)).not.toContain('10.24.10.1');
  });
});
