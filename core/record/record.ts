import { formatAddress } from '../net/address.ts';
import { formatPorts } from '../net/ports.ts';
import { formatPrefix } from '../net/prefix.ts';
import { termAt, titleAt } from '../plan/places.ts';
import { stepStates, type SiteRecord } from '../runsheet/record.ts';
import type { Accepted } from '../acceptance/judge.ts';
import type { Forward, Line, Site } from '../site/model.ts';
import type { Finding } from '../terms/finding.ts';
import type { RunStep } from '../terms/step.ts';
import { accessList } from '../vpn/access.ts';
import { reachText } from '../vpn/reach.ts';
import { macText } from '../workings/index.ts';

/** A table of the record. */
export interface RecordSection {
  readonly title: string;
  /** Heading of each column; those whose values are addresses or names of machines are listed in `mono`. */
  readonly headings: readonly string[];
  readonly mono: readonly number[];
  readonly rows: readonly (readonly string[])[];
  /** What stands there while there is no row. */
  readonly none: string;
}

/** The as-built record of a site: what stays with the customer. */
export interface SiteRecordDocument {
  readonly title: string;
  readonly demo: boolean;
  readonly facts: readonly (readonly [label: string, value: string])[];
  readonly sections: readonly RecordSection[];
}

/** What the record tells beside the plan. */
export interface RecordSources {
  readonly accepted: readonly Accepted[];
  readonly steps: readonly RunStep[];
  readonly records: readonly SiteRecord[];
  /** Undefined: nobody has looked yet. */
  readonly findings: readonly Finding[] | undefined;
  /** ISO 8601 date. */
  readonly today: string;
  /** How a moment is written, from ISO 8601. */
  readonly momentText: (iso: string) => string;
}

const section = (
  title: string,
  headings: readonly string[],
  mono: readonly number[],
  rows: readonly (readonly string[])[],
  none: string,
): RecordSection => ({ title, headings, mono, rows, none });

/** Puts the record together. */
export function siteRecord(site: Site, sources: RecordSources): SiteRecordDocument {
  const { about } = site;
  const joined = (parts: readonly string[]): string => parts.filter((part) => part !== '').join(', ') || '—';
  return {
    title: about.name || 'Unnamed site',
    demo: site.demo,
    facts: [
      [termAt('/site/customer'), about.customer || '—'],
      ['Address', joined([about.street, about.postcode, about.town, about.country])],
      [
        termAt('/contacts'),
        site.contacts.map((each) => joined([each.name, each.role, each.phone, each.email])).join('; ') || '—',
      ],
    ],
    sections: [
      kitSection(site),
      lineSection(site),
      networkSection(site),
      deviceSection(site),
      forwardSection(site),
      section(
        termAt('/reach'),
        ['The first that fits decides; everything else between networks is refused, and may go out'],
        [],
        site.reach.map(({ says }) => [says]),
        'Nothing: no inside network reaches another.',
      ),
      ...accessSections(site, sources.today),
      acceptanceSection(sources),
      workSection(sources),
      section(
        'Open findings',
        ['Severity', 'What'],
        [],
        (sources.findings ?? []).map(({ severity, says }) => [severity, says]),
        sources.findings ? 'None.' : 'Not looked at yet.',
      ),
    ],
  };
}

const kitSection = (site: Site): RecordSection =>
  section(
    termAt('/kit'),
    [
      ...['role', 'model', 'serial', 'mac', 'adminAddress', 'firmware'].map((key) => termAt(`/kit/*/${key}`)),
      'Power supply',
    ],
    [2, 3, 4, 5, 6],
    site.kit.map((item) => [
      titleAt('/kit/*/role', item.role),
      item.model,
      item.serial,
      item.mac && macText(item.mac),
      item.adminAddress,
      item.firmware,
      item.powerVolts !== null && item.powerAmps !== null ? `${item.powerVolts} V ${item.powerAmps} A` : '',
    ]),
    'None noted.',
  );

/** How a line gets its values, with what tells it from others of its kind. */
const kindOf = (line: Line): string =>
  [
    ...(line.medium === 'unknown' ? [] : [titleAt('/uplinks/*/medium', line.medium)]),
    titleAt('/uplinks/*/type', line.type),
    ...(line.type === 'pppoe' ? [line.settings.pppoe.userName] : []),
    ...(line.type === 'cellular' ? [`APN ${line.settings.cellular.apn}`] : []),
  ].join(', ');

const lineSection = (site: Site): RecordSection =>
  section(
    termAt('/uplinks'),
    ['Uplink', 'Medium, WAN type', 'VLAN ID', 'Address', 'Gateway', 'In front of it', 'MTU', 'Source NAT'],
    [2, 3, 4, 6],
    site.lines.map((line) => [
      line.name,
      kindOf(line),
      String(line.vlan ?? 'untagged'),
      `${line.addressKnown ? formatAddress(line.address) : 'automatic'}${line.prefix ? `, ${formatPrefix(line.prefix)}` : ''}`,
      line.gateway ? formatAddress(line.gateway) : '',
      line.box ? `${line.box.name}, ${line.box.routes ? 'routes' : 'bridged'}` : 'nothing',
      String(line.mtuBytes),
      line.sourceNat ? 'on' : 'off',
    ]),
    'None.',
  );

