import { onPage } from '../../behaviour/domain-types/nature.ts';
import { formatAddress } from '../../base/net/address.ts';
import { maskText } from '../../base/net/prefix.ts';
import type { Network, Site } from '../../site/model.ts';
import type { AdminPlace } from './admin-place.ts';
import { entry, type Entry, type StepDraft, fieldEntry } from '../../behaviour/domain-types/step.ts';
import { devicesOn } from '../../site/lookups.ts';

function addressEntries(network: Network): Entry[] {
  const entries: Entry[] = [];
  if (network.vlan !== null) entries.push(fieldEntry(`${network.at}/vlan`, String(network.vlan)));
  if (network.routerAddress)
    entries.push(fieldEntry(`${network.at}/routerAddress`, formatAddress(network.routerAddress)));
  if (network.prefix)
    entries.push(
      entry(
        'Mask',
        maskText(network.prefix.length),
        ['Subnet mask', 'Netmask', `/${network.prefix.length}`],
        `${network.at}/prefix`,
      ),
    );
  return entries;
}

function poolEntries(network: Network): Entry[] {
  const { pool, dhcp } = network;
  if (!dhcp.enabled) return [fieldEntry(`${network.at}/dhcp/enabled`, 'off')];
  const entries: Entry[] = [];
  if (pool) {
    entries.push(
      fieldEntry(`${network.at}/dhcp/from`, formatAddress({ family: pool.family, value: pool.first })),
    );
    entries.push(
      fieldEntry(`${network.at}/dhcp/to`, formatAddress({ family: pool.family, value: pool.last }), [
        `or a count of ${pool.last - pool.first + 1n}`,
      ]),
    );
  }
  if (dhcp.leaseMinutes !== null)
    entries.push(
      fieldEntry(`${network.at}/dhcp/leaseMinutes`, `${dhcp.leaseMinutes} min`, [
        `${dhcp.leaseMinutes * 60} seconds`,
      ]),
    );
  for (const [index, resolver] of network.resolvers.entries())
    entries.push(
      entry(
        `DNS server ${index + 1}`,
        formatAddress(resolver),
        ['DNS server', 'Name server'],
        `${network.at}/resolvers`,
      ),
    );
  return entries;
}

const renewIn = (network: Network): string => {
  const minutes = network.dhcp.leaseMinutes;
  return minutes === null ? '' : ` Devices that are left alone follow within ${minutes / 2} minutes.`;
};

/** The inside: the address change that ends the session, the pools, the other networks, the reservations. */
export function insideSteps(site: Site, place: AdminPlace): StepDraft[] {
  const admin = site.router.adminNetwork;
  const steps: StepDraft[] = [];
  const planned = place.planned ?? 'the planned address';
  if (admin && place.changes)
    steps.push({
      id: 'inside-address',
      nature: onPage,
      phase: 'inside',
      title: `Change the router's own address to ${planned}`,
      needs: ['remote-admin-off'],
      entries: addressEntries(admin).filter((entry) => entry.label !== 'VLAN'),
      why: 'It comes now, before anything is plugged into an uplink: the router may come with the same subnet as the device in front. Many routers move their pool along; those that do not would lock the laptop out, so the pool is on the same page and is saved together.',
      lowSeconds: 30,
      highSeconds: 120,
      proof: 'The page stops answering. That is right: your session ends here.',
      ifNot: `If the page still answers at the old address, it was not saved.`,
      cautions: [
        `Your session ends here. Pull the laptop's cable, wait five seconds, put it back, then browse to ${planned}.`,
      ],
    });
  if (admin)
    steps.push({
      id: 'reconnect',
      nature: onPage,
      phase: 'inside',
      title: place.changes ? `Renew the laptop's address and browse to ${planned}` : `Stay on ${planned}`,
      needs: [place.changes ? 'inside-address' : 'remote-admin-off'],
      entries: [
        entry('Browse to', planned, ['Admin page'], `${admin.at}/routerAddress`),
        ...(place.plannedLaptop
          ? [
              entry(
                'If the laptop gets no address',
                place.plannedLaptop,
                ['Manual', 'Static'],
                `${admin.at}/prefix`,
              ),
            ]
          : []),
      ],
      why: 'From here on the router is managed from its planned address.',
      lowSeconds: 10,
      highSeconds: 60,
      proof: `The status page opens at ${planned}.`,
      ifNot:
        'Set the laptop to the fixed address beside. Still nothing: reset to new state and begin at the first login; the backup is on the laptop.',
    });
  for (const network of site.networks) {
    const isAdmin = network === admin;
    if (!isAdmin)
      steps.push({
        id: `network:${network.id}`,
        nature: onPage,
        phase: 'inside',
        title: `Make the network ${network.name}`,
        needs: ['reconnect'],
        entries: addressEntries(network),
        why: 'Networks that must not reach each other get a subnet each, with the router between them.',
        lowSeconds: 60,
        highSeconds: 180,
        proof: 'It is listed with its address and mask after saving.',
        ifNot:
          'Refused as overlapping: look at the Addresses sheet first, then at networks the router came with.',
      });
    steps.push({
      id: `pool:${network.id}`,
      nature: onPage,
      phase: 'inside',
      title: `Set the DHCP pool of ${network.name}`,
      needs: [isAdmin ? 'reconnect' : `network:${network.id}`],
      entries: poolEntries(network),
      why: `Devices get an address, a default gateway and a DNS server.${renewIn(network)}`,
      lowSeconds: 30,
      highSeconds: 120,
      proof: network.dhcp.enabled
        ? 'A device that is reconnected gets an address of the pool.'
        : 'A device that is reconnected gets none.',
      ifNot: 'An address of another subnet: the port or the wireless name is on another network.',
    });
    const reserved = devicesOn(site, network).filter(({ address }) => address);
    if (reserved.length > 0)
      steps.push({
        id: `reservations:${network.id}`,
        nature: onPage,
        phase: 'inside',
        title: `Reserve ${reserved.length === 1 ? `the address of ${reserved[0]!.name}` : `the addresses of ${reserved.length} devices`} on ${network.name}`,
        needs: [`pool:${network.id}`],
        entries: reserved.map((device) =>
          entry(
            device.name,
            device.addressing === 'reserved'
              ? `${device.mac?.text ?? 'MAC missing'} → ${formatAddress(device.address!)}`
              : formatAddress(device.address!),
            device.addressing === 'reserved'
              ? ['Address reservation', 'Static lease', 'DHCP binding']
              : ['set on the device itself'],
            `${device.at}/address`,
          ),
        ),
        why: 'Forwards and allowances lead to an address. It must be the same tomorrow.',
        lowSeconds: 30 * reserved.length,
        highSeconds: 90 * reserved.length,
        proof: 'Each device, reconnected, shows its address.',
        ifNot:
          "Another address: compare the MAC address with the device's own page; phones may use a made-up one.",
      });
  }
  return steps;
}
