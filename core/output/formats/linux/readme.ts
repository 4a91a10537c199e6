import { wanType } from '../../../wan-types/index.ts';
import { markdown, type Code } from '../../../base/encode/index.ts';
import { formatPrefix } from '../../../base/net/prefix.ts';
import type { Site } from '../../../site/model.ts';
import { hasTunnel, nextHopOf, type Interfaces } from './interfaces.ts';
import { underPpp } from './ports.ts';

/** What the files are, in which order they are used, and what was decided that the plan does not say. */
export function readme(site: Site, names: Interfaces): Code<'markdown'> {
  const hop = { fixed: 'next hop from the plan', lease: 'next hop from its lease', ppp: 'PPP' } as const;
  const row = (name: string, is: string): Code<'markdown'> => markdown`| ${name} | ${is} |`;
  return markdown.lines(
    markdown`# ${site.about.name || 'Site'}: files for a Linux router`,
    markdown``,
    markdown`Written from the plan. No secret is in them: keys are named as the vault names them. Read them before you load them. They touch nothing that others made: rules and routes carry the protocol number 87, the filter is one table.`,
    markdown``,
    markdown`| interface | is |`,
    markdown`| --- | --- |`,
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
    hasTunnel(site)
      ? [
          row(
            names.tunnel,
            `tunnel on UDP port ${site.vpn.port}: ${[
              ...(site.vpn.way === 'wireguard' ? ['remote users'] : []),
              ...site.vpn.sites.map(({ name }) => name),
            ].join(', ')}`,
          ),
        ]
      : [],
    site.vpn.way === 'none' || names.clients === names.tunnel
      ? []
      : [row(names.clients, 'remote users; these files do not make it')],
    markdown``,
    markdown`\`ports.conf\` has the port and the VLAN of each, from the plan. What this machine calls its ports goes into \`ports.local\` beside it, one a line: \`port3 enp2s0\`. \`interfaces.sh\` then makes the interfaces; one that is there already is left alone.`,
    markdown``,
    site.lines
      .filter((line) => nextHopOf(line) === 'ppp')
      .flatMap((line) => [
        markdown`\`${names.line(line)}\` is made by its session, which runs on \`${underPpp(line, names)}\`: ${wanType(line.type).sessionHint?.(underPpp(line, names), names.line(line)) ?? markdown`nothing here says how`}.`,
        markdown``,
      ]),
    markdown`## Order`,
    markdown``,
    markdown`1. \`sh netter.sh check\`: loads nothing, and says what does not fit this machine.`,
    markdown`2. \`sh netter.sh apply 5\`: puts everything to work, and takes it back after five minutes unless that is confirmed: filter, rules, routes, addresses, interfaces, peers of the tunnel, settings of the kernel.`,
    markdown`3. \`sh netter.sh confirm\`: keeps it. Do this from a new connection, so that you know that you still get in.`,
    markdown`4. \`sh netter.sh install\`: copies the files to /etc/netter and starts them at every boot; netter-watch chooses the lines again when one loses its link.`,
    markdown`5. Lines: copy the script of \`hooks/\` that fits the program that brings a line up. Without it a line that gets its address automatically has no next hop, and counts as down.`,
    markdown`6. Key of the tunnel: \`secrets/wg0.key\` beside the files, readable by root only; pre-shared keys of peers as \`secrets/NAME.psk\`, NAME as the remark in wg0.conf has it.`,
    markdown``,
    markdown`\`sh netter.sh apply\` may be run again at any time: what is there stays, and no packet is lost. \`sh netter.sh remove\` takes everything away. A program that watches the lines runs \`routes.sh\` with the names of those that do not work although their link is up.`,
    markdown``,
    markdown`## What the plan does not say, and how it was decided`,
    markdown``,
    markdown`- An answer leaves by the line by which its connection came in, whatever the failover rules say.`,
    markdown`- A forward that is used from inside turns round: the device sees the address of the line.`,
    markdown`- From inside a refusal is answered (ICMP, administratively prohibited); from the internet it is silent, and a ping too.`,
    markdown`- Sources are checked by the rules (RFC 2827), not by \`rp_filter\`: with two lines its strict form drops what is right.`,
    markdown`- A line that is down is one whose link is gone, that has no next hop yet, or that \`routes.sh\` was told of.`,
    markdown`- Remote users reach what their group is granted; nothing begins towards them, they do not reach one another, and they do not go on to connected sites.`,
    markdown`- Remote users and other sites share one tunnel interface, one key and the UDP port of the plan: the tunnel knows each by its key, and the rules by the addresses that the tunnel lets it have.`,
    markdown`- A subnet of a connected site that is in use here as well stays here.`,
    markdown`- Nothing is sent to all hosts of a subnet at once (RFC 2644).`,
    markdown`- TCP segments are cut to what the way carries (MSS); packets that belong to no connection are dropped.`,
    markdown`- A rate limit drops what is beyond it; lines are shaped by the queue of the interface, for example \`tc qdisc replace dev wan1 root cake bandwidth 38mbit\`, which is not in these files.`,
    site.failover.sharing === 'weights'
      ? [
          markdown`- The plan lets the lines share the sessions by weight; these files use the first that is up.`,
        ]
      : [],
    markdown`- A forward of more ports outside than inside leads the rest to the last one.`,
    markdown``,
  );
}
