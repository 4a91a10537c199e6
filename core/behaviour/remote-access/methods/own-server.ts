import { formatPrefix } from '../../../base/net/prefix.ts';
import type { Site } from '../../../site/model.ts';
import type { Fit, Situation } from './type.ts';

type Protocol = Site['vpn']['protocols'][number];

/** How well a server on the router fits: connections from outside, an address that lasts, what the router supports. */
export function ownServerFit(
  { site, line, known, inbound, lasting }: Situation,
  protocol: Protocol,
  base: number,
  reason: string,
): Fit {
  const supported = site.vpn.protocols;
  const points = supported.length === 0 ? 0 : supported.includes(protocol) ? 2 : -6;
  return {
    fits: line !== undefined && points >= 0,
    known,
    score: base + (line ? 4 : known ? -20 : 1) + (lasting ? 1 : -1) + points,
    reasons: [
      inbound,
      supported.length === 0
        ? 'Check the data sheet of the router: does it support this?'
        : supported.includes(protocol)
          ? 'The router supports it.'
          : 'The router does not support it.',
      ...(line && !lasting ? ['Its address may change: use a DNS name that follows it.'] : []),
      reason,
    ],
  };
}

/** The endpoint that clients connect to, in words where none is entered. */
export const endpointHost = ({ vpn }: Site): string => vpn.endpoints[0]?.host || '(not entered yet)';

export const poolText = ({ vpn }: Site): string => (vpn.pool ? formatPrefix(vpn.pool) : 'no pool yet');

/** Inside subnets that the groups may reach. */
export const grantedSubnets = ({ vpn }: Site): string =>
  [...new Set(vpn.groups.flatMap(({ grants }) => grants.map(({ network }) => network)))]
    .flatMap(({ prefix }) => (prefix ? [formatPrefix(prefix)] : []))
    .join(', ') || 'what the groups are granted';

export const certificateFile =
  'Open the certificate file (.p12) from the USB stick on the device; its password comes by telephone. Never both by mail.';
