import { freePorts } from '../../base/net/address-and-port.ts';
import { wayPorts } from '../../plan/catalogue/vpn.ts';
import { formatPorts } from '../../base/net/ports.ts';
import { foreignPorts } from '../../behaviour/remote-access/reachable.ts';
import { needs } from '../../wan-types/facts.ts';
import { formatAddress, sameAddress } from '../../base/net/address.ts';
import { contains, formatPrefix } from '../../base/net/prefix.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { freePool, isClient, poolProblem, tunnelWorked } from '../../behaviour/remote-access/interface.ts';
import { parseKey } from '../../behaviour/remote-access/keys.ts';
import { routesOf } from '../../behaviour/remote-access/routes.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { note, said } from './note.ts';

/** The router's end of the tunnel: where its people are, what they call, whom they ask for names, what fits through. */
export const vpnTunnel: Check = {
  name: 'tunnel',
  run: (site) =>
    site.vpn.way === 'wireguard' ? [...pool(site), ...endpoints(site), ...resolver(site), ...size(site)] : [],
};

function pool(site: Site): Finding[] {
  const { vpn: access } = site;
  const found: Finding[] = [];
  for (const [block, at] of [
    [access.pool, '/vpn/pool'],
    [access.pool6, '/vpn/pool6'],
  ] as const) {
    const problem = block && poolProblem(site, block);
    if (!problem) continue;
    const free = block.family === 4 ? freePool(site, block.length) : undefined;
    found.push(
      note(
        'vpn-pool',
        'blocker',
        at,
        `The pool ${formatPrefix(block)} ${problem.says}.`,
        worked(
          'Pool of the remote users',
          formatPrefix(block),
          '',
          [step('pool', formatPrefix(block)), step('in use', formatPrefix(problem.with))],
          'RFC 1918, RFC 4193, RFC 4632',
        ),
        free && replacing(`Take ${formatPrefix(free)}`, at, formatPrefix(free)),
      ),
    );
  }
  if (!access.pool) return found;
  if (!access.pool6 && access.groups.some(({ tunnel }) => tunnel !== 'split'))
    found.push(
      note(
        'vpn-leak',
        'warning',
        '/vpn/pool6',
        'All traffic is to go through the tunnel, and the tunnel has no IPv6: IPv6 traffic bypasses it.',
        routesOf(site, { group: access.groups.find(({ tunnel }) => tunnel !== 'split') }).worked,
      ),
    );
  return found;
}

