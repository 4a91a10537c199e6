import { formatAddress, parseAddress } from '../net/address.ts';
import { parseApn, parseHost, parseServer, parseUserName } from '../net/identifiers.ts';
import { formatPrefix, hostsOf, parsePrefix } from '../net/prefix.ts';
import { titleAt } from '../plan/places.ts';
import type { MediumName, UplinkTypeName } from '../plan/schema.ts';
import { valueOf } from '../result.ts';
import { capitalized } from '../text.ts';
import { likelyTypes, type Paper } from '../uplinks/advice.ts';
import { lineName } from './collector.ts';
import type { BoxMode, Facts, LineFacts, Purpose } from './facts.ts';
import { askProvider, type Asked, type BriefChoice, type Habits } from './question.ts';

/*
 * The questions of the brief, each a module of its own: what it asks of the facts so far, and what an answer puts into
 * them. A question is asked only where the facts do not have its answer, and only where the answer changes the plan.
 */
type Kind = (facts: Facts, habits: Habits) => Asked[];

const choice = (value: string, title: string, changes: string): BriefChoice => ({ value, title, changes });

const name: Kind = (facts) => {
  if (!facts.site.name && facts.site.customer) facts.site.name = facts.site.customer;
  if (facts.site.name) return [];
  const known = facts.trade?.value ?? 'New site';
  return [
    {
      id: 'name',
      asks: 'What is the site called?',
      why: 'The name stands on every print, and the site is found by it.',
      choices: [choice(known, known, facts.trade ? 'As it stands in the text.' : '')],
      likely: known,
      because: 'Until somebody names it.',
      typed: { term: 'Site name', example: 'Mill Road bakery' },
      take: (to, answer, from) => {
        to.site.name = { value: answer.slice(0, 200), from };
      },
    },
  ];
};

const media: readonly (readonly [MediumName, string, string])[] = [
  ['fibre', 'Fibre', 'Light levels are measured, often with a VLAN and a session.'],
  ['dsl', 'DSL', 'Sync and margin are measured, mostly with a session.'],
  ['cable', 'Cable', 'The line gives the address; it may be tied to one MAC address.'],
  ['cellular', 'Cellular', 'A SIM and an APN; mostly behind carrier-grade NAT.'],
  ['wireless', 'Fixed wireless', 'A box on the roof or wall that often routes.'],
  ['satellite', 'Satellite', 'A long round trip, and a box that often routes.'],
  [
    'router',
    "Behind somebody else's router",
    'Two translations; nothing answers from outside without its owner.',
  ],
  ['ethernet', 'Ethernet hand-off', 'A port of the provider in the building.'],
];
const mediumChoices = media.map(([value, title, changes]) => choice(value, title, changes));

const firstLine: Kind = (facts) =>
  facts.lines.length > 0
    ? []
    : [
        {
          id: 'line',
          asks: 'What is the first line made of?',
          why: 'It decides how the router gets its address, and what is measured on site.',
          choices: mediumChoices,
          likely: 'fibre',
          because: 'Until somebody says what it is.',
          take: (to, answer, from) => {
            const medium = media.find(([each]) => each === answer)?.[0] ?? 'unknown';
            to.lines.push({ key: medium, backup: false, notes: [], medium: { value: medium, from } });
          },
        },
      ];

const secondLine: Kind = (facts) => {
  if (facts.lines.length !== 1) return [];
  const promised = facts.withinSeconds !== undefined;
  return [
    {
      id: 'second-line',
      asks: 'Is there a second line that takes over?',
      why: 'Without one every fault of the provider is an outage.',
      choices: [choice('none', 'No second line', 'One line; no failover.'), ...mediumChoices],
      likely: promised ? 'cellular' : 'none',
      because: promised
        ? 'The text names the longest outage, which one line cannot keep.'
        : 'The text names one line.',
      take: (to, answer, from) => {
        const medium = media.find(([each]) => each === answer)?.[0];
        if (medium)
          to.lines.push({
            key: `${medium} backup`,
            backup: true,
            notes: [],
            medium: { value: medium, from },
          });
      },
    },
  ];
};

