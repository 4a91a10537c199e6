import { shell, shellRemark, type Code } from '../../../base/encode/index.ts';
import { formatAddress } from '../../../base/net/address.ts';
import { formatPrefix } from '../../../base/net/prefix.ts';
import { prefixesOf, rangeOf, subtractRanges } from '../../../base/net/range.ts';
import type { Line, Site } from '../../../site/model.ts';
import { tunnelMtu } from '../../../behaviour/remote-access/interface.ts';
import { ownAddressTowards } from '../../../behaviour/remote-access/translation.ts';
import { firstTable, isAddressEntered, nextHopOf, type Interfaces } from './interfaces.ts';

const familyIn = (text: string): number => (text.includes(':') ? 6 : 4);
const familyOf = ({ address }: Line): Code<'shell'> => (address.family === 6 ? shell`-6` : shell`-4`);

/** Marks what these files make, so that nothing of others is ever touched (ip-rule(8), ip-route(8): protocol). */
export const ownProtocol = 87;

/** Addresses, and the routes that do not depend on which line is up (ip-address(8), ip-route(8)). */
export function addressesScript(site: Site, names: Interfaces): Code<'shell'> {
  const { vpn } = site;
  const inside = site.networks.flatMap(({ prefix }) => (prefix ? [rangeOf(prefix)] : []));
  // What is connected comes before any route to the same subnet.
  const connected = new Set(
    site.routes.flatMap(({ at, prefix }) =>
      prefix.length === 0 || /^\/routes\//.test(at) ? [] : [formatPrefix(prefix)],
    ),
  );
  const known = new Set<string>();
  const own = (name: string, host: string): Code<'shell'> => shell`try ip addr replace ${host} dev ${name}`;
  const up = (name: string, mtu?: number): Code<'shell'>[] => [
    // The source check is the ruleset's own: it knows lines and tunnels (RFC 3704). The kernel takes the stricter of two.
    shell`[ ! -e /proc/sys/net/ipv4/conf/${name}/rp_filter ] || echo 0 > /proc/sys/net/ipv4/conf/${name}/rp_filter`,
    mtu === undefined ? shell`try ip link set ${name} up` : shell`try ip link set ${name} mtu ${mtu} up`,
  ];
  return shell.lines(
    shell`#!/bin/sh`,
    shellRemark('Addresses and routes of the router. It may be run again: what is there stays.'),
    shell`set -u`,
    shell`failed=0`,
    shellRemark('An interface that is not there yet holds up nobody: it is named, and the rest goes on.'),
    shell`try() { "$@" || { echo "not done: $*" >&2; failed=1; }; }`,
    site.networks.flatMap((network) => {
      const { prefix, routerAddress } = network;
      if (!prefix) return [];
      const name = names.network(network);
      return [
        shellRemark(network.name),
        ...(routerAddress ? [own(name, `${formatAddress(routerAddress)}/${prefix.length}`)] : []),
        ...up(name),
      ];
    }),
    site.lines.flatMap((line) => {
      const name = names.line(line);
      return [
        shellRemark(line.name),
        ...(nextHopOf(line) === 'ppp' ? [] : up(name, line.mtuBytes)),
        isAddressEntered(line) && line.addressKnown
          ? own(name, `${formatAddress(line.address)}/${line.prefix?.length ?? 32}`)
          : shellRemark(`Its address comes by ${line.type}, and is told to line.sh.`),
      ];
    }),
    vpn.way === 'none'
      ? []
      : [
          shellRemark('Remote users'),
          ...[[vpn.routerAddress, vpn.pool] as const, [vpn.routerAddress6, vpn.pool6] as const].flatMap(
            ([host, pool]) =>
              host && pool ? [own(names.clients, `${formatAddress(host)}/${pool.length}`)] : [],
          ),
          ...up(names.clients, tunnelMtu(site)),
        ],
    vpn.sites.length > 0 && (vpn.way === 'none' || names.clients !== names.tunnel)
      ? up(names.tunnel, tunnelMtu(site))
      : [],
    vpn.sites.flatMap((far) => {
      const source = ownAddressTowards(site, far);
      return [
        shellRemark(far.name),
        // A subnet that is here as well stays here; of two sites with one subnet the first has it.
        ...subtractRanges(far.prefixes.map(rangeOf), inside)
          .flatMap(prefixesOf)
          .map(formatPrefix)
          .filter((prefix) => !known.has(prefix) && known.add(prefix))
          .map((prefix) => {
            const from = source?.family === familyIn(prefix) ? shell` src ${formatAddress(source)}` : shell``;
            return shell`try ip route replace ${prefix} dev ${names.tunnel}${from} proto ${ownProtocol}`;
          }),
      ];
    }),
    site.routes.flatMap(({ at, prefix, target, says }) => {
      // Sent back out it would come again, and go round until its hop limit is used up.
      if (target.kind === 'unused')
        return [
          shellRemark(says),
          shell`try ip route replace unreachable ${formatPrefix(prefix)} proto ${ownProtocol}`,
        ];
      if (!/^\/routes\//.test(at) || connected.has(formatPrefix(prefix))) return [];
      const route = (via: string, name: string): Code<'shell'>[] => [
        shellRemark(says),
        shell`try ip route replace ${formatPrefix(prefix)} via ${via} dev ${name} proto ${ownProtocol}`,
      ];
      if (target.kind === 'via') return route(formatAddress(target.via), names.network(target.network));
      const via = site.staticRoutes.find((each) => each.at === at)?.via;
      return target.kind === 'line' && via ? route(formatAddress(via), names.line(target.line)) : [];
    }),
    shell`exit $failed`,
    shell``,
  );
}

const mark = (number: number): string => `0x${number.toString(16)}`;

/** A default route for each line in a table of its own, and the rules that choose a table (ip-rule(8)). */
export function routesScript(site: Site, names: Interfaces): Code<'shell'> {
  const families = [4, 6].filter((family) => site.lines.some(({ address }) => address.family === family));
  const staticDefault = site.staticRoutes.some(({ prefix }) => prefix?.length === 0);
  const order = (lines: readonly Line[]): Code<'shell'> => shell.joined(lines.map(names.line), ' ');
  /** A rule as `ip rule show` prints it, so that what is there already is known again. */
  const rule = (pref: number, text: Code<'shell'>): Code<'shell'> => shell`echo "${pref} from all ${text}"`;
  return shell.lines(
    shell`#!/bin/sh`,
    shellRemark(
      'Which line carries what. Usage: routes.sh [LINE ...], naming lines that are down although their link is up, such as: routes.sh wan1',
    ),
    shellRemark(
      'Run it at start and at every change of a line. Running it again changes nothing: rules that are there stay, missing ones come before others go.',
    ),
    shell`set -u`,
    shell`state=\${NETTER_STATE:-/run/netter}`,
    shell`down=" $* "`,
    shellRemark(
      'A line is up when its link is, nobody says that it is down, and it has the next hop that its type needs.',
    ),
    shell`is_up() {`,
    shell`  case "$down" in *" $1 "*) return 1 ;; esac`,
    shell`  [ ! -e "$state/$1.down" ] || return 1`,
    shell`  [ "$(cat "/sys/class/net/$1/carrier" 2>/dev/null)" = 1 ] || return 1`,
    shell`  case "$1" in`,
    site.lines.flatMap((line) =>
      nextHopOf(line) === 'lease' ? [shell`  ${names.line(line)}) [ -s "$state/$1.gateway" ] ;;`] : [],
    ),
    shell`  esac`,
    shell`}`,
    shellRemark('The first of these lines that is up, or nothing.'),
    shell`first_up() { for line in "$@"; do if is_up "$line"; then echo "$line"; return; fi; done; }`,
    shell`table_of() { case "$1" in`,
    site.lines.map((line) => shell`  ${names.line(line)}) echo ${names.table(line)} ;;`),
    shell`esac; }`,
    shellRemark('The default route of a line in its own table; it is replaced in place.'),
    shell`route() { family=$1; table=$2; shift 2; ip "$family" route replace "$@" table "$table" proto ${ownProtocol}; }`,
    shell`no_route() { ip "$1" route del default table "$2" proto ${ownProtocol} 2>/dev/null || true; }`,
    shellRemark(
      'Makes the rules of a family what stands on the input. Only rules with our protocol are looked at.',
    ),
    shell`set_rules() {`,
    shell`  wanted=$(cat)`,
    shell`  there=$(ip "$1" rule show | sed -n 's/ proto ${ownProtocol} *$//p' | sed 's/:[[:space:]]*/ /')`,
    shell`  echo "$wanted" | while read -r pref text; do`,
    shell`    [ -n "$pref" ] || continue`,
    shell`    echo "$there" | grep -qxF "$pref $text" || ip "$1" rule add pref "$pref" $text protocol ${ownProtocol}`,
    shell`  done`,
    shell`  echo "$there" | while read -r pref text; do`,
    shell`    [ -n "$pref" ] || continue`,
    shell`    echo "$wanted" | grep -qxF "$pref $text" || ip "$1" rule del pref "$pref" $text protocol ${ownProtocol}`,
    shell`  done`,
    shell`}`,
    site.lines.flatMap((line) => {
      const name = names.line(line);
      const table = names.table(line);
      const family = familyOf(line);
      const hop = nextHopOf(line);
      const { gateway } = line;
      return [
        shell``,
        shellRemark(line.name),
        shell`if is_up ${name}; then`,
        !line.gatewayUsable
          ? // A gateway that is no other host takes nothing, and nothing may slip to another line.
            shell`  route ${family} ${table} blackhole default`
          : hop === 'lease'
            ? shell`  route ${family} ${table} default via "$(cat "$state/${name}.gateway")" dev ${name} onlink`
            : hop === 'fixed'
              ? shell`  route ${family} ${table} default via ${formatAddress(gateway!)} dev ${name} onlink`
              : shell`  route ${family} ${table} default dev ${name}`,
        shell`else no_route ${family} ${table}; fi`,
      ];
    }),
    families.flatMap((family) => [
      shell``,
      shell`{`,
      // What is refused comes first: on the first run nothing may slip past.
      ...site.failover.rules.flatMap((each, index) => {
        const marked = mark(2 * firstTable + index + 1);
        return [
          shellRemark(each.says),
          shell`line=$(first_up ${order(each.lines)})`,
          shell`if [ -n "$line" ]; then ${rule(12_000 + index, shell`fwmark ${marked} lookup $(table_of "$line")`)}`,
          shell`else ${rule(12_000 + index, shell`fwmark ${marked} prohibit`)}; fi`,
        ];
      }),
      shellRemark('What is connected, and static routes, before any default route.'),
      rule(10_000, staticDefault ? shell`lookup main` : shell`lookup main suppress_prefixlength 0`),
      ...site.lines
        .filter(({ address }) => address.family === family)
        .map(
          (line) =>
            shell`if is_up ${names.line(line)}; then ${rule(10_000 + names.table(line), shell`fwmark ${mark(names.table(line))} lookup ${names.table(line)}`)}; fi`,
        ),
      shellRemark('Everything else leaves by the first line that is up.'),
      shell`line=$(first_up ${order(site.lines.filter((line) => line.defaultRoute))})`,
      shell`if [ -n "$line" ]; then ${rule(19_000, shell`lookup $(table_of "$line")`)}; fi`,
      shell`} | set_rules ${family === 6 ? shell`-6` : shell`-4`}`,
    ]),
    shell``,
    shellRemark(
      'Connections that came in over a line that is gone are forgotten; those that went out are, by masquerade, when its link goes.',
    ),
    shell`if command -v conntrack >/dev/null; then`,
    shell`  for line in ${order(site.lines)}; do is_up "$line" || conntrack -D -m "$(table_of "$line")" >/dev/null 2>&1 || true; done`,
    shell`fi`,
    shell``,
  );
}

/** What the kernel has to be told (ip-sysctl). */
export const sysctl = [
  'net.ipv4.ip_forward = 1',
  'net.ipv6.conf.all.forwarding = 1',
  'net.ipv4.conf.all.rp_filter = 0',
  'net.ipv4.conf.default.rp_filter = 0',
  'net.ipv4.conf.all.accept_redirects = 0',
  'net.ipv4.conf.all.send_redirects = 0',
  '# Nobody asks a whole subnet at once (RFC 2644).',
  'net.ipv4.conf.all.bc_forwarding = 0',
  '',
].join('\n');
