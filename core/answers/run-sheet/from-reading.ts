import { formatPrefix } from '../../base/net/prefix.ts';
import type { Network } from '../../site/model.ts';
import { addressReading, type ReadingField } from '../../behaviour/domain-types/reading.ts';

/** The laptop's own address, which tells on which network something was tried. */
export const fromReading = (network: Network): ReadingField =>
  addressReading('from', "This device's own address", {
    ...(network.prefix && {
      within: {
        prefixes: [formatPrefix(network.prefix)],
        says: `this is no address of ${network.name}. What was seen from another network says nothing about this one.`,
      },
    }),
  });