const networkSection = (site: Site): RecordSection =>
  section(
    termAt('/networks'),
    [
      'Network',
      ...['purpose', 'vlan', 'prefix', 'routerAddress'].map((key) => termAt(`/networks/*/${key}`)),
      'DHCP pool',
      termAt('/networks/*/resolvers'),
    ],
    [2, 3, 4, 5, 6],
    site.networks.map((network) => [
      network.name,
      titleAt('/networks/*/purpose', network.purpose),
      String(network.vlan ?? 'untagged'),
      network.prefix ? formatPrefix(network.prefix) : '',
      network.routerAddress ? formatAddress(network.routerAddress) : '',
      poolText(network.dhcp),
      network.resolvers.map(formatAddress).join(', '),
    ]),
    'None.',
  );

const poolText = ({ enabled, from, to }: Site['networks'][number]['dhcp']): string =>
  enabled ? `${from ? formatAddress(from) : '?'} to ${to ? formatAddress(to) : '?'}` : 'no DHCP server';

const deviceSection = (site: Site): RecordSection =>
  section(
    termAt('/devices'),
    ['Device', 'Network', 'Address', 'MAC address', 'Services'],
    [2, 3, 4],
    site.devices.map((device) => [
      device.name,
      device.network?.name ?? '',
      device.address ? `${formatAddress(device.address)}, ${device.addressing}` : 'dynamic',
      device.mac?.text ?? '',
      device.services
        .map(({ name, protocol, ports }) => `${name} ${protocol} ${ports ? formatPorts(ports) : ''}`)
        .join('; '),
    ]),
    'None registered.',
  );

const forwardSection = (site: Site): RecordSection =>
  section(
    termAt('/forwards'),
    ['What for', 'Uplink', 'Outside', 'To', termAt('/forwards/*/sources')],
    [2, 3, 4],
    site.forwards.map((forward) => [
      forward.name,
      forward.line?.name ?? '',
      `${forward.protocol === 'both' ? 'tcp, udp' : forward.protocol} ${forward.outside ? formatPorts(forward.outside) : ''}`,
      targetText(forward),
      forward.allowed.says,
    ]),
    'None. Everything inbound is refused.',
  );

const targetText = ({ device, inside }: Forward): string =>
  `${device?.address ? formatAddress(device.address) : (device?.name ?? '')} ${inside ? formatPorts(inside) : ''}`;

function accessSections(site: Site, today: string): RecordSection[] {
  const { vpn } = site;
  if (vpn.way === 'none') return [];
  const people = section(
    `Remote access: ${titleAt('/vpn/way', vpn.way)}`,
    ['Client', 'State', 'Tunnel address', 'Reaches exactly'],
    [2],
    accessList(site, today).map(({ peer, says }) => [
      peer.name,
      says,
      [peer.address, peer.address6].flatMap((host) => (host ? [formatAddress(host)] : [])).join(', '),
      reachText(peer).join('; '),
    ]),
    'Nobody yet.',
  );
  if (vpn.sites.length === 0) return [people];
  const others = section(
    termAt('/vpn/sites'),
    ['Site', 'Endpoint', 'Remote subnets', 'Local networks', 'Translated subnets'],
    [1, 2],
    vpn.sites.map((far) => [
      far.name,
      far.endpoint || 'it calls',
      far.prefixes.map(formatPrefix).join(', '),
      far.networks.map(({ name }) => name).join(', '),
      far.translations
        .map(
          ({ of, network, real, seen }) => `${network} ${of}: ${formatPrefix(real)} as ${formatPrefix(seen)}`,
        )
        .join('; '),
    ]),
    '',
  );
  return [people, others];
}

const acceptanceSection = ({ accepted, momentText }: RecordSources): RecordSection =>
  section(
    'Promises and evidence',
    ['Promise', 'On paper', 'Evidence on site', 'Proven'],
    [],
    accepted.map(({ promise, best, accepted: proven, missing }) => [
      promise.says,
      promise.paper.kept ? 'kept' : 'not kept',
      best
        ? `${best.says}; ${momentText(best.record.at)}, ${best.record.initials}${best.record.reading && `: ${best.record.reading}`}`
        : '',
      proven ? 'yes' : `no. ${missing}`,
    ]),
    'None.',
  );

function workSection({ steps, records, momentText }: RecordSources): RecordSection {
  const states = stepStates(records);
  const done = steps.filter((step) => states.get(step.id)?.done);
  return section(
    `Work done: ${done.length} of ${steps.length} steps`,
    ['Step', 'When', 'Who', 'Reading'],
    [1, 3],
    done.map((step) => {
      const last = states.get(step.id)!.last!;
      return [step.title, momentText(last.at), last.initials, last.reading];
    }),
    'No step is ticked yet.',
  );
}
