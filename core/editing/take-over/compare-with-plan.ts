import { factAt, factText, needs, settingsWith } from '../../wan-types/facts.ts';
import { formatAddress, parseAddress, sameAddress, type Address } from '../../base/net/address.ts';
import { formatPrefix, hostsOf, overlaps, samePrefix } from '../../base/net/prefix.ts';
import { titleAt } from '../../plan/places.ts';
import type { Patch } from '../../plan/patch.ts';
import {
  deviceSchema,
  forwardSchema,
  heardSchema,
  networkSchema,
  serviceSchema,
  uplinkSchema,
  type Plan,
} from '../../plan/schema.ts';
import { parseMac } from '../../base/net/mac.ts';
import { valueOf } from '../../base/result.ts';
import type { Site } from '../../site/model.ts';
import { slug } from '../../base/text.ts';
import type { Found } from '../../intake/discovery/discovery.ts';

/** One thing that was found, beside what the plan says of it. */
export interface Beside {
  readonly what: string;
  readonly found: string;
  readonly planned: string;
  readonly differs: boolean;
  /** What is found, as a change of the plan; left out where the plan says so already or cannot say it. */
  readonly take?: { readonly says: string; readonly patch: Patch };
}

/** A name from the outside as an id that the plan does not have yet. */
function freeId(taken: readonly { readonly id: string }[], wanted: string): string {
  const base =
    slug(wanted)
      .split(/[^a-z0-9]+/)
      .filter((word) => word !== '')
      .join('-')
      .slice(0, 40) || 'found';
  let id = base;
  for (let number = 2; taken.some((each) => each.id === id); number += 1) id = `${base}-${number}`;
  return id;
}

const text = (host: Address | undefined): string => (host ? formatAddress(host) : '');

/** What was found beside what is planned, differences first; each difference with the change that takes it over. */
export function besidePlan(plan: Plan, site: Site, found: Found): Beside[] {
  const rows = [
    ...lineRows(plan, site, found),
    ...networkRows(plan, site, found),
    ...serverRows(site, found),
    ...deviceRows(plan, site, found),
    ...forwardRows(plan, site, found),
    ...wifiRows(plan, site, found),
  ];
  return rows.sort((a, b) => Number(b.differs) - Number(a.differs));
}

/** A row about one field: it differs where something was found that the plan does not say. */
const fieldRow = (what: string, found: string, planned: string, path: string, value: unknown): Beside => ({
  what,
  found,
  planned,
  differs: found !== planned,
  ...(found !== planned && {
    take: { says: `${what}: ${found}`, patch: [{ op: 'replace', path, value }] },
  }),
});

