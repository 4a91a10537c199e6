import type { At } from '../../plan/at.ts';
import { isDay } from '../../base/days.ts';
import { unexpected, type Unexpected } from '../exposure/unexpected.ts';
import { formatPorts } from '../../base/net/ports.ts';
import type { Patch } from '../../plan/patch.ts';
import { titleAt } from '../../plan/places.ts';
import type { Exception, RouterService, Site } from '../../site/model.ts';
import {
  replacing,
  severityOrder,
  type Check,
  type Finding,
  type Severity,
} from '../../behaviour/domain-types/finding.ts';
import { practice, step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** What passes although no purpose expects it, and what was accepted of that. */
export const expectations: Check = {
  name: 'expectations',
  run: (site, today) => {
    const open = unexpected(site);
    const left = open.filter(
      (each) => !site.exceptions.some((exception) => covers(exception, each) && holds(exception, today)),
    );
    return [
      ...[...grouped(left).values()].map((group) => unexpectedFinding(site, group)),
      ...exceptions(site, open, today),
      ...site.services.flatMap((service) => answersOutside(service)),
    ];
  },
};

const covers = ({ from, to }: Exception, each: Unexpected): boolean =>
  from === each.from.id && to === each.to.id;

/** Somebody put a name, a reason and a day to it, and the day is still to come. */
const complete = ({ acceptedBy, reason, until }: Exception): boolean =>
  acceptedBy.trim() !== '' && reason.trim() !== '' && isDay(until.trim());
const holds = (exception: Exception, today: string): boolean =>
  complete(exception) && (today === '' || exception.until.trim() >= today);

/** One mistake, one finding: everything that one rule opens, and what a habit of the router opens for one network. */
function grouped(found: readonly Unexpected[]): Map<string, Unexpected[]> {
  const groups = new Map<string, Unexpected[]>();
  for (const each of found) {
    const { passing, to, of } = each;
    const habit = to.id === 'equipment' ? `equipment ${to.name}` : `${of.id} ${to.id}`;
    const key = to.id === 'equipment' || passing.at === undefined ? habit : passing.at;
    groups.set(key, [...(groups.get(key) ?? []), each]);
  }
  return groups;
}

const purposeTitle = ({ of }: Unexpected): string => titleAt('/networks/*/purpose', of.purpose);

/** What is expected instead, as the end of "Tills is for payment, …". */
function expectedText({ by, expected }: Unexpected): string {
  const few = expected === 'named';
  switch (by) {
    case 'fromInternet':
      return few
        ? 'and single devices only are expected to face the internet'
        : 'and nothing is expected to come in from the internet';
    case 'fromNetworks':
      return few
        ? 'and other networks are expected to reach single devices only'
        : 'and no other network is expected to reach it';
    case 'fromRemoteUsers':
      return few
        ? 'and remote users are expected to reach single devices only'
        : 'and no remote user is expected to reach it';
    case 'fromSites':
      return few
        ? 'and connected sites are expected to reach single devices only'
        : 'and it is expected to stay apart from connected sites';
    case 'toNetworks':
      return few
        ? 'and is expected to reach single devices elsewhere only'
        : 'and is expected to reach no other network';
    case 'toInternet':
      return few
        ? 'and is expected to reach named addresses on the internet only'
        : 'and is expected to reach nothing on the internet';
    case 'toSites':
      return few
        ? 'and is expected to reach single devices of connected sites only'
        : 'and is expected to reach no connected site';
    case 'manages':
      return 'and no router or modem is expected to be managed from it';
  }
}

/** Payment and management are what an intruder wants; guests and the internet are strangers. */
function severityOf({ from, by, of, actual, services, passing }: Unexpected): Severity {
  const { sender } = passing;
  const guests = sender.kind === 'network' && sender.network.purpose === 'guests';
  const wanted = of.purpose === 'payment' || of.purpose === 'management';
  if (by === 'manages') return guests ? 'warning' : 'advice';
  if (by === 'toInternet') return of.purpose === 'payment' ? 'warning' : 'advice';
  if (from.id === 'internet') return wanted || actual === 'everything' ? 'blocker' : 'warning';
  if (guests) return actual === 'everything' ? 'blocker' : services === 'everything' ? 'warning' : 'advice';
  return actual === 'everything' || (wanted && sender.kind !== 'network') ? 'warning' : 'advice';
}

/** A level in the working of a finding. */
const levelText = {
  nothing: 'nothing',
  named: 'single ones, by name',
  everything: 'more than single ones',
} as const;

const namesOf = (names: readonly string[]): string => {
  const each = [...new Set(names)];
  return each.length < 3 ? each.join(' and ') : `${each.slice(0, -1).join(', ')} and ${each.at(-1)}`;
};

function unexpectedFinding(site: Site, group: readonly Unexpected[]): Finding {
  const severity = group.map(severityOf).sort((a, b) => severityOrder[a] - severityOrder[b])[0]!;
  const first = group.find((each) => severityOf(each) === severity)!;
  const { passing, by, of, from, to, services } = first;
  const senders = namesOf(group.filter((each) => each.to.id === to.id).map((each) => each.from.name));
  const more = namesOf(group.filter((each) => each.to.id !== to.id).map((each) => each.to.name));
  const what =
    to.id === 'equipment' ? 'equipment-open' : by === 'manages' ? 'managed-from' : 'reach-unexpected';
  const all = services === 'everything';
  const reaches = !all
    ? `${to.name} (${services})`
    : to.id === 'internet'
      ? 'the whole internet'
      : `everything of ${to.name}`;
  const pages =
    by === 'manages' ? `open the pages of ${to.name}${all ? '' : ` (${services})`}` : `reach ${reaches}`;
  return {
    rule: by === 'toInternet' ? 'outward-wide' : what,
    severity,
    at: placeOf(first),
    also: [`${of.at}/purpose`],
    says: `${senders} may ${pages}${more === '' ? '' : `, and ${more}`}. ${of.name} is for ${purposeTitle(first)}, ${expectedText(first)}.`,
    why: worked(
      'What passes against what is expected',
      first.actual,
      '',
      [
        step('packets', `from ${from.name} to ${to.name}: ${services}`),
        step('opened by', passing.rule()),
        step('expected', levelText[first.expected]),
        step('passes', levelText[first.actual]),
      ],
      practice,
    ),
    ...fixOf(site, group),
    packet: passing.witness,
    accept: acceptOf(site, group),
    source: practice,
  };
}

/** Where to change it: the rule that opens it, or what the network is for. */
const placeOf = ({ passing, of, to }: Unexpected): At =>
  to.id === 'equipment' || passing.at === undefined ? `${of.at}/purpose` : passing.at;

function fixOf(site: Site, group: readonly Unexpected[]): Pick<Finding, 'fix'> {
  const { passing, to, by } = group[0]!;
  const at = passing.at ?? '';
  if (/^\/reach\/\d+$/.test(at) && by !== 'manages' && by !== 'toInternet')
    return { fix: { says: 'Remove the rule', patch: [{ op: 'remove', path: at }] } };
  // Where it answers there already, the network that the router is managed from is the wrong one.
  const service =
    by === 'manages' ? site.services.find((each) => each.at === at && each.inside === 'all') : undefined;
  if (service && service.at !== '/vpn/port')
    return {
      fix: replacing(
        'Let it answer only where the router is managed from',
        `${service.at}/inside`,
        'managed',
      ),
    };
  if (to.id !== 'equipment') return {};
  const from = [...new Set(group.map((each) => each.of))];
  return {
    fix: {
      says: `Refuse it to ${namesOf(from.map(({ name }) => name))}`,
      patch: from.map((network, index) => ({
        op: 'add',
        path: `/reach/${index}`,
        value: refusal(site, network.id),
      })),
    },
  };
}

/** An id that no other row of its list has. */
function freshId(taken: ReadonlySet<string>, wanted: string): string {
  const stem = wanted.slice(0, 34);
  let id = stem;
  for (let next = 2; taken.has(id); next += 1) id = `${stem}-${next}`;
  return id;
}

/** A row of the rules that refuses a network the equipment in front. */
const refusal = ({ reachIds }: Site, from: string): Record<string, unknown> => ({
  id: freshId(reachIds, `equipment-${from}`),
  action: 'refuse',
  from,
  destination: 'equipment',
  to: '',
  device: '',
  service: '',
  prefixes: [],
  protocol: 'any',
  ports: '',
});

/** A row for each pair, for somebody to put a name, a reason and a day to. */
const acceptOf = ({ exceptions: known }: Site, group: readonly Unexpected[]): Patch => [
  ...new Map(
    group.map(({ from, to }) => [
      `${from.id} ${to.id}`,
      {
        op: 'add' as const,
        path: '/exceptions/-',
        value: {
          id: freshId(new Set(known.map(({ id }) => id)), `${from.id}-${to.id}`),
          from: from.id,
          to: to.id,
          acceptedBy: '',
          reason: '',
          until: '',
        },
      },
    ]),
  ).values(),
];

/** Exceptions that ended, that nobody put a name to, and that nothing needs any more. */
function exceptions(site: Site, open: readonly Unexpected[], today: string): Finding[] {
  return site.exceptions.flatMap((exception): Finding[] => {
    const { at, acceptedBy, reason, until } = exception;
    const used = open.find((each) => covers(exception, each));
    if (!used)
      return [
        {
          ...note(
            'exception-idle',
            'advice',
            at,
            'An accepted exception matches no traffic. Remove it.',
            said('Packets that it covers', 'none'),
          ),
          fix: { says: 'Remove the exception', patch: [{ op: 'remove', path: at }] },
        },
      ];
    const pair = `${used.from.name} to ${used.to.name}`;
    if (!complete(exception))
      return [
        note(
          'exception-open',
          'advice',
          at,
          `The exception from ${pair} is not accepted yet: it needs a name, a reason and a last day.`,
          worked(
            'Accepted by',
            acceptedBy.trim() || 'nobody',
            '',
            [step('reason', reason.trim() || 'none'), step('until', until.trim() || 'no day')],
            practice,
          ),
        ),
      ];
    if (today === '' || until.trim() >= today) return [];
    return [
      note(
        'exception-ended',
        'warning',
        `${at}/until`,
        `The exception from ${pair} ended on ${until.trim()}. ${acceptedBy.trim()} accepted it for this reason: ${reason.trim()}. Close access or renew exception.`,
        worked('Ended on', until.trim(), '', [step('today', today)], practice),
      ),
    ];
  });
}

/** Services of the router that the internet may open. */
function answersOutside({ at, name, ports, protocol, outside, role }: RouterService): Finding[] {
  if (!outside || role === 'tunnel' || at === '/vpn/port') return [];
  return [
    {
      rule: 'router-outside',
      severity: 'blocker',
      at: `${at}/outside`,
      says:
        role === 'management'
          ? `The router's ${name} answers on the internet: anyone who guesses the password controls the site. Manage the router through remote access.`
          : `The router's ${name} answers on the internet: open servers for names and time are used to attack others.`,
      why: worked(
        'Where it answers',
        'outside',
        '',
        [step('port', `${protocol} ${formatPorts(ports)}`), step('answers on', 'inside and the uplinks')],
        practice,
      ),
      fix: replacing('Let it answer inside only', `${at}/outside`, false),
      source: practice,
    },
  ];
}
