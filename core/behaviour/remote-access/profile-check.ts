import { formatAddress, parseAddress, sameAddress } from '../../base/net/address.ts';
import { classify, reachableFromOutside } from '../../base/net/classify.ts';
import { formatPrefix, samePrefix } from '../../base/net/prefix.ts';
import { joinRanges, rangeOf, subtractRanges } from '../../base/net/range.ts';
import { valueOf } from '../../base/result.ts';
import type { Site } from '../../site/model.ts';
import { faultList, type AddFault, type Fault } from '../domain-types/fault.ts';
import { tunnelMtu } from './interface.ts';
import { publicKeyOf } from './key-pair.ts';
import { parseKey } from './keys.ts';
import type { Peer } from '../../site/vpn.ts';
import type { Profile } from './profile.ts';
import { fewest, routesOf } from './routes.ts';

/** Whose profile it is: by its key, by its address, or nobody's. */
export function ownerOf(site: Site, profile: Profile): { peer: Peer; by: 'key' | 'address' } | undefined {
  const key = valueOf(publicKeyOf(profile.privateKey));
  const byKey = site.vpn.peers.find(
    ({ publicKey, oldKey }) => key !== undefined && (publicKey.trim() === key || oldKey.trim() === key),
  );
  if (byKey) return { peer: byKey, by: 'key' };
  const byAddress = site.vpn.peers.find((peer) =>
    profile.addresses.some(({ host }) =>
      [peer.address, peer.address6].some((each) => each && sameAddress(each, host)),
    ),
  );
  return byAddress && { peer: byAddress, by: 'address' };
}

/** Everything that is wrong with a profile against the plan, gravest first. */
export function checkProfile(site: Site, profile: Profile): { peer: Peer | undefined; faults: Fault[] } {
  const { add, sorted } = faultList();
  const { vpn } = site;
  const owner = ownerOf(site, profile);
  const peer = owner?.peer;
  const key = parseKey(profile.privateKey);
  if (profile.privateKey === '')
    add('blocker', 'no-private-key', 'It has no private key: the device cannot speak for anybody.');
  else if (!key.ok) add('blocker', 'private-key', `Private key: ${key.problem.says}`);
  if (!peer)
    add(
      'blocker',
      'nobody',
      'Neither its key nor its address belongs to anybody in the plan: it was made for another site, or its person was removed.',
    );
  else {
    if (peer.revoked)
      add(
        'blocker',
        'revoked',
        `${peer.name} is revoked since ${peer.revokedOn}: the router refuses it, as it should.`,
      );
    if (owner.by === 'address' && key.ok)
      add(
        'blocker',
        'key-differs',
        `Its address is that of ${peer.name}, its key is not: an old profile, or two devices with one address. The router answers the key in the plan only.`,
      );
    const ownKey = valueOf(publicKeyOf(profile.privateKey));
    if (ownKey !== undefined && ownKey === peer.oldKey.trim() && ownKey !== peer.publicKey.trim())
      add(
        'warning',
        'old-key',
        `It has the key from before the rotation, good until ${peer.oldKeyUntil || 'the overlap ends'}.`,
      );
    if (peer.ownKey && profile.privateKey !== '')
      add(
        'warning',
        'key-in-the-open',
        `${peer.name} keeps the private key alone; a profile that travels with it is a key in the open. Make a new one after this.`,
      );
    checkAddresses(profile, peer, add);
  }
  if (profile.peers.length === 0)
    add('blocker', 'no-far-end', 'It has no [Peer] section, so it connects to nothing.');
  const [far] = profile.peers;
  if (far) checkFarEnd(site, far, peer, add);
  for (const other of profile.peers.slice(1))
    if (other.publicKey === far?.publicKey)
      add('warning', 'far-end-twice', 'The same peer is in it twice; the last one wins.');
  const mtu = tunnelMtu(site);
  if (profile.mtuBytes !== undefined && profile.mtuBytes > mtu)
    add(
      'warning',
      'mtu-large',
      `MTU ${profile.mtuBytes} is more than the ${mtu} that pass everywhere: pages begin to load and stop.`,
    );
  if (profile.mtuBytes !== undefined && profile.mtuBytes < 1280 && vpn.pool6)
    add(
      'warning',
      'mtu-small',
      `MTU ${profile.mtuBytes} is too small for IPv6, which needs 1280 (RFC 8200 section 5).`,
    );
  if (vpn.resolver && !profile.resolvers.some((each) => each === formatAddress(vpn.resolver!)))
    add(
      'warning',
      'resolver',
      `Its DNS server is not ${formatAddress(vpn.resolver)}: names of the site do not resolve.`,
    );
  for (const line of profile.commands)
    add(
      'blocker',
      'command',
      `It runs a command on the device that loads it (${line}). No tunnel needs that: do not load it, and ask who made it.`,
    );
  for (const line of profile.unknown)
    add('advice', 'unknown-line', `A device of this protocol does not know "${line}".`);
  return { peer, faults: sorted() };
}

