import { formatAddress } from '../../base/net/address.ts';
import {
  powershell,
  powershellRemark,
  shell,
  shellRemark,
  type Code,
  type Template,
} from '../../base/encode/index.ts';
import { parsePage, parseServer } from '../../base/net/identifiers.ts';
import { valueOf } from '../../base/result.ts';
import { mustNotReach, mustReach } from '../path/must-not.ts';
import type { Network, Site } from '../../site/model.ts';
import { pingWorked } from '../../base/worked/packets.ts';

/** Kinds of desktop that a script is written for. */
export const desktops = { linux: 'Linux', macos: 'macOS', windows: 'Windows, in PowerShell' } as const;
export type Desktop = keyof typeof desktops;

/** One thing that a script does. A new one is a kind here and a line in each of the three ways to say it. */
export type Probe =
  | { readonly kind: 'listing' | 'routes' | 'resolvers' | 'neighbours' }
  | { readonly kind: 'name' | 'page'; readonly of: string }
  | { readonly kind: 'ping' | 'trace'; readonly to: string }
  | { readonly kind: 'size'; readonly to: string; readonly bytes: number }
  | { readonly kind: 'port'; readonly to: string; readonly port: number }
  | { readonly kind: 'outside'; readonly url: string }
  | { readonly kind: 'rate'; readonly host: string; readonly down: boolean };

/** Reserved for examples, and there for everybody (RFC 2606 section 3). */
const commonName = 'example.com';

/** Host beyond the provider that scripts ask: a target of the plan, or none. */
export function farHost(site: Site): string | undefined {
  const target = site.failover.watches
    .flatMap(({ targets }) => targets)
    .find(({ reach, host }) => reach === 'beyond' && host);
  return target?.host && formatAddress(target.host);
}

/** What is tried from a network. */
export function probesFrom(site: Site, network: Network): Probe[] {
  const far = farHost(site);
  const outsideUrl = valueOf(parsePage(site.visit.outsideUrl));
  const throughputHost = valueOf(parseServer(site.visit.throughputHost));
  const sizes = [...new Set(site.lines.map(({ mtuBytes }) => pingWorked(mtuBytes).value))].sort(
    (a, b) => a - b,
  );
  return [
    { kind: 'listing' },
    { kind: 'routes' },
    { kind: 'resolvers' },
    { kind: 'name', of: commonName },
    ...(network.routerAddress ? [{ kind: 'ping' as const, to: formatAddress(network.routerAddress) }] : []),
    ...(far === undefined
      ? []
      : [
          { kind: 'ping' as const, to: far },
          { kind: 'trace' as const, to: far },
          ...sizes.flatMap((bytes) => [
            { kind: 'size' as const, to: far, bytes },
            { kind: 'size' as const, to: far, bytes: bytes + 1 },
          ]),
        ]),
    { kind: 'page', of: `https://${commonName}/` },
    ...[...mustReach(site, network), ...mustNotReach(site, network)].map(({ host, port }) => ({
      kind: 'port' as const,
      to: formatAddress(host),
      port,
    })),
    ...(outsideUrl !== undefined ? [{ kind: 'outside' as const, url: outsideUrl }] : []),
    ...(throughputHost !== undefined
      ? [true, false].map((down) => ({ kind: 'rate' as const, host: throughputHost, down }))
      : []),
  ];
}

/** What is tried from an external network: each port that the site opens. */
export function probesFromOutside(site: Site): Probe[] {
  const outsideUrl = valueOf(parsePage(site.visit.outsideUrl));
  return [
    { kind: 'listing' },
    ...(outsideUrl !== undefined ? [{ kind: 'outside' as const, url: outsideUrl }] : []),
    ...site.forwards.flatMap(({ line, outside, protocol }) =>
      line?.publicAddressKnown && outside && protocol !== 'udp'
        ? [{ kind: 'port' as const, to: formatAddress(line.publicAddress), port: outside.first }]
        : [],
    ),
  ];
}

/** The heading under which a probe prints, by which it is read back. */
export function headingOf(probe: Probe): string {
  switch (probe.kind) {
    case 'name':
    case 'page':
      return `${probe.kind} ${probe.of}`;
    case 'ping':
    case 'trace':
      return `${probe.kind} ${probe.to}`;
    case 'size':
      return `size ${probe.to} ${probe.bytes}`;
    case 'port':
      return `port ${probe.to} ${probe.port}`;
    case 'rate':
      return `rate ${probe.down ? 'down' : 'up'}`;
    default:
      return probe.kind;
  }
}

/** Marks the lines that a script prints itself. */
export const mark = '@@';

/** One kind of desktop: how each probe is said there, and what stands around them. */
interface Speaker<Language extends string> {
  readonly code: Template<Language>;
  readonly remark: (text: string) => Code<Language>;
  readonly probe: (probe: Probe) => Code<Language>;
  /** A ping a second with the clock in front, for as many seconds as stand behind the name of the script. */
  readonly timedPings: (to: string) => Code<Language>;
  readonly first: readonly Code<Language>[];
  readonly begin: readonly Code<Language>[];
  readonly now: Code<Language>;
}

