import { formatAddress } from '../../base/net/address.ts';
import { firstOf } from '../../base/net/prefix.ts';
import { slug } from '../../base/text.ts';
import type { Site } from '../../site/model.ts';
import { parseKey } from '../../behaviour/remote-access/keys.ts';
import type { FarSite } from '../../site/vpn.ts';
import { endOf, endOfFar, tunnelStates } from '../../behaviour/remote-access/tunnel-states.ts';
import { sitePromiseId } from '../../behaviour/domain-types/promise.ts';
import type { SitePromise } from '../../behaviour/domain-types/promise.ts';

/** "These two sites reach each other": proven by a device that answers at the other end. */
export function sitePromise(site: Site, far: FarSite): SitePromise {
  const [whole, failed] = tunnelStates(endOf(site), endOfFar(far), site.vpn.keepAliveSeconds);
  const missing = [
    ...(parseKey(far.publicKey).ok ? [] : ['its key']),
    ...(far.prefixes.length > 0 ? [] : ['routes to it']),
    ...(far.networks.length > 0 ? [] : ['a network that is connected']),
  ];
  const [network] = far.networks;
  const [block] = far.prefixes;
  const host = block && { ...firstOf(block), value: block.first + (block.length < 31 ? 1n : 0n) };
  return {
    id: sitePromiseId(far),
    kind: 'site',
    at: far.at,
    says: `${far.networks.map(({ name }) => name).join(', ') || 'This site'} and ${far.name} reach each other`,
    needs: ['ping-number'],
    outside: false,
    ladder: [
      { rung: 'light', says: 'The page of the tunnel shows a handshake.' },
      { rung: 'ping-number', says: 'A device there answers by its number, and one here answers from there.' },
      { rung: 'ping-name', says: 'It answers by its name.' },
      { rung: 'line-pulled', says: failed!.says },
    ],
    paper: {
      kept: missing.length === 0 && whole!.up !== 'no',
      says: missing.length > 0 ? `Still without ${missing.join(', ')}.` : whole!.says,
      question: network && host ? `from ${slug(network.name)} to ${formatAddress(host)} ping` : '',
    },
    ...(site.lines.length > 1 && {
      bench: { kept: failed!.up === 'itself', says: `${failed!.when}: ${failed!.says}` },
    }),
  };
}
