import { formatAddress } from '../../base/net/address.ts';
import { everyAddress, single, type PacketBox } from '../../base/net/packet-set.ts';
import { rangeOf, subtractRanges, type AddressRange } from '../../base/net/range.ts';
import type { Reach, Site } from '../../site/model.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { arithmetic, step, worked } from '../../base/worked/worked.ts';
import { idleRows } from './first-match.ts';
import { slug } from '../../base/text.ts';

/** Rules that decide nothing, because rules above them take all their packets: the first that fits decides. */
export const shadowed: Check = {
  name: 'shadowed rules',
  run: (site) =>
    idleRows(
      site.reach,
      (rule) => boxesOf(rule, site),
      ({ from, to }) => `${from.id} ${to.kind === 'network' ? to.network.id : ''}`,
    ).map(({ row, above, box }) => finding(row, above, box)),
};

function destinationsOf({ to }: Reach, site: Site): AddressRange[] {
  const equipment = site.equipment.map(rangeOf);
  switch (to.kind) {
    case 'network':
      if (to.device) return to.device.address ? [single(to.device.address)] : [];
      return to.network.prefix ? [rangeOf(to.network.prefix)] : [];
    case 'equipment':
      return equipment;
    case 'internet':
      return subtractRanges(
        to.prefixes.length === 0 ? [everyAddress(4), everyAddress(6)] : to.prefixes.map(rangeOf),
        equipment,
      );
  }
}

/** The packets of a rule. */
function boxesOf(rule: Reach, site: Site): PacketBox[] {
  const { from, protocols = ['tcp', 'udp', 'icmp'], ports } = rule;
  if (!from.prefix) return [];
  const source = rangeOf(from.prefix);
  return destinationsOf(rule, site)
    .filter(({ family }) => family === source.family)
    .flatMap((destination) =>
      protocols.flatMap((protocol): PacketBox[] =>
        protocol === 'icmp'
          ? ports
            ? []
            : [{ protocol, source, destination, ports: { first: 0, last: 0 } }]
          : [{ protocol, source, destination, ports: ports ?? { first: 1, last: 65535 } }],
      ),
    );
}

function finding(rule: Reach, above: readonly Reach[], box: PacketBox): Finding {
  const against = above.some(({ action }) => action !== rule.action);
  const names = above.slice(0, 3).map(({ says }) => `"${says}"`);
  const service = box.protocol === 'icmp' ? 'ping' : `${box.protocol} ${box.ports.first}`;
  const host = formatAddress({ family: box.destination.family, value: box.destination.first });
  return {
    rule: 'reach-shadowed',
    severity: against ? 'warning' : 'advice',
    at: rule.at,
    also: above.map(({ at }) => at),
    says: `The rule "${rule.says}" decides nothing: ${names.join(', ')}${above.length > 3 ? ' and others' : ''} above it ${above.length === 1 ? 'takes' : 'take'} all its packets${against ? ', and say otherwise' : ''}. Move it up, or remove it.`,
    why: worked(
      'Packets that are left for this rule',
      0,
      '',
      [step('rules above that take them', above.length), step('one of its packets', `${service} to ${host}`)],
      arithmetic,
    ),
    packet: `from ${slug(rule.from.name)} to ${host} ${service}`,
    fix: { says: 'Remove the rule', patch: [{ op: 'remove', path: rule.at }] },
    source: arithmetic,
  };
}
