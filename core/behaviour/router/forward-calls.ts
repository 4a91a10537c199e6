import { formatAddress, type Address } from '../../base/net/address.ts';
import { protocolsOf } from '../../base/net/packet-set.ts';
import { formatPorts, type PortRange } from '../../base/net/ports.ts';
import { servicesIn } from '../../base/net/services.ts';
import type { Forward, Site } from '../../site/model.ts';

/** Schemes of URIs by the registered name of a service, and the port that may be left out (IANA URI schemes, RFC 7595). */
const schemes: Readonly<Record<string, readonly [scheme: string, usualPort: number]>> = {
  'www-http': ['http', 80],
  'http-alt': ['http', 80],
  irdmi: ['http', 80],
  cslistener: ['http', 80],
  'ddi-tcp-1': ['http', 80],
  https: ['https', 443],
  'pcsync-https': ['https', 443],
  'tungsten-https': ['https', 443],
  rtsp: ['rtsp', 554],
  ssh: ['ssh', 22],
  ftp: ['ftp', 21],
  sip: ['sip', 5060],
  sips: ['sips', 5061],
  ldap: ['ldap', 389],
  ldaps: ['ldaps', 636],
};

/** What people type to get to the device of a forward. */
export interface ForwardCalls {
  readonly forward: Forward;
  readonly outside: string;
  readonly inside: string;
  /** Why it is another one from inside; empty where one serves both. */
  readonly insideSays: string;
}

const withPort = (host: string, ports: PortRange, scheme: readonly [string, number] | undefined): string => {
  const port = ports.first === ports.last && scheme?.[1] === ports.first ? '' : `:${formatPorts(ports)}`;
  return scheme ? `${scheme[0]}://${host}${port}` : `${host}${port}`;
};

const hostText = (host: Address): string =>
  host.family === 6 ? `[${formatAddress(host)}]` : formatAddress(host);

/** The forwards that are complete, each with what is typed from outside and from inside, scheme and port included. */
export const forwardCalls = (site: Site): ForwardCalls[] =>
  site.forwards.flatMap((forward): ForwardCalls[] => {
    const { line, device, inside, outside, protocol } = forward;
    if (!line || !device?.address || !inside || !outside || line.inbound === 'impossible') return [];
    const found = servicesIn(inside, protocolsOf(protocol)).find(({ registered }) => schemes[registered]);
    const scheme = found && inside.first === inside.last ? schemes[found.registered] : undefined;
    const { dynamicName } = site.failover;
    const host =
      dynamicName.trim() ||
      (line.publicAddressKnown ? hostText(line.publicAddress) : `(address of ${line.name})`);
    const fromOutside = withPort(host, outside, scheme);
    const direct = withPort(hostText(device.address), inside, scheme);
    const known = site.router.facts.hairpin;
    return [
      known === 'yes'
        ? { forward, outside: fromOutside, inside: fromOutside, insideSays: '' }
        : {
            forward,
            outside: fromOutside,
            inside: direct,
            insideSays:
              known === 'no'
                ? dynamicName.trim() === ''
                  ? 'The router has no hairpin NAT.'
                  : `The router has no hairpin NAT: enter ${dynamicName.trim()} in its DNS server with the inside address, and one name serves both.`
                : 'Whether the outside one works from inside was not tried yet (hairpin NAT).',
          },
    ];
  });
