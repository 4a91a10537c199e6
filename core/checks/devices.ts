import { formatAddress, type Address } from '../net/address.ts';
import { formatPrefix, hostsOf, roleIn } from '../net/prefix.ts';
import { firstFreeAddress, rangeBetween, subtractRanges } from '../net/range.ts';
import { replacing, type Check, type Finding } from '../terms/finding.ts';
import type { Device, Network, Site } from '../site/model.ts';
import { addressWorked, subnetWorked } from '../worked/addresses.ts';
import { step, type Worked, worked } from '../worked/worked.ts';

/** An address on the network that nobody holds and the pool does not give away. */
export function freeHost(site: Site, network: Network): Address | undefined {
  if (!network.prefix) return undefined;
  const hosts = hostsOf(network.prefix);
  const taken = site.devices.flatMap((device) => device.address ?? []);
  if (network.routerAddress) taken.push(network.routerAddress);
  const outsidePool = subtractRanges(
    [rangeBetween(hosts.first, hosts.last)],
    network.pool ? [network.pool] : [],
  );
  return firstFreeAddress(outsidePool, taken);
}

const twice = (what: string, value: string, a: Device, b: Device, source: string): Worked =>
  worked(`Devices with this ${what}`, 2, 'devices', [step(a.name, value), step(b.name, value)], source);

/** The device register: one address and one MAC each, in the right network. */
export const devices: Check = {
  name: 'devices',
  run: (site) => {
    const found: Finding[] = [];
    const byAddress = new Map<string, Device>();
    const byMac = new Map<string, Device>();
    for (const device of site.devices) {
      found.push(...place(site, device));
      if (device.address) {
        const text = formatAddress(device.address);
        const other = byAddress.get(text);
        const to = other && device.network && freeHost(site, device.network);
        if (other)
          found.push({
            rule: 'duplicate-address',
            severity: 'blocker',
            at: `${device.at}/address`,
            also: [`${other.at}/address`],
            says: `${device.name} and ${other.name} both hold ${text}: they push each other off the network, and a forward reaches one or the other by chance.`,
            why: twice('address', text, other, device, 'RFC 5227 section 1'),
            ...(to && {
              fix: replacing(
                `Give ${device.name} the next free address, ${formatAddress(to)}`,
                `${device.at}/address`,
                formatAddress(to),
              ),
            }),
            source: 'RFC 5227 section 1',
          });
        else byAddress.set(text, device);
      }
      if (!device.mac) continue;
      const other = byMac.get(device.mac.text);
      if (other)
        found.push({
          rule: 'duplicate-mac',
          severity: 'blocker',
          at: `${device.at}/mac`,
          also: [`${other.at}/mac`],
          says: `${device.name} and ${other.name} have the same MAC address ${device.mac.text}: one of the two was read from the wrong label, and its reservation will go to the other.`,
          why: twice('MAC address', device.mac.text, other, device, 'IEEE 802 (one address a device)'),
          source: 'IEEE 802 (one address a device)',
        });
      else byMac.set(device.mac.text, device);
      if (device.mac.locallyAdministered && device.addressing === 'reserved')
        found.push({
          rule: 'private-mac',
          severity: 'warning',
          at: `${device.at}/mac`,
          says: `The MAC address of ${device.name} was made up by its software, so it may change, and the reservation would no longer fit. Switch the private address off on the device for this network, or set the address by hand.`,
          why: worked(
            'First octet of the MAC address',
            device.mac.text.slice(0, 2),
            'hexadecimal',
            [
              step(
                'first octet',
                `${device.mac.text.slice(0, 2)} = ${parseInt(device.mac.text.slice(0, 2), 16).toString(2).padStart(8, '0')} binary`,
              ),
              step('second-lowest bit', '1: locally administered'),
            ],
            'IEEE 802 section 8.4',
          ),
          source: 'IEEE 802 section 8.4',
        });
    }
    return found;
  },
};

function place(site: Site, device: Device): Finding[] {
  const { network } = device;
  if (!network)
    return [
      {
        rule: 'device-network',
        severity: device.addressing === 'automatic' ? 'warning' : 'blocker',
        at: `${device.at}/network`,
        says: `${device.name} is on no network, so it has neither address nor gateway.`,
        why: worked('Network of the device', null, '', [step('network', 'none chosen')], 'the plan itself'),
        source: 'the plan itself',
      },
    ];
  if (!device.address || !network.prefix) return [];
  const fix = (): Pick<Finding, 'fix'> => {
    const to = freeHost(site, network);
    if (!to) return {};
    const patch = [{ op: 'replace' as const, path: `${device.at}/address`, value: formatAddress(to) }];
    return { fix: { says: `Give it ${formatAddress(to)}`, patch } };
  };
  const role = roleIn(network.prefix, device.address);
  if (role !== 'host')
    return [
      {
        rule: 'device-address',
        severity: 'blocker',
        at: `${device.at}/address`,
        says: `${formatAddress(device.address)} of ${device.name} is ${role === 'outside' ? `outside ${formatPrefix(network.prefix)}` : `the ${role} address`} of ${network.name}: nothing can reach it.`,
        why: subnetWorked(network.prefix),
        ...fix(),
        source: 'RFC 1122 section 3.2.1.3',
      },
    ];
  if (network.routerAddress?.value === device.address.value)
    return [
      {
        rule: 'device-is-router',
        severity: 'blocker',
        at: `${device.at}/address`,
        says: `${device.name} holds the router's own address: everybody on ${network.name} loses the gateway as soon as it is switched on.`,
        why: addressWorked(device.address),
        ...fix(),
        source: 'RFC 5227 section 1',
      },
    ];
  return [];
}
