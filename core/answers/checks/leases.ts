import { rangeSize } from '../../base/net/range.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Network, Site } from '../../site/model.ts';
import { devicesOn } from '../../site/lookups.ts';
import { arithmetic, practice, step, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';
import { counted } from '../../base/text.ts';

/** Leases against the number of people and how long they stay: an address is kept after its device has left. */
export const leases: Check = {
  name: 'leases',
  run: (site) => site.networks.flatMap((network) => keptTooLong(site, network)),
};

/** How long a guest stays where nobody said (common practice, no source). */
const usualGuestMinutes = 120;

/** Lease times that people set (common practice, no source), longest first. */
const usualLeases = [1440, 720, 480, 240, 120, 60, 30, 15];

const stayOf = ({ stayMinutes, purpose }: Network): number | null =>
  stayMinutes ?? (purpose === 'guests' ? usualGuestMinutes : null);

/**
 * Addresses in use when people come and go: as many as are there, and of those who left all whose lease has not run
 * out. By Little's law people / stay arrive in a minute, and each keeps the address for the stay and, at worst, one
 * lease more (RFC 2131 section 4.4.5: a client renews at half of its lease).
 */
function keptTooLong(site: Site, network: Network): Finding[] {
  const { pool, expectedDevices: there, dhcp, name, at } = network;
  const stay = stayOf(network);
  if (!pool || pool.last < pool.first || there === null || stay === null || dhcp.leaseMinutes <= stay)
    return [];
  const held = devicesOn(site, network).filter(({ address }) => address).length;
  const come = Math.max(0, there - held);
  const size = Number(rangeSize(pool));
  const needed = (lease: number): number => Math.ceil(come * (1 + lease / stay));
  // That the pool is too small for those who are there at once is a finding of its own.
  if (needed(dhcp.leaseMinutes) <= size || come > size) return [];
  const shorter = usualLeases.find((lease) => needed(lease) <= size);
  const lease = dhcp.leaseMinutes;
  return [
    {
      ...note(
        'lease-long',
        'warning',
        `${at}/dhcp/leaseMinutes`,
        `On ${name} ${counted(there, 'device is', 'devices are')} there at once for ${stay} min each, and a lease lasts ${lease} min: with those who have left, ${counted(needed(lease), 'address is', 'addresses are')} in use at worst, and the pool has ${size}. On a full day the next one gets none.`,
        worked(
          'Addresses in use at worst',
          needed(lease),
          'addresses',
          [
            step('at once, without an address of their own', come),
            step('stay', `${stay} min`),
            step('kept after leaving, at worst', `${lease} min`),
            step('in use', `${come} × (1 + ${lease} / ${stay}) ≈ ${needed(lease)}`),
            step('in the pool', size),
          ],
          `Little's law, RFC 2131 section 4.4.5; stay: ${network.stayMinutes === null ? practice : 'the plan'}; ${arithmetic}`,
        ),
        shorter === undefined
          ? undefined
          : {
              says: `Let a lease last ${shorter} min: ${counted(needed(shorter), 'address', 'addresses')} at worst`,
              patch: [{ op: 'replace', path: `${at}/dhcp/leaseMinutes`, value: shorter }],
            },
      ),
      also: [`${at}/expectedDevices`, `${at}/stayMinutes`],
    },
  ];
}
