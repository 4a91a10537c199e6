import { formatAddress, sameAddress, type Address } from '../../base/net/address.ts';
import { classify, reachableFromOutside, type AddressClass } from '../../base/net/classify.ts';
import { firstOf, formatPrefix, hostsOf, lastOf } from '../../base/net/prefix.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Forward, Network, Site } from '../../site/model.ts';
import { addressWorked, subnetWorked } from '../../base/worked/addresses.ts';
import { note } from './note.ts';

/** Addresses that cannot be what they are entered as: nobody has them, nobody sends from them, nobody gets there. */
export const classes: Check = {
  name: 'classes',
  run: (site) => [
    ...site.networks.flatMap((network) => [...ofNetwork(network), ...ofResolvers(site, network)]),
    ...site.forwards.flatMap(ofSources),
    ...ofEndpoints(site),
    ...ofRouterResolvers(site),
  ],
};

/** Classes of which no host on a network has an address (RFC 6890). */
export const noHost: readonly AddressClass[] = [
  'loopback',
  'multicast',
  'reserved',
  'broadcast',
  'unspecified',
  'discard',
];

function ofNetwork({ prefix, name, at }: Network): Finding[] {
  if (!prefix) return [];
  const odd = [firstOf(prefix), lastOf(prefix)].find((host) => noHost.includes(classify(host).class));
  if (odd)
    return [
      note(
        'network-class',
        'blocker',
        `${at}/prefix`,
        `${name} uses ${formatPrefix(prefix)}, and ${formatAddress(odd)} is ${classify(odd).class}: no device can have such an address.`,
        addressWorked(odd),
      ),
    ];
  return hostsOf(prefix).count < 2n
    ? [
        note(
          'network-single',
          'blocker',
          `${at}/prefix`,
          `${formatPrefix(prefix)} of ${name} has no address left for devices.`,
          subnetWorked(prefix),
        ),
      ]
    : [];
}

function ofResolvers({ networks }: Site, { resolvers, name, at }: Network): Finding[] {
  return resolvers.flatMap((server) => {
    const { class: kind } = classify(server);
    const inside = networks.some(({ routerAddress }) => routerAddress && sameAddress(routerAddress, server));
    return !inside && noHost.includes(kind)
      ? [
          note(
            'resolver-class',
            'blocker',
            `${at}/resolvers`,
            `${name} hands out the DNS server ${formatAddress(server)}, which is ${kind}: to a device that is itself or nobody, and no name resolves.`,
            addressWorked(server),
          ),
        ]
      : [];
  });
}

/** Sources that no packet from the internet has: it is a mistake for an address inside, or behind somebody's NAT. */
function ofSources({ allowed, name, at }: Forward): Finding[] {
  if (allowed.kind !== 'some') return [];
  const never = allowed.prefixes.filter(
    (prefix) =>
      !reachableFromOutside(classify(firstOf(prefix)).class) &&
      !reachableFromOutside(classify(lastOf(prefix)).class),
  );
  const [first] = never;
  if (!first) return [];
  const all = never.length === allowed.prefixes.length;
  return [
    note(
      'source-never',
      all ? 'blocker' : 'warning',
      `${at}/sources`,
      `Forward "${name}" admits ${never.map(formatPrefix).join(', ')}, and no packet from the internet has such a source (${classify(firstOf(first)).class}): ${all ? 'nobody gets in' : 'that part of the list admits nobody'}. Ask for the public address with which they come.`,
      addressWorked(firstOf(first)),
    ),
  ];
}

/** An endpoint that nobody outside can call. Where it is not the address of its line, that is said already. */
const ofEndpoints = ({ vpn }: Site): Finding[] =>
  vpn.way === 'none'
    ? []
    : vpn.endpoints.flatMap(({ address, host, at, line }) =>
        address && !reachableFromOutside(classify(address).class) && !line?.publicAddressKnown
          ? [
              note(
                'vpn-endpoint-private',
                'blocker',
                `${at}/host`,
                `Remote users are to call ${host}, which is ${classify(address).class}: from outside nobody gets there. Enter the public address or the name of the line.`,
                addressWorked(address),
              ),
            ]
          : [],
      );

/** A router that is to ask itself for names asks nobody. */
function ofRouterResolvers({ lines, networks, failover }: Site): Finding[] {
  const own = (server: Address): boolean =>
    networks.some(({ routerAddress }) => routerAddress && sameAddress(routerAddress, server)) ||
    lines.some(({ address, addressKnown }) => addressKnown && sameAddress(address, server)) ||
    noHost.includes(classify(server).class);
  const asked = [
    ...lines.flatMap(({ resolvers, at, name }) =>
      resolvers.map((server) => ({
        server,
        at: `${at}/settings/static/resolvers` as const,
        of: `of ${name}`,
      })),
    ),
    ...(failover.resolvers === 'own'
      ? failover.ownResolvers.map((server) => ({
          server,
          at: '/failover/ownResolvers' as const,
          of: 'of its own',
        }))
      : []),
  ];
  return asked.flatMap(({ server, at, of }) =>
    own(server)
      ? [
          note(
            'resolver-self',
            'blocker',
            at,
            `The DNS server ${of}, ${formatAddress(server)}, is the router itself: it would ask itself, and no name resolves.`,
            addressWorked(server),
          ),
        ]
      : [],
  );
}
