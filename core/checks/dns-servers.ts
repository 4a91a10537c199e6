import { formatAddress } from '../net/address.ts';
import { replacing, type Check, type Finding } from '../terms/finding.ts';
import { step, worked } from '../worked/worked.ts';

/** Names must resolve: without a resolver every page "is down", though the line is up. */
export const resolvers: Check = {
  name: 'resolvers',
  run: ({ networks, lines }) => {
    const source = 'RFC 2132 section 3.8 (option 6)';
    const found: Finding[] = networks.flatMap((network): Finding[] => {
      if (network.resolvers.length > 0 || !network.dhcp.enabled) return [];
      const own = network.routerAddress && formatAddress(network.routerAddress);
      return [
        {
          rule: 'no-resolver',
          severity: 'blocker',
          at: `${network.at}/resolvers`,
          says: `${network.name} hands out no DNS server: its devices get an address, but no name resolves.`,
          why: worked('DNS servers handed out', 0, '', [step('DNS servers handed out', 0)], source),
          ...(own && {
            fix: replacing(`Hand out the router, ${own}`, `${network.at}/resolvers`, [own]),
          }),
          source,
        },
      ];
    });
    for (const line of lines) {
      const usesRouter = networks.some((network) =>
        network.resolvers.some((each) => each.value === network.routerAddress?.value),
      );
      if (!usesRouter || line.resolversOffered || line.resolvers.length > 0) continue;
      found.push({
        rule: 'no-upstream-resolver',
        severity: 'blocker',
        at: `${line.at}/settings/${line.type}`,
        says: `Devices ask the router for names, but over ${line.name} the router has no DNS server to ask: pages fail while a ping to an address works.`,
        why: worked(
          `DNS servers on ${line.name}`,
          0,
          '',
          [step('named', line.resolvers.length), step("taken from the line's offer", 'no')],
          source,
        ),
        source,
      });
    }
    return found;
  },
};
