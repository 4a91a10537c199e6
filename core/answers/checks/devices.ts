import { formatAddress } from '../../base/net/address.ts';
import { formatPrefix, roleIn } from '../../base/net/prefix.ts';
import { freeHost } from '../../site/lookups.ts';
import { type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Device, Site } from '../../site/model.ts';
import { subnetWorked } from '../../base/worked/addresses.ts';
import { step, worked } from '../../base/worked/worked.ts';

/** The device register: one address and one MAC each, in the right network. */
export const devices: Check = {
  name: 'devices',
  run: (site) => {
    const found: Finding[] = [];
    for (const device of site.devices) {
      found.push(...place(site, device));
      if (!device.mac) continue;
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
  return [];
}
