import { formatAddress } from '../net/address.ts';
import { isLine } from '../text.ts';
import { mustNotReach, mustReach } from '../path/must-not.ts';
import type { Network, Site } from '../site/model.ts';
import { pingWorked } from '../worked/packets.ts';

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

/** Text that a shell takes as it is: nothing of it can end a quotation or begin a command. */
const plainText = (text: string): boolean => isLine(text) && /^[\w.:/?=&%~+-]+$/.test(text);

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
  const { outsideUrl, throughputHost } = site.visit;
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
    ...(plainText(outsideUrl) ? [{ kind: 'outside' as const, url: outsideUrl }] : []),
    ...(plainText(throughputHost)
      ? [true, false].map((down) => ({ kind: 'rate' as const, host: throughputHost, down }))
      : []),
  ];
}

/** What is tried from a truly other network: each port that the site opens. */
export function probesFromOutside(site: Site): Probe[] {
  const { outsideUrl } = site.visit;
  return [
    { kind: 'listing' },
    ...(plainText(outsideUrl) ? [{ kind: 'outside' as const, url: outsideUrl }] : []),
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

/** A ping a second with the clock in front, for as many seconds as stand behind the name of the script. */
const timedPings: Record<Desktop, (to: string) => string> = {
  linux: (to) => `[ -n "$1" ] && ping -D -O -c "$1" ${to}`,
  macos: (to) => `[ -n "$1" ] && ping --apple-time -c "$1" ${to}`,
  windows: (to) =>
    `if ($seconds -gt 0) { ping -n $seconds ${to} | ForEach-Object { "$(Get-Date -Format o) $_" } }`,
};

/** Marks the lines that a script prints itself. */
export const mark = '@@';

const unix =
  (mac: boolean) =>
  (probe: Probe): string => {
    switch (probe.kind) {
      case 'listing':
        return mac ? 'ifconfig' : 'ip addr show 2>/dev/null || ifconfig';
      case 'routes':
        return mac ? 'netstat -rn -f inet' : 'ip route show 2>/dev/null || netstat -rn';
      case 'resolvers':
        return mac ? 'scutil --dns' : 'cat /etc/resolv.conf';
      case 'neighbours':
        return mac ? 'arp -an' : 'ip neigh show 2>/dev/null || arp -an';
      case 'name':
        return `nslookup ${probe.of} >/dev/null 2>&1 && say found || say nothing`;
      case 'page':
        return `curl -s -o /dev/null -m 10 -w '%{http_code}\\n' ${probe.of} || say nothing`;
      case 'ping':
        return `ping -c 4 ${probe.to}`;
      case 'trace':
        return `traceroute -n -m 6 -q 1 ${probe.to}`;
      case 'size':
        return `ping ${mac ? '-D' : '-M do'} -s ${probe.bytes} -c 2 ${probe.to} >/dev/null 2>&1 && say passed || say nothing`;
      case 'port':
        return `nc -z ${mac ? '-G 3' : '-w 3'} ${probe.to} ${probe.port} >/dev/null 2>&1 && say answered || say nothing`;
      case 'outside':
        return `curl -s -m 10 '${probe.url}'; echo`;
      case 'rate':
        return `iperf3 --json -c ${probe.host}${probe.down ? ' -R' : ''}`;
    }
  };

function windows(probe: Probe): string {
  switch (probe.kind) {
    case 'listing':
      return 'ipconfig /all';
    case 'routes':
      return 'route print -4';
    case 'resolvers':
      return 'Get-DnsClientServerAddress -AddressFamily IPv4 | ForEach-Object { $_.ServerAddresses }';
    case 'neighbours':
      return 'arp -a';
    case 'name':
      return `if (Resolve-DnsName ${probe.of} -ErrorAction SilentlyContinue) { say found } else { say nothing }`;
    case 'page':
      return `try { (Invoke-WebRequest ${probe.of} -UseBasicParsing -TimeoutSec 10).StatusCode } catch { say nothing }`;
    case 'ping':
      return `ping -n 4 ${probe.to}`;
    case 'trace':
      return `tracert -d -h 6 -w 1000 ${probe.to}`;
    case 'size':
      return `if (ping -f -l ${probe.bytes} -n 2 ${probe.to} | Select-String 'TTL=') { say passed } else { say nothing }`;
    case 'port':
      return `$c = New-Object Net.Sockets.TcpClient; if ($c.ConnectAsync('${probe.to}', ${probe.port}).Wait(3000) -and $c.Connected) { say answered } else { say nothing }; $c.Dispose()`;
    case 'outside':
      return `try { (Invoke-WebRequest '${probe.url}' -UseBasicParsing -TimeoutSec 10).Content } catch { say nothing }`;
    case 'rate':
      return `iperf3 --json -c ${probe.host}${probe.down ? ' -R' : ''}`;
  }
}

/** Names may hold anything; a comment of a script holds one line of harmless characters. */
const comment = (text: string): string => text.replace(/[^\p{L}\p{N} .,:()-]/gu, ' ').slice(0, 80);

/**
 * One short script of general commands. It only looks, and changes nothing. What it prints is pasted as a whole:
 * each part begins with a line of its own.
 */
export function writeScript(site: Site, desktop: Desktop, from: Network | 'outside'): string {
  const name = from === 'outside' ? 'outside' : from.id;
  const title = `${from === 'outside' ? 'From a truly other network' : from.name}, ${site.about.name}`;
  const probes = from === 'outside' ? probesFromOutside(site) : probesFrom(site, from);
  const say = desktop === 'windows' ? windows : unix(desktop === 'macos');
  const heading = (text: string): string => `say '${mark} ${text}'`;
  const far = from === 'outside' ? undefined : farHost(site);
  const parts = [
    ...probes.flatMap((probe) => [heading(headingOf(probe)), say(probe)]),
    ...(far === undefined ? [] : [heading('pings'), timedPings[desktop](far)]),
  ];
  const intro = [
    `# ${comment(title)}. Read it before you run it: it only looks, and changes nothing.`,
    '# Paste everything that it prints, from its first line to its last.',
    ...(far === undefined
      ? []
      : ['# To time a change of lines: a number of seconds behind its name, then pull the line.']),
  ];
  const whole =
    desktop === 'windows'
      ? [
          ...intro,
          'param([int]$seconds = 0)',
          'function say { param($t) Write-Output $t }',
          heading(`begin ${name}`),
          'say (Get-Date).ToUniversalTime().ToString("yyyy-MM-ddTHH:mm:ssZ")',
          ...parts,
          heading('end'),
        ]
      : [
          '#!/bin/sh',
          ...intro,
          'say() { printf \'%s\\n\' "$*"; }',
          heading(`begin ${name}`),
          'date -u +%Y-%m-%dT%H:%M:%SZ',
          ...parts,
          heading('end'),
        ];
  return `${whole.join('\n')}\n`;
}
