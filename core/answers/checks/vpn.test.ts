import { expect, test } from '@jest/globals';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Finding } from '../../behaviour/domain-types/finding.ts';
import { everyRuleIsNamed, type Broken } from '../../testing/broken.ts';
import { demoPlan } from '../../testing/plans.ts';
import { runChecks } from './index.ts';

const farrow = (change: (plan: Plan) => unknown = () => {}): Plan => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return plan;
};
const findings = (plan: Plan): Finding[] =>
  runChecks(compile(plan)).filter(({ rule }) => /^(vpn|site|duplicate)-/.test(rule));

const broken: Broken[] = [
  ['vpn-dated', '/vpn/way', (p) => (p.vpn.way = 'dated')],
  ['vpn-unreachable', '/vpn/way', (p) => p.uplinks.shift()],
  ['vpn-not-on-backup', '/vpn/way', () => {}],
  [
    'vpn-reach-unknown',
    '/vpn/way',
    (p) => {
      p.uplinks[0]!.settings.pppoe.expectedAddress = '';
    },
  ],
  [
    'vpn-port-foreign',
    '/vpn/port',
    (p) => {
      const [uplink] = p.uplinks;
      uplink!.type = 'map-t';
      // RFC 7597 appendix A: the ports are 1232 to 1235, 2256 to 2259 and so on.
      Object.assign(uplink!.settings['map-t'], {
        delegated: '2001:db8:12:3400::/56',
        ruleIpv6: '2001:db8::/40',
        ruleIpv4: '192.0.2.0/24',
        eaBits: 16,
      });
    },
  ],
  ['vpn-not-spoken', '/vpn/way', (p) => (p.vpn.way = 'tls')],
  ['vpn-outside-refused', '/vpn/way', (p) => (p.vpn.way = 'mesh')],
  ['vpn-pool', '/vpn/pool', (p) => (p.vpn.pool = '10.24.10.128/25')],
  ['vpn-pool', '/vpn/pool', (p) => (p.vpn.pool = '192.168.1.0/24')],
  [
    'vpn-leak',
    '/vpn/pool6',
    (p) => {
      p.vpn.pool6 = '';
      p.vpn.groups[0]!.tunnel = 'full';
    },
  ],
  ['vpn-no-endpoint', '/vpn/endpoints', (p) => (p.vpn.endpoints = [])],
  ['vpn-endpoint-shut', '/vpn/endpoints/0/uplink', (p) => (p.vpn.endpoints[0]!.uplink = 'cellular')],
  ['vpn-no-end', '/vpn/peers/0/expires', (p) => (p.vpn.peers[0]!.expires = '')],
  ['vpn-no-resolver', '/vpn/resolver', (p) => (p.vpn.resolver = '')],
  ['vpn-resolver-outside', '/vpn/resolver', (p) => (p.vpn.resolver = '198.51.100.53')],
  ['vpn-nobody-manages', '/vpn/groups', (p) => (p.vpn.groups[0]!.manages = false)],
  ['vpn-device-cannot', '/vpn/peers/2/software', (p) => (p.vpn.peers[2]!.software = 'built-in')],
  ['vpn-pool', '/vpn/pool6', (p) => (p.networks[0]!.prefix = 'fd5e:24a1:60c3::/48')],
  [
    'vpn-endpoint-changes',
    '/vpn/endpoints/0/host',
    (p) => {
      p.vpn.endpoints[0]!.host = p.uplinks[0]!.settings.pppoe.expectedAddress;
      p.failover.dynamicName = 'quay.farrow-ferries.example';
    },
  ],
  ['vpn-endpoint-other', '/vpn/endpoints/0/host', (p) => (p.vpn.endpoints[0]!.host = '198.51.100.200')],
  [
    'vpn-box-shut',
    '/uplinks/0/handoff/forwards',
    (p) =>
      Object.assign(p.uplinks[0]!.handoff, {
        mode: 'routes',
        insidePrefix: '192.168.99.0/24',
        insideAddress: '192.168.99.1',
        outsideAddress: '203.0.113.9',
        forwards: [{ id: 'f', protocol: 'tcp', ports: '8443' }],
      }),
  ],
  ['vpn-key-form', '/vpn/publicKey', (p) => (p.vpn.publicKey = 'abc')],
  ['vpn-key-form', '/vpn/peers/0/publicKey', (p) => (p.vpn.peers[0]!.publicKey = 'abc')],
  ['vpn-no-key', '/vpn/peers/0/publicKey', (p) => (p.vpn.peers[0]!.publicKey = '')],
  ['duplicate-key', '/vpn/peers/1/publicKey', (p) => (p.vpn.peers[1]!.publicKey = p.vpn.peers[0]!.publicKey)],
  ['vpn-no-group', '/vpn/peers/0/group', (p) => (p.vpn.peers[0]!.group = '')],
  ['vpn-no-address', '/vpn/peers/0/address', (p) => (p.vpn.peers[0]!.address = '')],
  ['vpn-address-outside', '/vpn/peers/0/address', (p) => (p.vpn.peers[0]!.address = '10.24.61.2')],
  ['duplicate-address', '/vpn/peers/1/address', (p) => (p.vpn.peers[1]!.address = '10.24.60.2')],
  ['duplicate-address', '/vpn/peers/0/address', (p) => (p.vpn.peers[0]!.address = '10.24.60.1')],
  ['vpn-own-key-kept', '/vpn/peers/2/secret', (p) => (p.vpn.peers[2]!.secret = 'idris')],
  ['vpn-grant-gone', '/vpn/groups/0/grants', (p) => (p.vpn.groups[0]!.grants[0]!.device = 'gone')],
  [
    'vpn-everything',
    '/vpn/groups/1/grants',
    (p) =>
      (p.vpn.groups[1]!.grants = p.networks.map(({ id }) => ({ id, network: id, device: '', service: '' }))),
  ],
  [
    'vpn-grant-unstable',
    '/vpn/groups/0/grants/0',
    (p) => (p.devices.find(({ id }) => id === 'gate')!.addressing = 'automatic'),
  ],
  ['vpn-mtu', '/vpn/mtuBytes', (p) => (p.vpn.mtuBytes = 1500)],
];

