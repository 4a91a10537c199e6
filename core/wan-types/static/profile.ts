import * as z from 'zod';
import { parseAddress } from '../../base/net/address.ts';
import { parseLength, parsePrefix, prefixAround } from '../../base/net/prefix.ts';
import { typed, typedList, yesNo } from '../../plan/field.ts';
import { plainPort, profileOf } from '../profile.ts';

/** The provider assigned a fixed address on paper. */
export const profile = profileOf({
  title: 'Fixed address (static)',
  settings: z.strictObject({
    address: typed('Address', "The router's address on the line.", parseAddress, {
      needed: true,
      alsoCalled: ['IP address', 'WAN IP'],
    }),
    prefixLength: typed(
      'Prefix length or mask',
      'As the provider wrote it: 30, /30 or 255.255.255.252.',
      (typedText) => parseLength(typedText),
      { needed: true, longest: 32, alsoCalled: ['Subnet mask', 'Netmask'] },
    ),
    gateway: typed('Gateway', "The provider's end of the line.", parseAddress, {
      needed: true,
      alsoCalled: ['Default gateway', 'Default route', 'Next hop'],
    }),
    gatewayOutside: yesNo(
      'Gateway outside the subnet',
      'Only where the provider says that the gateway is outside the subnet on purpose.',
      false,
      { alsoCalled: ['On-link gateway'] },
    ),
    routedBlock: typed(
      'Routed prefix',
      'A further public prefix that the provider routes to this address.',
      parsePrefix,
      { alsoCalled: ['Routed subnet', 'Additional IP range'] },
    ),
    resolvers: typedList('DNS servers', 'Addresses, separated by commas.', parseAddress, 8, {
      alsoCalled: ['Primary DNS', 'Secondary DNS', 'Name server'],
    }),
  }),
  port: ({ address, prefixLength, gateway, resolvers, routedBlock }) => ({
    ...plainPort,
    address,
    addressKey: 'address',
    prefix: address && prefixLength !== undefined ? prefixAround(address, prefixLength) : undefined,
    gateway,
    routedBlock,
    resolvers,
    resolversOffered: false,
  }),
  holds: {
    address: 'address',
    prefixLength: 'prefixLength',
    gateway: 'gateway',
    resolvers: 'resolvers',
    routedBlock: 'routedBlock',
  },
});