/** The line, as the outermost box holds it, and what stands in front of the router that is planned. */
function lineRows(plan: Plan, site: Site, found: Found): Beside[] {
  const page = found.main?.page ?? found.boxes[0]?.page;
  if (!page && !found.outside && found.boxes.length === 0) return [];
  const [uplink] = plan.uplinks;
  const [line] = site.lines;
  if (!uplink || !line) {
    const type = page?.wanType ?? 'dhcp';
    const fresh = uplinkSchema.parse({
      id: 'line',
      name: 'Line',
      type,
      vlan: page?.vlan ?? null,
      mtuBytes: page?.mtu ?? null,
      rateDownMbps: page?.downMbps ?? null,
      rateUpMbps: page?.upMbps ?? null,
      settings: {
        [type]: settingsWith(type, {
          userName: page?.user,
          address: needs(type, 'address') ? text(page?.wanAddress) : found.carrier ? '' : text(found.outside),
          prefixLength: page?.wanLength?.toString(),
          gateway: text(page?.wanGateway),
          resolvers: page?.resolvers.map(formatAddress),
        }),
      },
    });
    return [
      {
        what: 'Line',
        found: [
          titleAt('/uplinks/*/type', type),
          page?.user ?? '',
          page?.vlan === undefined ? '' : `VLAN ${page.vlan}`,
          text(page?.wanAddress ?? found.outside),
        ]
          .filter((part) => part !== '')
          .join(', '),
        planned: 'none',
        differs: true,
        take: {
          says: 'Add the line as it is used today',
          patch: [{ op: 'add', path: '/uplinks/-', value: fresh }],
        },
      },
    ];
  }
  const at = '/uplinks/0';
  const rows: Beside[] = [];
  if (page?.wanType)
    rows.push(
      fieldRow(
        `WAN type of ${line.name}`,
        titleAt('/uplinks/*/type', page.wanType),
        titleAt('/uplinks/*/type', uplink.type),
        `${at}/type`,
        page.wanType,
      ),
    );
  const userAt = factAt(line, 'userName');
  if (page && page.user !== '' && userAt)
    rows.push(fieldRow('User name', page.user, factText(line, 'userName'), userAt, page.user));
  if (page?.vlan !== undefined)
    rows.push(
      fieldRow(
        'VLAN ID of the line',
        String(page.vlan),
        String(uplink.vlan ?? 'untagged'),
        `${at}/vlan`,
        page.vlan,
      ),
    );
  if (page?.mtu !== undefined)
    rows.push(
      fieldRow(`MTU of ${line.name}`, String(page.mtu), String(line.mtuBytes), `${at}/mtuBytes`, page.mtu),
    );
  if (found.outside && line.publicAddressKnown)
    rows.push({
      what: `Address that the outside sees on ${line.name}`,
      found: formatAddress(found.outside),
      planned: formatAddress(line.publicAddress),
      differs: !sameAddress(found.outside, line.publicAddress),
      ...(!sameAddress(found.outside, line.publicAddress) &&
        !line.box?.routes && {
          take: {
            says: `Address of ${line.name}: ${formatAddress(found.outside)}`,
            patch: [{ op: 'replace' as const, path: line.addressAt, value: formatAddress(found.outside) }],
          },
        }),
    });
  // More than one box translates: all but the innermost stay in front of the new router.
  const front = found.boxes[1];
  if (front) {
    const planned = line.box?.routes
      ? `${line.box.name}, ${line.box.prefix ? formatPrefix(line.box.prefix) : ''}`
      : 'nothing that routes';
    const same = line.box?.prefix && front.inside && samePrefix(line.box.prefix, front.inside);
    rows.push({
      what: 'In front of the router',
      found: `a router at ${formatAddress(front.address)}${front.inside ? `, ${formatPrefix(front.inside)}` : ''}`,
      planned,
      differs: !same,
      ...(!same &&
        front.inside && {
          take: {
            says: `A router in front: ${formatPrefix(front.inside)}`,
            patch: [
              { op: 'replace', path: `${at}/handoff/mode`, value: 'routes' },
              { op: 'replace', path: `${at}/handoff/insidePrefix`, value: formatPrefix(front.inside) },
              { op: 'replace', path: `${at}/handoff/insideAddress`, value: formatAddress(front.address) },
              {
                op: 'replace',
                path: `${at}/handoff/outsideAddress`,
                value: text(front.outside ?? found.outside),
              },
            ],
          },
        }),
    });
  } else if (line.box?.routes)
    rows.push({
      what: 'In front of the router',
      found: found.boxes.length === 0 ? 'no trace of it yet' : 'nothing that routes',
      planned: `${line.box.name} routes`,
      differs: found.boxes.length > 0,
    });
  return rows;
}

function networkRows(plan: Plan, site: Site, found: Found): Beside[] {
  return found.networks.map((network): Beside => {
    const known = site.networks.find(({ prefix }) => prefix && samePrefix(prefix, network.prefix));
    const clash = site.networks.find(({ prefix }) => prefix && overlaps(prefix, network.prefix));
    const page = found.boxes.find(
      ({ address }) => network.router && sameAddress(address, network.router),
    )?.page;
    const what = `Subnet ${formatPrefix(network.prefix)}`;
    const says = [
      network.router ? `router ${formatAddress(network.router)}` : 'no router seen',
      network.servers.length > 0 ? `addresses from ${network.servers.map(formatAddress).join(' and ')}` : '',
      page?.poolFrom && page.poolTo
        ? `pool ${formatAddress(page.poolFrom)} to ${formatAddress(page.poolTo)}`
        : '',
      network.hosts.length > 0
        ? `${network.hosts.length} ${network.hosts.length === 1 ? 'host' : 'hosts'}`
        : '',
    ]
      .filter((part) => part !== '')
      .join(', ');
    if (known)
      return {
        what,
        found: says,
        planned: `${known.name}, router ${text(known.routerAddress)}`,
        differs: network.router !== undefined && text(known.routerAddress) !== text(network.router),
      };
    const hosts = hostsOf(network.prefix);
    const fresh = networkSchema.parse({
      id: freeId(plan.networks, 'inside'),
      name: 'Inside, as it is today',
      purpose: 'other',
      prefix: formatPrefix(network.prefix),
      routerAddress: text(network.router ?? hosts.first),
      dhcp: { from: text(page?.poolFrom), to: text(page?.poolTo) },
      resolvers: [text(network.router ?? hosts.first)],
    });
    return {
      what,
      found: says,
      planned: clash ? `${clash.name} overlaps it: ${formatPrefix(clash.prefix!)}` : 'not in the plan',
      differs: true,
      ...(!clash && {
        take: {
          says: `Add the network ${formatPrefix(network.prefix)}`,
          patch: [{ op: 'add', path: '/networks/-', value: fresh }],
        },
      }),
    };
  });
}