/** One question of each line that is not answered yet. */
const eachLine =
  (
    ask: (line: LineFacts, facts: Facts) => Omit<Asked, 'take'> | undefined,
    take: (line: LineFacts, answer: string, from: string) => string | void,
  ): Kind =>
  (facts) =>
    facts.lines.flatMap((line) => {
      const question = ask(line, facts);
      return question
        ? [
            {
              ...question,
              id: `${question.id}:${line.key}`,
              take: (_, answer, from) => take(line, answer, from),
            } as Asked,
          ]
        : [];
    });

const medium = eachLine(
  (line) =>
    line.medium
      ? undefined
      : {
          id: 'medium',
          asks: `What is ${lineName(line)} made of?`,
          why: 'It decides what is measured on site, and how often such a line fails.',
          choices: mediumChoices,
          likely: line.type?.value === 'pppoe' ? 'dsl' : line.type?.value === 'static' ? 'ethernet' : 'fibre',
          because: 'The text does not say; this is what such a line mostly is.',
        },
  (line, answer, from) => {
    const medium = media.find(([each]) => each === answer)?.[0];
    if (!medium) return 'That is none of the media.';
    line.medium = { value: medium, from };
  },
);

const boxChoices: Readonly<Record<BoxMode, BriefChoice>> = {
  none: choice('none', 'Nothing, or a box that only converts', 'The router holds the address of the line.'),
  bridged: choice(
    'bridged',
    'A modem in bridge mode',
    'The router holds the address of the line; the modem has its own page.',
  ),
  routes: choice(
    'routes',
    'A box that routes',
    'A second translation (double NAT); forwards are entered twice.',
  ),
};

const box = eachLine(
  (line) => {
    const medium = line.medium?.value;
    if (
      line.box ||
      line.type?.value === 'static' ||
      medium === undefined ||
      medium === 'ethernet' ||
      medium === 'unknown'
    )
      return undefined;
    const dialled = line.userName !== undefined || line.type?.value === 'pppoe';
    const likely: BoxMode =
      medium === 'router' || medium === 'satellite' || medium === 'wireless'
        ? 'routes'
        : medium === 'cable' || medium === 'dsl'
          ? 'bridged'
          : 'none';
    return {
      id: 'box',
      asks:
        medium === 'cellular' ? 'Where is the SIM?' : `What stands between ${lineName(line)} and the router?`,
      why: 'A box that routes translates a second time: forwards and remote access end at it.',
      choices:
        medium === 'cellular'
          ? [
              choice('none', 'In the router itself', 'The router registers and needs the APN.'),
              choice(
                'routes',
                'In a cellular box in front',
                'To the router that is a line with DHCP, behind a second translation.',
              ),
            ]
          : [boxChoices.none, boxChoices.bridged, boxChoices.routes],
      likely,
      because:
        dialled && likely === 'bridged'
          ? 'The router dials, so what is in front does not.'
          : 'Most such lines come like this.',
    };
  },
  (line, answer, from) => {
    line.box = { value: answer === 'routes' ? 'routes' : answer === 'bridged' ? 'bridged' : 'none', from };
  },
);

/** Subnets that boxes of providers come with (common practice, no source). */
const boxSubnets = ['192.168.1.0/24', '192.168.8.0/24', '192.168.100.0/24'] as const;

const boxSubnet: Kind = (facts) =>
  facts.lines.flatMap((line, index) => {
    if (line.box?.value !== 'routes' || line.insidePrefix) return [];
    const taken = facts.lines.flatMap(({ insidePrefix }) => insidePrefix?.value ?? []);
    const likely = boxSubnets.filter((each) => !taken.includes(each))[Math.min(index, 2)] ?? boxSubnets[0];
    return [
      {
        id: `box-subnet:${line.key}`,
        asks: `Which subnet does the box in front of ${lineName(line)} give?`,
        why: 'No network inside may have the same; it stands on the label of the box or on its page.',
        choices: [...new Set([likely, ...boxSubnets])].map((each) => choice(each, each, '')),
        likely,
        because: 'Many boxes come with it. Read the label before the router is set up.',
        typed: { term: 'Subnet', example: '192.168.178.0/24' },
        take: (to: Facts, answer: string, from: string) => {
          const prefix = parsePrefix(answer);
          if (!prefix.ok) return prefix.problem.says;
          to.lines.find(({ key }) => key === line.key)!.insidePrefix = {
            value: formatPrefix(prefix.value),
            from,
          };
        },
      },
    ];
  });

