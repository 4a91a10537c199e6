import { isIP } from 'node:net';

/*
 * A second reading of the plan file, written from docs/plan-format.md ("What a plan means for a packet") alone. It
 * shares no code with the core, so that a mistake in one of the two readings shows as a difference between them.
 */

const widths = { 4: 32, 6: 128 };

/** An address as a family and a number; undefined where the text is none. */
export function host(text) {
  const family = isIP((text ?? '').trim());
  if (family === 4)
    return {
      family,
      value: text
        .trim()
        .split('.')
        .reduce((sum, part) => (sum << 8n) + BigInt(part), 0n),
    };
  if (family !== 6) return undefined;
  let rest = text.trim();
  const dotted = /:(\d+\.\d+\.\d+\.\d+)$/.exec(rest);
  if (dotted) {
    const { value } = host(dotted[1]);
    rest = rest.replace(dotted[1], `${(value >> 16n).toString(16)}:${(value & 0xffffn).toString(16)}`);
  }
  const [left, right] = rest.split('::').map((half) => half.split(':').filter((part) => part !== ''));
  const zeros = right === undefined ? [] : Array.from({ length: 8 - left.length - right.length }, () => '0');
  const parts = [...left, ...zeros, ...(right ?? [])];
  return { family, value: parts.reduce((sum, part) => (sum << 16n) + BigInt(`0x${part}`), 0n) };
}

const lengthOf = (text) => {
  if (/^\/?\d+$/.test(text)) return Number(text.replace('/', ''));
  const mask = host(text);
  return mask && mask.value.toString(2).split('1').length - 1;
};

/** A block as its first address and its length; a bare address is one of a single host. */
export function block(text, bareLength) {
  const [address, length] = (text ?? '').trim().split('/');
  const at = host(address);
  if (!at) return undefined;
  const bits = length === undefined ? (bareLength ?? widths[at.family]) : lengthOf(length);
  if (bits === undefined || bits > widths[at.family]) return undefined;
  const size = 1n << BigInt(widths[at.family] - bits);
  const first = at.value - (at.value % size);
  return { family: at.family, first, last: first + size - 1n, bits, at };
}

const holds = (each, address) =>
  each !== undefined &&
  address !== undefined &&
  each.family === address.family &&
  each.first <= address.value &&
  address.value <= each.last;
const covers = (outer, inner) =>
  outer.family === inner.family && outer.first <= inner.first && inner.last <= outer.last;
const same = (one, other) =>
  one !== undefined && other !== undefined && one.family === other.family && one.value === other.value;
const isEdge = (each, address) =>
  holds(each, address) &&
  widths[each.family] - each.bits > 1 &&
  (address.value === each.first || (each.family === 4 && address.value === each.last));

const never =
  `0.0.0.0/8 10.0.0.0/8 100.64.0.0/10 127.0.0.0/8 169.254.0.0/16 172.16.0.0/12 192.0.0.0/24 192.88.99.0/24
  192.168.0.0/16 198.18.0.0/15 224.0.0.0/4 240.0.0.0/4 ::/3 4000::/2 8000::/1 2001::/23 2002::/16 fc00::/7`
    .split(/\s+/)
    .map((text) => block(text));
const onInternet = (address) => !never.some((each) => holds(each, address));

const portsOf = (text) => {
  const found = /^\s*(\d+)\s*(?:-\s*(\d+))?\s*$/.exec(text ?? '');
  const [first, last] = found ? [Number(found[1]), Number(found[2] ?? found[1])] : [0, 0];
  return first >= 1 && last >= first && last <= 65535 ? { first, last } : undefined;
};
const inPorts = (ports, port) => ports !== undefined && ports.first <= port && port <= ports.last;
const speaks = (said, protocol) =>
  said === 'any' || said === protocol || (said === 'both' && protocol !== 'icmp');

const bitsOf = ({ family, value }) => value.toString(2).padStart(widths[family], '0');

