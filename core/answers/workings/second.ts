import { fresnelWorked } from '../../behaviour/media/radio-link.ts';
import { bridgeSignal } from '../../behaviour/downstream-router/air.ts';
import { translationsWorked } from '../../behaviour/downstream-router/compare.ts';
import type { Site } from '../../site/model.ts';
import { laptopAddress, laptopWorked, placeWorked, subnetWorked } from '../../base/worked/addresses.ts';
import { airRateWorked } from '../../base/worked/wifi-rate.ts';
import type { Worked } from '../../base/worked/worked.ts';

/** The arithmetic behind a field of a second router. */
export function ofSecond(site: Site, index: number, rest: string): Worked[] {
  const second = site.second[index];
  if (!second) return [];
  const { way, address, network, inside, factoryAddress, translates, signal } = second;
  switch (rest) {
    case 'way':
    case 'translates':
      return way === 'undecided' ? [] : [translationsWorked(site, way, translates)];
    case 'address':
      return address && network?.prefix ? [placeWorked(address, network.prefix, 'Its address')] : [];
    case 'inside':
      return inside ? [subnetWorked(inside.prefix, inside.host)] : [];
    case 'factoryAddress': {
      const laptop = factoryAddress && laptopAddress(factoryAddress.host, factoryAddress.prefix);
      return laptop ? [laptopWorked(factoryAddress.host, factoryAddress.prefix, laptop)] : [];
    }
    case 'metres':
    case 'sight':
    case 'gain':
    case 'signal': {
      const expected = bridgeSignal(site, second);
      const dbm = signal ?? expected?.low;
      const width = site.wifi.radios.find(({ box }) => box !== undefined && box === second.box)?.width ?? 20;
      const rates =
        dbm === undefined
          ? []
          : [
              { ...airRateWorked(dbm, width), name: 'Rate for a device on its cable' },
              {
                ...airRateWorked(dbm, width, { hops: 2 }),
                name: 'Rate where it repeats on the same channel',
              },
            ];
      return [
        ...(expected ? [expected.why] : []),
        ...(expected && second.sight === 'clear' && second.metres !== null
          ? [fresnelWorked(expected.mhz, second.metres / 1000)]
          : []),
        ...rates,
      ];
    }
    default:
      return [];
  }
}