const papersOf = (line: LineFacts): Paper[] => [
  ...(line.user ? (['user'] as const) : []),
  ...(line.address || line.gateway || line.block ? (['block'] as const) : []),
  ...(line.apn ? (['apn'] as const) : []),
  ...(line.vlan ? (['vlan'] as const) : []),
  ...(line.aftr ? (['translator'] as const) : []),
  ...(line.server ? (['server'] as const) : []),
];

/** By how much one WAN type must lead for the question to be none (common practice, no source). */
const clearLead = 4;

const type = eachLine(
  (line) => {
    const routes = line.box?.value === 'routes';
    if (line.type && !(routes && line.type.value === 'cellular')) return undefined;
    const ranked = likelyTypes(line.medium?.value ?? 'unknown', papersOf(line), routes);
    const [first, second] = ranked;
    // One answer that nothing else comes near is no question: it stands with its reason.
    if (first && first.score - (second?.score ?? 0) >= clearLead) {
      line.type = { value: first.type, from: `Usual value: ${first.title}. ${first.reasons.join(' ')}` };
      return undefined;
    }
    const titles = ranked.slice(0, 4);
    return {
      id: 'type',
      asks: `How does the router get its address on ${lineName(line)}?`,
      why: 'It decides every other field of the line.',
      choices: [
        ...titles.map(({ type, title, reasons }) => choice(type, title, reasons[0] ?? '')),
        ...(['dhcp', 'pppoe', 'static'] as const).flatMap((each) =>
          titles.some(({ type }) => type === each)
            ? []
            : [choice(each, titleAt('/uplinks/*/type', each), '')],
        ),
      ],
      likely: first?.type ?? 'dhcp',
      because: first
        ? `${first.reasons.join(' ')}${second && second.score === first.score ? ' Others are as likely.' : ''}`
        : 'Most lines do.',
      provider: true,
    };
  },
  (line, answer, from) => {
    line.type = { value: answer as UplinkTypeName, from };
  },
);

const address = eachLine(
  (line) => {
    if (line.type?.value !== 'static' || line.address) return undefined;
    const known =
      line.block ??
      (line.network && line.prefixLength
        ? { value: `${line.network.value}/${line.prefixLength.value}` }
        : undefined);
    const prefix = known && valueOf(parsePrefix(known.value));
    const hosts = prefix && hostsOf(prefix);
    const gateway = line.gateway?.value;
    const free = hosts
      ? [0n, 1n, 2n]
          .map((offset) => formatAddress({ family: 4, value: hosts.first.value + offset }))
          .find((each) => each !== gateway)
      : undefined;
    const likely = line.usable?.value ?? free;
    return {
      id: 'address',
      asks: `Which address of ${lineName(line)} does the router take?`,
      why: 'The router holds it; the others of the subnet stay free.',
      choices:
        likely === undefined
          ? []
          : [choice(likely, likely, gateway ? 'The first beside the gateway.' : 'The first of the subnet.')],
      likely: likely ?? askProvider,
      because: likely === undefined ? 'The paper names none.' : 'The first that is free.',
      typed: { term: 'Address', example: '203.0.113.10' },
      provider: true,
    };
  },
  (line, answer, from) => {
    const address = valueOf(parseAddress(answer));
    if (!address) return `"${answer}" is no IP address.`;
    line.address = { value: formatAddress(address), from };
  },
);

const gateway = eachLine(
  (line) =>
    line.type?.value === 'static' && !line.gateway
      ? {
          id: 'gateway',
          asks: `Which address is the gateway of ${lineName(line)}?`,
          why: 'Without it nothing leaves.',
          choices: [],
          likely: askProvider,
          because: 'It stands on the paper of the provider.',
          typed: { term: 'Gateway', example: '203.0.113.9' },
          provider: true,
        }
      : undefined,
  (line, answer, from) => {
    const address = valueOf(parseAddress(answer));
    if (!address) return `"${answer}" is no IP address.`;
    line.gateway = { value: formatAddress(address), from };
  },
);

