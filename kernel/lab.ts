import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { createInterface } from 'node:readline';
import { addressKey, formatAddress, type Address } from '../core/base/net/address.ts';
import { contains, formatPrefix, overlaps, samePrefix, type Prefix } from '../core/base/net/prefix.ts';
import { neverOutside, sourcesBehindSite } from '../core/output/formats/linux/nftables.ts';
import { elementsOf } from '../core/output/formats/linux/statement.ts';
import { prefixesOf, rangeOf, type AddressRange } from '../core/base/net/range.ts';
import { hasTunnel, interfacesOf, nextHopOf } from '../core/output/formats/linux/interfaces.ts';
import { linuxFiles } from '../core/output/formats/linux/index.ts';
import { linkOf } from '../core/site/link.ts';
import type { Line, Network, Site } from '../core/site/model.ts';
import { isChained, type ChainedRouter } from '../core/site/second.ts';
import { lostAddresses } from '../core/behaviour/wiring/where.ts';

/** A packet that is sent in a namespace. */
export interface Sent {
  readonly id: number;
  readonly protocol: 'tcp' | 'udp' | 'icmp';
  readonly from: string;
  readonly to: string;
  readonly port: number;
  readonly waitMs: number;
}

/** Where a packet arrived and as what; TCP tells the destination too. */
export interface Seen {
  readonly place: string;
  readonly from: string;
  readonly to: string;
  readonly port: number;
}

export interface Outcome {
  readonly seen: Seen | undefined;
  readonly answered: boolean;
}

/** Names of the places of a lab: the router, the internet, one for each network, box, carrier and tunnel. */
export const places = {
  router: 'r',
  internet: 'i',
  clients: 'v',
  /** What is behind the tunnel interface of the router. */
  tunnel: 't',
  network: (index: number): string => `n${index + 1}`,
  box: (index: number): string => `b${index + 1}`,
  carrier: (index: number): string => `c${index + 1}`,
  site: (index: number): string => `s${index + 1}`,
  /** A second router that translates. */
  second: (index: number): string => `q${index + 1}`,
} as const;

/** The place of a network: that of its link, which the two address families share. */
export const networkPlace = (site: Site, network: Network): string =>
  places.network(site.networks.indexOf(linkOf(site, network)));

/** Second routers that have a place of their own in the lab. */
export const chainedRouters = ({ second }: Site): ChainedRouter[] =>
  second.filter(isChained).filter(({ network, address }) => network.prefix && address.family === 4);

/** Whether this machine lets us build namespaces and load rules into them; the reason where it does not. */
export function whyNot(): string | undefined {
  try {
    execFileSync(
      'sh',
      [
        '-ec',
        'ip netns add nettercheck; trap "ip netns del nettercheck" EXIT; ip netns exec nettercheck nft list ruleset',
      ],
      { stdio: 'pipe' },
    );
    return undefined;
  } catch (error) {
    return (
      String((error as { stderr?: unknown }).stderr ?? error)
        .trim()
        .split('\n')[0] || 'no reason given'
    );
  }
}

