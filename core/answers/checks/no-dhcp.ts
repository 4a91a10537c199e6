import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { devicesOn } from '../../site/lookups.ts';
import type { Network, Site } from '../../site/model.ts';
import { replacing } from '../../behaviour/domain-types/finding.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { note } from './note.ts';
import { counted } from '../../base/text.ts';

/** Networks on which devices wait for an address, and the router gives none. */
export const noDhcp: Check = {
  name: 'no DHCP',
  run: (site) => site.networks.flatMap((network) => waiting(site, network)),
};

function waiting(site: Site, network: Network): Finding[] {
  const { dhcp, name, at, purpose, expectedDevices } = network;
  if (dhcp.enabled) return [];
  const all = devicesOn(site, network);
  const fixed = all.filter(({ addressing }) => addressing === 'fixed');
  const expected = expectedDevices ?? 0;
  const reason =
    all.length > fixed.length
      ? `${all.find(({ addressing }) => addressing !== 'fixed')!.name} waits for one`
      : purpose === 'guests'
        ? 'guests have none of their own'
        : expected > fixed.length
          ? `${counted(expected, 'device is', 'devices are')} expected, and ${fixed.length} have one set by hand`
          : undefined;
  return reason === undefined
    ? []
    : [
        note(
          'no-dhcp',
          'warning',
          `${at}/dhcp/enabled`,
          `The router gives no addresses on ${name}, and ${reason}. If no other DHCP server is there, these devices get no address.`,
          worked(
            `Devices of ${name}`,
            Math.max(all.length, expected),
            'devices',
            [
              step('with an address set by hand', fixed.length),
              step('registered', all.length),
              step('expected', expectedDevices ?? 'not entered'),
              step('DHCP server', 'off'),
            ],
            'RFC 2131 section 1',
          ),
          replacing('Switch the DHCP server on', `${at}/dhcp/enabled`, true),
        ),
      ];
}
