import { formatAddress, sameAddress } from '../net/address.ts';
import { contains, formatPrefix } from '../net/prefix.ts';
import { replacing, type Check, type Finding } from '../site/finding.ts';
import type { Site } from '../site/model.ts';
import { freePeerAddress, freePool, isTraveller, poolProblem, tunnelWorked } from '../vpn/interface.ts';
import { parseKey } from '../vpn/keys.ts';
import type { Peer } from '../vpn/model.ts';
import { routesOf } from '../vpn/routes.ts';
import { reachable, unableTo, wayTitles } from '../vpn/which.ts';
import { step, worked } from '../worked/worked.ts';
import { note, said } from './note.ts';

/** What keeps the right people out, or lets them too far in. */
export const vpn: Check = {
  name: 'vpn',
  run: (site) => {
    const { way } = site.vpn.plan;
    if (way === 'none') return [];
    return [
      ...wayItself(site),
      ...(way === 'wireguard'
        ? [...pool(site), ...endpoints(site), ...resolver(site), ...peers(site), ...size(site)]
        : []),
      ...groups(site),
    ];
  },
};

function wayItself(site: Site): Finding[] {
  const { way, boxEncrypts, outsideService } = site.vpn.plan;
  const found: Finding[] = [];
  if (way === 'dated')
    found.push(
      note(
        'vpn-dated',
        'blocker',
        '/vpn/way',
        'PPTP and bare L2TP are no way in: what PPTP hides is found within a day from what is overheard, and bare L2TP hides nothing.',
        worked(
          'Protection',
          'none',
          '',
          [step('PPTP, MS-CHAPv2', 'broken'), step('L2TP alone', 'none')],
          'RFC 2661 section 9',
        ),
      ),
    );
  const waits = ['wireguard', 'ikev2', 'tls', 'forward'].includes(way);
  const doubtful = site.lines.filter(({ inbound }) => inbound === 'unknown');
  if (waits && !reachable(site, new Set()) && doubtful.length > 0)
    found.push(
      note(
        'vpn-reach-unknown',
        'warning',
        '/vpn/way',
        `${wayTitles[way]} waits to be called, and whether anybody can call this site is not known yet: note the address that ${doubtful[0]!.name} gets, or ask the provider for a public one.`,
        said('Address from the provider', 'not noted'),
      ),
    );
  else if (waits && !reachable(site, new Set()))
    found.push(
      note(
        'vpn-unreachable',
        'blocker',
        '/vpn/way',
        `${wayTitles[way]} waits to be called, and nobody outside can call this site. Take a way that both ends call, or get a public address.`,
        said('Lines that can be called', 'none'),
      ),
    );
  else if (
    ['wireguard', 'ikev2', 'tls'].includes(way) &&
    site.lines[0] &&
    site.lines.length > 1 &&
    !reachable(site, new Set([site.lines[0].id]))
  )
    found.push(
      note(
        'vpn-not-on-backup',
        'advice',
        '/vpn/way',
        `While ${site.lines[0].name} is down nobody comes in: over ${site.lines[1]!.name} nothing can begin outside. If that matters: a public address there, or a hub or mesh beside it.`,
        said(`Inbound over ${site.lines[1]!.name}`, site.lines[1]!.inbound),
      ),
    );
  if (
    boxEncrypts.length > 0 &&
    (['wireguard', 'ikev2', 'tls'] as const).some((each) => each === way && !boxEncrypts.includes(each))
  )
    found.push(
      note(
        'vpn-not-spoken',
        'blocker',
        '/vpn/way',
        `The router does not speak it, by what is written down of its sheet.`,
        said('Spoken', boxEncrypts.join(', ')),
      ),
    );
  if (way === 'mesh' && outsideService === 'refused')
    found.push(
      note(
        'vpn-outside-refused',
        'blocker',
        '/vpn/way',
        'A mesh needs an outside service, and this customer allows none.',
        said('Outside service', 'refused'),
      ),
    );
  if (site.vpn.peers.length > 0 && !site.vpn.groups.some(({ plan }) => plan.manages))
    found.push(
      note(
        'vpn-nobody-manages',
        'advice',
        '/vpn/groups',
        'No group may open the pages of the router: from outside nobody mends anything. Give one small group the right, and let those pages answer nowhere else outside.',
        said('Groups that may manage the router', 'none'),
      ),
    );
  for (const { at, name, plan } of unableTo(site, way))
    found.push(
      note(
        'vpn-device-cannot',
        'warning',
        `${at}/takes`,
        `${name} takes ${plan.takes === 'browser' ? 'a browser only' : 'no app'}, and this way needs one: give that person another device, or look at the ranking.`,
        said('Takes', plan.takes === 'browser' ? 'a browser only' : 'what it has built in'),
      ),
    );
  return found;
}

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
          'Pool of the travellers',
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
  if (!access.pool6 && access.groups.some(({ plan }) => plan.tunnel !== 'split'))
    found.push(
      note(
        'vpn-leak',
        'warning',
        '/vpn/pool6',
        'Everything is to go through the tunnel, and it has no IPv6: what speaks IPv6 leaves beside it, in the open.',
        routesOf(site, { ...noPeer, group: access.groups.find(({ plan }) => plan.tunnel !== 'split') })
          .worked,
      ),
    );
  return found;
}