/** Address and ports of a line with MAP-T, bit by bit; undefined where rule and prefix are not known or do not fit. */
function mapped({ delegated, ruleIpv6, ruleIpv4, eaBits, psidOffset }) {
  const [own, six, four] = [block(delegated), block(ruleIpv6), block(ruleIpv4)];
  if (own?.family !== 6 || six?.family !== 6 || four?.family !== 4 || eaBits === null) return undefined;
  const offset = psidOffset ?? 6;
  const end = six.bits + eaBits;
  if (!covers(six, own) || end > own.bits || end > 64) return undefined;
  const bits = bitsOf({ family: 6, value: own.first }).slice(six.bits, end);
  const suffix = bits.slice(0, 32 - four.bits);
  const psid = bits.slice(suffix.length);
  if (offset + psid.length > 16) return undefined;
  const start = bitsOf({ family: 4, value: four.first }).slice(0, four.bits) + suffix;
  const address = { family: 4, value: BigInt(`0b${start.padEnd(32, '0')}`) };
  const isOwn = (port) => {
    const written = port.toString(2).padStart(16, '0');
    return written.startsWith(psid, offset) && (offset === 0 || written.slice(0, offset).includes('1'));
  };
  return {
    address,
    block:
      start.length < 32
        ? { ...block(`0.0.0.0/${start.length}`), ...spanOf(address, start.length) }
        : undefined,
    isOwn: psid === '' ? undefined : isOwn,
  };
}
const spanOf = ({ value }, bits) => ({ first: value, last: value + (1n << BigInt(32 - bits)) - 1n });

