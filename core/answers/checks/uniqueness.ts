import { formatAddress } from '../../base/net/address.ts';
import { replacing, type Check, type Finding, type Severity } from '../../behaviour/domain-types/finding.ts';
import { onOneLink } from '../../site/link.ts';
import type { Network, Site } from '../../site/model.ts';
import { freePeerAddress } from '../../behaviour/remote-access/interface.ts';
import { capitalized } from '../../base/text.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { freeHost } from '../../site/lookups.ts';
import { holdersOf, type Holder, type Unique } from './holders.ts';
import { note } from './note.ts';

/** What it means that two things have one address, one key, one name. */
interface Law {
  readonly rule: string;
  readonly severity: Severity;
  readonly term: string;
  readonly source: string;
  readonly says: (who: string, holders: readonly Holder[]) => string;
}

const laws: Readonly<Record<Unique, Law>> = {
  address: {
    rule: 'duplicate-address',
    severity: 'blocker',
    term: 'address',
    source: 'RFC 5227 section 1',
    says: (who, holders) => {
      const value = holders[0]!.value;
      const gateway = holders.find(({ kind, network }) => kind === 'router' && network)?.network;
      if (holders.every(({ kind }) => kind === 'peer' || kind === 'site' || kind === 'router'))
        return `${who} have the tunnel address ${value}: packets go to one of them.`;
      if (gateway)
        return `${who} hold ${value}: everybody on ${gateway.name} loses the gateway as soon as both are switched on.`;
      return `${who} hold ${value}: both lose connectivity, and a forward reaches one or the other by chance.`;
    },
  },
  mac: {
    rule: 'duplicate-mac',
    severity: 'blocker',
    term: 'MAC address',
    source: 'IEEE 802 (one address a device)',
    says: (who, [{ value } = { value: '' }]) =>
      `${who} have the same MAC address ${value}: one of the labels was read wrongly or twice, and what is set up for one goes to the other.`,
  },
  key: {
    rule: 'duplicate-key',
    severity: 'blocker',
    term: 'public key',
    source: "the tunnel protocol's paper, section 2 (a peer is its public key)",
    says: (who) =>
      `${who} have the same public key: the router answers only the one that sent last. Use one key pair per device.`,
  },
  vlan: {
    rule: 'duplicate-vlan',
    severity: 'blocker',
    term: 'VLAN ID',
    source: 'IEEE 802.1Q section 9.6 (ids 1 to 4094)',
    says: (who, [{ value } = { value: '' }]) =>
      value === 'untagged'
        ? `${who} are untagged: on one cable they are one network.`
        : `${who} use VLAN ${value}: their devices are on one wire, whatever the rules say.`,
  },
  name: {
    rule: 'same-name',
    severity: 'warning',
    term: 'name in questions',
    source: 'the plan itself',
    says: (_who, holders) =>
      `"${holders[0]!.name}" is the name of ${holders.length === 2 ? 'two' : holders.length} things on this site; questions and labels will mean the first one.`,
  },
  serial: {
    rule: 'duplicate-serial',
    severity: 'warning',
    term: 'serial number',
    source: 'the plan itself',
    says: (who, [{ value } = { value: '' }]) =>
      `${who} have the serial number ${value}: one label was read twice.`,
  },
  sim: {
    rule: 'duplicate-sim',
    severity: 'blocker',
    term: 'SIM card number',
    source: 'ITU-T E.118 (one number a card)',
    says: (who, [{ value } = { value: '' }]) =>
      `${who} name the SIM card ${value}: a card is in one device, and the other line gets no session.`,
  },
};

/** Everything that two things on one site cannot both have: one finding for each, with all who claim it. */
export const heldTwice: Check = {
  name: 'held twice',
  run: (site) => {
    const groups = new Map<string, Holder[]>();
    for (const holder of holdersOf(site)) {
      const group = groups.get(holder.key);
      if (group) group.push(holder);
      else groups.set(holder.key, [holder]);
    }
    return [...groups.values()].flatMap((group) => (group.length < 2 ? [] : twice(site, group)));
  },
};

function twice(site: Site, group: readonly Holder[]): Finding[] {
  const holders = apart(site, group);
  if (holders.length < 2) return [];
  const law = laws[holders[0]!.what];
  // The one that gives way stands first: what was entered last, and never the router.
  const moved = holders.findLast(({ kind }) => kind !== 'router') ?? holders.at(-1)!;
  const others = holders.filter((each) => each !== moved);
  const fix = fixFor(site, moved);
  return [
    {
      ...note(
        law.rule,
        // Where equipment answers was looked at once, and may have been changed since.
        law.rule === 'duplicate-address' && holders.some(({ kind }) => kind === 'kit')
          ? 'warning'
          : law.severity,
        moved.at,
        law.says(capitalized(listed(holders.map(({ name }) => name))), holders),
        worked(
          `Things with this ${law.term}`,
          holders.length,
          '',
          holders.map(({ name, value }) => step(name, value)),
          law.source,
        ),
        fix,
      ),
      also: others.map(({ at }) => at),
    },
  ];
}

/** One statement for each thing: what is written twice about one thing agrees. */
function apart(site: Site, group: readonly Holder[]): Holder[] {
  const things = [...new Map(group.map((holder) => [holder.thing, holder])).values()];
  switch (group[0]!.what) {
    case 'mac':
      // A switch may be in the equipment list and among the devices: that is one thing.
      return things.some(({ kind }) => kind === 'device')
        ? things.filter(({ kind, thing }) => kind !== 'kit' || thing === 'router')
        : things;
    case 'vlan': {
      // Untagged on ports of their own they never share a wire: a port has one untagged network.
      const ownPort = ({ network, value }: Holder): boolean =>
        value === 'untagged' && site.router.ports.some((port) => port.network === network);
      if (things.every(ownPort)) return [];
      // The two address families of one link have one VLAN, and should.
      return things.filter(
        ({ network }, index) =>
          !network ||
          !things.slice(0, index).some((other) => other.network && onOneLink(site, other.network, network)),
      );
    }
    default:
      return things;
  }
}

function fixFor(site: Site, { what, at, device, network, peer, address }: Holder): Finding['fix'] {
  if (what === 'vlan') {
    const free = freeVlan(site.networks);
    return replacing(`Use VLAN ${free}`, at, free);
  }
  if (what !== 'address' || !address) return undefined;
  const to = device?.network
    ? freeHost(site, device.network)
    : peer && !network
      ? freePeerAddress(site, address.family)
      : undefined;
  if (!to) return undefined;
  const name = device?.name ?? peer!.name;
  return replacing(`Give ${name} the next free address, ${formatAddress(to)}`, at, formatAddress(to));
}

function freeVlan(networks: readonly Network[]): number {
  const used = new Set(networks.flatMap(({ vlan }) => vlan ?? []));
  let free = 10;
  while (used.has(free)) free += 10;
  return free;
}

function listed(names: readonly string[]): string {
  const shown = names.slice(0, 3);
  if (names.length > 3) return `${shown.join(', ')} and ${names.length - 3} more all`;
  const last = shown.pop();
  return `${shown.join(', ')} and ${last} ${names.length === 2 ? 'both' : 'all'}`;
}
