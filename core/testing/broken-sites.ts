import { kitSchema, portSchema, radioSchema, reachSchema, vpnPeerSchema, type Plan } from '../plan/schema.ts';

/** What is broken, the rule that must name it, and where. Each is one change to a sound site. */
export const brokenSites: readonly [rule: string, at: string, change: (plan: Plan) => unknown][] = [
  [
    'contact-unreachable',
    '/contacts/0/phone',
    (p) => Object.assign(p.contacts[0]!, { phone: '', email: '' }),
  ],
  ['nobody-to-call', '/contacts', (p) => p.contacts.pop()],
  ['telephone', '/contacts/0/phone', (p) => Object.assign(p.contacts[0]!, { phone: 'at the desk' })],
  ['mail', '/contacts/0/email', (p) => Object.assign(p.contacts[0]!, { email: 'maren.holt' })],
  ['clock', '/visit/begins', (p) => Object.assign(p.visit, { begins: '24:00' })],
  ['visit-reversed', '/visit/ends', (p) => Object.assign(p.visit, { begins: '13:00', ends: '09:30' })],
  ['no-address-of-site', '/site/street', (p) => Object.assign(p.site, { street: '', town: ' ' })],
  [
    'country-missing',
    '/site/country',
    (p) => p.wifi.radios.push(radioSchema.parse({ id: 'r', box: 'router', channel: 6 })),
  ],
  ['time-zone-missing', '/site/timeZone', (p) => Object.assign(p.failover, { back: 'quiet-hour' })],
  [
    'vpn-off',
    '/vpn/way',
    (p) => p.vpn.peers.push(vpnPeerSchema.parse({ id: 'one', person: 'Maren Holt', name: 'laptop' })),
  ],
  [
    'service-port-twice',
    '/router/services/1/ports',
    (p) => p.router.services.push({ ...p.router.services[0]!, id: 'again', name: 'Shell' }),
  ],
  [
    'service-port-twice',
    '/devices/0/services/1/ports',
    (p) => p.devices[0]!.services.push({ ...p.devices[0]!.services[0]!, id: 'again', name: 'Other page' }),
  ],
  [
    'page-elsewhere',
    '/kit/1/adminAddress',
    (p) => p.kit.push(kitSchema.parse({ id: 'sw', role: 'switch', adminAddress: '172.31.7.2' })),
  ],
  [
    'route-twice',
    '/routes/1/prefix',
    (p) =>
      p.routes.push(
        { id: 'a', prefix: '172.16.9.0/24', via: '10.24.10.20', notes: '' },
        { id: 'b', prefix: '172.16.9.0/24', via: '10.24.10.21', notes: '' },
      ),
  ],
  [
    'route-hop-unknown',
    '/routes/0/via',
    (p) => p.routes.push({ id: 'a', prefix: '172.16.9.0/24', via: '10.24.10.77', notes: '' }),
  ],
  [
    'resolver-loop',
    '/uplinks/0/settings/static/resolvers',
    (p) => (p.uplinks[0]!.settings.static.resolvers = ['198.51.100.53', p.networks[0]!.routerAddress]),
  ],
  [
    'resolver-loop',
    '/failover/ownResolvers',
    (p) =>
      Object.assign(p.failover, {
        resolvers: 'own',
        ownResolvers: ['192.0.2.53', p.networks[0]!.routerAddress],
      }),
  ],
  [
    'wifi-no-block',
    '/wifi/radios/0/width',
    // Of 160 MHz there are 50, 114 and 163 in 5 GHz (IEEE 802.11 annex E, from memory).
    (p) =>
      p.wifi.radios.push(
        radioSchema.parse({ id: 'r', box: 'router', band: '5', channel: 140, width: '160' }),
      ),
  ],
  [
    'overlap',
    '/networks/1/prefix',
    (p) => {
      p.networks[1]!.prefix = '10.24.10.128/25';
    },
  ],
  [
    'overlap',
    '/networks/0/prefix',
    (p) => {
      Object.assign(p.uplinks[0]!.handoff, { mode: 'routes', insidePrefix: '10.24.0.0/16' });
      p.networks.pop();
    },
  ],
  [
    'overlap',
    '/networks/0/prefix',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      p.uplinks[0]!.settings.dhcp.expectedAddress = '10.24.10.77';
    },
  ],
  [
    'overlap',
    '/networks/1/prefix',
    (p) => {
      p.routes.push({ id: 'r', prefix: '10.24.30.0/24', via: '10.24.10.20', notes: '' });
    },
  ],
  [
    'row-contradicts',
    '/reach/0/protocol',
    (p) => {
      const device = p.devices.find(({ services }) => services.length > 0)!;
      const from = p.networks.find(({ id }) => id !== device.network)!;
      const [service] = device.services;
      p.reach.unshift(
        reachSchema.parse({
          id: 'said-twice',
          from: from.id,
          to: device.network,
          device: device.id,
          service: service!.id,
          protocol: service!.protocol === 'udp' ? 'tcp' : 'udp',
        }),
      );
    },
  ],
  [
    'row-contradicts',
    '/forwards/0/protocol',
    (p) => {
      p.forwards[0]!.insidePorts = '1-2';
    },
  ],
  [
    'pool-outside',
    '/networks/0/dhcp/from',
    (p) => {
      p.networks[0]!.dhcp.to = '10.24.11.20';
    },
  ],
  [
    'pool-reversed',
    '/networks/0/dhcp/from',
    (p) => {
      p.networks[0]!.dhcp.from = '10.24.10.200';
    },
  ],
  [
    'pool-router',
    '/networks/0/dhcp/from',
    (p) => {
      p.networks[0]!.routerAddress = '10.24.10.150';
      p.networks[0]!.resolvers = ['10.24.10.150'];
    },
  ],
  [
    'pool-held',
    '/networks/0/dhcp/from',
    (p) => {
      p.devices[0]!.address = '10.24.10.120';
    },
  ],
  [
    'pool-edge',
    '/networks/0/dhcp/from',
    (p) => {
      p.networks[0]!.dhcp.to = '10.24.10.255';
    },
  ],
  [
    'pool-small',
    '/networks/0/dhcp/from',
    (p) => {
      p.networks[0]!.expectedDevices = 150;
    },
  ],
  [
    'not-private',
    '/networks/1/prefix',
    (p) => {
      p.networks[1]!.prefix = '198.51.100.0/24';
    },
  ],
  [
    'router-address',
    '/networks/1/routerAddress',
    (p) => {
      p.networks[1]!.routerAddress = '10.24.31.1';
    },
  ],
  [
    'router-address',
    '/networks/1/routerAddress',
    (p) => {
      p.networks[1]!.routerAddress = '10.24.30.255';
    },
  ],
  [
    'duplicate-address',
    '/devices/1/address',
    (p) => {
      p.devices.push({ ...p.devices[0]!, id: 'copy', name: 'Copy', mac: '00:00:5e:00:53:02' });
    },
  ],
  [
    'duplicate-mac',
    '/devices/1/mac',
    (p) => {
      p.devices.push({ ...p.devices[0]!, id: 'copy', name: 'Copy', address: '10.24.10.21' });
    },
  ],
  [
    'private-mac',
    '/devices/0/mac',
    (p) => {
      p.devices[0]!.mac = '02:00:5e:00:53:01';
    },
  ],
  [
    'device-address',
    '/devices/0/address',
    (p) => {
      p.devices[0]!.address = '10.24.30.5';
    },
  ],
  [
    'duplicate-address',
    '/devices/0/address',
    (p) => {
      p.devices[0]!.address = '10.24.10.1';
    },
  ],
  [
    'device-network',
    '/devices/0/network',
    (p) => {
      p.devices[0]!.network = '';
    },
  ],
  [
    'forward-unstable',
    '/forwards/0/device',
    (p) => {
      p.devices[0]!.addressing = 'automatic';
    },
  ],
  [
    'forward-device',
    '/forwards/0/device',
    (p) => {
      p.forwards[0]!.device = 'gone';
    },
  ],
  [
    'forward-uplink',
    '/forwards/0/uplink',
    (p) => {
      p.forwards[0]!.uplink = '';
    },
  ],
  [
    'forward-service',
    '/forwards/0/service',
    (p) => {
      p.devices[0]!.services = [];
    },
  ],
  [
    'forward-count',
    '/forwards/0/outsidePorts',
    (p) => {
      p.forwards[0]!.outsidePorts = '8443-8444';
    },
  ],
  [
    'forward-collision',
    '/forwards/1/outsidePorts',
    (p) => {
      p.forwards.push({ ...p.forwards[0]!, id: 'f2', purpose: 'Again' });
    },
  ],
  [
    'forward-own-service',
    '/forwards/0/outsidePorts',
    (p) => {
      p.forwards[0]!.outsidePorts = '443';
    },
  ],
  [
    'forward-impossible',
    '/forwards/0/uplink',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      p.uplinks[0]!.settings.dhcp.expectedAddress = '100.64.1.1';
    },
  ],
  [
    'forward-second',
    '/forwards/0/outsidePorts',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      Object.assign(p.uplinks[0]!.handoff, {
        mode: 'routes',
        insidePrefix: '192.168.8.0/24',
        outsideAddress: '203.0.113.77',
      });
    },
  ],
  [
    'exposed-never',
    '/forwards/0/device',
    (p) => {
      p.devices[0]!.services[0]!.ports = '3389';
    },
  ],
  [
    'exposed-clear',
    '/forwards/0/device',
    (p) => {
      p.devices[0]!.services[0]!.ports = '80';
    },
  ],
  [
    'router-outside',
    '/router/services/0/outside',
    (p) => {
      p.router.services[0]!.outside = true;
    },
  ],
  [
    'line-gateway',
    '/uplinks/0/settings/static/gateway',
    (p) => {
      p.uplinks[0]!.settings.static.gateway = '203.0.113.13';
    },
  ],
  [
    'line-gateway',
    '/uplinks/0/settings/static/gateway',
    (p) => {
      p.uplinks[0]!.settings.static.gateway = '203.0.113.11';
    },
  ],
  [
    'line-address-role',
    '/uplinks/0/settings/static/address',
    (p) => {
      p.uplinks[0]!.settings.static.address = '203.0.113.8';
    },
  ],
  [
    'mask-not-contiguous',
    '/uplinks/0/settings/static/prefixLength',
    (p) => {
      p.uplinks[0]!.settings.static.prefixLength = '255.0.255.252';
    },
  ],
  [
    'second-nat',
    '/uplinks/0/settings/dhcp/expectedAddress',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      p.uplinks[0]!.settings.dhcp.expectedAddress = '192.168.1.7';
    },
  ],
  [
    'no-source-nat',
    '/uplinks/0/sourceNat',
    (p) => {
      p.uplinks[0]!.sourceNat = false;
    },
  ],
  [
    'mtu-large',
    '/uplinks/0/mtuBytes',
    (p) => {
      p.uplinks[0]!.mtuBytes = 1508;
    },
  ],
  [
    'mtu-small',
    '/uplinks/0/mtuBytes',
    (p) => {
      p.uplinks[0]!.mtuBytes = 576;
    },
  ],
  [
    'out-of-bounds',
    '/networks/1/vlan',
    (p) => {
      p.networks[1]!.vlan = 4095;
    },
  ],
  [
    'duplicate-vlan',
    '/networks/1/vlan',
    (p) => {
      p.networks[1]!.vlan = 10;
    },
  ],
  [
    'no-resolver',
    '/networks/1/resolvers',
    (p) => {
      p.networks[1]!.resolvers = [];
    },
  ],
  [
    'no-upstream-resolver',
    '/uplinks/0/settings/static',
    (p) => {
      p.uplinks[0]!.settings.static.resolvers = [];
    },
  ],
  [
    'route-next-hop',
    '/routes/0/via',
    (p) => {
      p.routes.push({ id: 'r', prefix: '10.99.0.0/16', via: '10.98.0.1', notes: '' });
    },
  ],
  [
    'route-loop',
    '/routes/0/via',
    (p) => {
      p.routes.push({ id: 'r', prefix: '10.99.0.0/16', via: '10.24.10.1', notes: '' });
    },
  ],
  [
    'reach-unexpected',
    '/reach/0',
    (p) => {
      p.reach.push(reachSchema.parse({ id: 'r', from: 'guests', to: 'office', device: '', service: '' }));
    },
  ],
  [
    'reach-dangling',
    '/reach/0',
    (p) => {
      p.reach.push(reachSchema.parse({ id: 'r', from: 'guests', to: 'gone', device: '', service: '' }));
    },
  ],
  [
    'same-name',
    '/devices/0/name',
    (p) => {
      p.devices[0]!.name = 'office';
    },
  ],
  [
    'cupboard-warm',
    '/site/cupboardCelsius',
    (p) => {
      p.site.cupboardCelsius = 46;
    },
  ],
  [
    'factory-clash',
    '/router/factoryAddress',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      Object.assign(p.uplinks[0]!.handoff, {
        mode: 'routes',
        insidePrefix: '192.168.1.0/24',
        outsideAddress: '203.0.113.77',
        forwards: [{ id: 'b', protocol: 'tcp', ports: '8443' }],
      });
    },
  ],
  [
    'documentation-address',
    '/uplinks/0/settings/static/address',
    (p) => {
      p.demo = false;
    },
  ],
  [
    'missing',
    '/networks/0/prefix',
    (p) => {
      p.networks[0]!.prefix = '';
    },
  ],
  [
    'mac-length',
    '/devices/0/mac',
    (p) => {
      p.devices[0]!.mac = '00:00:5e';
    },
  ],
  [
    'no-uplink',
    '/uplinks',
    (p) => {
      p.uplinks = [];
    },
  ],
  [
    'serial-form',
    '/kit/0/serial',
    (p) => {
      p.kit[0]!.serial = 'no serial here';
    },
  ],
  [
    'handoff-address',
    '/uplinks/0/handoff/insideAddress',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      Object.assign(p.uplinks[0]!.handoff, {
        mode: 'routes',
        insidePrefix: '192.168.8.0/24',
        insideAddress: '192.168.9.1',
        outsideAddress: '203.0.113.77',
      });
    },
  ],
  [
    'duplicate-address',
    '/uplinks/0/settings/dhcp/expectedAddress',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      p.uplinks[0]!.settings.dhcp.expectedAddress = '192.168.8.1';
      Object.assign(p.uplinks[0]!.handoff, {
        mode: 'routes',
        insidePrefix: '192.168.8.0/24',
        insideAddress: '192.168.8.1',
        outsideAddress: '203.0.113.77',
      });
    },
  ],
  [
    'line-single',
    '/uplinks/0/settings/static/prefixLength',
    (p) => {
      p.uplinks[0]!.settings.static.prefixLength = '32';
    },
  ],
  [
    'line-address-class',
    '/uplinks/0/settings/dhcp/expectedAddress',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      p.uplinks[0]!.settings.dhcp.expectedAddress = '169.254.3.4';
    },
  ],
  [
    'carrier-nat',
    '/uplinks/0/settings/dhcp/expectedAddress',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      p.uplinks[0]!.settings.dhcp.expectedAddress = '100.64.3.2';
    },
  ],
  [
    'reach-unexpected',
    '/reach/0',
    (p) => {
      p.networks[1]!.purpose = 'payment';
      p.reach.push(reachSchema.parse({ id: 'r', from: 'office', to: 'guests', device: '', service: '' }));
    },
  ],
  [
    'duplicate-mac',
    '/kit/1/mac',
    (p) => {
      p.kit[0]!.mac = '00:00:5e:00:53:70';
      p.kit.push({ ...p.kit[0]!, id: 'copy', role: 'switch' });
    },
  ],
  [
    'kept-name',
    '/networks/1/name',
    (p) => {
      p.networks[1]!.name = 'Internet';
    },
  ],
  [
    'unnamed',
    '/devices/0/name',
    (p) => {
      p.devices[0]!.name = '';
    },
  ],
  [
    'no-name',
    '/site/name',
    (p) => {
      p.site.name = ' ';
    },
  ],
  [
    'no-network',
    '/networks',
    (p) => {
      p.networks = [];
    },
  ],
  [
    'no-router',
    '/kit',
    (p) => {
      p.kit = [];
    },
  ],
  [
    'out-of-bounds',
    '/uplinks/0/vlan',
    (p) => {
      p.uplinks[0]!.vlan = 4095;
    },
  ],
  [
    'not-activated',
    '/uplinks/0/activation',
    (p) => {
      p.uplinks[0]!.activation = 'not-yet';
    },
  ],
  [
    'uplink-unknown',
    '/uplinks/0/type',
    (p) => {
      p.uplinks[0]!.type = 'unknown';
    },
  ],
  [
    'missing',
    '/uplinks/0/settings/pppoe/userName',
    (p) => {
      p.uplinks[0]!.type = 'pppoe';
    },
  ],
  [
    'user-without-realm',
    '/uplinks/0/settings/pppoe/userName',
    (p) => {
      p.uplinks[0]!.type = 'pppoe';
      p.uplinks[0]!.settings.pppoe.userName = 'plain';
    },
  ],
  [
    'secret-missing',
    '/uplinks/0/settings/pppoe/secret',
    (p) => {
      p.uplinks[0]!.type = 'pppoe';
    },
  ],
  [
    'no-reconnect',
    '/uplinks/0/settings/pppoe/reconnect',
    (p) => {
      p.uplinks[0]!.type = 'pppoe';
      p.uplinks[0]!.settings.pppoe.reconnect = false;
    },
  ],
  [
    'mtu-large',
    '/uplinks/0/mtuBytes',
    (p) => {
      p.uplinks[0]!.type = 'pppoe';
      p.uplinks[0]!.mtuBytes = 1500;
    },
  ],
  [
    'mtu-large',
    '/uplinks/0/mtuBytes',
    (p) => {
      p.uplinks[0]!.type = 'ds-lite';
      p.uplinks[0]!.mtuBytes = 1500;
    },
  ],
  [
    'route-refused',
    '/uplinks/0/settings/dhcp/useRoute',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      p.uplinks[0]!.settings.dhcp.useRoute = false;
    },
  ],
  [
    'line-tied',
    '/uplinks/0/settings/dhcp/tiedMac',
    (p) => {
      p.uplinks[0]!.type = 'dhcp';
      p.uplinks[0]!.settings.dhcp.tiedMac = '00:00:5e:00:53:77';
    },
  ],
  [
    'routed-block',
    '/uplinks/0/settings/static/routedBlock',
    (p) => {
      p.uplinks[0]!.settings.static.routedBlock = '203.0.113.0/28';
    },
  ],
  [
    'apn-user',
    '/uplinks/0/settings/cellular/userName',
    (p) => {
      p.uplinks[0]!.type = 'cellular';
      p.uplinks[0]!.settings.cellular.authentication = 'pap';
    },
  ],
  [
    'pin-tries',
    '/uplinks/0/settings/cellular/pinTriesLeft',
    (p) => {
      p.uplinks[0]!.type = 'cellular';
      p.uplinks[0]!.settings.cellular.pinTriesLeft = 1;
    },
  ],
  [
    'roaming',
    '/uplinks/0/settings/cellular/roaming',
    (p) => {
      p.uplinks[0]!.type = 'cellular';
      p.uplinks[0]!.settings.cellular.roaming = true;
    },
  ],
  [
    'dated-type',
    '/uplinks/0/settings/l2tp/server',
    (p) => {
      p.uplinks[0]!.type = 'l2tp';
    },
  ],
  [
    'dated-type',
    '/uplinks/0/settings/pptp/server',
    (p) => {
      p.uplinks[0]!.type = 'pptp';
    },
  ],
  [
    'ds-lite-inbound',
    '/uplinks/0/settings/ds-lite/gatewayName',
    (p) => {
      p.uplinks[0]!.type = 'ds-lite';
    },
  ],
  [
    'forward-impossible',
    '/forwards/0/uplink',
    (p) => {
      p.uplinks[0]!.type = 'cellular';
    },
  ],
  [
    'dsl-margin',
    '/uplinks/0/media/dsl/marginDb',
    (p) => {
      p.uplinks[0]!.medium = 'dsl';
      p.uplinks[0]!.media.dsl.marginDb = 3.5;
    },
  ],
  [
    'cable-snr',
    '/uplinks/0/media/cable/snrDb',
    (p) => {
      p.uplinks[0]!.medium = 'cable';
      p.uplinks[0]!.media.cable.snrDb = 28;
    },
  ],
  [
    'satellite-delay',
    '/uplinks/0/media/satellite/roundTripMs',
    (p) => {
      p.uplinks[0]!.medium = 'satellite';
      p.uplinks[0]!.media.satellite.roundTripMs = 900;
    },
  ],
  [
    'router-not-described',
    '/uplinks/0/handoff/mode',
    (p) => {
      p.uplinks[0]!.medium = 'router';
    },
  ],
  [
    'port-role',
    '/router/ports/0/role',
    (p) => {
      p.router.ports = [portSchema.parse({ id: 'a', name: '1', role: 'lan', uplink: 'fibre', network: '' })];
    },
  ],
  [
    'port-built',
    '/router/ports/0/role',
    (p) => {
      p.router.ports = [
        portSchema.parse({ id: 'a', name: '1', built: 'lan', role: 'wan', uplink: 'fibre' }),
        portSchema.parse({ id: 'b', name: '2', built: 'either', network: '' }),
      ];
    },
  ],
  [
    'line-without-port',
    '/uplinks/0',
    (p) => {
      p.router.ports = [portSchema.parse({ id: 'a', name: '1', role: 'lan', uplink: '', network: 'office' })];
    },
  ],
  [
    'no-lan-port',
    '/router/ports',
    (p) => {
      p.router.ports = [portSchema.parse({ id: 'a', name: '1', role: 'wan', uplink: 'fibre', network: '' })];
    },
  ],
];
