import { formatAddress, sameAddress } from '../../base/net/address.ts';
import { contains, formatPrefix, overlaps } from '../../base/net/prefix.ts';
import { inRange } from '../../base/net/range.ts';
import { bridgeSignal } from '../../behaviour/downstream-router/air.ts';
import { addressesFor, translationsWorked, weakSignal } from '../../behaviour/downstream-router/compare.ts';
import { forwardsTo, networksWanted, passesTags } from '../../behaviour/downstream-router/facts.ts';
import { freeHost } from '../../site/lookups.ts';
import type { Forward, Site } from '../../site/model.ts';
import { hasWayBack, isChained, type Second } from '../../site/second.ts';
import { hasPort, protocolsMeet } from '../../base/net/ports.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import { overlapWorked } from '../../base/worked/addresses.ts';
import { airRateWorked } from '../../base/worked/wifi-rate.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** A second router or access point: what it must not do beside the first, and what it needs. */
export const second: Check = {
  name: 'second',
  run: (site) =>
    site.second.flatMap((each, index) => [
      ...box(site, each, site.second.slice(0, index)),
      ...undecided(each),
      ...servers(each),
      ...mode(each),
      ...address(site, each),
      ...factory(site, each),
      ...behind(site, each),
      ...chained(site, each),
      ...bridge(site, each),
    ]),
};

const there = ({ network }: Second): string => network?.name ?? 'the network';

function undecided({ at, name, way }: Second): Finding[] {
  return way === 'undecided'
    ? [
        note(
          'second-way',
          'warning',
          `${at}/way`,
          `How ${name} is connected is not decided. With factory settings it is a second router with a second DHCP server.`,
          said('Mode', 'not decided'),
        ),
      ]
    : [];
}

/** A row stands for one box of its own. */
function box(site: Site, { at, box: own }: Second, before: readonly Second[]): Finding[] {
  if (!own) return [];
  const name = own.model || 'This box';
  const router = own === site.router.kit;
  return router || before.some((each) => each.box === own)
    ? [
        note(
          'second-box',
          'blocker',
          `${at}/box`,
          router
            ? `${name} is the router of the site: it is no second one behind itself.`
            : `${name} is listed twice. Remove one row.`,
          said('Box', name),
        ),
      ]
    : [];
}

/** Who asks for an address takes the first answer (RFC 2131 section 4.4.1): two servers mean two gateways. */
function servers(second: Second): Finding[] {
  const { at, name, network, way, dhcp, port } = second;
  if (!network || way === 'undecided') return [];
  const onWire = way !== 'chained' || port === 'lan';
  if (!dhcp || !onWire) return [];
  const why = worked(
    `DHCP servers on ${network.name}`,
    network.dhcp.enabled ? 2 : 1,
    '',
    [
      step('router', network.dhcp.enabled ? 1 : 0),
      step(name, 1),
      step('together', network.dhcp.enabled ? 2 : 1),
    ],
    'RFC 2131 section 4.4.1',
  );
  const says = network.dhcp.enabled
    ? `${name} and the router both give out addresses on ${network.name}: a device takes the first answer, and with the wrong one it has no internet.`
    : `${name} gives out addresses on ${network.name}, where the plan has no DHCP server: devices get it as their gateway.`;
  return [
    way === 'chained'
      ? note(
          'second-dhcp',
          'blocker',
          `${at}/port`,
          `${says} The cable belongs into its WAN port.`,
          why,
          replacing('Plug it into its WAN port', `${at}/port`, 'wan'),
        )
      : note(
          'second-dhcp',
          'blocker',
          `${at}/dhcp`,
          says,
          why,
          replacing('Turn its DHCP server off', `${at}/dhcp`, false),
        ),
  ];
}