const noPeer: Peer = {
  at: '/vpn/peers',
  plan: {} as Peer['plan'],
  id: '',
  name: 'such a peer',
  group: undefined,
  address: undefined,
  address6: undefined,
  revoked: false,
};

function endpoints(site: Site): Finding[] {
  const { vpn: access } = site;
  const found: Finding[] = [];
  if (access.endpoints.every(({ host }) => host === ''))
    found.push(
      note(
        'vpn-no-endpoint',
        'blocker',
        '/vpn/endpoints',
        'No name or address is written down that travellers call.',
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
          `${host} is to lead over ${line.name}, over which nothing can begin outside.`,
          said('Inbound', line.inbound),
        ),
      );
    else if (address && line.publicAddressKnown && !sameAddress(address, line.publicAddress))
      found.push(
        note(
          'vpn-endpoint-other',
          'warning',
          `${at}/host`,
          `${host} is not the address of ${line.name}, which is ${formatAddress(line.publicAddress)}.`,
          said('Address of the line', formatAddress(line.publicAddress)),
          replacing(
            `Call ${formatAddress(line.publicAddress)}`,
            `${at}/host`,
            formatAddress(line.publicAddress),
          ),
        ),
      );
    else if (address && line.plan.type !== 'static') {
      const follows = site.failover.plan.dynamicName;
      found.push(
        note(
          'vpn-endpoint-changes',
          'advice',
          `${at}/host`,
          `${host} is a number, and ${line.name} may get another one any day: after that every profile is wrong. Let profiles call a name that follows the line${follows === '' ? ', or have it from the provider in writing that the number stays' : ''}.`,
          said('Name that follows', follows || 'none yet'),
          follows === '' ? undefined : replacing(`Call ${follows}`, `${at}/host`, follows),
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
          `${line.box!.name} in front of ${line.name} does not hand on udp ${access.port}: calls of travellers end there.`,
          said('Handed on', line.box!.forwards.length === 0 ? 'nothing' : 'other ports'),
        ),
      );
  }
  if (access.plan.publicKey.trim() !== '' && !parseKey(access.plan.publicKey).ok)
    found.push(
      note(
        'vpn-key-form',
        'blocker',
        '/vpn/publicKey',
        'The router\'s public key is no key: 43 letters and digits, then "=".',
        said('Length', String(access.plan.publicKey.trim().length)),
      ),
    );
  return found;
}

/** Names of the site are known inside only: a traveller has to ask there. */
function resolver(site: Site): Finding[] {
  const { vpn: access } = site;
  const own = access.routerAddress && formatAddress(access.routerAddress);
  const fix = own === undefined ? undefined : replacing(`Ask the router, ${own}`, '/vpn/resolver', own);
  if (!access.resolver)
    return access.plan.resolver.trim() === '' && access.peers.length > 0
      ? [
          note(
            'vpn-no-resolver',
            'advice',
            '/vpn/resolver',
            'Travellers go on asking the resolver of the network where they are: numbers of this site open, its names do not.',
            said('Resolver in the tunnel', 'none'),
            fix,
          ),
        ]
      : [];
  const { resolver: host } = access;
  const inside =
    site.networks.some(({ prefix }) => prefix && contains(prefix, host)) || isTraveller(site, host);
  return inside
    ? []
    : [
        note(
          'vpn-resolver-outside',
          'warning',
          '/vpn/resolver',
          `${formatAddress(host)} is neither inside nor the router: it does not know the names of this site.`,
          said('Resolver in the tunnel', formatAddress(host)),
          fix,
        ),
      ];
}

