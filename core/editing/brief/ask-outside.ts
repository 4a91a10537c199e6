import { needs } from '../../wan-types/facts.ts';
import { parseHost, parseServer } from '../../base/net/identifiers.ts';
import type { Purpose } from '../../intake/letter/facts.ts';
import { askProvider, choice, type Asked, type Kind } from './question.ts';

/* What is promised for the day a line fails, and who comes in from outside. */

export const within: Kind = (facts) =>
  facts.lines.length < 2 || facts.withinSeconds
    ? []
    : [
        {
          id: 'within',
          asks: 'How long may an outage last when the first line fails?',
          why: 'Probes, their interval and the failures before down are computed from it.',
          choices: [
            choice('30', '30 seconds', 'Probes every second or two: more data on the lines.'),
            choice('60', 'One minute', 'A payment is tried again once.'),
            choice('120', 'Two minutes', 'Fewer probes; calls are lost.'),
            choice('300', 'Five minutes', 'Few probes; people notice.'),
          ],
          likely: '60',
          because: 'A minute is what most people are promised (common practice).',
          typed: { term: 'Seconds', example: '45' },
          take: (to, answer, from) => {
            const seconds = Number(answer.replace(/s(?:ec\w*)?$/i, '').trim());
            if (!Number.isInteger(seconds) || seconds < 1 || seconds > 86_400)
              return 'Seconds, from 1 to 86 400.';
            to.withinSeconds = { value: seconds, from };
          },
        },
      ];

export const probes: Kind = (facts, { probes: known }) => {
  const first = facts.lines.find((line) => !line.backup) ?? facts.lines[0];
  if (facts.lines.length < 2 || !first || first.probes) return [];
  const usual = known.slice(0, 4).join(', ');
  return [
    {
      id: 'probes',
      asks: 'Which hosts on the internet are probed?',
      why: 'A line may have link and an address and carry nothing: only an answer from beyond the provider shows it.',
      choices: usual === '' ? [] : [choice(usual, usual, 'As at other sites kept here.')],
      likely: usual === '' ? askProvider : usual,
      because:
        usual === ''
          ? 'Two hosts of two owners, none of them the provider of this line.'
          : 'Probed at other sites kept here.',
      typed: { term: 'Addresses or names, one or two for each line', example: '198.51.100.53, 192.0.2.53' },
      provider: true,
      take: (to, answer, from) => {
        const hosts = answer.split(/[,;\s]+/).filter((host) => host !== '');
        const wrong = hosts.map(parseHost).find((host) => !host.ok);
        if (wrong && !wrong.ok) return wrong.problem.says;
        // Each line has hosts of its own: many routers hold one route to a probed host.
        to.lines.forEach((line, index) => {
          const own = hosts.filter((_, at) => at % to.lines.length === index);
          if (own.length > 0) line.probes ??= { value: own.slice(0, 2), from };
        });
      },
    },
  ];
};

export const endpoint: Kind = (facts) => {
  const first = facts.lines.find((line) => !line.backup) ?? facts.lines[0];
  if (
    facts.remote.length === 0 ||
    !first ||
    (first.type && needs(first.type.value, 'address')) ||
    first.address ||
    first.carrierNat
  )
    return [];
  return [
    {
      id: 'endpoint',
      asks: 'By which name or address do remote users call the site?',
      why: 'Their devices connect to it; a name follows the address when it changes.',
      choices: [],
      likely: askProvider,
      because: 'The text names no fixed address; a dynamic DNS name does as well.',
      typed: { term: 'Endpoint', example: 'bakery.dns.example' },
      provider: true,
      take: (to, answer, from) => {
        const host = parseServer(answer);
        if (!host.ok) return host.problem.says;
        to.endpoint = { value: answer.trim(), from };
      },
    },
  ];
};

export const remote: Kind = (facts) =>
  facts.remote.length > 0
    ? []
    : [
        {
          id: 'remote',
          asks: 'Is remote access needed?',
          why: 'Remote access opens one port for people with keys, instead of a port for everybody.',
          choices: [
            choice('nobody', 'Nobody', 'No remote access.'),
            choice('owner', 'The owner', 'One person, to the office.'),
            choice('staff', 'Staff from home', 'A group, to the office.'),
            choice('service', 'A service company', 'A group, to its machines only.'),
          ],
          likely: 'nobody',
          because: 'The text names nobody.',
          several: true,
          take: (to, answer, from) => {
            const people: Readonly<Record<string, readonly [string, Purpose[]]>> = {
              owner: ['Owner', ['staff']],
              staff: ['Staff', ['staff']],
              service: ['Service company', ['plant']],
            };
            for (const each of answer.split(',')) {
              const found = people[each.trim()];
              if (found) to.remote.push({ person: found[0], targets: found[1], from });
            }
          },
        },
      ];

/** What is to answer from outside: through remote access where that does as well. */
export const outside: Kind = (facts) =>
  facts.outside.map((wish, index): Asked => {
    const what = wish.target || (wish.ports ? `port ${wish.ports}` : 'it');
    const forAll = wish.everybody && !['cameras', 'plant', 'payment'].includes(wish.purpose ?? '');
    const likely = wish.sources.length > 0 ? 'sources' : forAll ? 'everybody' : 'vpn';
    return {
      id: `outside:${index}`,
      asks: `How is "${what}" reached from outside?`,
      why: 'A forwarded port is tried by the whole internet within minutes; remote access lets in only who has a key.',
      choices: [
        choice('vpn', 'Through remote access', 'No port is opened for it.'),
        ...(wish.sources.length > 0
          ? [
              choice(
                'sources',
                `A port forward for ${wish.sources.join(', ')} only`,
                'Nobody else reaches it.',
              ),
            ]
          : []),
        choice(
          'everybody',
          'A port forward for everybody',
          'Exposed to the internet: needs updates and strong passwords.',
        ),
        choice('none', 'Not at all', 'It stays closed.'),
      ],
      likely,
      because:
        likely === 'sources'
          ? 'The text names the addresses that may.'
          : likely === 'everybody'
            ? 'The text says that everybody is to reach it.'
            : 'People with keys are enough for this.',
      take: (to, answer, from) => {
        if (answer === 'vpn' && to.remote.length === 0)
          to.remote.push({ person: 'Owner', targets: [], from });
        to.opened.push({
          ...wish,
          sources: answer === 'sources' ? wish.sources : [],
          way: answer === 'vpn' ? 'vpn' : answer === 'none' ? 'none' : 'forward',
          from,
        });
      },
    };
  });