function endpoints(site: Site): Finding[] {
  const { vpn: access } = site;
  const found: Finding[] = [];
  if (access.endpoints.every(({ host }) => host === ''))
    found.push(
      note(
        'vpn-no-endpoint',
        'blocker',
        '/vpn/endpoints',
        'No endpoint: enter the name or address that clients connect to.',
        said('Endpoints', 'none'),
      ),
    );
  for (const { at, host, line, address } of access.endpoints) {
    if (host === '' || !line) continue;
    if (line.inbound === 'impossible')
      found.push(
        note(
          'vpn-endpoint-shut',
          'blocker',
          `${at}/uplink`,
          `${host} is on ${line.name}, and no connection can be opened from outside over that line.`,
          said('Inbound', line.inbound),
        ),
      );
    else if (foreignPorts(access, line).length > 0) {
      const taken = site.forwards.flatMap((each) => (each.line === line && each.outside) || []);
      const own = freePorts(line.ownPorts!, taken, 1)?.first;
      const movable = (wayPorts[access.way] ?? []).some(([, fixed]) => fixed === undefined);
      found.push(
        note(
          'vpn-port-foreign',
          'blocker',
          movable ? '/vpn/port' : `${at}/uplink`,
          `Clients of ${host} call port ${foreignPorts(access, line).join(' and ')}, and on ${line.name} that port belongs to another subscriber: the address is shared by ports. ${movable && own !== undefined ? `Use one of its own, such as ${own}.` : 'This method cannot use another port: choose one that can, or ask for an address that is not shared.'}`,
          said('Ports of the line', line.ownPorts!.map(formatPorts).slice(0, 3).join(', ')),
          movable && own !== undefined ? replacing(`Use port ${own}`, '/vpn/port', own) : undefined,
        ),
      );
    } else if (address && line.publicAddressKnown && !sameAddress(address, line.publicAddress))
      found.push(
        note(
          'vpn-endpoint-other',
          'warning',
          `${at}/host`,
          `${host} is not the address of ${line.name}, which is ${formatAddress(line.publicAddress)}.`,
          said('Address of the line', formatAddress(line.publicAddress)),
          replacing(
            `Use ${formatAddress(line.publicAddress)}`,
            `${at}/host`,
            formatAddress(line.publicAddress),
          ),
        ),
      );
    else if (address && !needs(line.type, 'address')) {
      const follows = site.failover.dynamicName;
      found.push(
        note(
          'vpn-endpoint-changes',
          'advice',
          `${at}/host`,
          `${host} is an IP address, and that of ${line.name} may change any day: then every profile is wrong. Use a DNS name that follows the line as endpoint${follows === '' ? ', or have it from the provider in writing that the address is fixed' : ''}.`,
          said('Name that follows', follows || 'none yet'),
          follows === '' ? undefined : replacing(`Use ${follows}`, `${at}/host`, follows),
        ),
      );
    }
    const boxed =
      line.box?.routes &&
      !line.box.forwards.some(
        ({ protocol, ports }) =>
          protocol !== 'tcp' && ports.first <= access.port && access.port <= ports.last,
      );
    if (boxed)
      found.push(
        note(
          'vpn-box-shut',
          'blocker',
          `${line.at}/handoff/forwards`,
          `${line.box!.name} in front of ${line.name} does not forward udp ${access.port}: connections of remote users end there.`,
          said('Handed on', line.box!.forwards.length === 0 ? 'nothing' : 'other ports'),
        ),
      );
  }
  if (access.publicKey.trim() !== '' && !parseKey(access.publicKey).ok)
    found.push(
      note(
        'vpn-key-form',
        'blocker',
        '/vpn/publicKey',
        'The router\'s public key is not valid: a WireGuard key is 43 letters and digits, then "=".',
        said('Length', String(access.publicKey.trim().length)),
      ),
    );
  return found;
}

/** Names of the site are known inside only: a client has to ask there. */
function resolver(site: Site): Finding[] {
  const { vpn: access } = site;
  const own = access.routerAddress && formatAddress(access.routerAddress);
  const fix = own === undefined ? undefined : replacing(`Ask the router, ${own}`, '/vpn/resolver', own);
  if (!access.resolver)
    return !site.problems.some(({ at }) => at === '/vpn/resolver') && access.peers.length > 0
      ? [
          note(
            'vpn-no-resolver',
            'advice',
            '/vpn/resolver',
            'Without a DNS server in the tunnel, clients keep using that of the network where they are: addresses of this site work, its names do not resolve.',
            said('DNS server in the tunnel', 'none'),
            fix,
          ),
        ]
      : [];
  const { resolver: host } = access;
  const inside = site.networks.some(({ prefix }) => prefix && contains(prefix, host)) || isClient(site, host);
  return inside
    ? []
    : [
        note(
          'vpn-resolver-outside',
          'warning',
          '/vpn/resolver',
          `${formatAddress(host)} is neither inside nor the router: it does not know the names of this site.`,
          said('DNS server in the tunnel', formatAddress(host)),
          fix,
        ),
      ];
}

function size(site: Site): Finding[] {
  const typed = site.vpn.mtuBytes;
  const fits = tunnelWorked(site.vpn.endpoints[0]?.line ?? site.lines[0]);
  return typed !== null && typed > fits.value
    ? [
        note(
          'vpn-mtu',
          'warning',
          '/vpn/mtuBytes',
          `${typed} bytes do not pass everywhere: ${fits.value} do.`,
          fits,
          replacing(`Use ${fits.value}`, '/vpn/mtuBytes', fits.value),
        ),
      ]
    : [];
}