/** Whether this machine has the program that sends echo requests; without it nobody is asked about them. */
export function canPing(): boolean {
  try {
    execFileSync('ping', ['-V'], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
}

const agentFile = new URL('agent.mjs', import.meta.url).pathname;

/** Every interface has the same hardware address and asks nobody for one: what is sent on a link arrives at its other end. */
const hardware = 'address 02:00:00:00:00:01 arp off';

/** A site out of network namespaces, with the exported files on its router. */
export class Lab {
  readonly #site: Site;
  readonly #stem: string;
  readonly #folder: string;
  readonly #agents = new Map<string, ChildProcess>();
  readonly #seen = new Map<number, Seen>();
  readonly #waiting = new Map<number, (answered: boolean) => void>();

  private constructor(site: Site) {
    this.#site = site;
    this.#stem = `k${process.pid}`;
    this.#folder = mkdtempSync(join(tmpdir(), 'netter-kernel-'));
  }

  /** Builds the site; `ports` are those on which everybody listens, `change` a mistake made on purpose in a file. */
  static async build(
    site: Site,
    ports: readonly number[],
    change: (name: string, text: string) => string = (_name, text) => text,
  ): Promise<Lab> {
    const lab = new Lab(site);
    try {
      for (const [name, text] of linuxFiles(site)) {
        const file = join(lab.#folder, name);
        mkdirSync(dirname(file), { recursive: true });
        // Each lab has a place of its own for what its lines have got.
        writeFileSync(file, change(name, text).replaceAll('/run/netter', lab.#state));
      }
      lab.#sh(lab.#script());
      await lab.#start(ports);
      return lab;
    } catch (error) {
      lab.close();
      throw error;
    }
  }

  /** Where the files keep what the lines have got. */
  get #state(): string {
    return join(this.#folder, 'state');
  }

  #ns = (place: string): string => `${this.#stem}${place}`;
  #sh(script: string): void {
    const file = join(this.#folder, 'build.sh');
    writeFileSync(file, script);
    execFileSync('sh', ['-e', file], { stdio: ['ignore', 'ignore', 'pipe'] });
  }

  #places(): string[] {
    const { lines, vpn } = this.#site;
    return [
      places.router,
      places.internet,
      ...this.#links().map((network) => networkPlace(this.#site, network)),
      ...lines.flatMap((line, index) => [
        ...(line.box?.routes ? [places.box(index)] : []),
        ...(line.translators.includes('carrier') ? [places.carrier(index)] : []),
      ]),
      ...(hasTunnel(this.#site) ? [places.tunnel] : []),
      ...(vpn.way === 'none' ? [] : [places.clients]),
      ...vpn.sites.map((_, index) => places.site(index)),
      ...chainedRouters(this.#site).map((_, index) => places.second(index)),
    ];
  }

  /** Networks that stand for a link. */
  #links(): Network[] {
    return this.#site.networks.filter((each) => each.prefix && linkOf(this.#site, each) === each);
  }

  /** A link between two places, with the names of its ends. */
  #link(one: string, end: string, other: string, otherEnd: string): string[] {
    return [
      `ip link add name ${end} netns ${this.#ns(one)} type veth peer name ${otherEnd} netns ${this.#ns(other)}`,
      `ip -n ${this.#ns(one)} link set dev ${end} ${hardware} up`,
      `ip -n ${this.#ns(other)} link set dev ${otherEnd} ${hardware} up`,
    ];
  }

  /** A place that answers at every address of some prefixes, but for those that others have. */
  #everyHost(place: string, prefixes: readonly Prefix[], others: readonly Address[], link: string): string[] {
    const ip = `ip -n ${this.#ns(place)}`;
    return [
      ...([4, 6] as const).flatMap((family) => [
        `${ip} -${family} rule add pref 10 lookup local`,
        `${ip} -${family} rule del pref 0`,
        ...(prefixes.some((each) => each.family === family)
          ? [`${ip} -${family} route add default dev ${link}`]
          : []),
      ]),
      ...prefixes.map((prefix) => `${ip} route add local ${formatPrefix(prefix)} dev lo table local`),
      ...others.flatMap((host) => [
        `${ip} -${host.family} rule add pref 5 to ${formatAddress(host)} lookup 5`,
        `${ip} -${host.family} route replace ${formatAddress(host)} dev ${link} table 5`,
      ]),
    ];
  }

  /** Where the outside sees a line: a known address, or one of the lab's own. */
  outsideOf(line: Line, index: number): string {
    return line.publicAddressKnown ? formatAddress(line.publicAddress) : `192.0.0.${100 + index}`;
  }
  #lineAddress(line: Line, index: number): string {
    if (line.lineAddressKnown) return formatAddress(line.lineAddress);
    return line.translators.includes('carrier') ? `192.0.0.${150 + index}` : this.outsideOf(line, index);
  }
  routerAddressOn(line: Line, index: number): string {
    if (line.addressKnown) return formatAddress(line.address);
    return line.box?.routes ? `192.0.0.${200 + index}` : this.#lineAddress(line, index);
  }

  /** The next hop of a lease: the box in front, or some address of the provider's. */
  #nextHop(line: Line, index: number): string {
    const { gateway, gatewayUsable, address } = line;
    if (gateway && gatewayUsable && gateway.family === address.family) return formatAddress(gateway);
    return address.family === 6 ? `fe80::${index + 1}` : `192.0.0.${50 + index}`;
  }

  #script(): string {
    const site = this.#site;
    const names = interfacesOf(site);
    const router = this.#ns(places.router);
    const inet = this.#ns(places.internet);
    const all = this.#places();
    const lines = site.lines.flatMap((line, index) => this.#lineScript(line, index));
    const networks = this.#links().flatMap((link) => {
      const members = site.networks.filter((each) => each.prefix && linkOf(site, each) === link);
      const place = networkPlace(site, link);
      return [
        ...this.#link(places.router, names.network(link), place, 'eth0'),
        ...this.#everyHost(
          place,
          // Another router inside has what a static route sends to it.
          [
            ...members.flatMap(({ prefix }) => prefix ?? []),
            ...site.routes.flatMap(({ prefix: far, target }) =>
              target.kind === 'via' &&
              members.includes(target.network) &&
              far.length > 0 &&
              !site.networks.some((each) => each.prefix && samePrefix(each.prefix, far)) &&
              !chainedRouters(site).some(
                (each) => members.includes(each.network) && overlaps(each.inside.prefix, far),
              )
                ? [far]
                : [],
            ),
          ],
          members.flatMap(({ routerAddress }) => routerAddress ?? []),
          'eth0',
        ),
        // It may say that it is somebody on another network: such a source has to be its own to be sent at all.
        ...site.networks.flatMap(({ prefix }) =>
          prefix && !members.some((each) => each.prefix && overlaps(each.prefix, prefix))
            ? [
                `ip -n ${this.#ns(place)} -${prefix.family} rule add pref 9 to ${formatPrefix(prefix)} lookup 9`,
                `ip -n ${this.#ns(place)} -${prefix.family} route replace default dev eth0 table 9`,
                `ip -n ${this.#ns(place)} route replace local ${formatPrefix(prefix)} dev lo table local`,
              ]
            : [],
        ),
      ];
    });
    const { vpn } = site;
    const pools = [vpn.pool, vpn.pool6].flatMap((each) => each ?? []);
    const own = [vpn.routerAddress, vpn.routerAddress6].flatMap((each) => each ?? []);
    const apart = names.clients !== names.tunnel;
    // The tunnel is one interface of the router; what stands behind it knows who may have which source, as it does.
    const hub = hasTunnel(site)
      ? [
          ...this.#link(places.router, names.tunnel, places.tunnel, 'r0'),
          `ip netns exec ${this.#ns(places.tunnel)} sh -c 'echo 1 > /proc/sys/net/ipv4/ip_forward; echo 1 > /proc/sys/net/ipv6/conf/all/forwarding'`,
          ...([4, 6] as const).map(
            (family) => `ip -n ${this.#ns(places.tunnel)} -${family} route add default dev r0`,
          ),
        ]
      : [];
    const behindTunnel = (place: string, ranges: readonly AddressRange[]): string[] => [
      ...this.#link(places.tunnel, place, place, 'eth0'),
      // What one peer sends to another goes by the router.
      ...([4, 6] as const).flatMap((family) => [
        `ip -n ${this.#ns(places.tunnel)} -${family} rule add pref 5 iif ${place} lookup 7`,
        `ip -n ${this.#ns(places.tunnel)} -${family} route replace default dev r0 table 7`,
      ]),
      `ip netns exec ${this.#ns(places.tunnel)} sh -c 'echo 1 > /proc/sys/net/ipv4/conf/${place}/rp_filter'`,
      ...ranges
        .flatMap(prefixesOf)
        .map((prefix) => `ip -n ${this.#ns(places.tunnel)} route add ${formatPrefix(prefix)} dev ${place}`),
    ];
    const clients =
      vpn.way === 'none'
        ? []
        : [
            ...(apart
              ? this.#link(places.router, names.clients, places.clients, 'eth0')
              : behindTunnel(places.clients, pools.map(rangeOf))),
            ...this.#everyHost(places.clients, pools, own, 'eth0'),
          ];
    const sites = vpn.sites.flatMap((far, index) => [
      ...behindTunnel(places.site(index), sourcesBehindSite(site, far)),
      ...this.#everyHost(places.site(index), far.prefixes, [], 'eth0'),
    ]);
    const seconds = chainedRouters(site).flatMap((second, index) => this.#secondScript(second, index));
    const lost = lostAddresses(site);
    const unplugged = site.devices.flatMap(({ address, network }) =>
      address && network && lost.has(addressKey(address))
        ? [
            `ip -n ${this.#ns(networkPlace(site, network))} rule add pref 4 to ${formatAddress(address)} blackhole`,
          ]
        : [],
    );
    return [
      // A place stands for hosts and for what routes between them: a packet on its way through is not for its sockets.
      ...all.flatMap((place) => [
        `ip netns add ${this.#ns(place)}`,
        `ip netns exec ${this.#ns(place)} sh -c 'for f in /proc/sys/net/ipv4/conf/*/rp_filter; do echo 0 > $f; done; echo 0 > /proc/sys/net/ipv6/conf/default/accept_dad; echo 1 > /proc/sys/net/ipv4/conf/all/accept_local; echo 1 > /proc/sys/net/ipv6/ip_nonlocal_bind; echo 0 > /proc/sys/net/ipv4/ip_early_demux'`,
        `ip -n ${this.#ns(place)} link set lo up`,
      ]),
      // What one line sends to the address of another goes round by the internet.
      `ip netns exec ${inet} sh -c 'echo 1 > /proc/sys/net/ipv4/ip_forward'`,
      `ip -n ${inet} rule add pref 10 lookup local`,
      `ip -n ${inet} rule del pref 0`,
      ...networks,
      ...seconds,
      ...unplugged,
      ...hub,
      ...clients,
      ...sites,
      ...lines,
      // Whatever is no address of a line is somebody on the internet, but for what the internet carries nothing to.
      ...neverOutside()
        .filter(({ family }) => family === 4)
        .flatMap(prefixesOf)
        .map((prefix) => `ip -n ${inet} rule add pref 6 to ${formatPrefix(prefix)} blackhole`),
      // A provider takes no packet with a source that nobody could answer to (RFC 2827).
      `ip netns exec ${inet} nft -f - <<'RULES'\n${this.#providers()}\nRULES`,
      `ip -n ${inet} route add local 0.0.0.0/0 dev lo table local`,
      `cd ${this.#folder}`,
      `ip netns exec ${router} sh -c 'echo 1 > /proc/sys/net/ipv4/ip_forward; echo 1 > /proc/sys/net/ipv6/conf/all/forwarding; echo 0 > /proc/sys/net/ipv4/conf/all/accept_local'`,
      `ip netns exec ${router} nft -f netter.nft`,
      ...site.lines
        .filter((line) => nextHopOf(line) === 'ppp')
        .map((line) => `ip -n ${router} link set dev ${names.line(line)} mtu ${line.mtuBytes} up`),
      `ip netns exec ${router} sh addresses.sh`,
      `ip netns exec ${router} sh routes.sh`,
      // What a line has got is told by whatever brings it up, as the hooks of the files do.
      ...site.lines.flatMap((line, index) =>
        nextHopOf(line) === 'fixed' && line.addressKnown
          ? []
          : [
              `ip netns exec ${router} sh line.sh up ${names.line(line)} ${this.routerAddressOn(line, index)} ${nextHopOf(line) === 'ppp' ? '' : this.#nextHop(line, index)}`,
            ],
      ),
    ].join('\n');
  }

  #providers(): string {
    const seen = this.#site.lines.map((line, index) => this.outsideOf(line, index));
    return [
      'table ip t {',
      'chain p { type filter hook prerouting priority raw; policy accept;',
      ...(seen.length > 0 ? [`ip saddr { ${[...new Set(seen)].join(', ')} } accept`] : []),
      `ip saddr { ${elementsOf(neverOutside(), 4).join(', ')} } drop`,
      '}',
      '}',
    ].join('\n');
  }

  /** A second router: it hands on what its own forwards name, and everything behind it leaves with its address. */
  #secondScript(second: ChainedRouter, index: number): string[] {
    const { address, inside, network, forwards, translates } = second;
    const place = places.second(index);
    const ns = this.#ns(place);
    const there = networkPlace(this.#site, network);
    const outer = this.#ns(there);
    const link = `q${index + 1}`;
    const inward = forwards
      .filter((each) => contains(inside.prefix, each.address))
      .flatMap(({ protocol, outside, inside: ports, address: host }) => {
        const match = protocol === 'both' ? `meta l4proto { tcp, udp } th dport` : `${protocol} dport`;
        return Array.from({ length: outside.last - outside.first + 1 }, (_, step) => {
          const to = Math.min(ports.first + step, ports.last);
          return `iifname "wan" ${match} ${outside.first + step} dnat ip to ${formatAddress(host)}:${to}`;
        });
      });
    const rules = [
      'table inet t {',
      'chain d { type nat hook prerouting priority dstnat; policy accept;',
      ...inward,
      '}',
      'chain s { type nat hook postrouting priority srcnat; policy accept;',
      ...(translates ? [`oifname "wan" snat ip to ${formatAddress(address)}`] : []),
      '}',
      'chain i { type filter hook input priority filter; policy accept;',
      'ct state established,related accept',
      'ct status dnat accept',
      // One that only routes hands on what is for a device behind it.
      ...(translates ? [] : [`iifname "wan" ip daddr ${formatPrefix(inside.prefix)} accept`]),
      'iifname "wan" drop',
      '}',
      '}',
    ].join('\n');
    return [
      ...this.#link(there, link, place, 'wan'),
      // What it sends beyond its neighbours goes to the first router, whoever else this place stands for.
      `ip -n ${outer} rule add pref 2 iif ${link} lookup 6`,
      `ip -n ${outer} route replace default dev eth0 table 6`,
      `ip -n ${outer} route replace throw ${formatPrefix(network.prefix!)} table 6`,
      `ip -n ${outer} rule add pref 3 iif eth0 to ${formatPrefix(inside.prefix)} lookup 5`,
      `ip -n ${outer} route replace ${formatPrefix(inside.prefix)} dev ${link} table 5`,
      `ip -n ${outer} rule add pref 3 to ${formatAddress(address)} lookup 5`,
      `ip -n ${outer} route replace ${formatAddress(address)} dev ${link} table 5`,
      `ip netns exec ${outer} sh -c 'echo 1 > /proc/sys/net/ipv4/ip_forward'`,
      `ip -n ${ns} addr add ${formatAddress(address)}/32 dev wan`,
      `ip -n ${ns} route add default dev wan`,
      `ip -n ${ns} route add local ${formatPrefix(inside.prefix)} dev lo table local`,
      `ip netns exec ${ns} nft -f - <<'RULES'\n${rules}\nRULES`,
    ];
  }

  #lineScript(line: Line, index: number): string[] {
    const site = this.#site;
    const wan = interfacesOf(site).line(line);
    const inet = this.#ns(places.internet);
    const carrier = line.translators.includes('carrier');
    const box = line.box?.routes ? line.box : undefined;
    const own = this.routerAddressOn(line, index);
    const outer = this.#lineAddress(line, index);
    const steps: string[] = [];
    // From the internet inward: the end that the next link begins at, and the address that is behind it.
    const seen = this.outsideOf(line, index);
    const link = `l${index + 1}`;
    const chain = [
      ...(carrier ? [places.carrier(index)] : []),
      ...(box ? [places.box(index)] : []),
      places.router,
    ];
    let outside = places.internet as string;
    let end = link;
    for (const place of chain) {
      const inner = place === places.router ? wan : 'wan';
      steps.push(...this.#link(outside, end, place, inner));
      outside = place;
      end = 'lan';
    }
    steps.push(
      `ip -n ${inet} rule add pref 5 to ${seen} lookup 5`,
      `ip -n ${inet} route add ${seen} dev ${link} table 5`,
    );
    const translate = (place: string, address: string, inward: readonly string[]): string[] => {
      const ns = this.#ns(place);
      const rules = [
        'table inet t {',
        'chain d { type nat hook prerouting priority dstnat; policy accept;',
        ...inward,
        '}',
        'chain s { type nat hook postrouting priority srcnat; policy accept;',
        `oifname "wan" snat ip to ${address}`,
        '}',
        'chain i { type filter hook input priority filter; policy accept;',
        'ct state established,related accept',
        'iifname "wan" drop',
        '}',
        'chain f { type filter hook forward priority filter; policy drop;',
        'ct state established,related accept',
        'iifname "lan" accept',
        'ct status dnat accept',
        '}',
        '}',
      ].join('\n');
      return [
        `ip -n ${ns} addr add ${address}/32 dev wan`,
        `ip -n ${ns} route add default dev wan`,
        `ip netns exec ${ns} sh -c 'echo 1 > /proc/sys/net/ipv4/ip_forward'`,
        `ip netns exec ${ns} nft -f - <<'RULES'\n${rules}\nRULES`,
      ];
    };
    if (carrier)
      steps.push(
        ...translate(places.carrier(index), seen, []),
        `ip -n ${this.#ns(places.carrier(index))} route add ${box ? outer : own} dev lan`,
      );
    if (box) {
      const place = places.box(index);
      const ns = this.#ns(place);
      steps.push(
        ...translate(
          place,
          outer,
          box.forwards.map(({ protocol, ports }) => {
            const range = ports.first === ports.last ? ports.first : `${ports.first}-${ports.last}`;
            const match =
              protocol === 'both'
                ? `meta l4proto { tcp, udp } th dport ${range}`
                : `${protocol} dport ${range}`;
            return `iifname "wan" ${match} dnat ip to ${own}`;
          }),
        ),
        `ip -n ${ns} rule add pref 10 lookup local`,
        `ip -n ${ns} rule del pref 0`,
        `ip -n ${ns} rule add pref 5 to ${own} lookup 5`,
        `ip -n ${ns} route add ${own} dev lan table 5`,
        ...(box.prefix ? [`ip -n ${ns} route add local ${formatPrefix(box.prefix)} dev lo table local`] : []),
      );
    }
    // What a session or a lease brings.
    if (line.type !== 'static' || !line.addressKnown)
      steps.push(`ip -n ${this.#ns(places.router)} addr add ${own}/${line.prefix?.length ?? 32} dev ${wan}`);
    return steps;
  }

  async #start(ports: readonly number[]): Promise<void> {
    await Promise.all(
      this.#places()
        .filter((place) => !place.startsWith('c') && place !== places.tunnel)
        .map(
          (place) =>
            new Promise<void>((ready, failed) => {
              const agent = spawn(
                'ip',
                ['netns', 'exec', this.#ns(place), process.execPath, agentFile, JSON.stringify(ports)],
                { stdio: ['pipe', 'pipe', 'inherit'] },
              );
              this.#agents.set(place, agent);
              agent.on('error', failed);
              agent.on('exit', () => failed(new Error(`The agent of ${place} ended.`)));
              createInterface({ input: agent.stdout! }).on('line', (text) => {
                const line = JSON.parse(text) as {
                  ready?: boolean;
                  arrived?: number;
                  asked?: number;
                  answered?: boolean;
                } & Omit<Seen, 'place'>;
                if (line.ready) ready();
                else if (line.arrived !== undefined)
                  this.#seen.set(line.arrived, { place, from: line.from, to: line.to, port: line.port });
                else if (line.asked !== undefined) this.#waiting.get(line.asked)?.(line.answered === true);
              });
            }),
        ),
    );
  }

  /** Takes lines down, and those that were back up. */
  setDown(lines: readonly string[]): void {
    const names = interfacesOf(this.#site);
    const router = this.#ns(places.router);
    const wans = this.#site.lines.filter(({ id }) => lines.includes(id)).map(names.line);
    this.#sh(
      [
        `cd ${this.#folder}`,
        // What a session or a lease brings comes again with the line: PPP makes its own interface.
        ...this.#site.lines
          .filter((line) => nextHopOf(line) === 'ppp')
          .map((line) => `ip -n ${router} link set dev ${names.line(line)} mtu ${line.mtuBytes} up`),
        `ip netns exec ${router} sh addresses.sh`,
        ...wans.map((name) => `ip -n ${router} link set dev ${name} down`),
        // Without a line no tunnel stands.
        ...(wans.length === names.lines.length
          ? hasTunnel(this.#site)
            ? [`ip -n ${router} link set dev ${names.tunnel} down`]
            : []
          : []),
        `ip netns exec ${router} sh routes.sh ${wans.join(' ')}`,
        `ip netns exec ${router} conntrack -F 2>/dev/null || true`,
      ].join('\n'),
    );
  }

  /** Sends a packet from a place, and waits for what becomes of it. */
  async send(place: string, packet: Sent): Promise<Outcome> {
    const agent = this.#agents.get(place);
    if (!agent) throw new Error(`There is no ${place} in this lab.`);
    const answered = await new Promise<boolean>((done) => {
      this.#waiting.set(packet.id, done);
      agent.stdin!.write(`${JSON.stringify(packet)}\n`);
    });
    this.#waiting.delete(packet.id);
    return { seen: this.#seen.get(packet.id), answered };
  }

  close(): void {
    for (const agent of this.#agents.values()) {
      agent.removeAllListeners('exit');
      agent.kill('SIGKILL');
    }
    for (const place of this.#places())
      try {
        execFileSync('ip', ['netns', 'del', this.#ns(place)], { stdio: 'ignore' });
      } catch {
        // It was never made.
      }
    rmSync(this.#folder, { recursive: true, force: true });
  }
}
