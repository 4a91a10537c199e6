import {
  portSchema,
  runSchema,
  secondSchema,
  switchPortSchema,
  wifiNetworkSchema,
  radioSchema,
  type Plan,
  type SecondPlan,
} from '../plan/schema.ts';

/** A second router beside the first, as it should be, and what is changed about it. */
const withSecond =
  (change: Partial<Record<keyof SecondPlan, unknown>>, more: (plan: Plan) => void = () => {}) =>
  (plan: Plan): void => {
    plan.kit.push({
      ...structuredClone(plan.kit[0]!),
      id: 'second',
      role: 'access-point',
      model: 'Upstairs',
    });
    plan.second.push(
      secondSchema.parse({
        id: 'second',
        box: 'second',
        network: 'office',
        way: 'access-point',
        address: '10.24.10.2',
        dhcp: false,
        port: 'lan',
        cable: 'yes',
        ...change,
      }),
    );
    more(plan);
  };

const guestsOnIt = (plan: Plan): void => {
  plan.wifi.networks.push(
    wifiNetworkSchema.parse({
      id: 'guests',
      ssid: 'Visitors',
      network: 'guests',
      security: 'wpa3',
      isolation: true,
    }),
  );
  plan.wifi.radios.push(radioSchema.parse({ id: 'r', box: 'second', band: '2.4', channel: 6 }));
};

const chained = { way: 'chained', inside: '192.168.60.1/24', dhcp: true, port: 'wan' };
const bridge = { way: 'bridge', cable: 'no', signal: -60, port: 'unknown' };

