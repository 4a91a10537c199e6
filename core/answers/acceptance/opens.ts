import { exposureOf, type Passing } from '../exposure/exposure.ts';
import { sendersOf, type Sender } from '../exposure/senders.ts';
import { canonicalBoxes } from '../../base/net/packet-set.ts';
import type { Reached } from '../path/packet.ts';
import { createRouter } from '../../behaviour/router/router.ts';
import type { Device, Site } from '../../site/model.ts';
import { factsOf, hashOf } from '../../plan/facts.ts';
import { once, onceForEach } from '../../base/once.ts';

/** What passes of one sender, exactly: on the internet, inside the site, or by one forward. */
export interface Opens {
  readonly from: Sender['kind'];
  /** Id of the sender; of the forward for what the internet sends. */
  readonly id: string;
  readonly to: 'internet' | 'inside' | 'forward';
}

/** The internet sends alike whatever forward it is about. */
const senderKey = ({ from, id }: Opens): string => (from === 'internet' ? from : `${from} ${id}`);

/** Everything that passes of a sender. */
const passingOf = onceForEach(senderKey, (site: Site, { from, id }): readonly Passing[] => {
  const sender = sendersOf(site).find(
    (each) => each.kind === from && (from === 'internet' || each.id === id),
  );
  return sender ? exposureOf(site, sender, new Set(), createRouter(site, new Set())) : [];
});

const placeOf = (reached: Reached): string => {
  switch (reached.kind) {
    case 'network':
      return `network ${reached.network.id}`;
    case 'site':
      return `site ${reached.far.id}`;
    case 'router':
      return 'router';
    default:
      return `${reached.kind} ${reached.line.id}`;
  }
};

/** Where packets to a device go; its MAC address, say, sends none elsewhere. */
const whereIs = ({ id, address, network, services }: Device): unknown => [
  id,
  address,
  network?.id,
  services.map(({ id: service, protocol, ports }) => [service, protocol, ports]),
];

const forwardedTo = once((site: Site) =>
  hashOf([...new Set(site.forwards.flatMap(({ device }) => device ?? []))].map(whereIs)),
);

/** Parts of the plan that have a say in what passes, whoever sends. */
const everywhere = [
  '/networks',
  '/uplinks',
  '/routes',
  '/forwards',
  '/router',
  '/router/services',
  '/failover/rules',
  '/second',
  '/wiring/runs',
  '/kit',
  '/vpn',
  '/vpn/endpoints',
  '/vpn/sites',
];

/**
 * What decides it at most: while this is the same, so is what passes, and no packet has to be followed. The test of the
 * proofs holds it against the packets.
 */
const causeOf = onceForEach(senderKey, (site: Site, { from, id }): string => {
  const { hash } = factsOf(site.entered);
  const rules = site.reach.filter((rule) => from === 'network' && rule.from.id === id);
  const parts = [
    ...rules.map((rule) => `/reach/${rule.id}`),
    ...(from === 'group' ? [`/vpn/groups/${id}`, '/vpn/peers'] : []),
    ...everywhere,
  ];
  const named = [
    ...rules.flatMap((rule) => (rule.to.kind === 'network' ? (rule.to.device ?? []) : [])),
    ...site.vpn.groups.flatMap((group) =>
      from === 'group' && group.id === id ? group.grants.flatMap(({ device }) => device ?? []) : [],
    ),
  ];
  return hashOf([parts.map((part) => [part, hash(part, 'path')]), named.map(whereIs), forwardedTo(site)]);
});

/** The names under which a record keeps it, with the hashes: the same whatever rules and routes let it pass. */
export function opens(site: Site, wanted: Opens): Readonly<Record<string, string>> {
  const name = nameOfOpens(wanted);
  return { [name]: passes(site, wanted), [`${name} by`]: causeOf(site, wanted) };
}

/** Whether what passes is what passed then, as far as the record says. */
export function opensAsBefore(
  site: Site,
  recorded: Readonly<Record<string, string>>,
  wanted: Opens,
): boolean {
  const name = nameOfOpens(wanted);
  if (recorded[name] === undefined || recorded[`${name} by`] === causeOf(site, wanted)) return true;
  return recorded[name] === passes(site, wanted);
}

/** What passes from the internet by one forward. */
function byForward(site: Site, wanted: Opens): readonly Passing[] {
  const at = site.forwards.find(({ id }) => id === wanted.id)?.at;
  return at === undefined ? [] : (byRule(site, wanted).get(at) ?? []);
}

const byRule = onceForEach(senderKey, (site: Site, wanted) => {
  const found = new Map<string, Passing[]>();
  for (const passing of passingOf(site, wanted))
    if (passing.at !== undefined) found.set(passing.at, [...(found.get(passing.at) ?? []), passing]);
  return found;
});

/** Hash of the packets that pass, by where they arrive. */
function passes(site: Site, wanted: Opens): string {
  const places = new Map<string, Passing[]>();
  for (const passing of wanted.to === 'forward' ? byForward(site, wanted) : passingOf(site, wanted)) {
    if (wanted.to !== 'forward' && (passing.reached.kind === 'internet') !== (wanted.to === 'internet'))
      continue;
    const place = `${placeOf(passing.reached)} ${passing.shift}`;
    places.set(place, [...(places.get(place) ?? []), passing]);
  }
  return hashOf(
    [...places]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([place, all]) => [place, canonicalBoxes(all.flatMap(({ boxes }) => boxes))]),
  );
}

/** The name under which a record keeps it. */
export const nameOfOpens = ({ from, id, to }: Opens): string => `opens ${from} ${id} ${to}`;

/** "what Office reaches on the internet". */
export function opensTitle(site: Site, name: string): string {
  const [, from, id, to] = name.split(' ');
  if (to === 'forward')
    return `what the forward ${site.forwards.find((each) => each.id === id)?.name ?? ''} lets through`;
  const sender = sendersOf(site).find((each) => each.kind === from && each.id === id);
  return `what ${sender?.name ?? 'one that is gone'} reaches ${to === 'internet' ? 'on the internet' : 'inside'}`;
}
