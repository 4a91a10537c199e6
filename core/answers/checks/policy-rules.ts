import { everyAddress, protocolsOf, type PacketBox } from '../../base/net/packet-set.ts';
import { rangeOf } from '../../base/net/range.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { FailoverRule } from '../../site/failover.ts';
import type { Site } from '../../site/model.ts';
import { arithmetic, step, worked } from '../../base/worked/worked.ts';
import { idleRows } from './first-match.ts';
import { note, said } from './note.ts';

/** Rules that say which line a network uses: the first that fits decides, and each decides something. */
export const policyRules: Check = {
  name: 'policy rules',
  run: (site) => [
    ...idleRows(site.failover.rules, (rule) => boxesOf(site, rule)).map(({ row, above }) => idle(row, above)),
    ...asWithout(site),
  ],
};

/** What leaves for the internet and is meant by a rule. */
function boxesOf({ networks }: Site, { network, protocol, ports }: FailoverRule): PacketBox[] {
  // A rule with ports is about TCP and UDP only.
  const protocols =
    protocol === 'any'
      ? ports
        ? (['tcp', 'udp'] as const)
        : (['tcp', 'udp', 'icmp'] as const)
      : protocolsOf(protocol);
  return (network ? [network] : networks).flatMap(({ prefix }) =>
    prefix
      ? protocols.map((each): PacketBox => ({
          protocol: each,
          source: rangeOf(prefix),
          destination: everyAddress(prefix.family),
          ports: each === 'icmp' ? { first: 0, last: 0 } : (ports ?? { first: 1, last: 65_535 }),
        }))
      : [],
  );
}

const nameOf = ({ says, at }: FailoverRule): string =>
  says.trim() || `rule ${Number(at.split('/').at(-1)) + 1}`;
const linesOf = ({ lines }: FailoverRule): string => lines.map(({ id }) => id).join(' ');

function idle(rule: FailoverRule, above: readonly FailoverRule[]): Finding {
  const against = above.some((each) => linesOf(each) !== linesOf(rule));
  return {
    ...note(
      'policy-shadowed',
      against ? 'warning' : 'advice',
      rule.at,
      `The policy rule "${nameOf(rule)}" decides nothing: ${above
        .slice(0, 3)
        .map((each) => `"${nameOf(each)}"`)
        .join(
          ', ',
        )} above it ${above.length === 1 ? 'takes' : 'take'} all its packets${against ? ', and names other lines' : ''}. Move it up, or remove it.`,
      worked(
        'Packets that are left for this rule',
        0,
        '',
        [step('rules above that take them', above.length), step('left', 0)],
        arithmetic,
      ),
      { says: 'Remove the rule', patch: [{ op: 'remove', path: rule.at }] },
    ),
    also: above.map(({ at }) => at),
  };
}

/** Rules at the end that name all lines in the order in which they are used anyway. */
function asWithout({ failover: { rules, sharing }, lines, routes }: Site): Finding[] {
  const last = rules.at(-1);
  const usual = routes.flatMap(({ prefix, target }) =>
    prefix.length === 0 && target.kind === 'line' ? [target.line] : [],
  );
  if (!last || sharing === 'weights' || lines.length < 2) return [];
  if (linesOf(last) !== [...new Set(usual)].map(({ id }) => id).join(' ')) return [];
  return [
    note(
      'policy-idle',
      'advice',
      last.at,
      `The policy rule "${nameOf(last)}" names all lines in the order in which they are used without it: it changes nothing.`,
      said('Lines', last.lines.map(({ name }) => name).join(', ')),
      { says: 'Remove the rule', patch: [{ op: 'remove', path: last.at }] },
    ),
  ];
}