const resolvers = eachLine(
  (line) =>
    line.type?.value === 'static' && !line.resolvers
      ? {
          id: 'resolvers',
          asks: `Which DNS servers are used over ${lineName(line)}?`,
          why: 'A line with a fixed address tells the router none: without one no name resolves.',
          choices: [],
          likely: askProvider,
          because: 'They stand on the paper of the provider.',
          typed: { term: 'One or two addresses', example: '198.51.100.53, 198.51.100.54' },
          provider: true,
        }
      : undefined,
  (line, answer, from) => {
    const found = answer.split(/[,;\s]+/).filter((each) => each !== '');
    const wrong = found.find((each) => !valueOf(parseAddress(each)));
    if (wrong !== undefined || found.length === 0) return `"${wrong ?? answer}" is no IP address.`;
    line.resolvers = { value: found.slice(0, 4), from };
  },
);

const userName = eachLine(
  (line) =>
    line.type?.value === 'pppoe' && !line.userName
      ? {
          id: 'user',
          asks: `What is the user name of ${lineName(line)}?`,
          why: 'Without it the session is refused; what follows the "@" is what most refusals are about.',
          choices: [],
          likely: askProvider,
          because: 'It stands on the paper of the provider.',
          typed: { term: 'User name', example: '00471122@line.example' },
          provider: true,
        }
      : undefined,
  (line, answer, from) => {
    const read = parseUserName(answer);
    if (!read.ok) return read.problem.says;
    line.userName = { value: answer.trim(), from };
  },
);

const vlan = eachLine(
  (line) =>
    !line.vlan &&
    !line.untagged &&
    ['fibre', 'dsl'].includes(line.medium?.value ?? '') &&
    line.type?.value !== 'static' &&
    line.box?.value !== 'routes'
      ? {
          id: 'vlan',
          asks: `Is the data of ${lineName(line)} on a VLAN?`,
          why: 'With the wrong tag the line is silent: no answer at all, not a refusal.',
          choices: [choice('none', 'No VLAN', 'Frames go untagged.')],
          likely: askProvider,
          because: 'Many such lines are tagged, and only the provider knows with what.',
          typed: { term: 'VLAN ID', example: '7' },
          provider: true,
        }
      : undefined,
  (line, answer, from) => {
    if (answer === 'none') {
      line.untagged = { value: true, from };
      return;
    }
    const id = Number(answer.replace(/^vlan\s*/i, ''));
    if (!Number.isInteger(id) || id < 1 || id > 4094)
      return 'A VLAN ID is a number from 1 to 4094 (IEEE 802.1Q).';
    line.vlan = { value: id, from };
  },
);

const apn = eachLine(
  (line) =>
    line.type?.value === 'cellular' && !line.apn
      ? {
          id: 'apn',
          asks: `Which APN does the SIM of ${lineName(line)} need?`,
          why: 'Registered without an address is nearly always the APN.',
          choices: [],
          likely: askProvider,
          because: 'It stands on the paper of the card.',
          typed: { term: 'APN', example: 'internet.provider.example' },
          provider: true,
        }
      : undefined,
  (line, answer, from) => {
    const read = parseApn(answer);
    if (!read.ok) return read.problem.says;
    line.apn = { value: answer.trim(), from };
  },
);

const within: Kind = (facts) =>
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

