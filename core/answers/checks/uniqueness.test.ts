import { describe, expect, test } from '@jest/globals';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan } from '../../testing/plans.ts';
import { runChecks } from './index.ts';

const rules = /^(duplicate-|same-name)/;

/** What the checks say about things that are held twice, after a change to Farrow Sound. */
const said = (change: (plan: Plan) => void): [rule: string, ...at: string[]][] => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return runChecks(compile(plan))
    .filter(({ rule }) => rules.test(rule))
    .map(({ rule, at, also = [] }) => [rule, at, ...also]);
};

const deviceOf = (plan: Plan, index: number) => plan.devices[index]!;
const site = (plan: Plan, rest: Partial<Plan['vpn']['sites'][number]>): void => {
  const [far] = demoPlan('mill-lane').vpn.sites;
  plan.vpn.sites.push({ ...far!, id: 'far', name: 'Far shore', prefixes: ['10.77.0.0/24'], ...rest });
};

describe('what only one thing can have', () => {
  test('the demo site has nothing twice', () => expect(said(() => {})).toEqual([]));

  test.each<[what: string, change: (plan: Plan) => void, found: [string, ...string[]]]>([
    [
      'a client holds the IPv6 address of another',
      (p) => {
        p.vpn.pool6 = 'fd00:24::/64';
        p.vpn.peers[0]!.address6 = 'fd00:24::5';
        p.vpn.peers[1]!.address6 = 'fd00:24:0:0::5';
      },
      ['duplicate-address', '/vpn/peers/1/address6', '/vpn/peers/0/address6'],
    ],
    [
      'a connected site holds the tunnel address of a client',
      (p) => site(p, { address: p.vpn.peers[0]!.address }),
      ['duplicate-address', '/vpn/sites/0/address', '/vpn/peers/0/address'],
    ],
    [
      'a client has the key pair of the router',
      (p) => (p.vpn.peers[0]!.publicKey = p.vpn.publicKey),
      ['duplicate-key', '/vpn/peers/0/publicKey', '/vpn/publicKey'],
    ],
    [
      'a previous key lives on with somebody else',
      (p) => (p.vpn.peers[2]!.oldKey = p.vpn.peers[0]!.publicKey),
      ['duplicate-key', '/vpn/peers/2/oldKey', '/vpn/peers/0/publicKey'],
    ],
    [
      'a connected site has the key of a client',
      (p) => site(p, { publicKey: p.vpn.peers[0]!.publicKey }),
      ['duplicate-key', '/vpn/sites/0/publicKey', '/vpn/peers/0/publicKey'],
    ],
    [
      'a device has the MAC address of the router itself',
      (p) => {
        p.kit.find(({ role }) => role === 'router')!.mac = '00-00-5E-00-53-7F';
        deviceOf(p, 0).mac = '0000.5e00.537f';
      },
      ['duplicate-mac', '/devices/0/mac', '/kit/0/mac'],
    ],
    [
      'an access point answers at the address of the router',
      (p) => (p.kit[3]!.adminAddress = '10.24.20.1'),
      ['duplicate-address', '/kit/3/adminAddress', '/networks/1/routerAddress'],
    ],
    [
      'an access point answers at the address of another device',
      (p) => Object.assign(p.kit[3]!, { adminAddress: deviceOf(p, 0).address, mac: '00:00:5e:00:53:6a' }),
      ['duplicate-address', '/devices/0/address', '/kit/3/adminAddress'],
    ],
    [
      'one label was read for two pieces of equipment',
      (p) => {
        p.kit[1]!.serial = 'Ab-1234';
        p.kit[2]!.serial = 'AB-1234';
      },
      ['duplicate-serial', '/kit/2/serial', '/kit/1/serial'],
    ],
    [
      'two lines name one SIM card',
      (p) => {
        for (const line of p.uplinks.slice(0, 2)) {
          line.type = 'cellular';
          line.settings.cellular.cardNumber = '8944 1000 0000 0000 0005';
        }
      },
      ['duplicate-sim', '/uplinks/1/settings/cellular/cardNumber', '/uplinks/0/settings/cellular/cardNumber'],
    ],
    [
      'a client and a network have one name',
      (p) => Object.assign(p.vpn.peers[0]!, { person: '', name: p.networks[0]!.name.toUpperCase() }),
      ['same-name', '/vpn/peers/0/name', '/networks/0/name'],
    ],
  ])('%s', (_what, change, found) => expect(said(change)).toContainEqual(found));

  test('three that claim one address are one finding, and the last entered gives way', () => {
    const found = said((p) => {
      deviceOf(p, 1).address = deviceOf(p, 0).address;
      deviceOf(p, 2).address = deviceOf(p, 0).address;
    }).filter(([rule]) => rule === 'duplicate-address');
    expect(found).toEqual([
      ['duplicate-address', '/devices/2/address', '/devices/0/address', '/devices/1/address'],
    ]);
  });

  test('what is said twice of one thing agrees: a switch in both lists, a client that is revoked', () => {
    expect(
      said((p) => {
        Object.assign(p.kit[1]!, { mac: deviceOf(p, 0).mac, adminAddress: deviceOf(p, 0).address });
        p.vpn.peers[0]!.address = p.vpn.peers[1]!.address;
        p.vpn.peers[0]!.revoked = '2026-01-01';
      }),
    ).toEqual([]);
  });
});
