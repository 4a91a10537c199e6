import { z } from 'zod';
import { id, number } from '../plan/parts.ts';
import { lineText, manyLines } from '../text.ts';

const short = lineText(64).default('');
const line = lineText(200).default('');
const key = lineText(64).default('');
const reference = z.union([id, z.literal('')]).default('');
const list = <T extends z.ZodType>(item: T, most: number) => z.array(item).max(most).default([]);

/** Ways to come in from outside. */
export const ways = ['none', 'wireguard', 'ikev2', 'tls', 'mesh', 'hub', 'forward', 'dated'] as const;
export const outsideServices = ['unknown', 'allowed', 'refused'] as const;
export const tunnelKinds = ['split', 'full', 'near'] as const;
export const peerSystems = ['telephone', 'tablet', 'laptop', 'desktop', 'router', 'other'] as const;

/** What may be put on a device: any app, nothing beside what it came with, or pages in a browser only. */
export const peerAllowances = ['any', 'built-in', 'browser'] as const;

/** One door for a group: a whole network, a device, or one service of it. */
const grant = z.strictObject({
  id,
  network: reference,
  device: reference.describe('Only this device; empty means the whole network'),
  service: reference.describe('Only this service of the device; empty means all'),
});

const group = z.strictObject({
  id,
  name: line,
  tunnel: z.enum(tunnelKinds).default('split').describe('What else goes through the tunnel'),
  manages: z.boolean().default(false).describe('May open the pages of the router itself'),
  grants: list(grant, 200),
});

/** One device of one person: a key of its own, an address of its own. */
const peer = z.strictObject({
  id,
  name: line.describe('The device'),
  person: line,
  group: reference,
  system: z.enum(peerSystems).default('laptop'),
  takes: z.enum(peerAllowances).default('any').describe('What may be put on it'),
  address: short,
  address6: short,
  publicKey: key,
  ownKey: z.boolean().default(false).describe('The person made the key and keeps the private half'),
  secret: short.describe('Name of the private key in the vault'),
  preshared: short.describe('Name of the pre-shared key in the vault; empty means none'),
  created: short.describe('ISO 8601 date'),
  expires: short,
  revoked: short,
  lastSeen: short,
  oldKey: key.describe('Key before a rotation, good until the overlap ends'),
  oldKeyUntil: short,
});

const endpoint = z.strictObject({
  id,
  uplink: reference,
  host: line.describe('Name or address that travellers call'),
});

const run = z.strictObject({
  id,
  direction: z.enum(['down', 'up']).default('down').describe('As the traveller sees it'),
  mbps: number(0, 400_000),
});

/** A network whose block is in use at the other end too, and the block under which the other end sees it. */
const translation = z.strictObject({
  id,
  of: z.enum(['here', 'there']).default('there').describe('The end that has the network'),
  network: line.describe('Its name'),
  real: short,
  seen: short,
});

/** Another site of the same customer. */
const farSite = z.strictObject({
  id,
  name: line,
  prefixes: z.array(short).max(200).default([]),
  endpoint: line.describe('Name or address at which it can be called; empty means it cannot'),
  failsOver: z.boolean().default(false).describe('It has a second line'),
  backupEndpoint: line.describe('The same over its second line'),
  backSeconds: number(0, 86_400).describe('How long until its second line carries, at worst'),
  nameSeconds: number(0, 691_200).describe('How long until its name leads over the second line'),
  port: number(1, 65_535),
  publicKey: key,
  address: short.describe('Its address in the tunnel'),
  networks: z
    .array(id)
    .max(50)
    .default([])
    .describe('Networks of this site that are joined; none means all but guests and payment'),
  translations: list(translation, 200),
});

/** A certificate of the site's own authority. Its private key is in the vault. */
const certificate = z.strictObject({
  id,
  person: line,
  use: z.enum(['client', 'server']).default('client'),
  serial: short,
  from: short.describe('ISO 8601 date'),
  until: short,
  revoked: short,
  secret: short.describe('Name of its private key in the vault'),
  pem: manyLines(8000).default(''),
});

export const vpnSettings = z.strictObject({
  way: z.enum(ways).default('none'),
  outsideService: z.enum(outsideServices).default('unknown').describe('May an outside service coordinate'),
  boxMbps: number(0, 400_000).describe('What the router encrypts, by its sheet'),
  boxEncrypts: z
    .array(z.enum(['wireguard', 'ikev2', 'tls']))
    .max(3)
    .default([]),
  pool: short,
  pool6: short,
  port: number(1, 65_535),
  endpoints: list(endpoint, 8),
  publicKey: key.describe("The router's public key"),
  secret: short.describe("Name of the router's private key in the vault"),
  resolver: short.describe('Resolver inside, for names of the site'),
  keepAliveSeconds: number(0, 65_535),
  mtuBytes: number(576, 9216),
  groups: list(group, 50),
  peers: list(peer, 1000),
  travellerDownMbps: number(0, 400_000),
  roundTripMs: number(0, 60_000),
  runs: list(run, 200),
  sites: list(farSite, 50),
  hub: z.boolean().default(false).describe('Joined sites reach one another through this one'),
  authority: z
    .strictObject({
      pem: manyLines(8000).default('').describe('Certificate of the authority'),
      secret: short.describe('Name of its private key in the vault'),
    })
    .prefault({}),
  certificates: list(certificate, 1000),
});

export type VpnSettings = z.output<typeof vpnSettings>;
export type PeerPlan = VpnSettings['peers'][number];
export type GroupPlan = VpnSettings['groups'][number];
export type FarSitePlan = VpnSettings['sites'][number];
export type TranslationPlan = FarSitePlan['translations'][number];
export type WayName = (typeof ways)[number];

export const vpnPeerSchema = peer;
export const vpnGroupSchema = group;
export const vpnGrantSchema = grant;
export const vpnEndpointSchema = endpoint;
export const vpnRunSchema = run;
export const farSiteSchema = farSite;
export const translationSchema = translation;
export const certificateSchema = certificate;
export type CertificatePlan = VpnSettings['certificates'][number];