/** Who hands out addresses on a network of the plan, beside who is to: one that is not planned is named. */
function serverRows(site: Site, found: Found): Beside[] {
  return found.networks.flatMap(({ prefix, servers, hosts }) => {
    const network = site.networks.find((each) => each.prefix && samePrefix(each.prefix, prefix));
    if (!network) return [];
    return servers.map((server): Beside => {
      const address = formatAddress(server);
      const own = network.routerAddress !== undefined && sameAddress(network.routerAddress, server);
      const second = site.second.find((each) => each.address && sameAddress(each.address, server));
      const device = site.devices.find((each) => each.address && sameAddress(each.address, server));
      const mac = hosts.find((host) => sameAddress(host.address, server))?.mac;
      const name = own ? 'the router' : (second?.name ?? device?.name ?? mac);
      return {
        what: `DHCP server on ${network.name}`,
        found: name === undefined ? address : `${address}, ${name}`,
        planned: !network.dhcp.enabled
          ? 'another server, not the router'
          : own
            ? 'the router'
            : `the router only: switch it off at ${address}`,
        differs: network.dhcp.enabled && !own,
      };
    });
  });
}

/** Devices that are named or kept at an address; phones that come and go are no rows of a plan. */
function deviceRows(plan: Plan, site: Site, found: Found): Beside[] {
  const taken = [...plan.devices];
  return found.networks.flatMap(({ hosts, prefix }) => {
    const network = site.networks.find((each) => each.prefix && samePrefix(each.prefix, prefix));
    const ports = (host: Address): boolean =>
      found.forwards.some((forward) => sameAddress(forward.host, host));
    return hosts.flatMap((host): Beside[] => {
      const known = site.devices.find(({ mac }) => mac?.text === host.mac);
      const address = formatAddress(host.address);
      if (known) {
        const planned = known.address ? formatAddress(known.address) : 'automatic';
        return [
          { what: known.name, found: `${address}, ${host.mac}`, planned, differs: planned !== address },
        ];
      }
      if (!host.reserved && host.name === '' && !ports(host.address)) return [];
      const fresh = deviceSchema.parse({
        id: freeId(taken, host.name || host.mac),
        name: host.name.slice(0, 200) || `Device ${host.mac}`,
        mac: host.mac,
        network: network?.id ?? '',
        addressing: host.reserved || ports(host.address) ? 'reserved' : 'automatic',
        address: host.reserved || ports(host.address) ? address : '',
      });
      taken.push(fresh);
      return [
        {
          what: fresh.name,
          found: `${address}, ${host.mac}${host.reserved ? ', reserved' : ''}`,
          planned: 'not in the plan',
          differs: true,
          ...(valueOf(parseMac(host.mac)) && {
            take: { says: `Add ${fresh.name}`, patch: [{ op: 'add', path: '/devices/-', value: fresh }] },
          }),
        },
      ];
    });
  });
}

