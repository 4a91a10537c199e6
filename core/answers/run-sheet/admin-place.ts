import { formatAddress, type Address } from '../../base/net/address.ts';
import { formatPrefix, maskText, type Prefix } from '../../base/net/prefix.ts';
import { laptopAddress } from '../../base/worked/addresses.ts';
import type { Site } from '../../site/model.ts';

/** Where the router is managed from, before and after its inside address changes. */
export interface AdminPlace {
  /** Address the new box answers on; undefined where nobody noted it. */
  readonly factory: string | undefined;
  /** Fixed address for the laptop in the new box's network, as "192.168.1.254, mask 255.255.255.0". */
  readonly factoryLaptop: string | undefined;
  /** Address after the change. */
  readonly planned: string | undefined;
  readonly plannedLaptop: string | undefined;
  /** The address changes, so the session ends there. */
  readonly changes: boolean;
}

export function adminPlace(site: Site): AdminPlace {
  const { factory, adminNetwork } = site.router;
  const planned = adminNetwork?.routerAddress;
  const laptop = (router: Address, prefix: Prefix): string | undefined => {
    const chosen = laptopAddress(router, prefix);
    return (
      chosen &&
      `${formatAddress(chosen)}, ${prefix.family === 4 ? `mask ${maskText(prefix.length)}` : `prefix length ${prefix.length}`}`
    );
  };
  return {
    factory: factory && formatAddress(factory.host),
    factoryLaptop: factory && laptop(factory.host, factory.prefix),
    planned: planned && formatAddress(planned),
    plannedLaptop: planned && adminNetwork.prefix && laptop(planned, adminNetwork.prefix),
    changes:
      !factory ||
      !planned ||
      factory.host.value !== planned.value ||
      (adminNetwork?.prefix !== undefined &&
        formatPrefix(factory.prefix) !== formatPrefix(adminNetwork.prefix)),
  };
}