/** An access point that is plugged in by its WAN port routes still. */
function mode({ at, name, way, port, cable, network }: Second): Finding[] {
  if (way === 'access-point' && port === 'wan')
    return [
      note(
        'second-routes',
        'blocker',
        `${at}/port`,
        `${name} is to be an access point and is plugged in by its WAN port: it still routes, or connects nothing. What is on it is not on ${network?.name ?? 'the network'}. Use one of its LAN ports.`,
        said('Plugged into', 'its WAN port'),
        replacing('Plug it into a LAN port', `${at}/port`, 'lan'),
      ),
    ];
  if (cable === 'no' && (way === 'access-point' || way === 'chained'))
    return [
      note(
        'second-cable',
        'blocker',
        `${at}/cable`,
        `No cable reaches ${name}, and that way needs one.`,
        said('Cable', 'none'),
      ),
    ];
  return [];
}

function address(site: Site, second: Second): Finding[] {
  const { at, name, network, way, address: own } = second;
  if (!network || way === 'undecided') return [];
  const free = freeHost(site, network);
  const fix = free && replacing(`Give it ${formatAddress(free)}`, `${at}/address`, formatAddress(free));
  const place = `${at}/address` as const;
  if (!own)
    return [
      note(
        'second-address',
        'warning',
        place,
        `${name} has no address on ${network.name}: nobody finds its pages again${way === 'chained' ? ', and no forward can lead to it' : ''}.`,
        said('Its address', 'none'),
        fix,
      ),
    ];
  if (network.prefix && !contains(network.prefix, own))
    return [
      note(
        'second-address',
        'blocker',
        place,
        `${formatAddress(own)} of ${name} is no address of ${network.name} (${formatPrefix(network.prefix)}): its pages are reached from nowhere.`,
        said('Its address', formatAddress(own)),
        fix,
      ),
    ];
  if (network.routerAddress && sameAddress(network.routerAddress, own))
    return [
      note(
        'second-address',
        'blocker',
        place,
        `${name} and the router are both ${formatAddress(own)}: everybody on ${network.name} loses the gateway as soon as it is plugged in.`,
        said('Its address', formatAddress(own)),
        fix,
      ),
    ];
  if (network.pool && inRange(network.pool, own))
    return [
      note(
        'second-pool',
        'blocker',
        place,
        `${formatAddress(own)} of ${name} is in the DHCP pool of ${network.name}: the day a device gets it, both fall off the network.`,
        worked(
          'Inside the pool',
          true,
          '',
          [
            step('pool, first address', formatAddress({ family: own.family, value: network.pool.first })),
            step('pool, last address', formatAddress({ family: own.family, value: network.pool.last })),
            step(name, formatAddress(own)),
            step('inside the pool', 'yes'),
          ],
          'RFC 2131 section 3.1, arithmetic',
        ),
        fix,
      ),
    ];
  return [];
}

/** Two boxes of one maker come with one address. */
function factory(site: Site, { at, name, factoryAddress, network }: Second): Finding[] {
  if (!factoryAddress) return [];
  const { host, prefix } = factoryAddress;
  const equal = site.networks.find(({ routerAddress }) => routerAddress && sameAddress(routerAddress, host));
  const line = site.lines.find(({ box }) => box?.address && sameAddress(box.address, host));
  const block = network?.prefix;
  if (!equal && !line && !(block && overlaps(block, prefix))) return [];
  const who = equal ? 'the router' : line ? line.box!.name : undefined;
  return [
    note(
      'second-factory',
      equal ? 'warning' : 'advice',
      `${at}/factoryAddress`,
      who
        ? `${name} comes with ${formatAddress(host)}, the address of ${who}: plugged in before it is changed, one of the two answers by chance. The run sheet sets it up alone.`
        : `${name} comes with ${formatAddress(host)}, an address of ${network!.name}: plugged in before it is changed, it may be another device's. The run sheet sets it up alone.`,
      block
        ? overlapWorked(prefix, block, [name, network.name])
        : said('Factory address', formatAddress(host)),
    ),
  ];
}

