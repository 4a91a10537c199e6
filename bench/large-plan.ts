import { keyPair, planSchema, planVersion, type Plan } from '../core/index.ts';

/** A public key of its own for each number. */
export const keyOf = (index: number): string =>
  keyPair(Uint8Array.from({ length: 32 }, (_, place) => (index >> (8 * (place % 3))) & 255)).publicKey;

/** 50 inside networks, 300 forwards, 500 devices, 500 people with a tunnel. */
export function largePlan(): Plan {
  const networks = Array.from({ length: 50 }, (_, index) => ({
    id: `n${index}`,
    name: `Network ${index}`,
    vlan: index + 10,
    prefix: `10.${index}.0.0/22`,
    routerAddress: `10.${index}.0.1`,
    dhcp: { from: `10.${index}.1.0`, to: `10.${index}.3.250` },
    resolvers: [`10.${index}.0.1`],
  }));
  const devices = Array.from({ length: 500 }, (_, index) => ({
    id: `d${index}`,
    name: `Device ${index}`,
    mac: `00:00:5e:${(index >> 8).toString(16).padStart(2, '0')}:53:${(index & 255).toString(16).padStart(2, '0')}`,
    network: `n${index % 50}`,
    addressing: 'reserved' as const,
    address: `10.${index % 50}.0.${20 + Math.floor(index / 50)}`,
    services: [{ id: 's', name: 'Page', protocol: 'tcp' as const, ports: '8443' }],
  }));
  const forwards = Array.from({ length: 300 }, (_, index) => ({
    id: `f${index}`,
    purpose: `Forward ${index}`,
    uplink: 'u',
    device: `d${index}`,
    service: 's',
    outsidePorts: String(10_000 + index),
    sources: ['198.51.100.0/24'],
  }));
  return planSchema.parse({
    format: 'netter-plan',
    version: planVersion,
    demo: true,
    site: { name: 'Large' },
    kit: [{ id: 'r', role: 'router' }],
    uplinks: [
      {
        id: 'u',
        name: 'Fibre',
        type: 'static',
        settings: {
          static: {
            address: '203.0.113.9',
            prefixLength: '30',
            gateway: '203.0.113.10',
            resolvers: ['198.51.100.53'],
          },
        },
      },
    ],
    networks,
    devices,
    forwards,
    vpn: {
      way: 'wireguard' as const,
      pool: '172.24.0.0/20',
      endpoints: [{ id: 'e', uplink: 'u', host: '203.0.113.9' }],
      publicKey: keyOf(9999),
      groups: Array.from({ length: 10 }, (_, index) => ({
        id: `g${index}`,
        name: `Group ${index}`,
        grants: [{ id: 'd', device: `d${index}`, service: 's' }],
      })),
      peers: Array.from({ length: 500 }, (_, index) => ({
        id: `p${index}`,
        person: `Person ${index}`,
        group: `g${index % 10}`,
        address: `172.24.${1 + (index >> 8)}.${index & 255}`,
        publicKey: keyOf(index),
      })),
    },
    reach: networks.slice(1).map((network, index) => ({ id: `r${index}`, from: 'n0', to: network.id })),
  });
}

/** Twenty switches of 25 ports in a row, sixty VLANs on every run between them, a device at each second port. */
export function wiredPlan(): Plan {
  const plan = largePlan();
  const vlans = Array.from({ length: 60 }, (_, index) => index + 10);
  const switches = Array.from({ length: 20 }, (_, index) => `s${index}`);
  return planSchema.parse({
    ...plan,
    kit: [
      ...plan.kit,
      ...switches.map((id) => ({
        id,
        role: 'switch',
        model: `Switch ${id}`,
        vlanSupport: 'aware',
        ports: Array.from({ length: 25 }, (_, place) => ({
          id: `p${place}`,
          name: String(place + 1),
          rateMbps: 1000,
          untagged: place < 2 ? 1 : vlans[place % 60],
          tagged: place < 2 ? ['10-69'] : [],
        })),
      })),
    ],
    router: {
      ...plan.router,
      ports: [{ id: 'lan', name: 'LAN', role: 'lan', network: '', rateMbps: 1000 }],
    },
    wiring: {
      runs: switches.flatMap((id, index) => [
        {
          id: `up${index}`,
          fromBox: index === 0 ? 'r' : switches[index - 1],
          fromPort: index === 0 ? 'LAN' : '2',
          toBox: id,
          toPort: '1',
          category: 'cat6',
          metres: 30,
        },
        ...Array.from({ length: 12 }, (_, place) => ({
          id: `d${index}-${place}`,
          fromBox: id,
          fromPort: String(3 + place),
          toDevice: `d${(index * 12 + place) % 500}`,
          category: 'cat5e',
          metres: 20,
        })),
      ]),
    },
  });
}
