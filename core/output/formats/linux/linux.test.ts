import { describe, expect, test } from '@jest/globals';
import type { Plan } from '../../../plan/schema.ts';
import { compile } from '../../../site/compile.ts';
import { demoPlan } from '../../../testing/plans.ts';
import { linuxFiles } from './index.ts';

const filesOf = (name: string, change: (plan: Plan) => unknown = () => {}): ReadonlyMap<string, string> => {
  const plan = demoPlan(name);
  change(plan);
  return linuxFiles(compile(plan));
};
const farrow = filesOf('farrow-sound');
const rules = (files: ReadonlyMap<string, string>): string[] =>
  files
    .get('netter.nft')!
    .split('\n')
    .map((line) => line.trim());

describe('files for a Linux router', () => {
  test('one of each kind, a tunnel where there is one, and every interface explained', () => {
    expect([...farrow.keys()]).toEqual([
      'README.md',
      'sysctl.conf',
      'netter.sh',
      'netter.nft',
      'ports.conf',
      'interfaces.sh',
      'addresses.sh',
      'routes.sh',
      'line.sh',
      'hooks/udhcpc',
      'hooks/dhclient',
      'hooks/ppp',
      'dnsmasq.conf',
      'hosts',
      'netter.service',
      'netter-dnsmasq.service',
      'netter-watch.service',
      'wg0.conf',
    ]);
    // Remote users and other sites share one tunnel, and with it the UDP port of the plan.
    expect(filesOf('mill-lane').get('wg0.conf')).toMatch(
      /ListenPort = 51820[\s\S]*AllowedIPs = 172.24.1.0\/24, 10.61.40.0\/28/,
    );
    for (const name of ['lan1', 'lan2', 'lan3', 'lan4', 'wan1', 'wan2', 'wg0'])
      expect(farrow.get('README.md')).toMatch(new RegExp(`^\\| ${name} \\|`, 'm'));
  });

  // nft(8): what a statement says stands in its words.
  test.each([
    [
      'the forward, for its source only',
      'iifname { "wan1", "wan2" } ip daddr @wan1_address tcp dport 8443 ip saddr != 198.51.100.24/29 drop',
    ],
    ['its translation', 'ip daddr @wan1_address tcp dport 8443 dnat ip to 10.24.40.20:8443'],
    ['the administration page from where the router is managed', 'iifname "lan1" tcp dport 443 accept'],
    ['one service of one device', 'iifname "lan2" oifname "lan1" ip daddr 10.24.10.20 tcp dport 631 accept'],
    [
      'the box in front, refused to guests',
      'iifname "lan3" oifname { "wan1", "wan2" } ip daddr 192.168.8.0/24 reject with icmpx admin-prohibited',
    ],
    ['a source that is not of its network', 'iifname "lan2" ip saddr != 10.24.20.0/27 drop'],
    ['the source that leaves', 'oifname "wan1" meta nfproto ipv4 masquerade'],
    ['segments', 'tcp flags syn tcp option maxseg size set rt mtu'],
  ])('%s', (_what, rule) => expect(rules(farrow)).toContain(rule));

  test('rows stand in the order of the plan: what is refused first stays refused', () => {
    const text = rules(
      filesOf('farrow-sound', (plan) => {
        plan.reach.unshift({ ...plan.reach[0]!, id: 'x', action: 'refuse', protocol: 'tcp', ports: '23' });
      }),
    );
    const refused = text.indexOf(
      'iifname "lan1" oifname "lan4" tcp dport 23 reject with icmpx admin-prohibited',
    );
    expect(refused).toBeGreaterThan(0);
    expect(text.indexOf('iifname "lan1" oifname "lan4" accept')).toBeGreaterThan(refused);
  });

  test('rate limits of networks and rules come before what is known passes; one Mb/s is 125 kbytes (nft(8), limit)', () => {
    const text = rules(
      filesOf('farrow-sound', (plan) => {
        Object.assign(plan.networks[2]!, { limitDownMbps: 20, limitUpMbps: 5 });
        plan.reach[0]!.limitMbps = 0.1;
      }),
    );
    expect(text).toEqual(
      expect.arrayContaining([
        'iifname "lan3" oifname { "wan1", "wan2" } limit rate over 625 kbytes/second burst 31 kbytes drop',
        'iifname { "wan1", "wan2" } oifname "lan3" limit rate over 2500 kbytes/second burst 125 kbytes drop',
        'iifname "lan1" oifname "lan4" limit rate over 13 kbytes/second burst 16 kbytes drop',
      ]),
    );
    expect(farrow.get('netter.nft')).not.toContain('limit rate');
  });

  test('without hairpin NAT a forward is for what comes in by a line; ping from outside only where it is answered', () => {
    const text = rules(
      filesOf('farrow-sound', (plan) => Object.assign(plan.router, { hairpin: 'no', pingOutside: true })),
    );
    expect(text).toContain('iifname != { "wan1", "wan2" } accept');
    expect(text).toContain('iifname { "wan1", "wan2" } icmp type echo-request accept');
    expect(rules(farrow)).not.toContain('iifname { "wan1", "wan2" } icmp type echo-request accept');
  });

  test('ports that are shifted are mapped one by one, and what is more outside leads to the last', () => {
    const text = rules(
      filesOf('farrow-sound', (plan) =>
        Object.assign(plan.forwards[0]!, {
          service: '',
          insidePorts: '90-91',
          outsidePorts: '8000-8002',
          sources: [],
        }),
      ),
    );
    expect(text).toContain(
      'ip daddr @wan1_address tcp dport 8000-8002 dnat ip to 10.24.40.20 : tcp dport map { 8000 : 90, 8001 : 91, 8002 : 91 }',
    );
  });

  test('a forward whose list of sources cannot be read admits nobody', () => {
    expect(rules(filesOf('farrow-sound', (plan) => (plan.forwards[0]!.sources = ['nonsense'])))).toContain(
      'iifname { "wan1", "wan2" } ip daddr @wan1_address tcp dport 8443 drop',
    );
  });

  test('leases: pool, router, names and reservations of each network (dnsmasq(8))', () => {
    expect(farrow.get('dnsmasq.conf')!.split('\n')).toEqual(
      expect.arrayContaining([
        'interface=lan1',
        expect.stringMatching(/^dhcp-range=set:lan3,10\.24\.32\.\d+,10\.24\.35\.\d+,255\.255\.252\.0,\d+m$/),
        'dhcp-option=tag:lan2,option:router,10.24.20.1',
        expect.stringMatching(/^dhcp-host=[0-9a-f:]{17},10\.24\.40\.20$/),
        // Remote users ask the router for names.
        'interface=wg0',
      ]),
    );
  });

  test('no secret is written, and what people typed stands in remarks only', () => {
    const typed = 'Q"$(reboot)`;\\';
    const files = filesOf('weir-street', (plan) => {
      for (const row of [...plan.networks, ...plan.uplinks, ...plan.devices, ...plan.vpn.sites])
        row.name = typed;
      plan.failover.rules.push({
        id: 'r',
        network: '',
        protocol: 'tcp',
        ports: '25',
        lines: [],
        says: typed,
      } as never);
    });
    for (const [name, text] of files)
      if (name !== 'README.md')
        expect(
          text
            .split('\n')
            .filter((line) => line.includes('reboot') && !/^\s*#|^[\d.]+ [a-z0-9-]+$/.test(line)),
        ).toEqual([]);
    for (const text of files.values()) expect(text).not.toMatch(/^(?:PrivateKey|PresharedKey|password)\b/im);
  });
});
