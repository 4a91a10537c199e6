import { formatPrefix } from '../../net/prefix.ts';
import type { Site } from '../../site/model.ts';
import type { Interfaces } from './interfaces.ts';

/** What the files are, in which order they are used, and what was decided that the plan does not say. */
export function readme(site: Site, names: Interfaces): string {
  const rows = [
    ...site.networks
      .filter(({ prefix }) => prefix)
      .map(
        (network) =>
          `| ${names.network(network)} | network ${network.name}, ${formatPrefix(network.prefix!)}${network.vlan === null ? '' : `, VLAN ${network.vlan}`} |`,
      ),
    ...site.lines.map((line) => `| ${names.line(line)} | line ${line.name}, ${line.type} |`),
    ...(site.vpn.way === 'none' ? [] : [`| ${names.clients} | remote users |`]),
    ...site.vpn.sites.map((far) => `| ${names.site(far)} | tunnel to ${far.name} |`),
  ];
  return `# ${site.about.name || 'Site'}: files for a Linux router

Written from the plan. No secret is in them: keys and passwords are named as the vault names them. Read them before you
load them, and load them from a console that stays reachable when the network does not.

| interface | is |
| --- | --- |
${rows.join('\n')}

Name your interfaces like this (ip-link(8), systemd.link(5)), one for each VLAN.

## Order

1. \`sysctl -p sysctl.conf\`
2. \`nft -f netter.nft\`: the rules, in one step, or not at all. Loaded before any line is up, nothing is open meanwhile.
3. Bring up the lines: pppd, a DHCP client or the modem, by their type. A line whose address changes enters it by
   \`nft add element inet netter wan1_address { ADDRESS }\`, for forwards at that address.
4. \`sh addresses.sh\`
5. Tunnels: \`wg setconf wg0 wg0.conf\` and the same for each site, then the secret keys from their files.
6. \`sh routes.sh\`: which line carries what. Whoever watches the lines runs it again, with the names of those that are down.
7. \`dnsmasq --conf-file=dnsmasq.conf\`

## What the plan does not say, and how it was decided

- An answer leaves by the line by which its connection came in, whatever the failover rules say.
- A forward that is used from inside turns round: the device sees the address of the line.
- From inside a refusal is answered (ICMP, administratively prohibited); from the internet it is silent, and a ping too.
- Sources are checked by the rules (RFC 2827), not by rp_filter: with two lines its strict form drops what is right.
- A line that is down is one whose link is gone, or that \`routes.sh\` was told of: the same to every packet.
- Remote users reach what their group is granted; nothing begins towards them, they do not reach one another, and they
  do not go on to connected sites.
- A subnet of a connected site that is in use here as well stays here.
- Nothing is sent to all hosts of a subnet at once (RFC 2644).
- TCP segments are cut to what the way carries (MSS).
- A rate limit drops what is beyond it; lines are shaped by the queue of the interface, for example
  \`tc qdisc replace dev wan1 root cake bandwidth 38mbit\`, which is not in these files.
- A forward of more ports outside than inside leads the rest to the last one.
`;
}