/** The same for second routers, boxes and their supplies: one change to a sound site. */
export const brokenInside: readonly [rule: string, at: string, change: (plan: Plan) => void][] = [
  ['second-box', '/second/0/box', withSecond({ box: 'router' })],
  ['second-route', '/second/0/translates', withSecond({ ...chained, translates: false })],
  ['second-way', '/second/0/way', withSecond({ way: 'undecided' })],
  ['second-dhcp', '/second/0/dhcp', withSecond({ dhcp: true })],
  ['second-dhcp', '/second/0/dhcp', withSecond({ ...bridge, dhcp: true })],
  ['second-dhcp', '/second/0/port', withSecond({ ...chained, port: 'lan' })],
  ['second-routes', '/second/0/port', withSecond({ port: 'wan' })],
  ['second-cable', '/second/0/cable', withSecond({ cable: 'no' })],
  ['second-address', '/second/0/address', withSecond({ address: '' })],
  ['second-address', '/second/0/address', withSecond({ address: '192.168.1.2' })],
  ['second-address', '/second/0/address', withSecond({ address: '10.24.10.1' })],
  ['second-pool', '/second/0/address', withSecond({ address: '10.24.10.150' })],
  ['second-factory', '/second/0/factoryAddress', withSecond({ factoryAddress: '10.24.10.1/24' })],
  ['second-inside', '/second/0/inside', withSecond({ ...chained, inside: '' })],
  ['overlap', '/second/0/inside', withSecond({ ...chained, inside: '10.24.30.1/24' })],
  ['second-open', '/second/0/way', withSecond(chained, guestsOnIt)],
  ['second-open', '/second/0/way', withSecond(bridge, guestsOnIt)],
  ['second-open', '/kit/1/vlanSupport', withSecond({}, guestsOnIt)],
  [
    'second-forward',
    '/second/0/forwards',
    withSecond({ ...chained, address: '10.24.10.20' }, ({ devices }) => {
      devices[0]!.address = '10.24.10.20';
    }),
  ],
  ['second-signal', '/second/0/signal', withSecond({ ...bridge, signal: null })],
  ['second-signal', '/second/0/signal', withSecond({ ...bridge, signal: -85 })],
  [
    'second-channel',
    '/wifi/radios/1/channel',
    withSecond(bridge, ({ wifi }) => {
      wifi.radios.push(radioSchema.parse({ id: 'a', box: 'router', band: '5', channel: 36 }));
      wifi.radios.push(radioSchema.parse({ id: 'b', box: 'second', band: '5', channel: 44 }));
    }),
  ],
  [
    'second-loop',
    '/wiring/runs/0/label',
    withSecond(bridge, ({ kit, wiring, router }) => {
      router.ports.push(portSchema.parse({ id: 'l', name: 'LAN', network: 'office' }));
      wiring.runs.push(
        runSchema.parse({
          id: 'x',
          label: 'X',
          fromBox: kit[0]!.id,
          fromPort: 'LAN',
          toBox: 'second',
          toPort: 'LAN',
        }),
      );
    }),
  ],
  [
    'wifi-country',
    '/wifi/radios/0/channel',
    (plan) => {
      plan.site.country = 'DE';
      plan.wifi.radios.push(
        radioSchema.parse({ id: 'a', box: 'router', band: '5', channel: 149, width: '80' }),
      );
    },
  ],
  [
    'wifi-dense',
    '/wifi/radios/0/width',
    (plan) => {
      plan.site.country = 'DE';
      for (const id of 'abcdef')
        plan.wifi.radios.push(radioSchema.parse({ id, box: 'router', band: '5', channel: 36, width: '80' }));
    },
  ],
  [
    'wifi-power',
    '/wifi/radios/0/power',
    (plan) => {
      plan.site.country = 'DE';
      plan.wifi.radios.push(
        radioSchema.parse({ id: 'a', box: 'router', band: '2.4', channel: 6, power: 27 }),
      );
    },
  ],
  [
    'wifi-two-names',
    '/wifi/networks/1/ssid',
    ({ wifi }) => {
      for (const [id, ssid] of [
        ['a', 'Works'],
        ['b', 'Works 5'],
      ])
        wifi.networks.push(wifiNetworkSchema.parse({ id, ssid, network: 'office', security: 'wpa3' }));
    },
  ],
  [
    'wifi-vlan',
    '/kit/1/ports/0',
    withSecond({}, (plan) => {
      guestsOnIt(plan);
      plan.kit[1]!.vlanSupport = 'aware';
      plan.kit[1]!.ports.push(switchPortSchema.parse({ id: 'l', name: 'LAN', untagged: 10 }));
      plan.router.ports.push(portSchema.parse({ id: 'l', name: 'LAN', network: 'office' }));
      plan.wiring.runs.push(
        runSchema.parse({
          id: 'x',
          label: 'X',
          fromBox: 'router',
          fromPort: 'LAN',
          toBox: 'second',
          toPort: 'LAN',
        }),
      );
    }),
  ],
  [
    'supply-volts',
    '/kit/0/powerVolts',
    ({ kit }) => void Object.assign(kit[0]!, { needVolts: 12, powerVolts: 24 }),
  ],
  [
    'supply-amps',
    '/kit/0/powerAmps',
    ({ kit }) => void Object.assign(kit[0]!, { needAmps: 2, powerAmps: 1 }),
  ],
  [
    'supply-plug',
    '/kit/0/powerPlug',
    ({ kit }) => void Object.assign(kit[0]!, { needPlug: '5.5/2.1', powerPlug: '5.5/2.5' }),
  ],
  [
    'cupboard-warm',
    '/kit/0/warmestCelsius',
    (plan) => {
      plan.site.cupboardCelsius = 38;
      plan.kit[0]!.warmestCelsius = 35;
    },
  ],
  ['router-limit', '/router/limits/vlans', ({ router }) => void (router.limits.vlans = 1)],
  ['router-limit', '/router/limits/connections', ({ router }) => void (router.limits.connections = 1000)],
  [
    'router-limit',
    '/router/limits/natMbps',
    (plan) => {
      Object.assign(plan.uplinks[0]!, { rateDownMbps: 1000, rateUpMbps: 500 });
      plan.router.limits.natMbps = 600;
    },
  ],
];
