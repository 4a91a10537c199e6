import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { Forward, Line, Network, Site } from '../site/model.ts';
import type { Second } from '../site/second.ts';
import type { FarSite, Peer } from '../site/vpn.ts';
import type { WifiRoom } from '../site/wifi.ts';
import type { RunStep } from '../terms/step.ts';
import type { SitePromise } from '../terms/promise.ts';

/** Hashes of the parts of the plan that evidence stands on, by the name of the part. */
export type Parts = Readonly<Record<string, string>>;

/** What is left out of a part: names, remarks and figures that were measured change nothing that was proven. */
const cosmetic = new Set([
  'name',
  'notes',
  'label',
  'unnamed',
  'at',
  'ats',
  'says',
  'answers',
  'papers',
  'runs',
]);

/** A value without what is empty: a field that a later version adds, and nobody filled, changes no hash. */
function tidy(value: unknown): unknown {
  if (typeof value === 'bigint') return String(value);
  if (Array.isArray(value)) return value.map(tidy);
  if (value === null || typeof value !== 'object') return value;
  const kept = Object.entries(value).flatMap(([key, each]) => {
    const inner = tidy(each);
    const empty =
      inner === undefined ||
      inner === null ||
      inner === '' ||
      inner === false ||
      (typeof inner === 'object' && Object.keys(inner).length === 0);
    return cosmetic.has(key) || empty ? [] : [[key, inner] as const];
  });
  return Object.fromEntries(kept.sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** Twelve hexadecimal digits of the SHA-256 are plenty to tell two states of one field apart. */
const hashOf = (facts: unknown): string =>
  bytesToHex(sha256(utf8ToBytes(JSON.stringify(tidy(facts)) ?? ''))).slice(0, 12);

const lineFacts = (site: Site, line: Line): unknown => ({
  type: line.type,
  medium: line.medium,
  settings: line.settings[line.type as keyof typeof line.settings],
  vlan: line.vlan,
  vlanPriority: line.vlanPriority,
  handoff: { ...line.handoff, canBridge: undefined },
  sourceNat: line.sourceNat,
  mtuBytes: line.mtuBytes,
  defaultRoute: line.defaultRoute,
  port: site.router.ports.filter((port) => port.line === line).map(({ role }) => role),
});

const networkFacts = ({ vlan, prefix, routerAddress, dhcp, resolvers }: Network): unknown => ({
  vlan,
  prefix,
  routerAddress,
  dhcp: { ...dhcp, leaseMinutes: undefined },
  resolvers,
});

const forwardFacts = ({ line, protocol, outside, inside, allowed, device }: Forward): unknown => ({
  line: line?.id,
  protocol,
  outside,
  inside,
  allowed: allowed.kind === 'some' ? allowed.prefixes : allowed.kind,
  device: device?.address,
  network: device?.network?.id,
});

/** Rules about what a network may begin, in their order, which decides. */
const ruleFacts = (site: Site): unknown =>
  site.reach.map(({ action, from, to, protocols, ports }) => ({
    action,
    from: from.id,
    to:
      to.kind === 'network'
        ? { network: to.network.id, device: to.device?.address }
        : { kind: to.kind, prefixes: to.kind === 'internet' ? to.prefixes : undefined },
    protocols,
    ports,
  }));

const failoverFacts = (site: Site): unknown => ({
  order: site.lines.map(({ id, standby, weight }) => ({ id, standby, weight })),
  watches: site.failover.watches.map(
    ({ targets, intervalSeconds, timeoutSeconds, downAfter, upAfter, holdSeconds, window }) => ({
      targets: targets.map(({ host, method }) => ({ host, method })),
      intervalSeconds,
      timeoutSeconds,
      downAfter,
      upAfter,
      holdSeconds,
      window,
    }),
  ),
  sharing: site.failover.sharing,
  sessions: site.failover.sessions,
  back: site.failover.back,
  backHoldSeconds: site.failover.backHoldSeconds,
  rules: site.failover.rules.map(({ network, ports, lines }) => ({
    network: network?.id,
    ports,
    lines: lines.map(({ id }) => id),
  })),
});

const peerFacts = (peer: Peer): unknown => ({
  key: peer.publicKey,
  address: peer.address,
  address6: peer.address6,
  revoked: peer.revoked,
  tunnel: peer.group?.tunnel,
  grants: peer.group?.grants.map(({ network, device, ports, service }) => ({
    network: network?.id,
    device: device?.address,
    ports,
    protocol: service?.protocol,
  })),
});

const tunnelFacts = ({ vpn }: Site): unknown => ({
  way: vpn.way,
  endpoints: vpn.endpoints.map(({ host, line }) => ({ host, line: line?.id })),
  port: vpn.port,
  key: vpn.publicKey,
});

const farFacts = (far: FarSite): unknown => ({
  key: far.publicKey,
  endpoint: far.endpoint,
  port: far.port,
  prefixes: far.prefixes,
  networks: far.networks.map(({ id }) => id),
  translations: far.translations.map(({ of, real, seen }) => ({ of, real, seen })),
});

/** What a measurement in a room stands on; its readings and remarks change nothing that was proven. */
const roomFacts = ({ wifi, radio, wantedMbps }: WifiRoom): unknown => ({
  wifi: wifi?.id,
  ssid: wifi?.ssid,
  network: wifi?.network?.id,
  limit: wifi?.network?.limitDownMbps,
  radio: radio && { box: radio.box?.id, band: radio.band, channel: radio.channel, width: radio.width },
  wantedMbps,
});

const secondFacts = ({ way, address, inside, network, dhcp, translates, forwards }: Second): unknown => ({
  way,
  untranslated: way === 'chained' && !translates,
  address,
  inside: way === 'chained' ? inside : undefined,
  network: network?.id,
  dhcp,
  forwards: forwards.map(({ protocol, outside, address: to, inside: port }) => ({
    protocol,
    outside,
    to,
    port,
  })),
});

/** Every part of a site, by the name under which records keep its hash. */
export function partsOf(site: Site): Parts {
  const { kit } = site.router;
  const facts: [string, unknown][] = [
    ['router', { model: kit?.model, serial: kit?.serial, mac: kit?.mac, firmware: kit?.firmware }],
    ...site.lines.map((line): [string, unknown] => [`line:${line.id}`, lineFacts(site, line)]),
    ...site.networks.map((network): [string, unknown] => [`network:${network.id}`, networkFacts(network)]),
    ...site.forwards.map((forward): [string, unknown] => [`forward:${forward.id}`, forwardFacts(forward)]),
    ...site.wifi.rooms.map((room): [string, unknown] => [`room:${room.id}`, roomFacts(room)]),
    ...site.second.map((second): [string, unknown] => [`second:${second.id}`, secondFacts(second)]),
    ['rules', ruleFacts(site)],
    ['failover', failoverFacts(site)],
    ...(site.vpn.way === 'none' ? [] : [['tunnel', tunnelFacts(site)] as [string, unknown]]),
    ...site.vpn.peers.map((peer): [string, unknown] => [`peer:${peer.id}`, peerFacts(peer)]),
    ...site.vpn.sites.map((far): [string, unknown] => [`site:${far.id}`, farFacts(far)]),
  ];
  return Object.fromEntries(facts.map(([name, each]) => [name, hashOf(each)]));
}

/** A part in words: "the rules between networks". */
export function partTitle(site: Site, part: string): string {
  const [kind = '', ...rest] = part.split(':');
  const id = rest.join(':');
  const named = (rows: readonly { readonly id: string; readonly name: string }[]): string =>
    rows.find((row) => row.id === id)?.name ?? 'one that is gone';
  switch (kind) {
    case 'router':
      return 'the router or its firmware';
    case 'line':
      return `the uplink ${named(site.lines)}`;
    case 'network':
      return `the network ${named(site.networks)}`;
    case 'forward':
      return `the forward ${named(site.forwards)}`;
    case 'room':
      return `Wi-Fi in ${named(site.wifi.rooms)}`;
    case 'second':
      return `the second router ${named(site.second)}`;
    case 'rules':
      return 'the rules between networks';
    case 'failover':
      return 'how lines are watched and shared';
    case 'tunnel':
      return 'the VPN server';
    case 'peer':
      return `the client ${named(site.vpn.peers)}`;
    default:
      return `the other site ${named(site.vpn.sites)}`;
  }
}

/** Parts that the evidence of a promise stands on. */
function partsOfPromise(site: Site, { id, kind }: Pick<SitePromise, 'id' | 'kind'>): string[] {
  const own = id.slice(id.indexOf(':') + 1);
  const line = (each: Line | undefined): string[] => (each ? [`line:${each.id}`] : []);
  const lines = site.lines.flatMap(line);
  switch (kind) {
    case 'line':
      return ['router', `line:${own}`];
    case 'internet':
      return ['router', `network:${own}`, 'rules', ...lines];
    case 'apart':
      return ['router', 'rules', ...site.networks.map((network) => `network:${network.id}`)];
    case 'forward': {
      const forward = site.forwards.find((each) => each.id === own);
      const network = forward?.device?.network;
      return [
        'router',
        `forward:${own}`,
        ...line(forward?.line),
        ...(network ? [`network:${network.id}`] : []),
      ];
    }
    case 'wifi':
      return [`room:${own}`, ...lines];
    case 'second': {
      const network = site.second.find((each) => each.id === own)?.network;
      return ['router', `second:${own}`, ...(network ? [`network:${network.id}`] : [])];
    }
    case 'failover': {
      const promise = site.failover.promises.find((each) => each.id === own);
      return ['router', 'failover', ...(promise ? [`network:${promise.network.id}`] : []), ...lines];
    }
    case 'peer':
      return ['router', 'tunnel', `peer:${own}`, ...lines];
    case 'site':
      return ['router', 'tunnel', `site:${own}`, ...lines];
  }
}

/** Parts of the site that a step's evidence stands on, with their hashes; of a step without promises, the router. */
export function standsOn(
  site: Site,
  promises: readonly Pick<SitePromise, 'id' | 'kind'>[],
  all: Parts = partsOf(site),
): Parts {
  const names = promises.flatMap((promise) => partsOfPromise(site, promise));
  return Object.fromEntries(
    [...new Set(names.length === 0 ? ['router'] : names)].flatMap((name) =>
      Object.hasOwn(all, name) ? [[name, all[name]!]] : [],
    ),
  );
}

/** Whether a step enters what belongs to a part of the plan. */
export function concerns({ id }: Pick<RunStep, 'id'>, part: string): boolean {
  const [, ...rest] = part.split(':');
  const own = rest.join(':');
  const [kind = '', of = ''] = id.split(':');
  if (own !== '') return of === own;
  if (part === 'rules') return kind === 'reach';
  if (part === 'failover') return ['watch', 'failover-rules'].includes(kind);
  if (part === 'tunnel') return kind.startsWith('vpn-');
  return kind === 'firmware';
}

/**
 * The hashes that a record of a step takes along: what was true, when it was seen, of the parts that it enters and of
 * those that its promises stand on.
 */
export function partsOfStep(
  site: Site,
  step: Pick<RunStep, 'id' | 'evidence'>,
  promises: readonly Pick<SitePromise, 'id' | 'kind'>[],
): Parts {
  const all = partsOf(site);
  if (step.id === 'backup-after') return all;
  const proven = standsOn(
    site,
    promises.filter(({ id }) => step.evidence.some(({ promise }) => promise === id)),
    all,
  );
  const entered = Object.entries(all).filter(([part]) => concerns(step, part));
  return { ...proven, ...Object.fromEntries(entered) };
}

/** Which of the parts that a record names are other ones now; none where it names none. */
export const changedParts = (recorded: Parts | undefined, wanted: Parts, all: Parts): string[] =>
  recorded === undefined || Object.keys(recorded).length === 0
    ? []
    : Object.keys(wanted).filter((name) => recorded[name] !== undefined && recorded[name] !== all[name]);
