import { nft, nftRemark } from '../../../base/encode/index.ts';
import { classify, reachableFromOutside, specialPrefixes } from '../../../base/net/classify.ts';
import { formatAddress } from '../../../base/net/address.ts';
import { formatPrefix } from '../../../base/net/prefix.ts';
import { protocolsOf, single } from '../../../base/net/packet-set.ts';
import { rangeOf, subtractRanges, type AddressRange } from '../../../base/net/range.ts';
import { onOneLink } from '../../../site/link.ts';
import { insideOf } from '../../../site/lookups.ts';
import type { Forward, Line, Network, Reach, RouterService, Site } from '../../../site/model.ts';
import type { FarSite, Peer } from '../../../site/vpn.ts';
import { firstTable, type Interfaces } from './interfaces.ts';
import {
  chain,
  keyword,
  looksAtSix,
  ofPrefixes,
  oneOf,
  outside,
  row,
  serviceMatch,
  set,
  within,
  type Rule,
} from './statement.ts';

/* The rules of the router for nftables, in the order of its stages. Both families stand in one table. */

/** What every IPv6 interface needs beside its own subnet (RFC 4861, RFC 4862). */
const linkLocal: readonly AddressRange[] = specialPrefixes
  .filter((prefix) => ['fe80::/10', '::/128'].includes(formatPrefix(prefix)))
  .map(rangeOf);

/** Sources for which the longest match of the route table leads to a network. */
export function sourcesBehind(site: Site, network: Network): AddressRange[] {
  let taken: AddressRange[] = [];
  const own: AddressRange[] = [];
  for (const { prefix, target } of site.routes) {
    const range = rangeOf(prefix);
    if (insideOf(target) === network) own.push(...subtractRanges([range], taken));
    taken = [...taken, range];
  }
  return own;
}

/** Addresses of prefixes that are sent here, and that nobody here has. */
const unusedHere = ({ routes }: Site): AddressRange[] =>
  routes.flatMap(({ prefix, target }, index) =>
    target.kind === 'unused'
      ? subtractRanges([rangeOf(prefix)], ofPrefixes(routes.slice(0, index).map((nearer) => nearer.prefix)))
      : [],
  );

/** Sources for which the longest match leads to a connected site: not those that are here, or nearer elsewhere. */
export function sourcesBehindSite(site: Site, far: FarSite): AddressRange[] {
  const { vpn, networks, routes } = site;
  const here = networks.flatMap(({ prefix }) => prefix ?? []);
  const pools = vpn.way === 'none' ? [] : [vpn.pool, vpn.pool6].flatMap((each) => each ?? []);
  return far.prefixes.flatMap((own) => {
    const nearer = [
      ...routes.filter(({ prefix }) => prefix.length >= own.length).map(({ prefix }) => prefix),
      ...pools.filter(({ length }) => length > own.length),
      ...vpn.sites.flatMap((other, index) =>
        other === far
          ? []
          : other.prefixes.filter(
              ({ length }) =>
                length > own.length || (length === own.length && index < vpn.sites.indexOf(far)),
            ),
      ),
    ];
    return subtractRanges([rangeOf(own)], ofPrefixes([...here, ...nearer]));
  });
}

/** Sources that nobody on the internet has. */
export function neverOutside(): AddressRange[] {
  const found: AddressRange[] = [];
  let narrower: AddressRange[] = [];
  for (const prefix of specialPrefixes) {
    const range = rangeOf(prefix);
    const [first] = subtractRanges([range], narrower);
    if (first && !reachableFromOutside(classify({ family: range.family, value: first.first }).class))
      found.push(...subtractRanges([range], narrower));
    narrower = [...narrower, range];
  }
  return found;
}

