import { factsOf, hashOf, type Decision } from '../../plan/facts.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import type { SitePromise } from '../../behaviour/domain-types/promise.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';
import { nameOfOpens, opens, opensAsBefore, opensTitle, type Opens } from './opens.ts';
import { once, onceForEach } from '../../base/once.ts';

/**
 * What evidence stands on: parts of the plan as they were when it was seen, and what passed through the site then. A
 * record keeps a hash of each by its name.
 */
export type Parts = Readonly<Record<string, string>>;

/** A part of the plan in one respect: "/networks/office", "/networks/office rate". */
type PartName = string;
const named = (part: string, decides: Decision): PartName =>
  decides === 'path' ? part : `${part} ${decides}`;

/** Which parts a promise stands on: one that comes or goes changes it as well. */
const namesOf = ({ id }: Pick<SitePromise, 'id'>): PartName => `ground ${id}`;
/** What a step types into boxes. */
const entered: PartName = 'entered';

/** What a promise stands on. */
interface Ground {
  readonly parts: readonly PartName[];
  /** What must pass as before, whatever rules and routes make it so. */
  readonly opens?: Opens | undefined;
}

const hashOfPart = (site: Site, name: PartName): string => {
  const [part = '', decides = 'path'] = name.split(' ');
  return factsOf(site.entered).hash(part, decides as Decision);
};

const hashOfEntries = ({ entries }: Pick<RunStep, 'entries'>): string =>
  hashOf(entries.map(({ label, value }) => [label, value]));

/** A part in words: "the network Office". */
export const partTitle = (site: Site, name: PartName): string =>
  name === entered
    ? 'what is typed in'
    : name.startsWith('ground ')
      ? 'what it runs over'
      : name.startsWith('opens ')
        ? opensTitle(site, name)
        : factsOf(site.entered).title(name.split(' ')[0]!);

const path = (part: string): PartName[] => [named(part, 'path')];
const inAll = (part: string): PartName[] =>
  (['path', 'rate', 'switching'] as const).map((decides) => named(part, decides));
const withRate = (part: string): PartName[] => [named(part, 'path'), named(part, 'rate')];

const routerBox = ({ router: { kit } }: Site): PartName[] => (kit ? path(`/kit/${kit.id}`) : []);

/** The uplink with its port of the router, and where the cabling carries it. */
function lineParts(site: Site, line: Line | undefined): PartName[] {
  if (!line) return [];
  return [
    ...withRate(`/uplinks/${line.id}`),
    ...site.router.ports.flatMap((port) => (port.line === line ? withRate(`/router/ports/${port.id}`) : [])),
    ...site.wiring.transits.flatMap((transit) =>
      transit.line === line ? path(`/wiring/transits/${transit.id}`) : [],
    ),
  ];
}

const allLines = once((site: Site) => site.lines.flatMap((line) => lineParts(site, line)));

/** A network with the Wi-Fi names that lead into it, and the ports and cables that carry it. */
const networkParts = (site: Site, network: Network | undefined): readonly PartName[] =>
  network ? (partsOfNetworks(site).get(network) ?? []) : [];

const partsOfNetworks = once(
  (site: Site) => new Map(site.networks.map((network) => [network, partsOfNetwork(site, network)] as const)),
);

function partsOfNetwork(site: Site, network: Network): PartName[] {
  const { boxes, runs } = site.wiring;
  const carrying = new Set(
    boxes.flatMap(({ sockets }) =>
      sockets.filter(({ vlans: { untagged, tagged } }) => {
        const vlan = network.vlan ?? 1;
        return untagged === vlan || tagged.some(({ first, last }) => first <= vlan && vlan <= last);
      }),
    ),
  );
  return [
    ...withRate(`/networks/${network.id}`),
    ...site.router.ports.flatMap((port) =>
      port.network === network ? path(`/router/ports/${port.id}`) : [],
    ),
    ...site.wifi.networks.flatMap((wifi) =>
      wifi.network === network ? path(`/wifi/networks/${wifi.id}`) : [],
    ),
    ...[...carrying].flatMap(({ box, id }) =>
      box.kit && id !== '' ? withRate(`/kit/${box.kit.id}/ports/${id}`) : [],
    ),
    ...boxes.flatMap(({ kit, kind, sockets }) =>
      kit && (kind === 'bridge' || kind === 'plain') && sockets.some((socket) => carrying.has(socket))
        ? path(`/kit/${kit.id}/vlanSupport`)
        : [],
    ),
    ...runs.flatMap(({ id, ends }) =>
      ends.every((end) => end.box.kind !== 'end' && end.box.kind !== 'line') &&
      ends.some((end) => carrying.has(end))
        ? withRate(`/wiring/runs/${id}`)
        : [],
    ),
  ];
}