const probes: Kind = (facts, { probes: known }) => {
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

const endpoint: Kind = (facts) => {
  const first = facts.lines.find((line) => !line.backup) ?? facts.lines[0];
  if (
    facts.remote.length === 0 ||
    !first ||
    first.type?.value === 'static' ||
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

const publicTrade =
  /bakery|butcher|caf|coffee|restaurant|pub|bar|hotel|hostel|guest|camp|holiday|park|salon|hair|barber|library|museum|gallery|ferry|marina|club|gym|church|hall|practice|surgery|clinic/i;

const guests: Kind = (facts) => {
  if (facts.networks.some(({ purpose }) => purpose === 'guests')) return [];
  const likely = publicTrade.test(facts.trade?.value ?? '');
  return [
    {
      id: 'guests',
      asks: 'Are visitors to have internet?',
      why: 'They get a network of their own that reaches nothing else.',
      choices: [
        choice('yes', 'Yes', 'A network for guests, apart from everything.'),
        choice('no', 'No', 'No network for guests.'),
      ],
      likely: likely ? 'yes' : 'no',
      because: likely
        ? `Most do in a place like this (${facts.trade!.value.toLowerCase()}).`
        : 'The text names no visitors.',
      take: (to, answer, from) => {
        if (answer === 'yes')
          to.networks.push({ key: 'guests', name: { value: 'Guests', from }, purpose: 'guests' });
      },
    },
  ];
};

const kinds: readonly (readonly [kind: string, title: string, purpose: Purpose])[] = [
  ['till', 'Tills and card terminals', 'payment'],
  ['camera', 'Cameras', 'cameras'],
  ['telephone', 'Telephones', 'voice'],
  ['machine', 'Machines, heating, sensors', 'plant'],
  ['printer', 'Printers', 'staff'],
];

const devices: Kind = (facts) =>
  facts.devices.length > 0 || facts.networks.some(({ purpose }) => purpose !== 'guests')
    ? []
    : [
        {
          id: 'devices',
          asks: 'What else is connected, besides computers and telephones of the people?',
          why: 'Payment, cameras and machines each get a network of their own, with the rules for their kind.',
          choices: [
            choice('none', 'Nothing else', 'One network for the people.'),
            ...kinds.map(([kind, title, purpose]) =>
              choice(kind, title, `Purpose: ${titleAt('/networks/*/purpose', purpose)}.`),
            ),
          ],
          likely: 'none',
          because: 'The text names no devices.',
          several: true,
          take: (to, answer, from) => {
            for (const [kind, , purpose] of kinds)
              if (answer.split(',').some((each) => each.trim() === kind))
                to.devices.push({
                  name: { value: capitalized(kind), from },
                  kind,
                  purpose,
                  count: 1,
                  reserved: false,
                });
          },
        },
      ];

const backupUse: Kind = (facts) => {
  const backup = facts.lines.find((line) => line.backup) ?? facts.lines[1];
  if (facts.lines.length < 2 || !backup || !facts.networks.some(({ purpose }) => purpose === 'guests'))
    return [];
  const limited = backup.capGigabytes !== undefined || backup.medium?.value === 'cellular';
  return [
    {
      id: 'backup-use',
      asks: `Who uses ${lineName(backup)} while the first is down?`,
      why: 'A backup is slower, and often paid by the gigabyte.',
      choices: [
        choice('no-guests', 'Everybody but guests', 'Guests wait until the first line is back.'),
        choice('all', 'Everybody', 'Guests may use up what the backup carries.'),
      ],
      likely: limited ? 'no-guests' : 'all',
      because: limited
        ? 'Guests use up the data of such a line first.'
        : 'The backup has no limit that the text names.',
      take: (to, answer, from) => {
        to.guestsWait = { value: answer === 'no-guests', from };
      },
    },
  ];
};

const remote: Kind = (facts) =>
  facts.remote.length > 0
    ? []
    : [
        {
          id: 'remote',
          asks: 'Does anybody come in from outside?',
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
const outside: Kind = (facts) =>
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
          'It must stand the whole internet: up to date, with good passwords.',
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

const keepAddresses: Kind = (facts) => {
  const old = facts.networks.find(
    ({ prefix, routerAddress }) => prefix && routerAddress && !prefix.value.startsWith('10.'),
  );
  if (!old || facts.networks.filter(({ prefix }) => prefix).length > 1) return [];
  return [
    {
      id: 'addresses',
      asks: `Keep ${old.prefix!.value}, the subnet of the old router?`,
      why: 'Devices with a fixed address go on as they are; but the same subnet at home stands in the way of remote access.',
      choices: [
        choice('keep', 'Keep it', 'No device is set up anew.'),
        choice(
          'new',
          'A new subnet',
          'Devices with fixed addresses are set up anew; remote access works from every home.',
        ),
      ],
      likely: 'keep',
      because: 'What has a fixed address there goes on working.',
      take: (to, answer) => {
        if (answer !== 'new') return;
        const network = to.networks.find(({ key }) => key === old.key)!;
        delete network.prefix;
        delete network.routerAddress;
        delete network.poolFrom;
        delete network.poolTo;
      },
    },
  ];
};

/** In the order in which they are asked. */
export const questionKinds: readonly Kind[] = [
  name,
  firstLine,
  secondLine,
  medium,
  box,
  boxSubnet,
  type,
  userName,
  vlan,
  address,
  gateway,
  resolvers,
  apn,
  devices,
  guests,
  within,
  probes,
  backupUse,
  outside,
  remote,
  endpoint,
  keepAddresses,
];