/** The plan as facts. */
export function read(plan) {
  const lines = plan.uplinks.map((row) => {
    const own = row.settings[row.type] ?? {};
    const shared = row.type === 'map-t' ? mapped(own) : undefined;
    const address = shared?.address ?? host(row.type === 'static' ? own.address : own.expectedAddress);
    const routes = row.handoff.mode === 'routes';
    const prefix = routes ? block(row.handoff.insidePrefix) : undefined;
    const box = routes
      ? {
          prefix,
          address:
            host(row.handoff.insideAddress) ??
            (prefix && {
              family: prefix.family,
              value: prefix.first + (prefix.last > prefix.first + 1n ? 1n : 0n),
            }),
          forwards: row.handoff.forwards.map((each) => ({ ...each, ports: portsOf(each.ports) })),
        }
      : undefined;
    const outer = routes ? host(row.handoff.outsideAddress) : address;
    const expectsCarrier = (row.type === 'cellular' && own.carrierNat) || row.type === 'ds-lite';
    const subnet =
      row.type === 'static' && address ? block(`${own.address.trim()}/${own.prefixLength.trim()}`) : prefix;
    const gateway = (row.type === 'static' ? host(own.gateway) : undefined) ?? box?.address;
    let wan = address;
    if (!wan && prefix)
      for (let value = prefix.first + 1n; !wan && value < prefix.last; value += 1n)
        if (!same({ family: prefix.family, value }, box.address)) wan = { family: prefix.family, value };
    return {
      id: row.id,
      wan,
      known: address !== undefined,
      box,
      outer,
      carrier: outer ? !onInternet(outer) : expectsCarrier,
      subnet,
      deadGateway: gateway !== undefined && (same(gateway, address) || isEdge(subnet, gateway)),
      block: row.type === 'static' ? block(own.routedBlock) : shared?.block,
      isOwn: routes ? undefined : shared?.isOwn,
      isDefault: row.type !== 'dhcp' || own.useRoute,
      translates: row.sourceNat,
    };
  });
  const networks = plan.networks.map((row) => ({
    id: row.id,
    purpose: row.purpose,
    vlan: row.vlan,
    prefix: block(row.prefix),
    router: host(row.routerAddress),
  }));
  const network = (id) => networks.find((each) => each.id === id);
  const line = (id) => lines.find((each) => each.id === id);
  const devices = plan.devices.map((row) => ({
    id: row.id,
    network: network(row.network),
    address: row.addressing === 'automatic' ? undefined : host(row.address),
    services: row.services.map((each) => ({ ...each, ports: portsOf(each.ports) })),
  }));
  const device = (id) => devices.find((each) => each.id === id);
  const serviceOf = (row) => device(row.device)?.services.find(({ id }) => id === row.service);

  /** A row that names a service and says something else beside it says two things. */
  const clashes = (service, protocol, ports, unsaid) => {
    const all = (said) => (said === 'both' ? ['tcp', 'udp'] : [said]);
    return (
      (protocol !== unsaid && all(protocol).some((each) => !all(service.protocol).includes(each))) ||
      (ports !== undefined && (ports.first !== service.ports?.first || ports.last !== service.ports?.last))
    );
  };

  const forwards = plan.forwards.flatMap((row) => {
    const service = serviceOf(row);
    const typed = portsOf(row.insidePorts);
    const inside = row.service === '' ? typed : service?.ports;
    const outside = row.outsidePorts.trim() === '' ? inside : portsOf(row.outsidePorts);
    if (!inside || !outside || (service && clashes(service, row.protocol, typed, 'tcp'))) return [];
    const sources = row.sources.flatMap((each) => block(each) ?? []);
    return [
      {
        line: line(row.uplink),
        to: device(row.device)?.address,
        protocol: service?.protocol ?? row.protocol,
        inside,
        outside,
        open: row.sources.length === 0,
        sources,
      },
    ];
  });

  const reach = plan.reach.flatMap((row) => {
    const from = network(row.from);
    const inside = row.destination === 'network';
    const target = inside ? network(row.to) : undefined;
    const at = inside && row.device !== '' ? device(row.device) : undefined;
    const service = at && row.service !== '' ? serviceOf(row) : undefined;
    const typed = portsOf(row.ports);
    const prefixes = row.prefixes.flatMap((each) => block(each) ?? []);
    const lost =
      !from ||
      (inside && !target) ||
      (inside && row.device !== '' && !at) ||
      (inside && row.service !== '' && !service?.ports) ||
      (row.ports.trim() !== '' && !typed) ||
      (row.destination === 'internet' && row.prefixes.length > 0 && prefixes.length === 0);
    if (lost) return [];
    const own = { protocol: row.protocol, ports: typed };
    const meanings = !service
      ? [own]
      : clashes(service, row.protocol, typed, 'any')
        ? [service, own]
        : [service];
    if (meanings.length > 1 && row.action === 'allow') return [];
    return meanings.map(({ protocol, ports }) => ({
      from,
      action: row.action,
      kind: row.destination,
      to: target,
      device: inside ? row.device !== '' && (at?.address ?? null) : undefined,
      prefixes,
      protocol,
      ports: protocol === 'icmp' ? undefined : ports,
    }));
  });

  const everybody = [53, 67, 123, 546, 547, 853, 5353];
  const tunnelPorts = {
    wireguard: [['udp', plan.vpn.port ?? 51820]],
    ikev2: [
      ['udp', 500],
      ['udp', 4500],
    ],
    tls: [['both', 443]],
  };
  const services = [
    ...plan.router.services.flatMap((row) => {
      const ports = portsOf(row.ports);
      if (!ports) return [];
      const common = ports.first === ports.last && everybody.includes(ports.first);
      const inside = row.inside === 'usual' ? (common ? 'all' : 'managed') : row.inside;
      return [{ protocol: row.protocol, ports, outside: row.outside, inside }];
    }),
    ...(tunnelPorts[plan.vpn.way] ?? []).map(([protocol, port]) => ({
      protocol,
      ports: { first: port, last: port },
      outside: true,
      inside: 'all',
    })),
  ];

  const pools = plan.vpn.way === 'none' ? [] : [block(plan.vpn.pool), block(plan.vpn.pool6)].filter(Boolean);
  const firstOf = (each) => ({ family: each.family, value: each.first + (each.last > each.first ? 1n : 0n) });
  const groups = plan.vpn.groups.map((row) => ({
    ...row,
    grants: row.grants.flatMap((grant) => {
      const at = grant.device === '' ? undefined : device(grant.device);
      const service = grant.service === '' ? undefined : serviceOf(grant);
      const where = at?.network ?? network(grant.network);
      if (!where || (grant.device !== '' && !at) || (grant.service !== '' && !service?.ports)) return [];
      return [{ where, at, service }];
    }),
  }));
  const far = plan.vpn.sites.map((row) => ({
    id: row.id,
    prefixes: row.prefixes.flatMap((each) => block(each) ?? []),
    networks: networks.filter(({ id, purpose }) =>
      row.networks.length > 0 ? row.networks.includes(id) : purpose !== 'guests' && purpose !== 'payment',
    ),
    translations: row.translations.flatMap(({ of, real, seen }) => {
      const [own, other] = [block(real), block(seen)];
      return own && other ? [{ of, real: own, seen: other }] : [];
    }),
    endpoint: row.endpoint.trim(),
  }));
  const kitAddresses = plan.kit.flatMap((row) => host(row.adminAddress) ?? []);
  const second = plan.second.flatMap((row) => {
    const own = block(row.inside);
    const address = host(row.address);
    const where = row.network === '' ? networks[0] : network(row.network);
    if (row.way !== 'chained' || !own || !address || !where) return [];
    return [
      {
        id: row.id,
        box: row.box,
        network: where,
        address,
        inside: own,
        translates: row.translates,
        forwards: row.forwards.flatMap((each) => {
          const outside = portsOf(each.outsidePorts);
          const to = host(each.address);
          return outside && to
            ? [{ protocol: each.protocol, outside, to, inside: portsOf(each.insidePorts) ?? outside }]
            : [];
        }),
      },
    ];
  });
  const behindKit = plan.second.map(({ box }) => box).filter((id) => id !== '');
  const equipment = [
    ...lines.flatMap(({ box }) => box?.prefix ?? []),
    ...plan.kit
      .filter(({ id }) => !behindKit.includes(id))
      .flatMap((row) => host(row.adminAddress) ?? [])
      .filter((address) => !networks.some(({ prefix }) => holds(prefix, address)))
      .map((address) => ({
        ...address,
        first: address.value,
        last: address.value,
        bits: widths[address.family],
      })),
  ];
  const rules = plan.failover.rules.map((row) => ({
    network: network(row.network),
    protocol: row.protocol,
    ports: portsOf(row.ports),
    lines: row.lines.flatMap((id) => line(id) ?? []),
  }));
  const statics = plan.routes.flatMap((row) => {
    const [to, via] = [block(row.prefix), host(row.via)];
    const where = via && networks.find(({ prefix }) => holds(prefix, via));
    const over = via && lines.find(({ subnet }) => holds(subnet, via));
    if (!to || !via || same(where?.router, via) || same(over?.wan, via)) return [];
    return where ? [{ to, network: where, via }] : over ? [{ to, line: over, via }] : [];
  });
  return {
    lines,
    networks,
    devices,
    forwards,
    reach,
    services,
    pools,
    own: [
      ...networks.map(({ router }) => router),
      ...lines.map(({ wan }) => wan),
      ...pools.map(firstOf),
    ].filter(Boolean),
    groups,
    peers: plan.vpn.peers.map((row) => ({
      id: row.id,
      group: groups.find(({ id }) => id === row.group),
      revoked: row.revoked.trim() !== '',
      addresses: [host(row.address), host(row.address6)].filter(Boolean),
    })),
    resolver: host(plan.vpn.resolver),
    far,
    hub: plan.vpn.hub,
    reachedAt:
      plan.vpn.endpoints.some(({ host: name }) => name.trim() !== '') || plan.failover.dynamicName !== '',
    second,
    equipment,
    kitAddresses,
    rules,
    statics,
    hairpin: plan.router.hairpin !== 'no',
    ping: plan.router.pingOutside,
    admin: network(plan.router.adminNetwork) ?? networks[0],
    plugged: new Set(plan.wiring.runs.map(({ toDevice }) => toDevice).filter((id) => id !== '')),
  };
}