everyRuleIsNamed(broken, farrow, findings, [
  'duplicate-address',
  'vpn-address-outside',
  'vpn-endpoint-changes',
  'vpn-endpoint-other',
  'vpn-mtu',
  'vpn-no-address',
  'vpn-no-resolver',
  'vpn-pool',
  'vpn-port-foreign',
  'vpn-resolver-outside',
]);

const library = (change: (plan: Plan) => unknown = () => {}): Plan => {
  const plan = demoPlan('weir-street');
  change(plan);
  return plan;
};
const apart: Broken[] = [
  ['site-overlap', '/vpn/sites/0/prefixes', (p) => (p.vpn.sites[0]!.prefixes = ['10.61.10.0/24'])],
  ['site-overlap', '/vpn/sites/0/prefixes', (p) => (p.vpn.sites[0]!.prefixes = ['10.61.60.0/25'])],
  ['site-key', '/vpn/sites/0/publicKey', (p) => (p.vpn.sites[0]!.publicKey = '')],
  ['site-key', '/vpn/sites/0/publicKey', (p) => (p.vpn.sites[0]!.publicKey = 'short')],
  ['site-no-routes', '/vpn/sites/0/prefixes', (p) => (p.vpn.sites[0]!.prefixes = [])],
  ['site-nothing-joined', '/vpn/sites/0/networks', (p) => (p.vpn.sites[0]!.networks = ['gone'])],
  [
    'site-translation-size',
    '/vpn/sites/0/translations/0/seen',
    (p) => (p.vpn.sites[0]!.translations[0]!.seen = '172.24.0.0/25'),
  ],
  [
    'site-translation-gone',
    '/vpn/sites/0/translations/1/real',
    (p) => (p.vpn.sites[0]!.translations.find(({ of }) => of === 'here')!.real = '10.99.0.0/24'),
  ],
  [
    'site-neither-calls',
    '/vpn/sites/0/endpoint',
    (p) => {
      p.vpn.sites[0]!.endpoint = '';
      Object.assign(p.uplinks[0]!.handoff, {
        mode: 'routes',
        insidePrefix: '192.168.99.0/24',
        insideAddress: '192.168.99.1',
        outsideAddress: '100.64.3.4',
      });
    },
  ],
  [
    'site-not-followed',
    '/vpn/sites/0/backupEndpoint',
    (p) => Object.assign(p.vpn.sites[0]!, { failsOver: true, backSeconds: null }),
  ],
];
everyRuleIsNamed(apart, library, findings, []);

test('a forward that takes the port of the tunnel', () => {
  const plan = farrow((p) =>
    Object.assign(p.forwards[0]!, { service: '', protocol: 'udp', insidePorts: '51820', outsidePorts: '' }),
  );
  expect(runChecks(compile(plan)).find(({ rule }) => rule === 'forward-own-service')).toMatchObject({
    severity: 'blocker',
    also: ['/vpn/port'],
  });
});

test('with certificates: who has none, and who is revoked while the certificate is not', () => {
  const certificate = {
    id: 'c',
    use: 'client' as const,
    serial: '01',
    from: '',
    until: '',
    revoked: '',
    secret: 'c',
    pem: '',
  };
  const rules = (...people: string[]): string[] =>
    findings(
      farrow((p) => {
        p.vpn.way = 'ikev2';
        p.vpn.certificates = people.map((person, index) => ({ ...certificate, id: `c${index}`, person }));
      }),
    )
      .filter(({ rule }) => rule.includes('certificate'))
      .map(({ rule, at }) => `${rule} ${at}`);
  expect(rules('Maren Holt')).toEqual(['vpn-no-certificate /vpn/peers/2']);
  // One of its own for the lost tablet goes on working until it is on the list; the person's own is not hers alone.
  expect(rules('Maren Holt', 'Idris Vane', 'Maren Holt, tablet, lost on the quay')).toEqual([
    'vpn-certificate-left /vpn/certificates/2',
  ]);
});

test('two joined libraries as they ship', () => {
  expect(findings(library())).toEqual([]);
  // Its cellular line cannot be called, and the plan says so; the tunnel between the two follows all the same.
  expect(findings(demoPlan('mill-lane')).map(({ rule }) => rule)).toEqual(['vpn-not-on-backup']);
});

test('the ferry office as it ships: its people get in, and the plan says what happens on cellular', () => {
  expect(findings(farrow()).map(({ rule }) => rule)).toEqual(['vpn-not-on-backup']);
});
