import type { At } from '../../plan/at.ts';
import { factAt } from '../../wan-types/facts.ts';
import { formatAddress, sameAddress, type Address } from '../../base/net/address.ts';
import { hasPort } from '../../base/net/ports.ts';
import { contains } from '../../base/net/prefix.ts';
import { ask } from '../path/ask.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import { devicesOn } from '../../site/lookups.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { slug } from '../../base/text.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

const source = 'RFC 2132 section 3.8 (option 6)';

/** Names must resolve: without a DNS server every page "is down", though the line is up. */
export const resolvers: Check = {
  name: 'resolvers',
  run: (site) => [
    ...site.networks.flatMap((network) => [
      ...none(network),
      ...network.resolvers.flatMap((server) => notAnswering(site, network, server)),
    ]),
    ...site.lines.flatMap((line) => noneAbove(site, line)),
    ...inTunnel(site),
    ...asksItself(site),
  ],
};

function none(network: Network): Finding[] {
  if (network.resolvers.length > 0 || !network.dhcp.enabled) return [];
  const own = network.routerAddress && formatAddress(network.routerAddress);
  return [
    note(
      'no-resolver',
      'blocker',
      `${network.at}/resolvers`,
      `${network.name} hands out no DNS server: its devices get an address, but no name resolves.`,
      worked('DNS servers handed out', 0, '', [step('DNS servers handed out', 0)], source),
      own === undefined
        ? undefined
        : replacing(`Hand out the router, ${own}`, `${network.at}/resolvers`, [own]),
    ),
  ];
}

function noneAbove({ networks }: Site, line: Line): Finding[] {
  const usesRouter = networks.some(({ resolvers: servers, routerAddress }) =>
    servers.some((each) => each.value === routerAddress?.value),
  );
  if (!usesRouter || line.resolversOffered || line.resolvers.length > 0) return [];
  return [
    note(
      'no-upstream-resolver',
      'blocker',
      `${line.at}/settings/${line.type}`,
      `Devices ask the router for names, but over ${line.name} the router has no DNS server to ask: pages fail while a ping to an address works.`,
      worked(
        `DNS servers on ${line.name}`,
        0,
        '',
        [step('named', line.resolvers.length), step("taken from the line's offer", 'no')],
        source,
      ),
    ),
  ];
}

/** The DNS server of remote users, where it is an address inside that nobody holds. */
function inTunnel(site: Site): Finding[] {
  const { way, resolver } = site.vpn;
  if (way === 'none' || !resolver) return [];
  const holder = gone(site, resolver);
  return holder ? [unknown('/vpn/resolver', 'Remote users are given', resolver, holder)] : [];
}

/** The DNS servers that the router itself asks are beyond it: its own address among them is a question without an end. */
function asksItself(site: Site): Finding[] {
  const { failover, lines, networks, vpn } = site;
  const own = [...networks.map(({ routerAddress }) => routerAddress), vpn.routerAddress];
  const asked: readonly (readonly [At, string, Address])[] = [
    ...(failover.resolvers === 'own'
      ? failover.ownResolvers.map((server) => ['/failover/ownResolvers', 'of the router', server] as const)
      : []),
    ...lines.flatMap((line) =>
      line.resolvers.map(
        (server) =>
          [
            factAt(line, 'resolvers') ?? `${line.at}/settings/${line.type}`,
            `of ${line.name}`,
            server,
          ] as const,
      ),
    ),
  ];
  return asked.flatMap(([at, whose, server]): Finding[] =>
    own.some((each) => each && sameAddress(each, server))
      ? [
          note(
            'resolver-loop',
            'blocker',
            at,
            `Among the DNS servers ${whose} is ${formatAddress(server)}, the router's own address: it would ask itself, and no name resolves. Enter servers beyond the router.`,
            worked(
              'DNS server that is asked',
              formatAddress(server),
              '',
              [step('asked by', 'the router'), step('held by', 'the router')],
              'RFC 1035 section 2.2 (a forwarder asks another server)',
            ),
          ),
        ]
      : [],
  );
}

/** The network in which an address is that nobody there holds. */
function gone(site: Site, server: Address): Network | undefined {
  const holder = site.networks.find(({ prefix }) => prefix && contains(prefix, server));
  const held =
    holder &&
    (holder.routerAddress?.value === server.value ||
      devicesOn(site, holder).some(({ address }) => address?.value === server.value));
  return held ? undefined : holder;
}

const unknown = (at: At, who: string, server: Address, holder: Network): Finding =>
  note(
    'resolver-unknown',
    'warning',
    at,
    `${who} the DNS server ${formatAddress(server)}, and nothing on ${holder.name} holds that address any more: names resolve late or not at all. Enter the device that answers there, or hand out another.`,
    said('Device with this address', 'none'),
  );

/** A DNS server that is handed out must be there, and the network must be allowed to ask it. */
function notAnswering(site: Site, network: Network, server: Address): Finding[] {
  const own = site.networks.some(({ routerAddress }) => routerAddress?.value === server.value);
  const listed = site.services.some(({ ports }) => hasPort(ports, 53));
  // Where the plan does not list what the router answers, nobody knows that it does not.
  if (own && !listed) return [];
  const text = formatAddress(server);
  const holder = site.networks.find(({ prefix }) => prefix && contains(prefix, server));
  const nowhere = own ? undefined : gone(site, server);
  if (nowhere) return [unknown(`${network.at}/resolvers`, `${network.name} hands out`, server, nowhere)];
  const question = `from ${slug(network.name)} to ${text} udp 53`;
  const answer = ask(site, question);
  if (!answer.ok || ['delivered', 'hairpin'].includes(answer.value.outcome)) return [];
  const { says, outcome } = answer.value;
  // A line that reaches nothing at all is a finding of its own.
  if (outcome !== 'refused' && !holder) return [];
  return [
    {
      ...note(
        'resolver-refused',
        'blocker',
        `${network.at}/resolvers`,
        `${network.name} hands out the DNS server ${text}, and its devices do not get there: ${says.slice(0, 1).toLowerCase()}${says.slice(1)} No name resolves on ${network.name}.`,
        worked(
          'Question to the DNS server',
          outcome,
          '',
          [step('asked', question), step('answer', outcome)],
          source,
        ),
      ),
      packet: question,
    },
  ];
}
