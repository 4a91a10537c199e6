import { replacing, type Check, type Finding } from '../terms/finding.ts';
import { step, worked } from '../worked/worked.ts';

const source = 'IEEE 802.1Q section 9.6 (ids 1 to 4094)';

/** VLAN IDs: one network each. */
export const vlan: Check = {
  name: 'vlan',
  run: ({ networks, problems, router }) => {
    const found: Finding[] = [];
    const used = new Set(networks.flatMap((network) => network.vlan ?? []));
    let free = 10;
    while (used.has(free)) free += 10;
    const fixTo = (at: string): NonNullable<Finding['fix']> =>
      replacing(`Use VLAN ${free}`, `${at}/vlan`, free);
    const first = new Map<number | null, (typeof networks)[number]>();
    for (const network of networks) {
      const id = network.vlan;
      const at = `${network.at}/vlan`;
      // A value that is no VLAN ID is a finding of its own, and not "untagged".
      if (problems.some((each) => each.at === at)) continue;
      const why = worked(
        'VLAN ID',
        id,
        '',
        [step('lowest', 1), step('highest', 4094), step('typed', id ?? 'untagged')],
        source,
      );
      const other = first.get(id);
      // Untagged on ports of their own they never share a wire: a port has one untagged network.
      const apart =
        id === null && [network, other].every((each) => router.ports.some((port) => port.network === each));
      if (other && !apart)
        found.push({
          rule: 'vlan-duplicate',
          severity: 'blocker',
          at,
          also: [`${other.at}/vlan`],
          says:
            id === null
              ? `${network.name} and ${other.name} are both untagged: on one cable they are one network.`
              : `${network.name} and ${other.name} both use VLAN ${id}: their devices are on one wire, whatever the rules say.`,
          why: {
            ...why,
            name: 'Networks with this ID',
            value: 2,
            steps: [step(other.name, id ?? 'untagged'), step(network.name, id ?? 'untagged')],
          },
          fix: fixTo(network.at),
          source,
        });
      else if (!other) first.set(id, network);
    }
    return found;
  },
};