function checkAddresses(profile: Profile, peer: Peer, add: AddFault): void {
  const wanted = [peer.address, peer.address6].flatMap((each) => each ?? []);
  for (const { host, length } of profile.addresses) {
    const name = formatAddress(host);
    if (!wanted.some((each) => sameAddress(each, host)))
      add(
        'blocker',
        'address-not-theirs',
        `${name} is not the address of ${peer.name}, which is ${wanted.map(formatAddress).join(', ') || 'not given yet'}: the router drops what comes from it.`,
      );
    else if (length !== (host.family === 4 ? 32 : 128))
      add(
        'warning',
        'address-wide',
        `${name}/${length} gives one device a whole subnet; ${host.family === 4 ? '/32' : '/128'} is meant.`,
      );
  }
  if (profile.addresses.length === 0) add('blocker', 'no-address', 'It has no address of its own.');
  if (peer.address6 && !profile.addresses.some(({ host }) => host.family === 6))
    add('warning', 'no-ipv6', 'It has no IPv6 address: IPv6 traffic bypasses the tunnel.');
}

function checkFarEnd(site: Site, far: Profile['peers'][number], peer: Peer | undefined, add: AddFault): void {
  const { vpn } = site;
  const routerKey = vpn.publicKey.trim();
  if (routerKey !== '' && far.publicKey !== routerKey)
    add(
      'blocker',
      'router-key-stale',
      "The router's key in it is not the one in the plan: it was renewed since. Nothing answers, and nothing says why.",
    );
  checkEndpoint(site, far.endpoint, add);
  if (far.keepAliveSeconds === undefined || far.keepAliveSeconds === 0)
    add(
      'warning',
      'no-keep-alive',
      'No keep-alive: behind NAT the site cannot reach this device after two minutes of silence (RFC 4787 REQ-5).',
    );
  else if (far.keepAliveSeconds > 120)
    add(
      'warning',
      'keep-alive-long',
      `A keep-alive of ${far.keepAliveSeconds} s is longer than the 120 s that a NAT must keep (RFC 4787 REQ-5).`,
    );
  if (!peer) return;
  const wanted = routesOf(site, peer).routes;
  const missing = fewest(subtractRanges(wanted.map(rangeOf), joinRanges(far.allowed.map(rangeOf))));
  const extra = fewest(subtractRanges(far.allowed.map(rangeOf), joinRanges(wanted.map(rangeOf))));
  if (missing.length > 0)
    add(
      'blocker',
      'routes-missing',
      `Routes are missing: ${missing.slice(0, 4).map(formatPrefix).join(', ')}${missing.length > 4 ? ' …' : ''} does not go through the tunnel.`,
    );
  if (extra.length > 0)
    add(
      'warning',
      'routes-wide',
      `Routes are too wide: ${extra.slice(0, 4).map(formatPrefix).join(', ')}${extra.length > 4 ? ' …' : ''} goes into the tunnel and ends there.`,
    );
  if (
    missing.length === 0 &&
    extra.length === 0 &&
    far.allowed.length > wanted.length + 2 &&
    !far.allowed.every((each) => wanted.some((other) => samePrefix(each, other)))
  )
    add('advice', 'routes-many', `The same routes fit into ${wanted.length} prefixes.`);
}

function checkEndpoint(site: Site, endpoint: string, add: AddFault): void {
  const { vpn } = site;
  const match = /^(?:\[([^\]]+)\]|([^:]+)):(\d{1,5})$/.exec(endpoint.trim());
  if (!match) {
    add(
      'blocker',
      'no-endpoint',
      endpoint.trim() === ''
        ? 'It has no endpoint: nobody can connect to a remote user, so this tunnel never comes up.'
        : `Endpoint "${endpoint}" is not of the form name:port.`,
    );
    return;
  }
  const host = (match[1] ?? match[2] ?? '').trim();
  const port = Number(match[3]);
  if (port !== vpn.port)
    add('blocker', 'port', `It connects to port ${port}, the router listens on ${vpn.port}.`);
  const parsed = valueOf(parseAddress(host));
  if (parsed && !reachableFromOutside(classify(parsed).class))
    add(
      'blocker',
      'endpoint-private',
      `Its endpoint ${host} is ${classify(parsed).class}: from outside it cannot be reached.`,
    );
  else if (
    vpn.endpoints.length > 0 &&
    !vpn.endpoints.some((each) => each.host.toLowerCase() === host.toLowerCase())
  )
    add(
      'warning',
      'endpoint-other',
      `It connects to ${host}, the plan has ${vpn.endpoints.map((each) => each.host || 'nothing').join(' and ')}.`,
    );
}
