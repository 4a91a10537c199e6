import { factText } from '../../wan-types/facts.ts';
import { formatAddress } from '../../base/net/address.ts';
import { formatPorts } from '../../base/net/ports.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import { termAt, titleAt } from '../../plan/places.ts';
import { valueAt } from '../../plan/pointer.ts';
import type { Plan } from '../../plan/schema.ts';
import { judgeValues } from '../../intake/readings/judge.ts';
import { takeOvers } from '../../editing/take-over/take-over.ts';
import { stepStates, valuesOf, type SiteRecord } from '../../answers/run-sheet/record.ts';
import { forwardPromiseId, internetPromiseId, linePromiseId } from '../../behaviour/domain-types/promise.ts';
import type { Accepted } from '../../answers/acceptance/judge.ts';
import type { Forward, Line, Site } from '../../site/model.ts';
import type { Finding } from '../../behaviour/domain-types/finding.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';
import { accessList } from '../../behaviour/remote-access/access.ts';
import { reachText } from '../../behaviour/remote-access/reach.ts';
import { macText } from '../../answers/workings/index.ts';
import { cablingSections, secondSections, wifiSections } from './inside.ts';
import { section, type RecordSection } from './section.ts';
import { counted } from '../../base/text.ts';

export type { RecordSection } from './section.ts';

/** The record of a site: what stays with the customer. */
export interface SiteRecordDocument {
  readonly title: string;
  /** Whether it is as built, or planned and seen in part. */
  readonly says: string;
  readonly demo: boolean;
  readonly facts: readonly (readonly [label: string, value: string])[];
  readonly sections: readonly RecordSection[];
}

/** What the record tells beside the plan. */
export interface RecordSources {
  readonly plan: Plan;
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

/** Puts the record together. */
export function siteRecord(site: Site, sources: RecordSources): SiteRecordDocument {
  const { about } = site;
  const joined = (parts: readonly string[]): string => parts.filter((part) => part !== '').join(', ') || '—';
  return {
    title: about.name || 'Unnamed site',
    says: standingText(sources.accepted),
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
      seenSection(site, sources),
      kitSection(site),
      lineSection(site, sources),
      networkSection(site, sources),
      deviceSection(site),
      forwardSection(site, sources),
      section(
        termAt('/reach'),
        ['The first that fits decides; everything else between networks is refused, and may go out'],
        [],
        site.reach.map(({ says }) => [says]),
        'Nothing: no inside network reaches another.',
      ),
      ...cablingSections(site),
      ...wifiSections(site),
      ...secondSections(site),
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

/** Only what was seen is as built. */
function standingText(accepted: readonly Accepted[]): string {
  const proven = accepted.filter((each) => each.accepted).length;
  if (accepted.length > 0 && proven === accepted.length) return 'As built: everything here was seen on site.';
  return proven === 0
    ? 'As planned, not verified on site.'
    : `As planned; ${proven} of ${accepted.length} promises were seen on site, and are marked.`;
}

/** Who saw it and when, or that nobody did. */
function seenText({ accepted, momentText }: RecordSources, promise: string): string {
  const found = accepted.find((each) => each.promise.id === promise);
  return found?.accepted && found.best
    ? `${momentText(found.best.record.at)}, ${found.best.record.initials}`
    : 'planned';
}

/** What was read off on site beside what is planned: differences first, with who saw it. */
function seenSection(site: Site, { plan, steps, records, momentText }: RecordSources): RecordSection {
  const states = stepStates(records);
  const rows = steps.flatMap((step) => {
    const state = states.get(step.id);
    if (!state?.done || !state.last) return [];
    const { last } = state;
    const values = valuesOf(step, last);
    const verdicts = judgeValues(site, step, values);
    return step.fields.flatMap((field) => {
      const typed = (values[field.key] ?? '').trim();
      if (typed === '') return [];
      const verdict = verdicts.find(({ key }) => key === field.key)?.verdict;
      const planned = field.at === undefined ? undefined : valueAt(plan, field.at);
      const differs = takeOvers(plan, site, { ...step, fields: [field] }, values).length > 0;
      const odd = verdict?.kind === 'bad' || verdict?.kind === 'doubt';
      return [
        {
          rank: differs ? 0 : odd ? 1 : 2,
          cells: [
            `${step.title}: ${field.label}`,
            typeof planned === 'string' || typeof planned === 'number' ? String(planned) : '',
            `${field.choices.find(({ value }) => value === typed)?.title ?? typed}${field.unit && field.kind === 'number' ? ` ${field.unit}` : ''}`,
            differs ? 'differs from the plan' : odd ? verdict.says : '',
            `${momentText(last.at)}, ${last.initials}`,
          ],
        },
      ];
    });
  });
  return section(
    'Seen on site, differences first',
    ['What', 'Planned', 'Seen', 'Remark', 'When, who'],
    [1, 2],
    rows.sort((a, b) => a.rank - b.rank).map(({ cells }) => cells),
    'No readings yet.',
  );
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
    factText(line, 'userName'),
    factText(line, 'apn') && `APN ${factText(line, 'apn')}`,
  ]
    .filter((part) => part !== '')
    .join(', ');

const lineSection = (site: Site, sources: RecordSources): RecordSection =>
  section(
    termAt('/uplinks'),
    [
      'Uplink',
      'Medium, WAN type',
      'VLAN ID',
      'Address',
      'Gateway',
      'Device in front',
      'MTU',
      'Source NAT',
      'Seen',
    ],
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
      seenText(sources, linePromiseId(line)),
    ]),
    'None.',
  );

const networkSection = (site: Site, sources: RecordSources): RecordSection =>
  section(
    termAt('/networks'),
    [
      'Network',
      ...['purpose', 'vlan', 'prefix', 'routerAddress'].map((key) => termAt(`/networks/*/${key}`)),
      'DHCP pool',
      termAt('/networks/*/resolvers'),
      'Seen',
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
      seenText(sources, internetPromiseId(network)),
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

const forwardSection = (site: Site, sources: RecordSources): RecordSection =>
  section(
    termAt('/forwards'),
    ['What for', 'Uplink', 'Outside', 'To', termAt('/forwards/*/sources'), 'Seen'],
    [2, 3, 4],
    site.forwards.map((forward) => [
      forward.name,
      forward.line?.name ?? '',
      `${forward.protocol === 'both' ? 'tcp, udp' : forward.protocol} ${forward.outside ? formatPorts(forward.outside) : ''}`,
      targetText(forward),
      forward.allowed.says,
      seenText(sources, forwardPromiseId(forward)),
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
    ['Client', 'State', 'Tunnel address', 'Access to'],
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
      far.endpoint || 'outbound only',
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
    `Work done: ${done.length} of ${counted(steps.length, 'step')}`,
    ['Step', 'When', 'Who', 'Reading'],
    [1, 3],
    done.map((step) => {
      const last = states.get(step.id)!.last!;
      return [step.title, momentText(last.at), last.initials, last.reading];
    }),
    'No step is ticked yet.',
  );
}
