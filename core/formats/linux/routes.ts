import { formatAddress } from '../../net/address.ts';
import { formatPrefix } from '../../net/prefix.ts';
import { prefixesOf, rangeOf, subtractRanges } from '../../net/range.ts';
import type { Line, Site } from '../../site/model.ts';
import { ownAddressTowards } from '../../vpn/translation.ts';
import { firstTable, type Interfaces } from './interfaces.ts';

const familyIn = (text: string): number => (text.includes(':') ? 6 : 4);
const familyOf = ({ address }: Line): string => `-${address.family}`;

/** Addresses, and the routes that do not depend on which line is up (ip-address(8), ip-route(8)). */
export function addressesScript(site: Site, names: Interfaces): string {
  const { vpn } = site;
  const inside = site.networks.flatMap(({ prefix }) => (prefix ? [rangeOf(prefix)] : []));
  // What is connected comes before any route to the same subnet.
  const connected = new Set(
    site.routes.flatMap(({ at, prefix }) =>
      prefix.length === 0 || /^\/routes\//.test(at) ? [] : [formatPrefix(prefix)],
    ),
  );
  const known = new Set<string>();
  const own = (name: string, host: string): string[] => [`ip addr replace ${host} dev ${name}`];
  return [
    '#!/bin/sh',
    '# Addresses and routes of the router. Run it once the interfaces are there; it may be run again.',
    'set -eu',
    ...site.networks.flatMap((network) => {
      const { prefix, routerAddress } = network;
      if (!prefix) return [];
      const name = names.network(network);
      return [
        `# ${network.name}`,
        ...(routerAddress ? own(name, `${formatAddress(routerAddress)}/${prefix.length}`) : []),
        `ip link set ${name} up`,
      ];
    }),
    ...site.lines.flatMap((line) => {
      const name = names.line(line);
      const set =
        line.type === 'static' && line.addressKnown
          ? own(name, `${formatAddress(line.address)}/${line.prefix?.length ?? 32}`)
          : [`# Its address comes by ${line.type}.`];
      return [`# ${line.name}`, `ip link set ${name} mtu ${line.mtuBytes} up`, ...set];
    }),
    ...(vpn.way === 'none'
      ? []
      : [
          '# Remote users',
          ...[[vpn.routerAddress, vpn.pool] as const, [vpn.routerAddress6, vpn.pool6] as const].flatMap(
            ([host, pool]) =>
              host && pool ? own(names.clients, `${formatAddress(host)}/${pool.length}`) : [],
          ),
          `ip link set ${names.clients} up`,
        ]),
    ...vpn.sites.flatMap((far) => {
      const source = ownAddressTowards(site, far);
      return [
        `# ${far.name}`,
        `ip link set ${names.site(far)} up`,
        // A subnet that is here as well stays here; of two sites with one subnet the first has it.
        ...subtractRanges(far.prefixes.map(rangeOf), inside)
          .flatMap(prefixesOf)
          .map(formatPrefix)
          .filter((prefix) => !known.has(prefix) && known.add(prefix))
          .map(
            (prefix) =>
              `ip route replace ${prefix} dev ${names.site(far)}${source?.family === familyIn(prefix) ? ` src ${formatAddress(source)}` : ''}`,
          ),
      ];
    }),
    ...site.routes.flatMap(({ at, prefix, target, says }) => {
      if (!/^\/routes\//.test(at) || connected.has(formatPrefix(prefix))) return [];
      if (target.kind === 'via')
        return [
          `# ${says}`,
          `ip route replace ${formatPrefix(prefix)} via ${formatAddress(target.via)} dev ${names.network(target.network)}`,
        ];
      const via = site.staticRoutes.find((each) => each.at === at)?.via;
      return target.kind === 'line' && via
        ? [
            `# ${says}`,
            `ip route replace ${formatPrefix(prefix)} via ${formatAddress(via)} dev ${names.line(target.line)}`,
          ]
        : [];
    }),
    '',
  ].join('\n');
}

/** A default route for each line in a table of its own, and the rules that choose a table (ip-rule(8)). */
export function routesScript(site: Site, names: Interfaces): string {
  const families = [...new Set(site.lines.map(familyOf))];
  const staticDefault = site.staticRoutes.some(({ prefix }) => prefix?.length === 0);
  const perFamily = (text: (family: string) => readonly string[]): string[] => families.flatMap(text);
  return [
    '#!/bin/sh',
    '# Which line carries what. Usage: routes.sh [LINE ...], naming the lines that are down, such as: routes.sh wan1',
    '# Run it at start and at every change of a line. Connections that came in over a line that is gone are forgotten here;',
    '# those that went out are forgotten by masquerade when its link goes.',
    'set -eu',
    'down=" $* "',
    'is_up() { case "$down" in *" $1 "*) return 1 ;; esac; return 0; }',
    '# The first of these lines that is up, or nothing.',
    'first_up() { for line in "$@"; do if is_up "$line"; then echo "$line"; return; fi; done; }',
    'table_of() { case "$1" in',
    ...site.lines.map((line) => `  ${names.line(line)}) echo ${names.table(line)} ;;`),
    'esac; }',
    '',
    '# Rules of an earlier run.',
    ...perFamily((family) => [
      `for pref in $(ip ${family} rule show | sed -n 's/^\\(1[0-9][0-9][0-9][0-9]\\):.*/\\1/p'); do ip ${family} rule del pref "$pref"; done`,
    ]),
    '',
    '# What is connected, and static routes, before any default route.',
    ...perFamily((family) => [
      `ip ${family} rule add pref 10000 lookup main${staticDefault ? '' : ' suppress_prefixlength 0'}`,
    ]),
    ...site.lines.flatMap((line) => {
      const name = names.line(line);
      const table = names.table(line);
      const family = familyOf(line);
      const { gateway } = line;
      const via = !line.gatewayUsable
        ? undefined
        : gateway && gateway.family === line.address.family
          ? `via ${formatAddress(gateway)} dev ${name} onlink`
          : `dev ${name}`;
      return [
        '',
        `# ${line.name}`,
        `ip ${family} route flush table ${table} 2>/dev/null || true`,
        `if is_up ${name}; then`,
        // A gateway that is no other host takes nothing, and nothing may slip to another line.
        `  ip ${family} route add ${via ? `default ${via}` : 'blackhole default'} table ${table}`,
        `  ip ${family} rule add pref ${10_000 + table} fwmark ${table} lookup ${table}`,
        'fi',
      ];
    }),
    ...site.failover.rules.flatMap((rule, index) => {
      const mark = 2 * firstTable + index + 1;
      const order = rule.lines.map(names.line).join(' ');
      return [
        '',
        `# ${rule.says}`,
        `line=$(first_up ${order})`,
        ...perFamily((family) => [
          `if [ -n "$line" ]; then ip ${family} rule add pref ${12_000 + index} fwmark ${mark} lookup "$(table_of "$line")"`,
          `else ip ${family} rule add pref ${12_000 + index} fwmark ${mark} prohibit; fi`,
        ]),
      ];
    }),
    '',
    '# Everything else leaves by the first line that is up.',
    `line=$(first_up ${site.lines
      .filter((line) => line.defaultRoute)
      .map(names.line)
      .join(' ')})`,
    ...perFamily((family) => [
      `if [ -n "$line" ]; then ip ${family} rule add pref 19000 lookup "$(table_of "$line")"; fi`,
    ]),
    'if command -v conntrack >/dev/null; then',
    '  for line in $down; do conntrack -D -m "$(table_of "$line")" >/dev/null 2>&1 || true; done',
    'fi',
    '',
  ].join('\n');
}

/** What the kernel has to be told (ip-sysctl). The source check is the ruleset's own: it knows lines and tunnels. */
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
