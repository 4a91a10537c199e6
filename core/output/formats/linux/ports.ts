import { shell, shellRemark, type Code } from '../../../base/encode/index.ts';
import { linkOf, onOneLink } from '../../../site/link.ts';
import type { Line, RouterPort, Site } from '../../../site/model.ts';
import { slug } from '../../../base/text.ts';
import { nextHopOf, type Interfaces } from './interfaces.ts';

/** An interface, the port of the router that carries it, and the VLAN of its frames there; null where they have no tag. */
export interface PortRow {
  readonly name: string;
  readonly port: string;
  readonly vlan: number | null;
}

/** Most characters of an interface name (Linux: IFNAMSIZ less one). */
const longestName = 15;

/** What a port is called in the files: as it is printed, where that can be a name. */
function portName({ name }: Pick<RouterPort, 'name'>): string {
  const plain = slug(name)
    .normalize('NFKD')
    .replace(/[^a-z0-9-]/g, '');
  return (/^[a-z]/.test(plain) ? plain : `port${plain}`).slice(0, longestName - 5);
}

/** The interface on which PPP runs: the session makes one of its own, with the name of the line. */
export const underPpp = (line: Line, names: Interfaces): string => `${names.line(line)}eth`;

/** Which interface is on which port (IEEE 802.1Q): where several ports carry one network, they are bridged. */
export function portRows(site: Site, names: Interfaces): PortRow[] {
  const inside = site.router.ports.filter(({ role }) => role === 'lan');
  const lines = site.lines.map((line): PortRow => {
    const port = site.router.ports.find((each) => each.role === 'wan' && each.line === line);
    return {
      name: nextHopOf(line) === 'ppp' ? underPpp(line, names) : names.line(line),
      port: port ? portName(port) : `port-${names.line(line)}`,
      vlan: line.vlan,
    };
  });
  const links = site.networks.filter((network) => network.prefix && linkOf(site, network) === network);
  const networks = links.flatMap((network): PortRow[] => {
    const name = names.network(network);
    const rows = inside.flatMap((port): PortRow[] => {
      if (port.network && onOneLink(site, port.network, network))
        return [{ name, port: portName(port), vlan: null }];
      return network.vlan === null ? [] : [{ name, port: portName(port), vlan: network.vlan }];
    });
    return rows.length > 0 ? rows : [{ name, port: 'port-lan', vlan: network.vlan }];
  });
  return [...lines, ...networks];
}

/** The same as a file: three words a row. */
export const portsFile = (rows: readonly PortRow[]): Code<'shell'> =>
  shell.lines(
    shellRemark('From the plan: interface, port of the router, VLAN or - for untagged.'),
    shellRemark(
      'What this machine calls its ports goes into ports.local beside this file, which no export writes: port3 enp2s0',
    ),
    rows.map(({ name, port, vlan }) => shell`${name} ${port} ${vlan === null ? shell`-` : vlan}`),
    shell``,
  );

/** Makes the interfaces (ip-link(8)): what is there stays as it is. */
export const interfacesScript = (): Code<'shell'> =>
  shell.lines(
    shell`#!/bin/sh`,
    shellRemark('Makes the interfaces of ports.conf. One that is there already is left alone.'),
    shell`set -u`,
    shell`state=\${NETTER_STATE:-/run/netter}; here=$(cd "$(dirname "$0")" && pwd)`,
    shell`mkdir -p "$state"`,
    shell`failed=0`,
    shell`there() { ip link show dev "$1" >/dev/null 2>&1; }`,
    shellRemark('What is made is noted, so that it can be taken away again.'),
    shell`note() { echo "$*" >> "$state/interfaces"; echo "$*" >> "$state/interfaces.new"; }`,
    shell`rows() { grep -v '^ *#' "$here/ports.conf" | grep .; }`,
    shell`port_of() {`,
    shell`  real=$( [ ! -e "$here/ports.local" ] || sed -n "s/^ *$1  *\\([^ ]*\\).*/\\1/p" "$here/ports.local" | head -n 1)`,
    shell`  real=\${real:-$1}`,
    shellRemark('It may have its new name already.'),
    shell`  new=$( [ ! -e "$state/interfaces" ] || sed -n "s/^renamed $real \\([^ ]*\\)$/\\1/p" "$state/interfaces" | tail -n 1)`,
    shell`  if [ -n "$new" ] && there "$new"; then echo "$new"; else echo "$real"; fi`,
    shell`}`,
    shell`vlan() { there "$2" || { ip link add link "$1" name "$2" type vlan id "$3" && note made "$2"; }; }`,
    shell`rename() { ip link set dev "$1" name "$2" 2>/dev/null || { ip link set dev "$1" down && ip link set dev "$1" name "$2"; }; }`,
    shell`one() {`,
    shell`  name=$1; port=$(port_of "$2"); tag=$3`,
    shell`  count=$(rows | grep -c "^$name ")`,
    shell`  if [ "$count" = 1 ] && there "$name"; then return 0; fi`,
    shell`  there "$port" || { echo "$name: this machine has no port $port; name it in ports.local" >&2; return 1; }`,
    shell`  if [ "$count" = 1 ] && [ "$tag" = - ]; then rename "$port" "$name" && note renamed "$port" "$name" && ip link set dev "$name" up; return; fi`,
    shell`  ip link set dev "$port" up`,
    shell`  if [ "$count" = 1 ]; then vlan "$port" "$name" "$tag" && ip link set dev "$name" up; return; fi`,
    shell`  there "$name" || { ip link add name "$name" type bridge && note made "$name"; } || return 1`,
    shell`  member=$port`,
    shell`  if [ "$tag" != - ]; then member=$port.$tag; vlan "$port" "$member" "$tag" || return 1; fi`,
    shell`  ip link set dev "$member" master "$name" && ip link set dev "$member" up && ip link set dev "$name" up`,
    shell`}`,
    shellRemark('Tagged ones first: they are on a port that may get another name afterwards, and go on.'),
    shell`rows | grep -v ' -$' > "$state/rows"; rows | grep ' -$' >> "$state/rows"`,
    shell`while read -r name port tag; do one "$name" "$port" "$tag" || failed=1; done < "$state/rows"`,
    shell`exit $failed`,
    shell``,
  );