/** All networks, as far as they decide whether and where packets go. */
const allNetworks = once((site: Site) => [
  ...new Set(site.networks.flatMap((each) => networkParts(site, each)).filter((name) => !name.includes(' '))),
]);

/** What decides which line carries the packets of a network. */
const sharing = once((site: Site): PartName[] => [
  ...inAll('/failover'),
  ...path('/failover/rules'),
  ...site.lines.flatMap(({ id }) => [named(`/uplinks/${id}`, 'switching')]),
  named('/site', 'switching'),
]);

/** The parts that the evidence of a promise stands on. */
function groundOf(site: Site, { id, kind }: Pick<SitePromise, 'id' | 'kind'>): Ground {
  const own = id.slice(id.indexOf(':') + 1);
  const router = [...routerBox(site), ...path('/router')];
  const network = site.networks.find((each) => each.id === own);
  switch (kind) {
    case 'line':
      return {
        parts: [
          ...router,
          ...path('/router/services'),
          ...lineParts(
            site,
            site.lines.find((line) => line.id === own),
          ),
        ],
      };
    case 'internet':
      return {
        parts: [
          ...router,
          ...networkParts(site, network),
          ...allLines(site),
          ...sharing(site),
          named('/reach', 'rate'),
        ],
        opens: { from: 'network', id: own, to: 'internet' },
      };
    case 'apart':
      return {
        parts: [...routerBox(site), ...path('/router/adminNetwork'), ...allNetworks(site)],
        opens: { from: 'network', id: own, to: 'inside' },
      };
    case 'forward': {
      const forward = site.forwards.find((each) => each.id === own);
      return {
        parts: [
          ...router,
          ...path(`/forwards/${own}`),
          ...(forward?.device ? path(`/devices/${forward.device.id}`) : []),
          ...lineParts(site, forward?.line),
          ...networkParts(site, forward?.device?.network),
        ],
        opens: { from: 'internet', id: own, to: 'forward' },
      };
    }
    case 'wifi': {
      const room = site.wifi.rooms.find((each) => each.id === own);
      return {
        parts: [
          ...withRate(`/wifi/rooms/${own}`),
          ...(room?.wifi ? path(`/wifi/networks/${room.wifi.id}`) : []),
          ...(room?.radio ? withRate(`/wifi/radios/${room.radio.id}`) : []),
          ...(room?.radio?.box ? path(`/kit/${room.radio.box.id}`) : []),
          ...networkParts(site, room?.wifi?.network),
          ...allLines(site),
        ],
      };
    }
    case 'second': {
      const second = site.second.find((each) => each.id === own);
      return {
        parts: [
          ...router,
          ...path(`/second/${own}`),
          ...(second?.box ? path(`/kit/${second.box.id}`) : []),
          ...networkParts(site, second?.network),
        ],
      };
    }
    case 'failover': {
      const promise = site.failover.promises.find((each) => each.id === own);
      return {
        parts: [
          ...router,
          ...path(`/failover/promises/${own}`),
          ...networkParts(site, promise?.network),
          ...allLines(site),
          ...sharing(site),
        ],
        ...(promise && { opens: { from: 'network', id: promise.network.id, to: 'internet' } }),
      };
    }
    case 'peer':
    case 'site':
      return tunnelGround(site, own, kind, router);
  }
}

function tunnelGround(site: Site, own: string, kind: 'peer' | 'site', router: readonly PartName[]): Ground {
  const { vpn } = site;
  const tunnel = [...router, ...path('/vpn'), ...path('/vpn/endpoints'), ...allLines(site)];
  if (kind === 'site') {
    const far = vpn.sites.find((each) => each.id === own);
    return {
      parts: [
        ...tunnel,
        ...inAll(`/vpn/sites/${own}`),
        ...(far?.networks ?? []).flatMap((each) => networkParts(site, each)),
      ],
      opens: { from: 'site', id: own, to: 'inside' },
    };
  }
  const peer = vpn.peers.find((each) => each.id === own);
  const grants = peer?.group?.grants ?? [];
  return {
    parts: [
      ...tunnel,
      ...path(`/vpn/peers/${own}`),
      ...(peer?.group ? path(`/vpn/groups/${peer.group.id}`) : []),
      ...grants.flatMap((grant) => networkParts(site, grant.network)),
      // A certificate of a router is everybody's; a client's is that of its person.
      ...vpn.certificates.flatMap(({ id, use, person }) =>
        use !== 'client' || person.trim() === peer?.person.trim() ? path(`/vpn/certificates/${id}`) : [],
      ),
    ],
    ...(peer?.group && !peer.revoked && { opens: { from: 'group', id: peer.group.id, to: 'inside' } }),
  };
}