/** A source belongs to the side it comes from (RFC 2827, strict as in RFC 3704 section 2.2). */
function sourceCheck(site: Site, names: Interfaces): Rule {
  const inside = [...site.networks.flatMap((network) => sourcesBehind(site, network)), ...unusedHere(site)];
  const never = neverOutside();
  const drops = (name: string, sources: readonly AddressRange[]): Rule[] =>
    outside('saddr', [...sources, ...linkLocal]).map((each) => row(nft`iifname "${name}"`, each, nft`drop`));
  return chain('source_check', nft`type filter hook prerouting priority raw; policy accept;`, [
    nft`# Clients that have no address yet, and their answers (RFC 2131, RFC 8415).`,
    nft`udp sport { 67, 68 } udp dport { 67, 68 } accept`,
    nft`udp dport { 546, 547 } accept`,
    ...names.networks.flatMap((name) =>
      drops(
        name,
        site.networks
          .filter((network) => network.prefix && names.network(network) === name)
          .flatMap((network) => sourcesBehind(site, network)),
      ),
    ),
    // The tunnel itself knows no source but these; said here too, for it decides whom a rule is about.
    ...tunnelNames(site, names).flatMap((name) =>
      drops(name, [
        ...(name === names.tunnel ? site.vpn.sites.flatMap((far) => sourcesBehindSite(site, far)) : []),
        ...(name === names.clients ? clientsOf(site).flatMap(addressesOf) : []),
      ]),
    ),
    ...site.lines.flatMap((line) => {
      const iif = nft`iifname "${names.line(line)}"`;
      const near = line.prefix ? [rangeOf(line.prefix)] : [];
      return [
        ...within('saddr', inside).map((each) => row(iif, each, nft`drop`)),
        ...within('saddr', subtractRanges(never, [...near, ...linkLocal])).map((each) =>
          row(iif, each, nft`drop`),
        ),
      ];
    }),
  ]);
}

const clientsOf = (site: Site): Peer[] =>
  site.vpn.way === 'none' ? [] : site.vpn.peers.filter(({ revoked }) => !revoked);
const addressesOf = ({ address, address6 }: Peer): AddressRange[] =>
  [address, address6].flatMap((each) => (each ? [single(each)] : []));

/** The interfaces of the tunnels that there are. */
const tunnelNames = (site: Site, names: Interfaces): string[] => [
  ...new Set([
    ...(site.vpn.sites.length > 0 ? [names.tunnel] : []),
    ...(clientsOf(site).length > 0 ? [names.clients] : []),
  ]),
];

/** Matches of what comes from another site, or goes to it: one for each address family. All sites share one interface. */
const fromSite = (far: FarSite, site: Site, names: Interfaces): Rule[] =>
  within('saddr', sourcesBehindSite(site, far)).map((each) => row(nft`iifname "${names.tunnel}"`, each));
const toSite = (far: FarSite, site: Site, names: Interfaces): Rule[] =>
  within('daddr', sourcesBehindSite(site, far)).map((each) => row(nft`oifname "${names.tunnel}"`, each));
const fromClients = (site: Site, names: Interfaces): Rule[] =>
  within('saddr', clientsOf(site).flatMap(addressesOf)).map((each) =>
    row(nft`iifname "${names.clients}"`, each),
  );

/** Those of two lists of matches that speak of one address family, beside each other. */
const crossed = (some: readonly Rule[], others: readonly Rule[], verdict: Rule): Rule[] =>
  some.flatMap((one) =>
    others.filter((other) => looksAtSix(one) === looksAtSix(other)).map((other) => row(one, other, verdict)),
  );

/** The match of one side of a network; where its link carries the other address family too, of its own only. */
function sideOf(way: 'iifname' | 'oifname', network: Network, site: Site, names: Interfaces): Rule {
  const shared = site.networks.some((other) => other !== network && onOneLink(site, other, network));
  return row(
    nft`${way} "${names.network(network)}"`,
    shared ? nft`meta nfproto ipv${network.prefix?.family ?? 4}` : nft``,
  );
}
const arrivesFrom = (network: Network, site: Site, names: Interfaces): Rule =>
  sideOf('iifname', network, site, names);

/** Marks tell by which line a connection began, and which rule of the failover it follows. */
function marks(site: Site, names: Interfaces): Rule {
  const fromInside = [...new Set([...names.networks, names.tunnel, names.clients])];
  return chain('marks', nft`type filter hook prerouting priority mangle; policy accept;`, [
    nft`# What belongs to a known connection goes on as it began: answers leave by the line of entry.`,
    nft`ct state established,related meta mark set ct mark accept`,
    ...site.lines.map((line) => nft`iifname "${names.line(line)}" ct mark set ${names.table(line)} accept`),
    ...site.failover.rules.flatMap(({ network, protocol, ports }, index) => {
      const from = network ? arrivesFrom(network, site, names) : nft`iifname ${oneOf(fromInside)!}`;
      const protocols =
        protocol === 'any' ? (ports ? (['tcp', 'udp'] as const) : undefined) : protocolsOf(protocol);
      return [
        row(
          from,
          serviceMatch(protocols, ports),
          nft`ct mark set ${2 * firstTable + index + 1} meta mark set ct mark accept`,
        ),
      ];
    }),
  ]);
}

