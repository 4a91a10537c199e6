import { shell, shellRemark, type Code } from '../../../base/encode/index.ts';
import type { Site } from '../../../site/model.ts';
import { hasTunnel, isAddressEntered, type Interfaces } from './interfaces.ts';
import { ownProtocol } from './routes.ts';
import { units } from './services.ts';

/** What a line has got: its address and its next hop. Called by whatever brings the line up. */
export function lineScript(site: Site, names: Interfaces): Code<'shell'> {
  return shell.lines(
    shell`#!/bin/sh`,
    shellRemark(
      'Tells the router what a line has got. Usage: line.sh up LINE ADDRESS [NEXTHOP], or: line.sh down LINE',
    ),
    shellRemark('hooks/ has a script for udhcpc, dhclient and pppd each that calls it.'),
    shell`set -eu`,
    shell`state=\${NETTER_STATE:-/run/netter}; here=$(cd "$(dirname "$0")" && pwd)`,
    shell`mkdir -p "$state"`,
    shell`line=$2`,
    shell`case "$line" in`,
    site.lines.map(
      (line) => shell`  ${names.line(line)}) family=${line.address.family === 6 ? 'ipv6' : 'ipv4'} ;;`,
    ),
    shell`  *) echo "no line is called $line" >&2; exit 2 ;;`,
    shell`esac`,
    shell`if [ "$1" = up ]; then`,
    shell`  address=\${3%%/*}`,
    shellRemark('In one step: the forwards at this address never stand without one.'),
    shell`  nft -f - <<RULES`,
    shell`flush set inet netter \${line}_address`,
    shell`add element inet netter \${line}_address { $address }`,
    shell`RULES`,
    shell`  echo "$address" > "$state/$line.address"`,
    shell`  if [ -n "\${4:-}" ]; then echo "$4" > "$state/$line.gateway"; fi`,
    shell`  rm -f "$state/$line.down"`,
    shell`else`,
    shell`  rm -f "$state/$line.gateway"; : > "$state/$line.down"`,
    shell`fi`,
    shellRemark('Read by netter.nft, so that loading the rules again keeps the addresses.'),
    shell`{ for file in "$state"/*.address; do`,
    shell`  [ -e "$file" ] || continue; name=$(basename "$file" .address)`,
    shell`  echo "flush set inet netter \${name}_address"`,
    shell`  echo "add element inet netter \${name}_address { $(cat "$file") }"`,
    shell`done; } > "$state/addresses.nft.new"; mv "$state/addresses.nft.new" "$state/addresses.nft"`,
    shell`exec sh "$here/routes.sh"`,
    shell``,
  );
}

const toLines = (site: Site, names: Interfaces): Code<'shell'> =>
  shell.joined([...site.lines.map(names.line)], '|');

/** Hooks of the programs that bring lines up (udhcpc in busybox, dhclient-script(8), pppd(8)). */
export function hooks(site: Site, names: Interfaces): ReadonlyMap<string, Code<'shell'>> {
  if (site.lines.length === 0) return new Map();
  const only = shell`${toLines(site, names)}`;
  const line = shell`sh /etc/netter/line.sh`;
  return new Map([
    [
      'hooks/udhcpc',
      shell.lines(
        shell`#!/bin/sh`,
        shellRemark('udhcpc -i wan1 -s /etc/netter/hooks/udhcpc'),
        shell`case "$interface" in ${only}) ;; *) exit 0 ;; esac`,
        shell`case "$1" in`,
        shell`  bound|renew) ip addr replace "$ip/$mask" dev "$interface"; ${line} up "$interface" "$ip" "\${router%% *}" ;;`,
        shell`  deconfig|leasefail|nak) ip addr flush dev "$interface" scope global; ${line} down "$interface" ;;`,
        shell`esac`,
        shell``,
      ),
    ],
    [
      'hooks/dhclient',
      shell.lines(
        shell`#!/bin/sh`,
        shellRemark('Copy to /etc/dhcp/dhclient-exit-hooks.d/netter'),
        shell`case "\${interface:-}" in ${only})`,
        shell`  case "$reason" in`,
        shell`    BOUND|RENEW|REBIND|REBOOT) ${line} up "$interface" "$new_ip_address" "\${new_routers%% *}" ;;`,
        shell`    EXPIRE|FAIL|RELEASE|STOP) ${line} down "$interface" ;;`,
        shell`  esac ;;`,
        shell`esac`,
        shell``,
      ),
    ],
    [
      'hooks/ppp',
      shell.lines(
        shell`#!/bin/sh`,
        shellRemark(
          'Copy to /etc/ppp/ip-up.d/netter and to /etc/ppp/ip-down.d/netter; give pppd the option ifname wan1.',
        ),
        shell`case "\${PPP_IFACE:-}" in ${only}) ;; *) exit 0 ;; esac`,
        shell`case "$0" in`,
        shell`  *ip-down*) ${line} down "$PPP_IFACE" ;;`,
        shell`  *) ${line} up "$PPP_IFACE" "$PPP_LOCAL" ;;`,
        shell`esac`,
        shell``,
      ),
    ],
  ]);
}