const unix = (mac: boolean): Speaker<'shell'> => ({
  code: shell,
  remark: shellRemark,
  first: [shell`#!/bin/sh`],
  begin: [shell`say() { printf '%s\n' "$*"; }`],
  now: shell`date -u +%Y-%m-%dT%H:%M:%SZ`,
  timedPings: (to) =>
    mac
      ? shell`[ -n "$1" ] && ping --apple-time -c "$1" ${to}`
      : shell`[ -n "$1" ] && ping -D -O -c "$1" ${to}`,
  probe: (probe) => {
    switch (probe.kind) {
      case 'listing':
        return mac ? shell`ifconfig` : shell`ip addr show 2>/dev/null || ifconfig`;
      case 'routes':
        return mac ? shell`netstat -rn -f inet` : shell`ip route show 2>/dev/null || netstat -rn`;
      case 'resolvers':
        return mac ? shell`scutil --dns` : shell`cat /etc/resolv.conf`;
      case 'neighbours':
        return mac ? shell`arp -an` : shell`ip neigh show 2>/dev/null || arp -an`;
      case 'name':
        return shell`nslookup ${probe.of} >/dev/null 2>&1 && say found || say nothing`;
      case 'page':
        return shell`curl -s -o /dev/null -m 10 -w '%{http_code}\n' ${probe.of} || say nothing`;
      case 'ping':
        return shell`ping -c 4 ${probe.to}`;
      case 'trace':
        return shell`traceroute -n -m 6 -q 1 ${probe.to}`;
      case 'size':
        return shell`ping ${mac ? shell`-D` : shell`-M do`} -s ${probe.bytes} -c 2 ${probe.to} >/dev/null 2>&1 && say passed || say nothing`;
      case 'port':
        return shell`nc -z ${mac ? shell`-G 3` : shell`-w 3`} ${probe.to} ${probe.port} >/dev/null 2>&1 && say answered || say nothing`;
      case 'outside':
        return shell`curl -s -m 10 ${probe.url}; echo`;
      case 'rate':
        return shell`iperf3 --json -c ${probe.host}${probe.down ? shell` -R` : shell``}`;
    }
  },
});

const windows: Speaker<'powershell'> = {
  code: powershell,
  remark: powershellRemark,
  first: [],
  begin: [powershell`param([int]$seconds = 0)`, powershell`function say { param($t) Write-Output $t }`],
  now: powershell`say (Get-Date).ToUniversalTime().ToString("yyyy-MM-ddTHH:mm:ssZ")`,
  timedPings: (to) =>
    powershell`if ($seconds -gt 0) { ping -n $seconds ${to} | ForEach-Object { "$(Get-Date -Format o) $_" } }`,
  probe: (probe) => {
    switch (probe.kind) {
      case 'listing':
        return powershell`ipconfig /all`;
      case 'routes':
        return powershell`route print -4`;
      case 'resolvers':
        return powershell`Get-DnsClientServerAddress -AddressFamily IPv4 | ForEach-Object { $_.ServerAddresses }`;
      case 'neighbours':
        return powershell`arp -a`;
      case 'name':
        return powershell`if (Resolve-DnsName ${probe.of} -ErrorAction SilentlyContinue) { say found } else { say nothing }`;
      case 'page':
        return powershell`try { (Invoke-WebRequest ${probe.of} -UseBasicParsing -TimeoutSec 10).StatusCode } catch { say nothing }`;
      case 'ping':
        return powershell`ping -n 4 ${probe.to}`;
      case 'trace':
        return powershell`tracert -d -h 6 -w 1000 ${probe.to}`;
      case 'size':
        return powershell`if (ping -f -l ${probe.bytes} -n 2 ${probe.to} | Select-String 'TTL=') { say passed } else { say nothing }`;
      case 'port':
        return powershell`$h = ${probe.to}; $c = New-Object Net.Sockets.TcpClient; if ($c.ConnectAsync("$h", ${probe.port}).Wait(3000) -and $c.Connected) { say answered } else { say nothing }; $c.Dispose()`;
      case 'outside':
        return powershell`try { (Invoke-WebRequest ${probe.url} -UseBasicParsing -TimeoutSec 10).Content } catch { say nothing }`;
      case 'rate':
        return powershell`iperf3 --json -c ${probe.host}${probe.down ? powershell` -R` : powershell``}`;
    }
  },
};

/**
 * One short script of general commands. It only looks, and changes nothing. What it prints is pasted as a whole:
 * each part begins with a line of its own.
 */
export function writeScript(site: Site, desktop: Desktop, from: Network | 'outside'): string {
  return desktop === 'windows'
    ? scriptIn(windows, site, from).text
    : scriptIn(unix(desktop === 'macos'), site, from).text;
}

function scriptIn<Language extends string>(
  { code, remark, probe, timedPings, first, begin, now }: Speaker<Language>,
  site: Site,
  from: Network | 'outside',
): Code<Language> {
  const title = `${from === 'outside' ? 'From an external network' : from.name}, ${site.about.name}`;
  const probes = from === 'outside' ? probesFromOutside(site) : probesFrom(site, from);
  // In quotes of its own whatever it holds: it is printed as it is, and read back.
  const heading = (text: string): Code<Language> => code`say ${`${mark} ${text}`}`;
  const far = from === 'outside' ? undefined : farHost(site);
  return code.lines(
    first,
    remark(`${title.slice(0, 80)}. Read it before you run it: it only looks, and changes nothing.`),
    remark('Paste everything that it prints, from its first line to its last.'),
    far === undefined
      ? []
      : [remark('To time a change of lines: a number of seconds behind its name, then pull the line.')],
    begin,
    heading(`begin ${from === 'outside' ? 'outside' : from.id}`),
    now,
    probes.flatMap((each) => [heading(headingOf(each)), probe(each)]),
    far === undefined ? [] : [heading('pings'), timedPings(far)],
    heading('end'),
    code``,
  );
}
