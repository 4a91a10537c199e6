import { linesForKind } from '../../behaviour/failover/predict.ts';
import { formatAddress } from '../../base/net/address.ts';
import { type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';

/** Services outside that allow the address of one line only. */
export const fixedAddress: Check = {
  name: 'services that know the address',
  run: (site) => (site.lines.length < 2 ? [] : fixedAddresses(site)),
};

function fixedAddresses(site: Site): Finding[] {
  return site.failover.fixed.flatMap((service): Finding[] => {
    const network = service.network ?? site.networks[0];
    const [first, second] = network ? linesForKind(site, network, 'web') : [];
    if (!network || !first || !second) return [];
    return [
      note(
        'fixed-address',
        'warning',
        service.at,
        `${service.name} knows the site by the address of ${first.name}. Over ${second.name} it sees another address and refuses: have that one allowed as well, or send this traffic over ${first.name} only and tell the customer that it stops with that line.`,
        worked(
          'Address that the far end sees',
          'changes',
          '',
          [
            step(first.name, first.publicAddressKnown ? formatAddress(first.publicAddress) : 'not fixed'),
            step(second.name, second.publicAddressKnown ? formatAddress(second.publicAddress) : 'not fixed'),
          ],
          'RFC 3022 section 2.2',
        ),
      ),
    ];
  });
}