/** Hashes of what the evidence of some promises stands on; of none, the router. */
export function standsOn(site: Site, promises: readonly Pick<SitePromise, 'id' | 'kind'>[]): Parts {
  const grounds = promises.map((promise) => groundOf(site, promise));
  const names = new Set(promises.length === 0 ? routerBox(site) : grounds.flatMap(({ parts }) => parts));
  return Object.fromEntries([
    ...[...names].map((name) => [name, hashOfPart(site, name)] as const),
    ...grounds.flatMap((ground) => (ground.opens ? Object.entries(opens(site, ground.opens)) : [])),
    ...promises.map(
      (promise, index) => [namesOf(promise), hashOfNames(site, promise, grounds[index]!)] as const,
    ),
  ]);
}

/** Many promises stand on the same parts but for their own row, and a hash of many names takes its time. */
const hashOfText = onceForEach(
  (text: string) => text,
  (_, text) => hashOf(text),
);
const hashOfNames = (site: Site, { id }: Pick<SitePromise, 'id'>, { parts }: Ground): string => {
  const own = `/${id.slice(id.indexOf(':') + 1)}`;
  return hashOfText(site, [...new Set(parts)].filter((name) => !name.endsWith(own)).join('\n'));
};

/** Every part of the plan that decides something, list by list: what a file of all settings holds. */
const everything = (site: Site): Parts =>
  Object.fromEntries(
    factsOf(site.entered)
      .sections.flatMap((section) => inAll(section))
      .map((name) => [name, hashOfPart(site, name)]),
  );

/**
 * The hashes that a record of a step takes along: what was true, when it was seen, of what it types in and of what its
 * promises stand on.
 */
export function partsOfStep(
  site: Site,
  step: Pick<RunStep, 'id' | 'evidence' | 'entries'>,
  promises: readonly Pick<SitePromise, 'id' | 'kind'>[],
): Parts {
  if (step.id === 'backup-after') return everything(site);
  return {
    ...standsOn(
      site,
      promises.filter(({ id }) => step.evidence.some(({ promise }) => promise === id)),
    ),
    [entered]: hashOfEntries(step),
  };
}

/** What of the ground of a promise is another one now than a record says; none where it says nothing. */
export function changedUnder(
  site: Site,
  recorded: Parts | undefined,
  promise: Pick<SitePromise, 'id' | 'kind'>,
): PartName[] {
  if (recorded === undefined || Object.keys(recorded).length === 0) return [];
  const ground = groundOf(site, promise);
  const changed = [...new Set(ground.parts)].filter((name) => isOther(site, recorded, name));
  const names = recorded[namesOf(promise)];
  if (changed.length === 0 && names !== undefined && names !== hashOfNames(site, promise, ground))
    return [namesOf(promise)];
  return changed.length > 0 || !ground.opens || opensAsBefore(site, recorded, ground.opens)
    ? changed
    : [nameOfOpens(ground.opens)];
}

const isOther = (site: Site, recorded: Parts, name: PartName): boolean =>
  recorded[name] !== undefined && recorded[name] !== hashOfPart(site, name);

/** What of a step's own record is another one now: what it types in, and what it was seen on. */
export const changedSince = (
  site: Site,
  recorded: Parts | undefined,
  step: Pick<RunStep, 'entries'>,
): PartName[] => [
  ...(isEntered(recorded, step) ? [] : [entered]),
  ...Object.keys(recorded ?? {}).filter((name) => name.startsWith('/') && isOther(site, recorded!, name)),
];

/** Whether what a step types in is what was typed in when it was done, as far as its record says. */
export const isEntered = (recorded: Parts | undefined, step: Pick<RunStep, 'entries'>): boolean =>
  recorded?.[entered] === undefined || recorded[entered] === hashOfEntries(step);
