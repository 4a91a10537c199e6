import type { At } from '../../plan/at.ts';
import { formatPorts, portCount } from '../../base/net/ports.ts';
import { protocolsOf } from '../../base/net/packet-set.ts';
import { joinRanges, rangeOf, rangeSize } from '../../base/net/range.ts';
import { servicesIn, type KnownService, type ServiceNature } from '../../base/net/services.ts';
import { replacing, type Check, type Finding, type Severity } from '../../behaviour/domain-types/finding.ts';
import type { AllowedSources, Forward, Site } from '../../site/model.ts';
import { practice, step, type Worked, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

const registry = 'IANA service name and port number registry';

/**
 * What a forward shows to the internet, judged by the ports on which it answers inside, by the kind of the device, and
 * by how much is opened beside it; never by what somebody called it.
 */
export const exposed: Check = {
  name: 'exposed',
  run: (site) =>
    site.forwards.flatMap((forward) => {
      // A source list that cannot be read admits nobody: that is a finding of its own, and nothing is shown.
      if (forward.allowed.kind === 'nobody' || !forward.inside) return [];
      const services = servicesIn(forward.inside, protocolsOf(forward.protocol));
      return [
        ...natures.flatMap((nature) => shown(forward, services, nature)),
        ...kindOf(site, forward, services),
        ...bothProtocols(forward, services),
        ...wide(forward, services),
      ];
    }),
};

type Judged = Extract<ServiceNature, 'never' | 'clear' | 'login'>;
const natures: readonly Judged[] = ['never', 'clear', 'login'];

const severities: Readonly<Record<Judged, readonly [open: Severity, limited: Severity | undefined]>> = {
  never: ['blocker', 'warning'],
  clear: ['warning', 'advice'],
  login: ['warning', undefined],
};

/** Sources of which there are so many that anybody may be among them: a sixteenth of all IPv4 addresses. */
const nearlyAll = 2n ** 28n;

/** Whether everybody may use it, or as good as everybody. */
const isOpen = (allowed: AllowedSources): boolean =>
  allowed.kind === 'everybody' ||
  (allowed.kind === 'some' &&
    joinRanges(allowed.prefixes.map(rangeOf)).reduce((sum, each) => sum + rangeSize(each), 0n) >= nearlyAll);

function shown(forward: Forward, services: readonly KnownService[], nature: Judged): Finding[] {
  const found = services.filter((each) => each.nature === nature);
  const [first] = found;
  const [open, limited] = severities[nature];
  const severity = isOpen(forward.allowed) ? open : limited;
  if (!first || !severity) return [];
  const names = [...new Set(found.map(({ name }) => name))];
  const what = listed(names);
  const who = isOpen(forward.allowed) ? 'anybody on the internet' : 'the allowed sources';
  const device = forward.device?.name ?? 'a device';
  const safer = names.length === 1 ? `Safer: ${first.safer}.` : 'Safer: use the VPN instead.';
  const says = {
    never: `Forward "${forward.name}" shows ${what} of ${device} to ${who}. It was made for trusted networks and is searched for and broken into within hours. ${safer}`,
    clear: `Forward "${forward.name}" carries ${what} in clear text: names, passwords and contents can be read on the way. ${safer}`,
    login: `Forward "${forward.name}" shows ${what} of ${device} to ${who}: names and passwords are tried on it day and night. ${safer}`,
  }[nature];
  return [
    {
      ...note(`exposed-${nature}`, severity, `${forward.at}/device`, says, byPort(forward, found)),
      also: [`${forward.at}/sources`],
      source: `${practice}; ports: ${registry}`,
    },
  ];
}

const byPort = ({ inside, protocol, allowed }: Forward, found: readonly KnownService[]): Worked =>
  worked(
    'Service by its port',
    listed(found.map(({ name }) => name)),
    '',
    [
      step('inside port', formatPorts(inside!)),
      ...found.slice(0, 6).map(({ port, protocols, name, registered }) =>
        step(
          `${protocolsOf(protocol)
            .filter((each) => protocols.includes(each))
            .join(', ')} ${port} is`,
          registered === '' ? `${name} (in use, not registered)` : name,
        ),
      ),
      step('allowed sources', allowed.says),
    ],
    registry,
  );

const listed = (names: readonly string[]): string => {
  const shownNames = [...new Set(names)];
  const first = shownNames.slice(0, 3);
  if (shownNames.length > 3) return `${first.join(', ')} and ${shownNames.length - 3} more services`;
  const last = first.pop();
  return first.length === 0 ? (last ?? '') : `${first.join(', ')} and ${last}`;
};

/** Devices that are not made to be met by strangers, whatever port they answer on. */
function kindOf(site: Site, forward: Forward, services: readonly KnownService[]): Finding[] {
  const { device, allowed } = forward;
  if (!device || !isOpen(allowed)) return [];
  // What its port already says is said once.
  if (services.some(({ nature }) => nature === 'never' || nature === 'clear')) return [];
  const kit = site.kit.find(({ mac }) => mac.trim() !== '' && device.mac && sameMac(mac, device.mac.text));
  const why = (kind: string): Worked =>
    worked(
      'Kind of the device',
      kind,
      '',
      [step(device.name, kind), step('allowed sources', allowed.says)],
      practice,
    );
  const finding = (kind: string, says: string): Finding => ({
    ...note('exposed-kind', 'warning', `${forward.at}/device`, says, why(kind)),
    also: [`${forward.at}/sources`],
  });
  if (kit && ['switch', 'access-point', 'modem', 'ont', 'router', 'power'].includes(kit.role))
    return [
      finding(
        `equipment: ${kit.role}`,
        `Forward "${forward.name}" opens the pages of ${device.name}, which is equipment of the network itself, to anybody on the internet. Manage it through remote access.`,
      ),
    ];
  switch (device.network?.purpose) {
    case 'cameras':
      return [
        finding(
          'camera',
          `Forward "${forward.name}" lets anybody on the internet try ${device.name}, a camera or recorder: such devices are seldom updated, and pictures of people are personal data. Use the VPN, or allow the addresses of those who watch.`,
        ),
      ];
    case 'plant':
      return [
        finding(
          'machine',
          `Forward "${forward.name}" lets anybody on the internet try ${device.name}, a machine: such devices are seldom updated, and what they move is real. Use the VPN, or allow the addresses of those who maintain it.`,
        ),
      ];
    default:
      return [];
  }
}

const sameMac = (typed: string, text: string): boolean =>
  typed.replace(/[^0-9a-f]/gi, '').toLowerCase() === text.replaceAll(':', '');

/** Both protocols are opened, and the service needs one, or nobody knows whether it needs two. */
function bothProtocols(forward: Forward, services: readonly KnownService[]): Finding[] {
  const { protocol, inside, at, name, service } = forward;
  if (protocol !== 'both' || !inside) return [];
  if (services.some(({ protocols }) => protocols.length === 2)) return [];
  const [known] = services;
  const only =
    known && new Set(services.flatMap(({ protocols }) => protocols)).size === 1 ? known : undefined;
  const field: At = service ? `${service.at}/protocol` : `${at}/protocol`;
  return [
    note(
      'both-protocols',
      'advice',
      field,
      only
        ? `Forward "${name}" opens tcp and udp ${formatPorts(inside)}, and ${only.name} uses ${only.protocols[0]} only: the other one is open for nothing.`
        : `Forward "${name}" opens tcp and udp ${formatPorts(inside)}. Few services use both: look up which one this needs, and open that.`,
      worked(
        'Protocols',
        2,
        '',
        [
          step('opened', 'tcp, udp'),
          step('used', only ? `${only.protocols[0]} (${only.name})` : 'not known by this port'),
        ],
        registry,
      ),
      only && replacing(`Open ${only.protocols[0]} only`, field, only.protocols[0]),
    ),
  ];
}

/** Ports beyond which a range is asked about (common practice, no source). */
const wideRange = 16;

/** A range is opened that is wider than what the device is known to answer on. */
function wide(forward: Forward, services: readonly KnownService[]): Finding[] {
  const { inside, device, service, protocol, at, name } = forward;
  if (!inside || portCount(inside) === 1 || service) return [];
  const count = portCount(inside);
  const needed = (device?.services ?? []).filter(
    ({ ports }) => ports && ports.first >= inside.first && ports.last <= inside.last,
  );
  const used = needed.reduce((sum, { ports }) => sum + portCount(ports!), 0);
  // Calls need a range of udp ports for their sound (RFC 3550 section 11).
  const media = protocol === 'udp' && inside.first >= 1024;
  if (needed.length > 0 ? used >= count : media ? count <= 20_000 : count <= wideRange) return [];
  const [one] = needed;
  return [
    note(
      'range-wide',
      count > 1000 ? 'warning' : 'advice',
      `${at}/insidePorts`,
      needed.length > 0
        ? `Forward "${name}" opens ${count} ports, and ${device!.name} answers on ${used} of them: ${needed.map((each) => each.name).join(', ')}. Whatever begins to listen on the others tomorrow is on the internet at once.`
        : `Forward "${name}" opens ${count} ports of ${device?.name ?? 'a device'}${services.length > 0 ? `, those of ${listed(services.map((each) => each.name))} among them` : ''}. Open those that the service names; whatever else listens there is on the internet at once.`,
      worked(
        'Ports opened',
        count,
        'ports',
        [
          step('range', formatPorts(inside)),
          step('ports', `${inside.last} - ${inside.first} + 1 = ${count}`),
          step('known to be used', needed.length > 0 ? used : 'nothing entered'),
        ],
        practice,
      ),
      needed.length === 1 && one?.ports
        ? {
            says: `Open ${one.name} only, ${formatPorts(one.ports)}`,
            patch: [
              { op: 'replace', path: `${at}/service`, value: one.id },
              { op: 'replace', path: `${at}/insidePorts`, value: '' },
              { op: 'replace', path: `${at}/outsidePorts`, value: '' },
            ],
          }
        : undefined,
    ),
  ];
}
