import { onceWhile } from '../base/once.ts';
import { parseAddress, sameAddress, type Address } from '../base/net/address.ts';
import { classify, reachableFromOutside } from '../base/net/classify.ts';
import { hostsOf, roleIn, type Prefix } from '../base/net/prefix.ts';
import { firstFreeAddress, rangeBetween } from '../base/net/range.ts';
import { asAt } from '../plan/at.ts';
import type { UplinkValues } from '../plan/schema.ts';
import type { Inbound, Line, Translator } from './model.ts';
import { wanPort } from './wan-port.ts';

/** Where a packet is looked at when the line's own address is not known yet: for each line another (RFC 5737). */
const unknownLineAddress = (index: number): Address => {
  const parsed = parseAddress(`192.0.2.${1 + index}`);
  if (!parsed.ok) throw new Error(parsed.problem.says);
  return parsed.value;
};

/** Whether an address can be that of another host on a subnet. */
const isOtherHost = (host: Address, own: Address | undefined, prefix: Prefix | undefined): boolean =>
  !(own && sameAddress(own, host)) && !(prefix && ['network', 'broadcast'].includes(roleIn(prefix, host)));

/** What follows from the values of an uplink: its addresses, who translates, and how far a packet from outside comes. */
export const compileLine = onceWhile((uplink: UplinkValues, index: number): Line => {
  const at = `/uplinks/${index}` as const;
  const unknown = unknownLineAddress(index);
  const port = wanPort(uplink.type, uplink.settings);
  const { handoff } = uplink;
  const routes = handoff.mode === 'routes';
  const boxPrefix = handoff.insidePrefix;
  const boxOutside = handoff.outsideAddress;
  const box =
    handoff.mode === 'none'
      ? undefined
      : {
          routes,
          name: handoff.name || (routes ? 'device in front' : 'bridged device'),
          prefix: routes ? boxPrefix : undefined,
          address: routes ? (handoff.insideAddress ?? (boxPrefix && hostsOf(boxPrefix).first)) : undefined,
          outsideAddress: routes ? boxOutside : undefined,
          forwards: handoff.forwards.flatMap(({ protocol, ports }) => (ports ? [{ protocol, ports }] : [])),
        };

  const behindBox =
    routes && boxPrefix
      ? firstFreeAddress(
          [rangeBetween(hostsOf(boxPrefix).first, hostsOf(boxPrefix).last)],
          box?.address ? [box.address] : [],
        )
      : undefined;
  const lineAddress = routes ? boxOutside : port.address;
  const lineClass = lineAddress ? classify(lineAddress).class : 'unknown';
  const translators: Translator[] = [];
  if (routes) translators.push('box');
  const seenPublic = lineClass !== 'unknown' && reachableFromOutside(lineClass);
  // A public address that is expected says more than a translator that is.
  if (lineClass === 'unknown' ? port.carrierNat : !seenPublic) translators.push('carrier');
  const inbound: Inbound = translators.includes('carrier')
    ? 'impossible'
    : lineClass === 'unknown'
      ? 'unknown'
      : routes
        ? 'by-box'
        : 'direct';

  const prefix = port.prefix ?? (routes ? boxPrefix : undefined);
  const gateway = port.gateway ?? box?.address;
  return {
    ...uplink,
    at,
    name: uplink.name || 'unnamed uplink',
    unnamed: uplink.name.trim() === '',
    address: port.address ?? behindBox ?? unknown,
    addressKnown: port.address !== undefined,
    addressAt:
      port.addressKey === '' ? `${at}/type` : asAt(`${at}/settings/${uplink.type}/${port.addressKey}`),
    prefix,
    gateway,
    gatewayUsable: !gateway || isOtherHost(gateway, port.address, prefix),
    routedBlock: port.routedBlock,
    resolvers: port.resolvers,
    resolversOffered: port.resolversOffered,
    defaultRoute: port.defaultRoute,
    ownPorts: port.ownPorts,
    box,
    lineAddress: lineAddress ?? unknown,
    lineAddressKnown: lineAddress !== undefined,
    lineClass,
    translators,
    inbound,
    publicAddress: lineAddress && inbound !== 'impossible' ? lineAddress : unknown,
    publicAddressKnown: lineAddress !== undefined && inbound !== 'impossible',
    mtuBytes: uplink.mtuBytes ?? port.largestBytes,
    largestBytes: port.largestBytes,
    wrappingBytes: (uplink.vlan === null ? 0 : 4) + port.wrappingBytes,
  };
});