/** One command for all: tried for some minutes, kept, taken back, at every start, and gone again without a trace. */
export function controlScript(site: Site, names: Interfaces): Code<'shell'> {
  const tunnels = hasTunnel(site) ? [names.tunnel] : [];
  const unitNames = shell.joined([...units(site).keys()], ' ');
  const fixed = site.lines.filter(isAddressEntered).map(names.line);
  const addressed = shell.joined([...names.networks, ...fixed, ...tunnels], ' ');
  const set = shell.joined([...names.networks, ...site.lines.map(names.line), ...tunnels], ' ');
  const shared = site.vpn.peers.flatMap(({ preshared, publicKey, revoked }) =>
    preshared === '' || publicKey.trim() === '' || revoked ? [] : [[publicKey.trim(), preshared] as const],
  );
  return shell.lines(
    shell`#!/bin/sh`,
    shellRemark('netter.sh check | apply [MINUTES] | confirm | revert | watch | install | remove'),
    shellRemark(
      'apply 5: puts the files to work, and takes them back after five minutes unless netter.sh confirm is run before.',
    ),
    shell`set -eu`,
    shell`state=\${NETTER_STATE:-/run/netter}; here=$(cd "$(dirname "$0")" && pwd)`,
    shell`mkdir -p "$state"`,
    shell`rules() { ip "$1" rule show | sed -n 's/ proto ${ownProtocol} *$//p' | sed 's/:[[:space:]]*/ /'; }`,
    shell`drop_rules() { rules "$1" | while read -r pref text; do ip "$1" rule del pref "$pref" $text protocol ${ownProtocol}; done; }`,
    shell`check() {`,
    shell`  (cd "$here" && nft -c -f netter.nft)`,
    shell`  for file in "$here"/*.sh; do sh -n "$file"; done`,
    shell`  ! command -v dnsmasq >/dev/null || dnsmasq --test --conf-file="$here/dnsmasq.conf"`,
    shell`}`,
    shell`tunnel() {`,
    shell`  if ! ip link show "$1" >/dev/null 2>&1; then`,
    shell`    ip link add "$1" type wireguard 2>/dev/null || wireguard-go "$1" || return 1`,
    shell`    echo "made $1" | tee -a "$state/interfaces" >> "$state/interfaces.new"`,
    shell`  fi`,
    shell`  wg syncconf "$1" "$here/$1.conf"`,
    shell`  [ ! -r "$here/secrets/$1.key" ] || wg set "$1" private-key "$here/secrets/$1.key"`,
    shared.map(
      ([key, name]) =>
        shell`  [ ! -r "$here/secrets/"${name}.psk ] || wg set "$1" peer ${key} preshared-key "$here/secrets/"${name}.psk`,
    ),
    shell`}`,
    shell`start() {`,
    shell`  sysctl -q -p "$here/sysctl.conf"`,
    shell`  sh "$here/interfaces.sh" || echo 'some interfaces could not be made: the lines above say which' >&2`,
    shell`  (cd "$here" && nft -f netter.nft)`,
    tunnels.map(
      (name) =>
        shell`  if command -v wg >/dev/null; then tunnel ${name} || echo "tunnel ${name} is not up" >&2; fi`,
    ),
    shell`  sh "$here/addresses.sh" || echo 'some interfaces are not there yet: run netter.sh apply again once they are' >&2`,
    shell`  sh "$here/routes.sh"`,
    shell`}`,
    shellRemark('Addresses of what addresses.sh gives one to.'),
    shell`addresses() { for name in ${addressed}; do ip -o addr show dev "$name" scope global 2>/dev/null | awk '{ print $2, $4 }'; done; }`,
    shellRemark('Routes of these files in every table, as they can be entered again.'),
    shell`routes() { ip "$1" route show table all proto ${ownProtocol} | sed 's/ linkdown//; s/ dead//'; }`,
    shellRemark('What the kernel and the interfaces are set to: a file, and its value.'),
    shell`settings() {`,
    shell`  { sed -n 's/^\\(net[^ ]*\\) *=.*/\\1/p' "$here/sysctl.conf" | tr . / | sed 's|^|/proc/sys/|'`,
    shell`    for name in ${set}; do echo "/sys/class/net/$name/mtu"; echo "/proc/sys/net/ipv4/conf/$name/rp_filter"; done`,
    shell`  } | while read -r file; do [ ! -r "$file" ] || echo "$file $(cat "$file")"; done`,
    shell`}`,
    shellRemark('The state before a change, to go back to: all or nothing.'),
    shell`remember() {`,
    shell`  rm -rf "$state/before.new"; mkdir -m 700 "$state/before.new"`,
    shell`  nft list table inet netter > "$state/before.new/rules.nft" 2>/dev/null || : > "$state/before.new/rules.nft"`,
    shell`  for family in -4 -6; do`,
    shell`    rules "$family" > "$state/before.new/rules$family"`,
    shell`    routes "$family" > "$state/before.new/routes$family"`,
    shell`  done`,
    shell`  addresses > "$state/before.new/addresses"`,
    shell`  settings > "$state/before.new/settings"`,
    tunnels.map(
      (name) =>
        shell`  wg showconf ${name} > "$state/before.new/${name}.conf" 2>/dev/null || rm -f "$state/before.new/${name}.conf"`,
    ),
    shell`  rm -rf "$state/before"; mv "$state/before.new" "$state/before"`,
    shell`  : > "$state/interfaces.new"`,
    shell`}`,
    shellRemark('Takes away the interfaces that a list names, and gives ports their names back.'),
    shell`unmake() {`,
    shell`  [ -e "$1" ] || return 0`,
    shell`  while read -r what name new; do`,
    shell`    case "$what" in`,
    shell`      made) ip link del dev "$name" 2>/dev/null || true ;;`,
    shell`      renamed) ip link set dev "$new" name "$name" 2>/dev/null || { ip link set dev "$new" down; ip link set dev "$new" name "$name"; ip link set dev "$name" up; } || true ;;`,
    shell`    esac`,
    shell`  done < "$1"`,
    shell`}`,
    shell`revert() {`,
    shell`  before=$state/before`,
    shell`  [ -d "$before" ] || { echo 'Nothing was applied since the machine started: there is nothing to take back.' >&2; exit 1; }`,
    shell`  rm -f "$state/unconfirmed"`,
    shell`  addresses | while read -r name address; do`,
    shell`    grep -qxF "$name $address" "$before/addresses" || ip addr del "$address" dev "$name" || true`,
    shell`  done`,
    shell`  for family in -4 -6; do`,
    shell`    routes "$family" | while read -r route; do`,
    shell`      grep -qxF "$route" "$before/routes$family" || ip "$family" route del $route proto ${ownProtocol} || true`,
    shell`    done`,
    shell`  done`,
    tunnels.map(
      (name) => shell`  [ ! -e "$before/${name}.conf" ] || wg setconf ${name} "$before/${name}.conf" || true`,
    ),
    shell`  unmake "$state/interfaces.new"`,
    shell`  { echo 'table inet netter'; echo 'delete table inet netter'; cat "$before/rules.nft"; } | nft -f -`,
    shell`  while read -r name address; do ip addr replace "$address" dev "$name" || true; done < "$before/addresses"`,
    shell`  for family in -4 -6; do`,
    shell`    while read -r route; do ip "$family" route replace $route proto ${ownProtocol} || true; done < "$before/routes$family"`,
    shell`    drop_rules "$family"`,
    shell`    while read -r pref text; do ip "$family" rule add pref "$pref" $text protocol ${ownProtocol}; done < "$before/rules$family"`,
    shell`  done`,
    shell`  while read -r file value; do [ ! -w "$file" ] || echo "$value" > "$file" || true; done < "$before/settings"`,
    shell`}`,
    shell`case "\${1:-}" in`,
    shell`  check) check ;;`,
    shell`  apply)`,
    shell`    rm -f "$state/removed"; check`,
    shellRemark('What was never confirmed is nothing to go back to.'),
    shell`    [ -e "$state/unconfirmed" ] || remember`,
    shell`    if [ -n "\${2:-}" ]; then`,
    shell`      run=$$.$(date +%s); echo "$run" > "$state/unconfirmed"`,
    shell`      seconds=$(( $2 * \${NETTER_MINUTE:-60} ))`,
    shellRemark(
      'On its own, so that a session that breaks off does not take it along; a later run has a clock of its own.',
    ),
    shell`      setsid sh -c "sleep $seconds; [ \\"\\$(cat '$state/unconfirmed' 2>/dev/null)\\" != '$run' ] || sh '$here/netter.sh' revert" </dev/null >/dev/null 2>&1 &`,
    shell`      echo "Goes back automatically in $2 minutes. To keep it: sh $here/netter.sh confirm"`,
    shell`    else rm -f "$state/unconfirmed"; fi`,
    shell`    start ;;`,
    shellRemark('A cable that loses its link announces nothing: the watcher chooses the lines again.'),
    shell`  watch) sh "$here/routes.sh"; ip monitor link | while read -r event; do`,
    shell`    [ -d "$state" ] && [ ! -e "$state/removed" ] || exit 0`,
    shell`    sh "$here/routes.sh"`,
    shell`  done ;;`,
    shell`  confirm) rm -f "$state/unconfirmed"; echo 'Kept.' ;;`,
    shell`  revert) revert; echo 'Taken back.' ;;`,
    shell`  install)`,
    shell`    mkdir -p /etc/netter; cp -R "$here/." /etc/netter/; chmod -R go= /etc/netter`,
    shell`    for unit in ${unitNames}; do cp "/etc/netter/$unit" /etc/systemd/system/; done`,
    shell`    systemctl daemon-reload; systemctl enable ${unitNames} ;;`,
    shell`  remove)`,
    shell`    : > "$state/removed"`,
    shell`    ! command -v systemctl >/dev/null || systemctl disable --now ${unitNames} 2>/dev/null || true`,
    shell`    for unit in ${unitNames}; do rm -f "/etc/systemd/system/$unit"; done`,
    shell`    nft delete table inet netter 2>/dev/null || true`,
    shell`    for family in -4 -6; do drop_rules "$family"; done`,
    [...site.lines.map((line) => names.table(line))].flatMap((table) => [
      shell`    for family in -4 -6; do ip "$family" route flush table ${table} proto ${ownProtocol} 2>/dev/null || true; done`,
    ]),
    shell`    for family in -4 -6; do ip "$family" route flush proto ${ownProtocol} 2>/dev/null || true; done`,
    shell`    addresses | while read -r name address; do ip addr del "$address" dev "$name" 2>/dev/null || true; done`,
    shell`    unmake "$state/interfaces"`,
    shellRemark('Once more: a watcher may have been at work in between.'),
    shell`    sleep 1; for family in -4 -6; do drop_rules "$family"; done`,
    shell`    rm -rf "$state" /etc/netter ;;`,
    shell`  *) sed -n '2,3p' "$0"; exit 2 ;;`,
    shell`esac`,
    shell``,
  );
}
