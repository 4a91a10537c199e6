import { z } from 'zod';
import { failoverSettings, lineFailures, standbys, watchSettings } from '../failover/settings.ts';
import { mediaSettings, mediumNames } from '../media/settings.ts';
import { uplinkSettings, uplinkTypeNames } from '../uplinks/settings.ts';
import { vpnSettings } from '../vpn/settings.ts';
import { id, number, whole } from './parts.ts';
import { lineText, manyLines } from '../text.ts';

/*
 * The document. Addresses, blocks and ports are kept as typed, so that a half-typed value is saved like any other;
 * `compile` reads them and reports what it cannot read. Structure, sizes and choices are checked here.
 */

const reference = z.union([id, z.literal('')]).default('');
const line = lineText(200).default('');
const short = lineText(64).default('');
const long = manyLines(10_000).default('');
const texts = (most: number) => z.array(lineText(64)).max(most).default([]);
const list = <T extends z.ZodType>(item: T, most: number) => z.array(item).max(most).default([]);

const protocol = z.enum(['tcp', 'udp', 'both']).default('tcp');

export const kitRoles = ['router', 'modem', 'ont', 'switch', 'access-point', 'power', 'other'] as const;
export const purposes = ['staff', 'guests', 'payment', 'plant', 'voice', 'management', 'other'] as const;
export const addressings = ['automatic', 'reserved', 'fixed'] as const;
/** What a provider's paperwork may hold. */
export const papers = ['user', 'block', 'apn', 'vlan', 'translator', 'server'] as const;
export const activations = ['unknown', 'not-yet', 'active'] as const;
export const portRoles = ['wan', 'lan', 'off'] as const;
export const handoffModes = ['none', 'bridged', 'routes'] as const;

const contact = z.strictObject({ id, name: line, role: line, phone: short, email: line });

const kitItem = z.strictObject({
  id,
  role: z.enum(kitRoles).default('other'),
  model: line,
  serial: short,
  mac: short,
  adminAddress: short.describe('Where its own pages answer, as found'),
  powerVolts: number(0, 1000),
  powerAmps: number(0, 100),
  firmware: line,
  notes: line,
});

const service = z.strictObject({
  id,
  name: line,
  protocol,
  ports: short.describe('One port or a range: 8443, 8000-8010'),
});

const routerService = z.strictObject({
  ...service.shape,
  outside: z.boolean().default(false).describe('Answers on the uplinks too'),
});

const router = z.strictObject({
  factoryAddress: short.describe('Address and prefix length the box has when new: 192.168.1.1/24'),
  factoryDhcp: z.boolean().default(true).describe('The new box gives a laptop its address'),
  adminNetwork: reference.describe('Inside network from which the router is managed'),
  services: list(routerService, 50),
  ports: list(
    z.strictObject({
      id,
      name: short.describe('As printed beside it'),
      role: z.enum(portRoles).default('lan'),
      uplink: reference.describe('The line that is plugged in, for a WAN port'),
      network: reference.describe('The untagged network, for a LAN port'),
    }),
    64,
  ).describe('The sockets of the router and the one job each has'),
});

const handoff = z.strictObject({
  mode: z.enum(handoffModes).default('none'),
  name: line,
  insidePrefix: short.describe("Block on the box's inside, where the router's WAN port is"),
  insideAddress: short.describe("Box's own address there, the router's gateway"),
  outsideAddress: short.describe('Address of the box towards the provider'),
  forwards: list(z.strictObject({ id, protocol, ports: short }), 200).describe(
    'Ports the box hands on to the router',
  ),
});

const answer = z.strictObject({
  id: short.describe('Which question of the call sheet'),
  answer: line,
  who: line,
  when: short,
});

const rateRun = z.strictObject({
  id,
  direction: z.enum(['down', 'up']).default('down'),
  mbps: number(0, 400_000),
  wired: z.boolean().default(true),
  hour: number(0, 23).describe('Hour of the day, local'),
});