/** Networks that its radios are to serve and that end at it. */
function behind(site: Site, second: Second): Finding[] {
  const { at, name, network, way } = second;
  if (way === 'undecided') return [];
  const others = networksWanted(site, second).filter((each) => each !== network);
  const names = others.map((each) => each.name).join(' and ');
  const guests = others.some(({ purpose }) => purpose === 'guests');
  if (others.length > 0 && way === 'chained')
    return [
      note(
        'second-open',
        'blocker',
        `${at}/way`,
        `${names} on ${name} would be behind its translation, and so on ${there(second)}: anyone who joins reaches everything there, and no rule of the router can tell them apart. Use it as an access point.`,
        said('Networks on it', names),
      ),
    ];
  if (others.length > 0 && (way === 'bridge' || !passesTags(second)))
    return [
      note(
        'second-open',
        guests && (way === 'bridge' || second.box?.vlanSupport === 'plain') ? 'blocker' : 'warning',
        way === 'bridge' || !second.box ? `${at}/way` : `${second.box.at}/vlanSupport`,
        way === 'bridge'
          ? `${name} is to serve ${names} too, and a wireless bridge carries one network: everything would be ${there(second)}.`
          : second.box?.vlanSupport === 'plain'
            ? `${name} is to serve ${names} too, which takes VLAN tags, and it passes frames as they are: they would be on ${there(second)}.`
            : `${name} is to serve ${names} too, which takes VLAN tags. Look up whether it reads them: if not, they would be on ${there(second)}.`,
        said('Networks on it', names),
      ),
    ];
  if (way === 'chained' && network)
    return [
      note(
        'second-open',
        'advice',
        `${at}/way`,
        `Everything behind ${name} reaches everything on ${network.name}, and looks like one device there: its translation protects what is behind it, and nothing of ${network.name}.`,
        translationsWorked(site, 'chained'),
      ),
    ];
  return [];
}

function chained(site: Site, second: Second): Finding[] {
  const { at, name, way, inside } = second;
  if (way !== 'chained') return [];
  const found: Finding[] = [];
  if (!inside) {
    const proposed = addressesFor(site, second).inside;
    found.push(
      note(
        'second-inside',
        'warning',
        `${at}/inside`,
        `${name} has no subnet of its own yet; with the one that it comes with it may have that of ${there(second)}.`,
        said('Its own subnet', 'none'),
        proposed === '' ? undefined : replacing(`Give it ${proposed}`, `${at}/inside`, proposed),
      ),
    );
  }
  if (!second.translates && inside && second.address && !hasWayBack(site, second))
    found.push(
      note(
        'second-route',
        'blocker',
        `${at}/translates`,
        `${name} does not translate, and the router has no route to ${formatPrefix(inside.prefix)}: what is behind it sends and gets no answer. Add a static route over ${formatAddress(second.address)}, or turn its source NAT on.`,
        said('Static route', 'none'),
        replacing('Turn its source NAT on', `${at}/translates`, true),
      ),
    );
  const forwards = forwardsTo(site, second);
  for (const forward of forwards) {
    const ports = forward.inside;
    if (!ports || !isChained(second)) continue;
    const missed = firstMissed(second, forward);
    const entry = second.forwards.find(({ outside }) => hasPort(outside, ports.first));
    if (missed)
      found.push(
        note(
          'second-forward',
          'blocker',
          `${at}/forwards`,
          `${forward.name} leads to ${name}, and ${name} does not forward ${missed}. Add it there.`,
          translationsWorked(site, 'chained'),
        ),
      );
    else if (entry && !contains(second.inside.prefix, entry.address))
      found.push(
        note(
          'second-forward',
          'blocker',
          `${entry.at}/address`,
          `${entry.name} leads to ${formatAddress(entry.address)}, which is not behind ${name} (${formatPrefix(second.inside.prefix)}).`,
          said('Device address', formatAddress(entry.address)),
        ),
      );
  }
  for (const entry of second.forwards)
    if (
      isChained(second) &&
      !forwards.some(
        ({ inside: ports, protocol }) =>
          ports &&
          hasPort(entry.outside, ports.first) &&
          protocolsMeet(entry.protocol, protocol === 'both' ? 'tcp' : protocol),
      )
    )
      found.push(
        note(
          'second-forward',
          'advice',
          `${entry.at}/outsidePorts`,
          `${entry.name} is handed on by ${name}, and no forward of the router leads to it: it answers ${there(second)} only.`,
          said('Port on its WAN side', String(entry.outside.first)),
        ),
      );
  return found;
}