function peers(site: Site): Finding[] {
  const { vpn: access } = site;
  const found: Finding[] = [];
  for (const [index, peer] of access.peers.entries()) {
    if (peer.revoked) continue;
    const { plan, at, name } = peer;
    if (!peer.group)
      found.push(
        note(
          'vpn-no-group',
          'warning',
          `${at}/group`,
          `${name} is in no group, so it gets in and reaches nothing.`,
          said('Group', 'none'),
        ),
      );
    if (plan.publicKey.trim() === '')
      found.push(
        note(
          'vpn-no-key',
          'blocker',
          `${at}/publicKey`,
          `${name} has no key yet: make one, or ask for the public half.`,
          said('Key', 'none'),
        ),
      );
    else if (!parseKey(plan.publicKey).ok)
      found.push(
        note(
          'vpn-key-form',
          'blocker',
          `${at}/publicKey`,
          `The key of ${name} is no key: 43 letters and digits, then "=".`,
          said('Length', String(plan.publicKey.trim().length)),
        ),
      );
    const twin = access.peers.findIndex(
      (other, place) =>
        place < index &&
        !other.revoked &&
        other.plan.publicKey.trim() !== '' &&
        other.plan.publicKey.trim() === plan.publicKey.trim(),
    );
    if (twin >= 0)
      found.push(
        note(
          'vpn-key-twice',
          'blocker',
          `${at}/publicKey`,
          `${name} and ${access.peers[twin]!.name} have one key: the router answers whoever spoke last. One key a device.`,
          said('Key', plan.publicKey.slice(0, 8)),
        ),
      );
    // Looked for only where it is needed: with hundreds of people it is not free.
    const give = (): Finding['fix'] => {
      const free = freePeerAddress(site, 4);
      return free && replacing(`Give it ${formatAddress(free)}`, `${at}/address`, formatAddress(free));
    };
    if (!peer.address) {
      if (plan.address.trim() === '')
        found.push(
          note(
            'vpn-no-address',
            'blocker',
            `${at}/address`,
            `${name} has no address in the tunnel yet.`,
            said('Address', 'none'),
            give(),
          ),
        );
    } else {
      if (access.pool && !contains(access.pool, peer.address))
        found.push(
          note(
            'vpn-address-outside',
            'blocker',
            `${at}/address`,
            `${formatAddress(peer.address)} of ${name} is outside the pool ${formatPrefix(access.pool)}.`,
            said('Pool', formatPrefix(access.pool)),
            give(),
          ),
        );
      const taken = access.peers.find(
        (other, place) =>
          place < index && !other.revoked && other.address && sameAddress(other.address, peer.address!),
      );
      const router = access.routerAddress && sameAddress(access.routerAddress, peer.address);
      if (taken || router)
        found.push(
          note(
            'vpn-address-twice',
            'blocker',
            `${at}/address`,
            `${formatAddress(peer.address)} is that of ${taken ? taken.name : 'the router'} too: packets go to one of the two.`,
            said('Address', formatAddress(peer.address)),
            give(),
          ),
        );
    }
    if (plan.ownKey && plan.secret.trim() !== '')
      found.push(
        note(
          'vpn-own-key-kept',
          'warning',
          `${at}/secret`,
          `${name} makes the key alone, and yet a private key is named in the vault: one of the two is not true.`,
          said('In the vault', plan.secret),
        ),
      );
  }
  return found;
}

function groups(site: Site): Finding[] {
  return site.vpn.groups.flatMap((group): Finding[] => {
    const whole = group.grants.filter(({ device }) => !device);
    const found: Finding[] = [];
    if (group.plan.grants.length > 0 && group.grants.length < group.plan.grants.length)
      found.push(
        note(
          'vpn-grant-gone',
          'warning',
          `${group.at}/grants`,
          `A grant of ${group.name} leads to something that is no longer there: it grants nothing.`,
          said('Grants', `${group.grants.length} of ${group.plan.grants.length}`),
        ),
      );
    if (
      site.networks.length > 1 &&
      new Set(whole.map(({ network }) => network)).size === site.networks.length
    )
      found.push(
        note(
          'vpn-everything',
          'warning',
          `${group.at}/grants`,
          `${group.name} reaches every inside network as a whole. Grant the devices and services that are needed.`,
          said('Networks granted', String(whole.length)),
        ),
      );
    for (const grant of group.grants)
      if (grant.device && !grant.device.address)
        found.push(
          note(
            'vpn-grant-unstable',
            'warning',
            grant.at,
            `${grant.device.name} has no address that stays, so the grant of ${group.name} leads to another device tomorrow. Reserve one.`,
            said('Address', 'automatic'),
          ),
        );
    return found;
  });
}

function size(site: Site): Finding[] {
  const typed = site.vpn.plan.mtuBytes;
  const fits = tunnelWorked(site.vpn.endpoints[0]?.line ?? site.lines[0]);
  return typed !== null && typed > Number(fits.value)
    ? [
        note(
          'vpn-mtu',
          'warning',
          '/vpn/mtuBytes',
          `${typed} bytes do not pass everywhere: ${fits.value} do.`,
          fits,
          replacing(`Use ${fits.value}`, '/vpn/mtuBytes', Number(fits.value)),
        ),
      ]
    : [];
}
