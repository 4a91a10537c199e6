import { formatAddress, parseAddress } from '../../net/address.ts';
import { addressWorked } from '../../worked/addresses.ts';
import type { UplinkType } from '../type.ts';

export const dhcp: UplinkType<'dhcp'> = {
  name: 'dhcp',
  title: 'Automatic (DHCP)',
  says: 'The line gives the router its address. The paperwork names no user and no address block.',
  fields: [
    {
      key: 'expectedAddress',
      label: 'Address expected',
      kind: 'text',
      hint: 'What the router should get, if the provider said or an earlier visit saw it',
    },
    {
      key: 'useResolvers',
      label: "Use the line's resolvers",
      kind: 'switch',
      hint: 'Off: name resolvers per network yourself',
    },
  ],
  wanPort: (settings, reader) => ({
    address: reader.read(
      'expectedAddress',
      'Address expected',
      settings.expectedAddress,
      parseAddress,
      false,
    ),
    addressKey: 'expectedAddress',
    prefix: undefined,
    gateway: undefined,
    resolvers: [],
    resolversOffered: settings.useResolvers,
  }),
  check: () => [],
  workings: (line, key) =>
    key === 'expectedAddress' && line.addressKnown ? [addressWorked(line.address)] : [],
  entries: (line) => [
    {
      label: 'WAN type',
      value: 'DHCP',
      alsoCalled: ['Dynamic IP', 'Automatic', 'Automatic IP', 'DHCP client'],
      at: `${line.at}/type`,
    },
    {
      label: 'Resolvers',
      value: line.resolversOffered ? 'from the provider' : 'own, see each network',
      alsoCalled: ['DNS', 'Use ISP DNS', 'Peer DNS', 'Obtain DNS automatically'],
      at: `${line.at}/settings/dhcp/useResolvers`,
    },
  ],
  bringUp: (line) => ({
    lowSeconds: 10,
    highSeconds: 120,
    proof: line.addressKnown
      ? `The status page shows ${formatAddress(line.address)}, or another address of the same kind, with a mask, a gateway and a lease time.`
      : 'The status page shows an address that does not begin with 169.254, with a mask, a gateway and a lease time.',
    ifNot:
      'No address after two minutes: the line may be tied to the device that was here before. Switch the box in front off, wait two minutes, switch it on, wait until its lights are steady, then ask for the address again. If an address shows but no page opens, that is a later rung: go on with the checks.',
    cautions: [],
  }),
};