const nothing = { place: 'nothing' };
/** What the plan alone does not say. */
const unsaid = { place: 'unsaid' };

/**
 * Where a packet arrives and as what.
 * @param from { kind: 'network' | 'outside' | 'front' | 'client' | 'site' | 'behind' | 'router', id }
 * @param packet { protocol, source, destination, port } with addresses as `host` makes them
 * @param down ids of lines
 */
export function meaning(facts, from, packet, down) {
  const { lines, networks, far, second } = facts;
  const isUp = ({ id }) => !down.has(id);
  const blocks = [
    ...networks.map(({ prefix }) => prefix),
    ...lines.map(({ subnet, box }) => (box?.prefix ? box.prefix : subnet)),
    ...facts.statics.map(({ to }) => to).filter(({ bits }) => bits > 0),
    ...second.map(({ inside }) => inside),
    ...far.flatMap(({ prefixes }) => prefixes),
    ...facts.pools,
  ].filter(Boolean);
  const nobody = (address) => {
    const [longest] = blocks.filter((each) => holds(each, address)).sort((a, b) => b.bits - a.bits);
    return longest !== undefined && isEdge(longest, address);
  };

  const table = [
    ...networks.flatMap((network) => (network.prefix ? [{ to: network.prefix, network }] : [])),
    ...lines.filter(isUp).flatMap((line) => (line.subnet ? [{ to: line.subnet, line, onLink: true }] : [])),
    ...facts.statics.filter(({ line }) => !line || isUp(line)),
    ...lines.flatMap((line) =>
      line.block && !networks.some(({ prefix }) => prefix && covers(prefix, line.block))
        ? [{ to: line.block, unused: true }]
        : [],
    ),
    ...lines
      .filter((line) => isUp(line) && line.isDefault)
      .map((line) => ({ to: block(line.wan?.family === 6 ? '::/0' : '0.0.0.0/0'), line })),
  ];
  const longest = (rows, address) =>
    rows.filter(({ to }) => holds(to, address)).sort((a, b) => b.to.bits - a.to.bits)[0];
  const wayTo = (address) => {
    const here = networks.some(({ prefix }) => holds(prefix, address));
    return longest(
      [
        ...table,
        ...(here ? [] : far.flatMap((site) => site.prefixes.map((to) => ({ to, site })))),
        ...facts.pools.map((to) => ({ to, pool: true })),
      ],
      address,
    );
  };
  const mapped = (address, own, other) =>
    holds(own, address) && own.bits === other.bits
      ? { family: address.family, value: address.value - own.first + other.first }
      : undefined;

  /** Whether the tunnel to another site stands. With the first line down it depends on more than the plan says here. */
  const stands = (site) => {
    if (!lines.some(isUp)) return false;
    if (!isUp(lines[0])) return undefined;
    return site.endpoint !== '' || facts.reachedAt || (lines[0].outer !== undefined && !lines[0].carrier);
  };

  const arriveInside = (network, now) => {
    if (nobody(now.destination)) return nothing;
    const router = second.find((each) => each.network === network && same(each.address, now.destination));
    if (router) {
      const entry = router.forwards.find(
        (each) =>
          speaks(each.protocol, now.protocol) && now.protocol !== 'icmp' && inPorts(each.outside, now.port),
      );
      if (!entry || !holds(router.inside, entry.to) || nobody(entry.to)) return nothing;
      const port = Math.min(entry.inside.first + now.port - entry.outside.first, entry.inside.last);
      return { place: `second:${router.id}`, ...now, destination: entry.to, port, answered: true };
    }
    const around = second.find((each) => each.network === network && holds(each.inside, now.destination));
    if (around && !holds(network.prefix, now.destination))
      return around.translates ? nothing : { place: `second:${around.id}`, ...now, answered: true };
    const device = facts.devices.find((each) => same(each.address, now.destination));
    if (device && facts.plugged.has(device.id)) return unsaid;
    return { place: `network:${network.id}`, ...now, answered: true };
  };

  const outOver = (line, now) => {
    if (isEdge(line.subnet, now.destination) && nobody(now.destination)) return nothing;
    const lost = line.box?.prefix !== undefined && !holds(line.box.prefix, now.source);
    let { source } = now;
    if (line.box) {
      if (holds(line.box.prefix, now.destination))
        return { place: `front:${line.id}`, ...now, answered: !lost };
      if (same(line.outer, now.destination)) return unsaid;
      source = line.outer;
    }
    // Behind a carrier's translator the outside sees an address that nobody here knows.
    if (line.carrier) source = undefined;
    if (!onInternet(now.destination)) return nothing;
    // An address that nobody knows yet stands for a public one.
    if (source && !onInternet(source)) return nothing;
    const other = lines.find(
      (each) => each !== line && each.outer && !each.carrier && same(each.outer, now.destination),
    );
    if (other) return inward(other, { ...now, source });
    return { place: `internet:${line.id}`, ...now, source: undefined, answered: !lost };
  };

  const inward = (line, now) => {
    if (!isUp(line) || line.carrier) return nothing;
    if (line.isOwn && (now.protocol === 'icmp' || !line.isOwn(now.port))) return nothing;
    if (line.box) {
      const entry = line.box.forwards.some(
        (each) =>
          now.protocol !== 'icmp' && speaks(each.protocol, now.protocol) && inPorts(each.ports, now.port),
      );
      if (!entry) return nothing;
    }
    const arrived = throughRouter({ line }, { ...now, destination: line.wan });
    const lost = line.deadGateway && !holds(line.subnet, now.source);
    return lost && arrived.answered ? { ...arrived, answered: false } : arrived;
  };

  /** Two networks of the two address families with one VLAN are one link. */
  const managedFrom = (network) =>
    network === facts.admin ||
    (network.vlan !== null &&
      network.vlan === facts.admin?.vlan &&
      network.prefix?.family !== facts.admin.prefix?.family);

  /** What remote users may. */
  const granted = (peer, { destination, protocol, port }) => {
    if (peer.revoked || !peer.group) return false;
    const isRouter = facts.own.some((each) => same(each, destination));
    if ((isRouter || same(facts.resolver, destination)) && port === 53 && protocol !== 'icmp') return true;
    if (isRouter) return peer.group.manages;
    const grant = peer.group.grants.some(
      ({ where, at, service }) =>
        (at ? same(at.address, destination) : holds(where.prefix, destination)) &&
        (!service ||
          (protocol !== 'icmp' && speaks(service.protocol, protocol) && inPorts(service.ports, port))),
    );
    if (grant) return true;
    return !networks.some(({ prefix }) => holds(prefix, destination)) && peer.group.tunnel !== 'split';
  };

  const throughRouter = (side, sent) => {
    let now = sent;
    const back = longest(table, now.source);
    if (side.network && back?.network !== side.network) return nothing;
    if (side.line) {
      if (back?.network || back?.unused) return nothing;
      if (now.source && !onInternet(now.source) && !holds(side.line.subnet, now.source)) return nothing;
    }
    if (side.peer && !side.peer.addresses.some((each) => same(each, now.source))) return nothing;
    if (
      side.site &&
      (!side.site.prefixes.some((each) => holds(each, now.source)) || wayTo(now.source)?.site !== side.site)
    )
      return nothing;

    let turned;
    let forwarded = false;
    if (side.site) {
      const row = side.site.translations.find(
        ({ of, seen }) => of === 'here' && holds(seen, now.destination),
      );
      const real = row && mapped(now.destination, row.seen, row.real);
      if (real) now = { ...now, destination: real };
    } else {
      const owner = lines.find(({ wan }) => same(wan, now.destination));
      if (owner && (side.line || facts.hairpin)) {
        const entry = facts.forwards.find(
          (each) =>
            each.line === owner &&
            now.protocol !== 'icmp' &&
            speaks(each.protocol, now.protocol) &&
            inPorts(each.outside, now.port),
        );
        if (entry) {
          if (side.line && !entry.open && !entry.sources.some((each) => holds(each, now.source)))
            return nothing;
          if (!entry.to) return nothing;
          const port = Math.min(entry.inside.first + now.port - entry.outside.first, entry.inside.last);
          now = { ...now, destination: entry.to, port };
          forwarded = true;
          if (!side.line) turned = owner;
        }
      }
    }

    if (facts.own.some((each) => same(each, now.destination))) {
      if (side.peer && !granted(side.peer, now)) return nothing;
      const at = { place: 'router', ...now, answered: true };
      if (side.line && now.protocol === 'icmp') return facts.ping ? at : nothing;
      const answers = facts.services.filter(
        (each) =>
          now.protocol !== 'icmp' && speaks(each.protocol, now.protocol) && inPorts(each.ports, now.port),
      );
      if (side.line) return answers.some(({ outside }) => outside) ? at : nothing;
      const open = answers.some(
        ({ inside }) => inside === 'all' || side.peer || (side.network && managedFrom(side.network)),
      );
      return open || now.protocol === 'icmp' ? at : nothing;
    }

    const way = wayTo(now.destination);
    if (!way || way.unused) return nothing;
    let { line } = way;
    if (line && !side.line && way.to.bits === 0 && !way.onLink) {
      const rule = facts.rules.find(
        (each) =>
          (each.network === undefined || each.network === side.network) &&
          speaks(each.protocol, now.protocol) &&
          (each.ports === undefined || (now.protocol !== 'icmp' && inPorts(each.ports, now.port))),
      );
      if (rule) line = rule.lines.find(isUp);
      if (!line) return nothing;
    }
    if (line?.deadGateway && way.to.bits === 0 && !way.onLink) return nothing;

    if (side.peer) {
      if (way.site || way.pool || !granted(side.peer, now)) return nothing;
    } else if (way.pool) return nothing;
    else if (side.site && way.site) {
      if (!facts.hub || side.site === way.site) return nothing;
    } else if (side.site || way.site) {
      const site = side.site ?? way.site;
      if (!site.networks.includes(side.site ? way.network : side.network)) return nothing;
    } else if (side.line) {
      if (!way.network || !forwarded) return nothing;
    } else if (side.network !== way.network) {
      const isEquipment = facts.equipment.some((each) => holds(each, now.destination));
      const row = facts.reach.find(
        (each) =>
          each.from === side.network &&
          speaks(each.protocol, now.protocol) &&
          (each.protocol !== 'any' || each.ports === undefined || now.protocol !== 'icmp') &&
          (each.ports === undefined || inPorts(each.ports, now.port)) &&
          (way.network
            ? each.kind === 'network' &&
              each.to === way.network &&
              (each.device === false || same(each.device ?? undefined, now.destination))
            : each.kind === 'equipment'
              ? isEquipment
              : each.kind === 'internet' &&
                !isEquipment &&
                (each.prefixes.length === 0 ||
                  each.prefixes.some((prefix) => holds(prefix, now.destination)))),
      );
      if (row ? row.action === 'refuse' : way.network) return nothing;
    }

    if (way.site) {
      const row = way.site.translations.find(({ of, real }) => of === 'here' && holds(real, now.source));
      const seen = row && mapped(now.source, row.real, row.seen);
      return toSite(way.site, seen ? { ...now, source: seen } : now);
    }
    if (line) {
      const source = line.translates && !side.line ? line.wan : now.source;
      return outOver(line, { ...now, source });
    }
    return arriveInside(way.network, turned ? { ...now, source: turned.wan } : now);
  };

  const toSite = (site, now) => {
    const up = stands(site);
    if (up === undefined) return unsaid;
    if (!up || nobody(now.destination)) return nothing;
    return { place: `site:${site.id}`, ...now, answered: true };
  };

  const fromNetwork = (network, now) => {
    if (holds(network.prefix, now.destination) && !same(network.router, now.destination))
      return arriveInside(network, now);
    if (!network.router || !holds(network.prefix, network.router) || isEdge(network.prefix, network.router))
      return nothing;
    return throughRouter({ network }, now);
  };

  const row = (list) => list.find(({ id }) => id === from.id);
  switch (from.kind) {
    case 'network':
      return fromNetwork(row(networks), packet);
    case 'outside':
      return inward(row(lines), packet);
    case 'front': {
      const line = row(lines);
      if (!isUp(line)) return nothing;
      if (same(line.wan, packet.destination)) return throughRouter({ line }, packet);
      if (holds(line.subnet, packet.destination))
        return nobody(packet.destination)
          ? nothing
          : { place: `front:${line.id}`, ...packet, answered: true };
      return outOver(line, packet);
    }
    case 'client':
      return throughRouter({ peer: row(facts.peers) }, packet);
    case 'site': {
      const site = row(far);
      const up = stands(site);
      return up === undefined ? unsaid : up ? throughRouter({ site }, packet) : nothing;
    }
    case 'behind': {
      const router = row(second);
      if (holds(router.inside, packet.destination)) return unsaid;
      const arrived = fromNetwork(
        router.network,
        router.translates ? { ...packet, source: router.address } : packet,
      );
      const known = facts.statics.some(
        ({ to, via }) => covers(to, router.inside) && same(via, router.address),
      );
      return router.translates || known ? arrived : { ...arrived, answered: false };
    }
    default: {
      const way = wayTo(packet.destination);
      if (!way || way.unused || way.pool) return nothing;
      if (way.site) {
        const own = [...way.site.networks, ...networks].find(({ router }) => router)?.router;
        const translation = way.site.translations.find(
          ({ of, real }) => of === 'here' && own && holds(real, own),
        );
        const source = (translation && mapped(own, translation.real, translation.seen)) ?? own;
        return toSite(way.site, { ...packet, source });
      }
      if (way.line) return outOver(way.line, { ...packet, source: way.line.wan });
      return arriveInside(way.network, { ...packet, source: way.network.router });
    }
  }
}
