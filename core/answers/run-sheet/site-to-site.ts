import { atCupboard, onPage, allOf, pulling } from '../../behaviour/domain-types/nature.ts';
import { sitePromiseId } from '../../behaviour/domain-types/promise.ts';
import { formatAddress } from '../../base/net/address.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import type { Site } from '../../site/model.ts';
import type { FarSite } from '../../site/vpn.ts';
import { endOf, endOfFar, tunnelStates } from '../../behaviour/remote-access/tunnel-states.ts';
import { labelOf } from './failover.ts';
import { entry, type Entry, type StepDraft, fieldEntry } from '../../behaviour/domain-types/step.ts';
import { choiceReading, numberReading } from '../../behaviour/domain-types/reading.ts';

/** Tunnels to other sites of the customer: entered, proven in both directions, and proven again with a line pulled. */
export const joinedSiteSteps = (site: Site): StepDraft[] => [
  ...site.vpn.sites.map((far) => enter(site, far)),
  ...(site.vpn.hub && site.vpn.sites.length > 1 ? [passOn(site)] : []),
  ...site.vpn.sites.map(prove),
  ...site.vpn.sites.flatMap((far) => pull(site, far)),
];

/** The other end of a tunnel between two sites of one customer. */
function enter(site: Site, far: FarSite): StepDraft {
  const { at } = far;
  return {
    id: `vpn-site:${far.id}`,
    nature: onPage,
    phase: 'rules',
    title: `Join ${far.name}`,
    needs: ['vpn-interface'],
    entries: [
      fieldEntry(`${at}/publicKey`, far.publicKey || 'not known yet'),
      fieldEntry(
        `${at}/endpoint`,
        far.endpoint ? `${far.endpoint}, udp ${far.port}` : 'outbound only; leave this empty',
      ),
      fieldEntry(
        `${at}/prefixes`,
        [
          ...far.prefixes.map(formatPrefix),
          ...(far.address ? [`${formatAddress(far.address)}/32`] : []),
        ].join(', '),
      ),
      fieldEntry('/vpn/keepAliveSeconds', `${site.vpn.keepAliveSeconds} s`),
      entry(
        'May use it',
        `${far.networks.map(({ name }) => name).join(', ') || 'no network yet'}; all others are refused`,
        ['Forward rule', 'Zone'],
        `${at}/networks`,
      ),
      ...far.translations
        .filter(({ of }) => of === 'here')
        .map((each) =>
          entry(
            `${each.network} is seen there as`,
            `${formatPrefix(each.real)} as ${formatPrefix(each.seen)}, one to one, host part kept`,
            ['1:1 NAT', 'NETMAP', 'Bidirectional NAT'],
            `${each.at}/seen`,
          ),
        ),
    ],
    why: 'Both ends must say the same: the values were made in one step.',
    lowSeconds: 120,
    highSeconds: 300,
    proof: 'Its page shows a handshake of the last two minutes.',
    ifNot: 'No handshake: endpoint, port or key. A handshake at one end only: the way back is shut.',
  };
}

/** At the hub the other sites reach one another, which a router refuses unless it is told. */
function passOn(site: Site): StepDraft {
  const { sites } = site.vpn;
  return {
    id: 'vpn-hub',
    nature: onPage,
    phase: 'rules',
    title: 'Allow traffic between the other sites',
    needs: sites.map(({ id }) => `vpn-site:${id}`),
    entries: sites.flatMap((from) =>
      sites
        .filter((to) => to !== from)
        .map((to): Entry =>
          entry(
            `${from.name} to ${to.name}`,
            `allowed, to ${to.prefixes.map(formatPrefix).join(', ')}`,
            ['Forward rule', 'Spoke to spoke'],
            '/vpn/hub',
          ),
        ),
    ),
    why: 'Each of them sends to the others through this site; without the rule its packets end here.',
    lowSeconds: 60,
    highSeconds: 300,
    proof: 'A device of one of them answers at another.',
    ifNot: 'The rule is there, but nothing answers: one of the other sites has no route to the others.',
  };
}

function prove(far: FarSite): StepDraft {
  const { translations } = far;
  const seen = translations.filter(({ of }) => of === 'there');
  return {
    id: `vpn-site-proof:${far.id}`,
    nature: (site) => ({ ...atCupboard, uses: allOf(site) }),
    phase: 'proof',
    title: `Reach ${far.name}, and let it reach this site`,
    needs: ['save', `vpn-site:${far.id}`],
    entries: [
      entry('From here', `ping a device in ${far.prefixes.map(formatPrefix).join(' or ')}`, ['Ping']),
      ...seen.map((each) =>
        entry(
          `A device of ${each.network}`,
          `is called by ${formatPrefix(each.seen)}, not by ${formatPrefix(each.real)}`,
          ['Translated address'],
          `${each.at}/seen`,
        ),
      ),
      entry('From there', 'a person at the other site does the same towards here', ['Ping back']),
    ],
    why: 'One direction works with half of the routes; people need both.',
    lowSeconds: 120,
    highSeconds: 600,
    proof: 'A device answers in each direction, by its name or its number.',
    ifNot: 'One direction only: routes, or the rule, at the end that does not answer.',
    fields: [
      choiceReading('there', 'From here', 'a device there answered', 'nothing there answered'),
      choiceReading('back', 'From there', 'a device here answered', 'nothing here answered'),
    ],
    evidence: [{ promise: sitePromiseId(far), rung: 'ping-number' }],
  };
}

/** The tunnel with the first line of this end pulled, where a second one is to carry it. */
function pull(site: Site, far: FarSite): StepDraft[] {
  const [first] = site.lines;
  const [, state] = tunnelStates(endOf(site), endOfFar(far), site.vpn.keepAliveSeconds);
  if (!first || site.lines.length < 2 || state!.up !== 'itself') return [];
  return [
    {
      id: `vpn-site-pull:${far.id}`,
      nature: pulling(first),
      phase: 'proof',
      title: `Pull ${labelOf(first)} and wait for ${far.name}`,
      needs: [`vpn-site-proof:${far.id}`, 'warn-people', `plug-in:${first.id}`],
      entries: [
        entry(
          'Expect it back within',
          `${String(state!.worked.value)} s`,
          ['Failover time'],
          `${far.at}/backSeconds`,
        ),
        entry('Keep a ping running', 'to the same device there, and note the gap', ['Ping']),
      ],
      why: state!.says,
      lowSeconds: 120,
      highSeconds: 900,
      proof: 'The ping goes on without help; plugged in again, it does so once more.',
      ifNot:
        'Nothing comes back: the peer still sends to the old address. A persistent keep-alive is missing here.',
      fields: [numberReading('gap', 'Gap', 's')],
      evidence: [{ promise: sitePromiseId(far), rung: 'line-pulled' }],
    },
  ];
}
