import { markdown, type Code } from '../../encode/index.ts';
import { formatPrefix } from '../../net/prefix.ts';
import type { Site } from '../../site/model.ts';
import { nextHopOf, type Interfaces } from './interfaces.ts';
import { sitePort } from './services.ts';

/** What the files are, in which order they are used, and what was decided that the plan does not say. */
export function readme(site: Site, names: Interfaces): Code<'markdown'> {
  const hop = { fixed: 'next hop from the plan', lease: 'next hop from its lease', ppp: 'PPP' } as const;
  const row = (name: string, is: string): Code<'markdown'> => markdown`| ${name} | ${is} |`;
  return markdown.lines(
    markdown`# ${site.about.name || 'Site'}: files for a Linux router`,
    markdown``,
    markdown`
Written from the plan. No secret is in them: keys are named as the vault names them. Read them before you load them. They touch nothing that others made: rules and routes carry the protocol number 87, the filter is one table.
    `,
    markdown``,
    markdown`
| interface | is |
    `,
    markdown`
| --- | --- |
    `,
    site.networks
      .filter(({ prefix }) => prefix)
      .map((network) =>
        row(
          names.network(network),
          `network ${network.name}, ${formatPrefix(network.prefix!)}${network.vlan === null ? '' : `, VLAN ${network.vlan}`}`,
        ),
      ),
    site.lines.map((line) =>
      row(names.line(line), `line ${line.name}, ${line.type}, ${hop[nextHopOf(line)]}`),
    ),
    site.vpn.way === 'none' ? [] : [row(names.clients, 'remote users')],
    site.vpn.sites.map((far) =>
      row(names.site(far), `tunnel to ${far.name}, listens on UDP port ${sitePort(site, far)}`),
    ),
    markdown``,
    markdown`
Name your interfaces like this (systemd.link(5), ip-link(8)), one for each VLAN: which socket of the router is which, no plan says. Tunnels are made by \`netter.sh\`.
    `,
    markdown``,
    markdown`
## Order
    `,
    markdown``,
    markdown`
1. \`sh netter.sh check\`: loads nothing, and says what does not fit this machine.
    `,
    markdown`
2. \`sh netter.sh apply 5\`: puts everything to work, and takes rules and filter back after five minutes.
    `,
    markdown`
3. \`sh netter.sh confirm\`: keeps it. Do this from a new connection, so that you know that you still get in.
    `,
    markdown`
4. \`sh netter.sh install\`: copies the files to /etc/netter and starts them at every boot.
    `,
    markdown`
5. Lines: copy the script of \`hooks/\` that fits the program that brings a line up. Without it a line that gets its address by itself has no next hop, and counts as down.
    `,
    markdown`
6. Keys: \`secrets/NAME.key\` beside the files, one for each tunnel, readable by root only.
    `,
    markdown``,
    markdown`
\`sh netter.sh apply\` may be run again at any time: what is there stays, and no packet is lost. \`sh netter.sh remove\` takes everything away. Whoever watches the lines runs \`routes.sh\` with the names of those that do not work although their link is up.
    `,
    markdown``,
    markdown`
## What the plan does not say, and how it was decided
    `,
    markdown``,
    markdown`
- An answer leaves by the line by which its connection came in, whatever the failover rules say.
    `,
    markdown`
- A forward that is used from inside turns round: the device sees the address of the line.
    `,
    markdown`
- From inside a refusal is answered (ICMP, administratively prohibited); from the internet it is silent, and a ping too.
    `,
    markdown`
- Sources are checked by the rules (RFC 2827), not by \`rp_filter\`: with two lines its strict form drops what is right.
    `,
    markdown`
- A line that is down is one whose link is gone, that has no next hop yet, or that \`routes.sh\` was told of.
    `,
    markdown`
- Remote users reach what their group is granted; nothing begins towards them, they do not reach one another, and they do not go on to connected sites.
    `,
    markdown`
- Each tunnel to a site has a UDP port of its own, which is open from outside; the port of the plan is that of the remote users where there are any.
    `,
    markdown`
- A subnet of a connected site that is in use here as well stays here.
    `,
    markdown`
- Nothing is sent to all hosts of a subnet at once (RFC 2644).
    `,
    markdown`
- TCP segments are cut to what the way carries (MSS); packets that belong to no connection are dropped.
    `,
    markdown`
- A rate limit drops what is beyond it; lines are shaped by the queue of the interface, for example \`tc qdisc replace dev wan1 root cake bandwidth 38mbit\`, which is not in these files.
    `,
    markdown`
- A forward of more ports outside than inside leads the rest to the last one.
    `,
    markdown``,
  );
}