/** Has a line and ports on both sides; whether there is a device that takes it is another matter. */
const hasPorts = ({ line, inside, outside: ports }: Forward): boolean =>
  line !== undefined && inside !== undefined && ports !== undefined;

const atAddress = (line: Line, names: Interfaces): Rule =>
  nft`${keyword(line.address.family)} daddr @${names.line(line)}_address`;

const forwardMatch = ({ protocol, outside: ports }: Forward): Rule =>
  serviceMatch(protocolsOf(protocol), ports);

/** The new destination: port by port where they are shifted; ports that are more outside than inside all lead to the last. */
function target({ device, inside, outside: ports, protocol }: Forward): Rule {
  const host = device!.address!;
  const to = (address: Rule): Rule => nft`dnat ${keyword(host.family)} to ${address}`;
  const bare = to(nft`${formatAddress(host)}`);
  if (inside!.first === inside!.last) {
    const closed = host.family === 4 ? bare : to(nft`[${formatAddress(host)}]`);
    return nft`${closed}:${inside!.first}`;
  }
  const count = ports!.last - ports!.first + 1;
  const shift = inside!.first - ports!.first;
  if (shift === 0 && ports!.last <= inside!.last) return bare;
  const pairs = Array.from({ length: count }, (_, index) => {
    const from = ports!.first + index;
    return nft`${from} : ${Math.min(from + shift, inside!.last)}`;
  });
  return nft`${bare} : ${protocol === 'both' ? 'th' : protocol} dport map { ${nft.joined(pairs, ', ')} }`;
}

/** A forward: first the sources that it does not admit, which no forward behind it takes, then the translation. */
function forwardRows(forward: Forward, names: Interfaces): Rule[] {
  const { allowed, device, line } = forward;
  const { family } = line!.address;
  const at = row(atAddress(line!, names), forwardMatch(forward));
  const fromLines = row(nft`iifname ${oneOf(names.lines)!}`, at);
  const admitted =
    allowed.kind === 'some' ? ofPrefixes(allowed.prefixes).filter((each) => each.family === family) : [];
  const stopped =
    allowed.kind === 'everybody'
      ? []
      : allowed.kind === 'nobody'
        ? [nft`${fromLines} drop`]
        : [row(fromLines, outside('saddr', admitted)[family === 4 ? 0 : 1], nft`drop`)];
  // A device without an address that stays is nowhere to be found.
  const to = device?.address?.family === family ? target(forward) : nft`drop`;
  return [nftRemark(forward.name), ...stopped, row(at, to)];
}

/** Networks that other sites see under another subnet, the host part kept (RFC 3022 section 2.1). */
function translations(site: Site, names: Interfaces, way: 'inward' | 'outward'): Rule[] {
  return site.vpn.sites.flatMap((far) =>
    far.translations
      .filter(({ of }) => of === 'here')
      .flatMap(({ real, seen }) => {
        const family = keyword(real.family);
        const matches = (way === 'inward' ? fromSite : toSite)(far, site, names).filter(
          (each) => looksAtSix(each) === (real.family === 6),
        );
        const [verb, side] = way === 'inward' ? (['dnat', 'daddr'] as const) : (['snat', 'saddr'] as const);
        const [from, to] = way === 'inward' ? [seen, real] : [real, seen];
        return matches.map((match) =>
          row(
            match,
            nft`${verb} ${family} prefix to ${family} ${side} map { ${formatPrefix(from)} : ${formatPrefix(to)} }`,
          ),
        );
      }),
  );
}