const uplink = z.strictObject({
  id,
  name: line,
  medium: z.enum(mediumNames).default('unknown').describe('What the line is made of'),
  media: mediaSettings.prefault({}),
  papers: z.array(z.enum(papers)).max(papers.length).default([]).describe('What the paperwork has'),
  activation: z.enum(activations).default('unknown'),
  answers: list(answer, 50).describe('What the provider answered to the call sheet'),
  vlan: number(0, 99_999).describe('802.1Q tag of the data on the line; empty means untagged'),
  vlanPriority: number(0, 7),
  type: z.enum(uplinkTypeNames).default('dhcp'),
  settings: uplinkSettings.prefault({}),
  handoff: handoff.prefault({}),
  sourceNat: z.boolean().default(true).describe("Inside sources leave with the uplink's address"),
  mtuBytes: number(0, 9216).describe('Largest packet the line carries; empty means 1500'),
  rateDownMbps: number(0, 400_000),
  rateUpMbps: number(0, 400_000),
  runs: list(rateRun, 500).describe('Measured rates'),
  label: short.describe('Written on the plug and the box, so that the right one is pulled'),
  standby: z.enum(standbys).default('up').describe('As a backup: kept up, or dialled when it is needed'),
  weight: number(0, 1000).describe('Share of new sessions where lines share the load'),
  watch: watchSettings.prefault({}),
  failures: lineFailures.prefault({}),
  notes: line,
});

const network = z.strictObject({
  id,
  name: line,
  purpose: z.enum(purposes).default('other'),
  vlan: number(0, 99_999).describe('802.1Q VLAN id; empty means untagged'),
  prefix: short,
  routerAddress: short,
  dhcp: z
    .strictObject({
      enabled: z.boolean().default(true),
      from: short,
      to: short,
      leaseMinutes: number(1, 525_600),
    })
    .prefault({}),
  resolvers: texts(8).describe('Resolvers handed out; empty means none'),
  expectedDevices: whole(0, 1_000_000),
});

const device = z.strictObject({
  id,
  name: line,
  mac: short,
  network: reference,
  addressing: z.enum(addressings).default('automatic'),
  address: short,
  services: list(service, 50),
  notes: line,
});

const forward = z.strictObject({
  id,
  purpose: line,
  uplink: reference,
  device: reference,
  service: reference.describe('A service of the device; empty means protocol and insidePorts are typed here'),
  protocol,
  insidePorts: short,
  outsidePorts: short.describe('Empty means the same as inside'),
  sources: texts(100).describe('Outside addresses or blocks that may use it; empty means everybody'),
});

const reach = z.strictObject({
  id,
  from: reference,
  to: reference,
  device: reference.describe('Only this device; empty means the whole network'),
  service: reference.describe('Only this service of the device; empty means all'),
});

const route = z.strictObject({ id, prefix: short, via: short, notes: line });

export const planSchema = z.strictObject({
  format: z.literal('netter-plan'),
  version: z.literal(1),
  demo: z.boolean().default(false).describe('An invented site: documentation addresses are in order'),
  site: z
    .strictObject({
      name: line,
      customer: line,
      street: line,
      town: line,
      postcode: short,
      country: lineText(2).default('').describe('ISO 3166-1 alpha-2'),
      timeZone: short.describe('IANA name, such as Europe/Lisbon'),
      rented: z.boolean().default(false),
      noDrilling: z.boolean().default(false),
      cupboardCelsius: number(-50, 100),
      notes: long,
    })
    .prefault({}),
  contacts: list(contact, 50),
  kit: list(kitItem, 200),
  router: router.prefault({}),
  uplinks: list(uplink, 8),
  networks: list(network, 200),
  devices: list(device, 5000),
  forwards: list(forward, 2000),
  reach: list(reach, 2000),
  routes: list(route, 200),
  failover: failoverSettings.prefault({}),
  vpn: vpnSettings.prefault({}),
});

export type Plan = z.output<typeof planSchema>;
export type UplinkPlan = Plan['uplinks'][number];
export type NetworkPlan = Plan['networks'][number];
export type DevicePlan = Plan['devices'][number];
export type ForwardPlan = Plan['forwards'][number];
export type KitItem = Plan['kit'][number];
export type RateRunPlan = UplinkPlan['runs'][number];
export type PortPlan = Plan['router']['ports'][number];
export type ServicePlan = DevicePlan['services'][number];

/** JSON Schema (draft 2020-12) of the plan file, as it may be written: fields with a default may be left out. */
export const planJsonSchema = (): unknown => z.toJSONSchema(planSchema, { io: 'input' });

export const contactSchema = contact;
export const kitSchema = kitItem;
export const uplinkSchema = uplink;
export const networkSchema = network;
export const deviceSchema = device;
export const forwardSchema = forward;
export const reachSchema = reach;
export const routeSchema = route;
export const serviceSchema = service;
export const routerServiceSchema = routerService;
export const portSchema = router.shape.ports.unwrap().element;
export const rateRunSchema = rateRun;
export const boxForwardSchema = handoff.shape.forwards.unwrap().element;