/** The first port of a forward that the second router hands on to nobody: "tcp 8443". */
function firstMissed({ forwards }: Second, { inside, protocol }: Forward): string | undefined {
  if (!inside) return undefined;
  for (const each of protocol === 'both' ? (['tcp', 'udp'] as const) : [protocol])
    for (let port = inside.first; port <= inside.last; port += 1)
      if (!forwards.some((entry) => hasPort(entry.outside, port) && protocolsMeet(entry.protocol, each)))
        return `${each} ${port}`;
  return undefined;
}

function bridge(site: Site, second: Second): Finding[] {
  const { at, name, way, signal, box } = second;
  if (way !== 'bridge') return [];
  const found: Finding[] = [];
  const radios = site.wifi.radios.filter((radio) => box !== undefined && radio.box === box);
  const expected = bridgeSignal(site, second);
  if (signal === null)
    found.push(
      note(
        'second-signal',
        'warning',
        `${at}/signal`,
        `The signal of the first where ${name} stands is not measured: the bridge stands or falls with it.`,
        expected?.why ?? said('Signal', 'not measured'),
      ),
    );
  else if (signal < weakSignal) {
    const rate = airRateWorked(signal, radios[0]?.width ?? 20);
    found.push(
      note(
        'second-signal',
        rate.value === 0 ? 'blocker' : 'warning',
        `${at}/signal`,
        rate.value === 0
          ? `At ${signal} dBm ${name} has no link that lasts. Lay a cable or move it nearer.`
          : `At ${signal} dBm ${name} carries about ${Math.round(rate.value)} Mb/s, half of it where it repeats on the same channel. Lay a cable or move it nearer.`,
        rate,
      ),
    );
  }
  const firsts = site.wifi.radios.filter((radio) => radio.box !== box && radio.channel !== null);
  const tied = radios.find(
    (radio) =>
      radio.channel !== null &&
      firsts.some(({ band }) => band === radio.band) &&
      !firsts.some(({ band, channel }) => band === radio.band && channel === radio.channel),
  );
  if (
    tied &&
    !radios.some((radio) =>
      firsts.some(({ band, channel }) => band === radio.band && channel === radio.channel),
    )
  )
    found.push(
      note(
        'second-channel',
        'blocker',
        `${tied.at}/channel`,
        `${name} is a wireless bridge and set to channel ${tied.channel}, where no radio of the first is: a bridge works on the channel of the first.`,
        said('Channel', String(tied.channel)),
        replacing(
          `Use channel ${firsts.find(({ band }) => band === tied.band)!.channel}`,
          `${tied.at}/channel`,
          firsts.find(({ band }) => band === tied.band)!.channel,
        ),
      ),
    );
  const wired = site.wiring.runs.find(
    ({ ends }) =>
      ends.some((end) => box !== undefined && end.box.kit === box) &&
      ends.some(
        (end) => end.box.kind === 'bridge' || end.box.kind === 'plain' || end.box.kind === 'router',
      ) &&
      ends.every((end) => end.box.kit !== undefined),
  );
  if (wired)
    found.push(
      note(
        'second-loop',
        'blocker',
        `${wired.at}/label`,
        `${name} is joined by air and by the cable ${wired.name}: the two are a circle, and the first broadcast goes round for ever. Take one of them out.`,
        said('Cable', wired.name),
      ),
    );
  return found;
}