function destinationNat(site: Site, names: Interfaces): Rule {
  return chain('destination_nat', nft`type nat hook prerouting priority dstnat; policy accept;`, [
    ...translations(site, names, 'inward'),
    ...site.vpn.sites.flatMap((far) => fromSite(far, site, names).map((each) => row(each, nft`accept`))),
    // Without hairpin NAT what comes from inside to an outside address is for the router itself.
    ...(site.router.hairpin || names.lines.length === 0
      ? []
      : [nft`iifname != ${set(names.lines.map((name) => nft`"${name}"`))} accept`]),
    ...site.forwards.filter(hasPorts).flatMap((forward) => forwardRows(forward, names)),
  ]);
}

/** What the router itself answers, and to whom. */
function input(site: Site, names: Interfaces): Rule {
  const open = (service: RouterService): Rule =>
    row(serviceMatch(protocolsOf(service.protocol), service.ports), nft`accept`);
  const managers = clientsOf(site).filter(({ group }) => group?.manages);
  const admin = site.router.adminNetwork;
  return chain('input', nft`type filter hook input priority filter; policy drop;`, [
    nft`ct state established,related accept`,
    nft`ct state invalid drop`,
    nft`iifname "lo" accept`,
    // Where remote users use the same tunnel, its port is among the services.
    ...(site.vpn.sites.length > 0 && site.vpn.way !== 'wireguard'
      ? names.lines.map((name) => nft`iifname "${name}" udp dport ${site.vpn.port} accept`)
      : []),
    nft`icmpv6 type { nd-router-solicit, nd-router-advert, nd-neighbor-solicit, nd-neighbor-advert } accept`,
    nft`udp sport 67 udp dport 68 accept`,
    nft`udp dport 546 accept`,
    ...(site.router.facts.pingOutside && names.lines.length > 0
      ? [
          nft`iifname ${oneOf(names.lines)!} icmp type echo-request accept`,
          nft`iifname ${oneOf(names.lines)!} icmpv6 type echo-request accept`,
        ]
      : []),
    ...site.lines.flatMap((line) => [
      ...site.services
        .filter((service) => service.outside)
        .map((service) => row(nft`iifname "${names.line(line)}"`, open(service))),
      nft`iifname "${names.line(line)}" drop`,
    ]),
    ...(clientsOf(site).length === 0
      ? []
      : [
          ...site.services
            .filter(({ ports }) => ports.first <= 53 && 53 <= ports.last)
            .flatMap(({ protocol }) =>
              fromClients(site, names).map((from) =>
                row(from, serviceMatch(protocolsOf(protocol), { first: 53, last: 53 }), nft`accept`),
              ),
            ),
          ...within('saddr', managers.flatMap(addressesOf)).flatMap((each) =>
            [...site.services.map(open), nft`meta l4proto { icmp, ipv6-icmp } accept`].map((verdict) =>
              row(nft`iifname "${names.clients}"`, each, verdict),
            ),
          ),
          ...fromClients(site, names).map((from) => row(from, nft`reject with icmpx admin-prohibited`)),
        ]),
    ...site.services.flatMap((service) => {
      const from = service.inside === 'all' ? names.networks : admin?.prefix ? [names.network(admin)] : [];
      const match = oneOf(from);
      return [
        ...(match ? [row(nft`iifname ${match}`, open(service))] : []),
        ...(service.inside === 'all'
          ? site.vpn.sites.flatMap((far) =>
              fromSite(far, site, names).map((each) => row(each, open(service))),
            )
          : []),
      ];
    }),
    ...site.networks
      .filter(({ prefix, dhcp }) => prefix && dhcp.enabled)
      .map((network) => nft`iifname "${names.network(network)}" udp dport { 67, 547 } accept`),
    nft`meta l4proto { icmp, ipv6-icmp } accept`,
    nft`reject with icmpx admin-prohibited`,
  ]);
}

/** The rows of a rule of the plan: one for each way in which its addresses can be said. */
function ruleRows(
  { from, to, protocols, ports }: Reach,
  site: Site,
  names: Interfaces,
  verdict: Rule,
): Rule[] {
  if (!from.prefix) return [];
  const begin = arrivesFrom(from, site, names);
  const service = serviceMatch(protocols, ports);
  if (to.kind === 'network') {
    if (!to.network.prefix || (to.device && !to.device.address)) return [];
    const at = to.device ? within('daddr', [single(to.device.address!)])[0] : nft``;
    return [row(begin, nft`oifname "${names.network(to.network)}"`, at, service, verdict)];
  }
  const lines = oneOf(names.lines);
  if (!lines) return [];
  const equipment = ofPrefixes(site.equipment);
  const places =
    to.kind === 'equipment'
      ? within('daddr', equipment)
      : to.prefixes.length === 0
        ? outside('daddr', equipment)
        : within('daddr', subtractRanges(ofPrefixes(to.prefixes), equipment));
  // A match of the other address family beside that of the network matches nothing, and nft refuses it.
  const alone = !begin.text.includes('nfproto');
  const six = from.prefix.family === 6;
  return places
    .filter((each) => alone || each.text.includes('nfproto') || looksAtSix(each) === six)
    .map((each) => row(begin, nft`oifname ${lines}`, each, service, verdict));
}