function forwardRows(plan: Plan, site: Site, found: Found): Beside[] {
  return found.forwards.map((seen): Beside => {
    const device = site.devices.find(({ address }) => address && sameAddress(address, seen.host));
    const known = site.forwards.find(
      (forward) =>
        forward.outside &&
        seen.outside.split('-')[0] === String(forward.outside.first) &&
        forward.device?.address &&
        sameAddress(forward.device.address, seen.host),
    );
    const says = `${seen.protocol} ${seen.outside} to ${formatAddress(seen.host)} ${seen.inside}`;
    const index = plan.devices.findIndex(({ address }) => {
      const host = valueOf(parseAddress(address));
      return host && sameAddress(host, seen.host);
    });
    const service =
      index < 0
        ? undefined
        : serviceSchema.parse({
            id: freeId(plan.devices[index]!.services, seen.name || `port-${seen.inside}`),
            name: seen.name || `Port ${seen.inside}`,
            protocol: seen.protocol,
            ports: seen.inside,
          });
    return {
      what: `Forward ${seen.name || seen.outside}`,
      found: says,
      planned: known ? known.name : 'not in the plan: closed from outside',
      differs: !known,
      ...(!known &&
        device &&
        service && {
          take: {
            says: `Forward ${says}`,
            patch: [
              { op: 'add', path: `/devices/${index}/services/-`, value: service },
              {
                op: 'add',
                path: '/forwards/-',
                value: forwardSchema.parse({
                  id: freeId(plan.forwards, seen.name || `port-${seen.outside}`),
                  purpose: seen.name || `Port ${seen.outside}, as it was`,
                  uplink: plan.uplinks[0]?.id ?? '',
                  device: plan.devices[index]!.id,
                  service: service.id,
                  protocol: seen.protocol,
                  outsidePorts: seen.outside,
                  insidePorts: seen.inside,
                }),
              },
            ],
          },
        }),
    };
  });
}

/** Own Wi-Fi names on the channels on which they were heard, and what else is in the air. */
function wifiRows(plan: Plan, site: Site, { heard }: Found): Beside[] {
  const own = site.wifi.networks.filter(({ ssid }) => ssid !== '');
  const others = heard.filter(({ ssid }) => !own.some((each) => each.ssid === ssid));
  const known = (each: (typeof others)[number]): boolean =>
    site.wifi.heard.some(
      ({ ssid, band, channel }) => ssid === each.ssid && band === each.band && channel === each.channel,
    );
  const fresh = others.filter((each) => !known(each));
  return [
    ...own.flatMap((wifi): Beside[] => {
      const seen = heard.filter(({ ssid }) => ssid === wifi.ssid);
      const radios = site.wifi.radios.filter(
        ({ networks, channel }) => channel !== null && networks.includes(wifi),
      );
      if (seen.length === 0) return [];
      const words = (all: readonly { readonly band: string; readonly channel: number | null }[]): string =>
        [...new Set(all.map(({ band, channel }) => `${channel} in ${band} GHz`))].sort().join(', ');
      return [
        {
          what: `Channels of ${wifi.ssid}`,
          found: words(seen),
          planned: radios.length === 0 ? 'left to the boxes' : words(radios),
          differs:
            radios.length > 0 &&
            seen.some(
              (each) => !radios.some(({ band, channel }) => band === each.band && channel === each.channel),
            ),
        },
      ];
    }),
    ...(others.length === 0
      ? []
      : [
          {
            what: 'Wi-Fi of others',
            found: `${others.length} heard`,
            planned: `${others.length - fresh.length} of them on the sheet Wi-Fi`,
            differs: fresh.length > 0,
            ...(fresh.length > 0 && {
              take: {
                says: `Add ${fresh.length} to the networks heard`,
                patch: fresh.map(({ ssid, band, channel, width, signalDbm }, index) => ({
                  op: 'add' as const,
                  path: '/wifi/heard/-',
                  value: heardSchema.parse({
                    id: freeId(plan.wifi.heard, `heard ${plan.wifi.heard.length + index + 1}`),
                    ssid: ssid.slice(0, 32),
                    band,
                    channel,
                    width: String(Math.min(width, 160)),
                    signal: Math.round(signalDbm),
                  }),
                })),
              },
            }),
          },
        ]),
  ];
}

/** The job that follows from what was found: another router works there today. */
export function replacementPatch(plan: Plan, found: Found): Patch {
  const [inner] = found.boxes;
  if (!inner) return [];
  return [
    ...(plan.visit.kind === 'replacement'
      ? []
      : [{ op: 'replace' as const, path: '/visit/kind', value: 'replacement' }]),
    { op: 'replace', path: '/visit/oldAddress', value: formatAddress(inner.address) },
    ...(inner.page && inner.page.model !== ''
      ? [{ op: 'replace' as const, path: '/visit/oldRouter', value: inner.page.model }]
      : []),
  ];
}