/** What remote users are granted, group by group. */
function clientRows(site: Site, names: Interfaces): Rule[] {
  const clients = clientsOf(site);
  if (clients.length === 0) return [];
  const begin = nft`iifname "${names.clients}"`;
  const inside = ofPrefixes(site.networks.flatMap(({ prefix }) => prefix ?? []));
  const tunnels = oneOf(tunnelNames(site, names));
  return [
    ...fromClients(site, names).map((from) =>
      row(from, nft`oifname ${tunnels!}`, nft`reject with icmpx admin-prohibited`),
    ),
    ...site.vpn.groups.flatMap((group) => {
      const sources = within('saddr', clients.filter((peer) => peer.group === group).flatMap(addressesOf));
      return sources.flatMap((source) => {
        const from = row(begin, source);
        const same = (places: readonly Rule[]): Rule[] =>
          places.filter((place) => looksAtSix(place) === looksAtSix(source));
        return [
          ...(site.vpn.resolver
            ? same(within('daddr', [single(site.vpn.resolver)])).map((at) =>
                row(from, at, nft`meta l4proto { tcp, udp } th dport 53 accept`),
              )
            : []),
          ...group.grants.flatMap(({ network, device, service, ports }) => {
            const host = device
              ? device.address && single(device.address)
              : network.prefix && rangeOf(network.prefix);
            if (!host || (service && !ports)) return [];
            return same(within('daddr', [host])).map((at) =>
              row(
                from,
                at,
                service ? serviceMatch(protocolsOf(service.protocol), ports) : nft``,
                nft`accept`,
              ),
            );
          }),
          ...same(within('daddr', inside)).map((at) =>
            row(from, at, nft`reject with icmpx admin-prohibited`),
          ),
          ...(group.tunnel === 'split' ? [] : [row(from, nft`accept`)]),
        ];
      });
    }),
    ...fromClients(site, names).map((from) => row(from, nft`reject with icmpx admin-prohibited`)),
  ];
}

/** Bytes that may pass at once before a limit is felt: a twentieth of a second. */
const burstPart = 0.05;

/** Rate limits of networks and rules: what is beyond them is dropped, and TCP slows down (nft(8), limit statement). */
function limits(site: Site, names: Interfaces): Rule[] {
  const lines = oneOf(names.lines);
  const over = (mbps: number): Rule => {
    const kilobytes = Math.max(1, Math.round(mbps * 125));
    return nft`limit rate over ${kilobytes} kbytes/second burst ${Math.max(16, Math.round(kilobytes * burstPart))} kbytes drop`;
  };
  const rows = [
    ...site.networks.flatMap((network) => {
      if (!network.prefix || !lines) return [];
      const name = nft`"${names.network(network)}"`;
      return [
        ...(network.limitUpMbps === null
          ? []
          : [nft`iifname ${name} oifname ${lines} ${over(network.limitUpMbps)}`]),
        ...(network.limitDownMbps === null
          ? []
          : [nft`iifname ${lines} oifname ${name} ${over(network.limitDownMbps)}`]),
      ];
    }),
    ...site.reach.flatMap((rule) =>
      rule.action === 'allow' && rule.limitMbps !== null
        ? ruleRows(rule, site, names, over(rule.limitMbps))
        : [],
    ),
  ];
  return rows.length === 0
    ? []
    : [chain('limits', nft`type filter hook forward priority filter - 5; policy accept;`, rows)];
}

/** What may pass the router. */
function forward(site: Site, names: Interfaces): Rule {
  const lines = oneOf(names.lines);
  const networks = oneOf(names.networks);
  const refused = nft`reject with icmpx admin-prohibited`;
  return chain('forward', nft`type filter hook forward priority filter; policy drop;`, [
    nft`# The largest segment that fits the way (RFC 4459 section 3.2).`,
    nft`tcp flags syn tcp option maxseg size set rt mtu`,
    // Between neighbours only one direction may pass here, and what is seen of it is no whole connection.
    ...names.networks.map((name) => nft`iifname "${name}" oifname "${name}" accept`),
    nft`ct state established,related accept`,
    nft`ct state invalid drop`,
    ...clientRows(site, names),
    // Nothing begins towards remote users.
    ...(clientsOf(site).length > 0
      ? within(
          'daddr',
          [site.vpn.pool, site.vpn.pool6].flatMap((each) => (each ? [rangeOf(each)] : [])),
        ).map((each) => row(nft`oifname "${names.clients}"`, each, refused))
      : []),
    ...site.vpn.sites.flatMap((far) =>
      far.networks
        .filter(({ prefix }) => prefix)
        .flatMap((network) => [
          ...fromSite(far, site, names).map((from) =>
            row(from, sideOf('oifname', network, site, names), nft`accept`),
          ),
          ...toSite(far, site, names).map((to) => row(arrivesFrom(network, site, names), to, nft`accept`)),
        ]),
    ),
    ...(site.vpn.hub
      ? site.vpn.sites.flatMap((far) =>
          site.vpn.sites
            .filter((other) => other !== far)
            .flatMap((other) => crossed(fromSite(far, site, names), toSite(other, site, names), nft`accept`)),
        )
      : []),
    ...(site.vpn.sites.length > 0
      ? [nft`iifname "${names.tunnel}" ${refused}`, nft`oifname "${names.tunnel}" ${refused}`]
      : []),
    ...(lines && networks ? [nft`iifname ${lines} oifname ${networks} ct status dnat accept`] : []),
    ...(lines ? [nft`iifname ${lines} drop`] : []),
    ...site.reach.flatMap((each) =>
      ruleRows(each, site, names, each.action === 'allow' ? nft`accept` : refused),
    ),
    ...(lines && networks ? [nft`iifname ${networks} oifname ${lines} accept`] : []),
    refused,
  ]);
}

function sourceNat(site: Site, names: Interfaces): Rule {
  const networks = oneOf(names.networks);
  return chain('source_nat', nft`type nat hook postrouting priority srcnat; policy accept;`, [
    ...translations(site, names, 'outward'),
    nft`# A forward that is used from inside: the device sees the outside address, so that its answer comes back here (RFC 5382 REQ-8).`,
    ...(networks
      ? site.lines
          .filter(({ addressKnown }) => addressKnown)
          .map((line) => {
            const { family } = line.address;
            return nft`oifname ${networks} ct status dnat ct mark != ${set(site.lines.map(names.table))} ct original ${keyword(family)} daddr @${names.line(line)}_address snat ${keyword(family)} to ${formatAddress(line.address)}`;
          })
      : []),
    ...site.lines
      .filter((line) => line.sourceNat)
      .map((line) => nft`oifname "${names.line(line)}" meta nfproto ipv${line.address.family} masquerade`),
  ]);
}

/** The whole ruleset, as `nft -f` loads it: in one step, or not at all. */
export function nftables(site: Site, names: Interfaces): Rule {
  const addresses = site.lines.map((line) => {
    const elements = line.addressKnown ? nft` elements = { ${formatAddress(line.address)} };` : nft``;
    return nft`  set ${names.line(line)}_address { type ipv${line.address.family}_addr;${elements} }`;
  });
  return nft.lines(
    nft`#!/usr/sbin/nft -f`,
    nft`table inet netter`,
    nft`delete table inet netter`,
    nft`table inet netter {`,
    addresses,
    sourceCheck(site, names),
    marks(site, names),
    chain('own_marks', nft`type route hook output priority mangle; policy accept;`, [
      nft`ct mark != 0 meta mark set ct mark`,
    ]),
    destinationNat(site, names),
    input(site, names),
    limits(site, names),
    forward(site, names),
    sourceNat(site, names),
    nft`}`,
    nft`# Addresses that lines have got (line.sh): loading the rules again keeps them.`,
    nft`include "/run/netter/addresses*.nft"`,
    nft``,
  );
}
