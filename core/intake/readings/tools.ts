import { gapText, readPings } from './outage.ts';
import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import { parseLength } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import { pastedLines } from '../../base/text.ts';

/** A figure that a general tool printed. */
export type Figure =
  | {
      readonly kind: 'address';
      readonly address: Address;
      readonly length: number | undefined;
      readonly on: string;
    }
  | { readonly kind: 'gateway'; readonly address: Address }
  | {
      readonly kind: 'ping';
      readonly to: string;
      readonly sent: number;
      readonly received: number;
      readonly averageMs: number | undefined;
    }
  | { readonly kind: 'hops'; readonly hops: readonly (Address | undefined)[] }
  | { readonly kind: 'path-mtu'; readonly bytes: number }
  | { readonly kind: 'rate'; readonly direction: 'down' | 'up'; readonly mbps: number };

type Parser = (text: string) => Figure[];

const read = (text: string | undefined): Address | undefined =>
  text === undefined ? undefined : valueOf(parseAddress(text));
const all = (text: string, pattern: RegExp): RegExpMatchArray[] => [...text.matchAll(pattern)];
const loopback = (host: Address): boolean => host.family === 4 && host.value >> 24n === 127n;

/** "inet 10.24.10.5/24 … eth0", "inet 10.24.10.5 netmask 0xffffff00", "IPv4 Address. . . : 10.24.10.5". */
const addresses: Parser = (text) => {
  const found: Figure[] = [];
  let name = '';
  let pending: Address | undefined;
  for (const line of text.split('\n')) {
    const heading = /^(?:\d+:\s*)?([A-Za-z][\w.@ -]*?)[:@]/.exec(line);
    if (heading && !/^\s/.test(line)) name = heading[1]!.trim();
    const unix = /\binet6? (?:addr:)?([0-9a-fA-F.:]+)/.exec(line);
    const after = unix ? line.slice(unix.index + unix[0].length) : '';
    const written = /^(?:%\w+)?\/(\d{1,3})/.exec(after)?.[1];
    const netmask = /(?:netmask|Mask:) ?(0x[0-9a-f]{1,8}|[\d.]{1,15})/.exec(after)?.[1];
    const desktop = /IPv[46] Address[ .]*: ?([0-9a-fA-F.:]+)/.exec(line);
    const host = read(unix?.[1] ?? desktop?.[1]);
    if (host && !loopback(host) && host.value !== 1n) {
      const dotted = netmask?.startsWith('0x')
        ? [24, 16, 8, 0].map((shift) => (Number(netmask) >>> shift) & 255).join('.')
        : netmask;
      const length =
        written !== undefined
          ? Number(written)
          : dotted !== undefined
            ? valueOf(parseLength(dotted))
            : undefined;
      found.push({ kind: 'address', address: host, length, on: name });
      pending = host;
    }
    const mask = /Subnet Mask[ .]*: ?([\d.]+)/.exec(line);
    const last = found.at(-1);
    if (mask && pending && last?.kind === 'address') {
      found[found.length - 1] = { ...last, length: valueOf(parseLength(mask[1]!)) };
      pending = undefined;
    }
  }
  return found;
};

/** "default via 10.24.10.1", "default 10.24.10.1 UGSc", "0.0.0.0 0.0.0.0 10.24.10.1", "Default Gateway . . : 10.24.10.1". */
const gateways: Parser = (text) =>
  text.split('\n').flatMap((line) => {
    const host =
      /(?:default via |^default |^ ?0\.0\.0\.0 (?:0\.0\.0\.0 )?|Default Gateway[ .]*: ?)([0-9a-fA-F.:]+)/.exec(
        line,
      )?.[1];
    const address = read(host);
    return address && address.value !== 0n ? [{ kind: 'gateway' as const, address }] : [];
  });

/** The closing lines of ping on the usual desktop systems. */
const pings: Parser = (text) => {
  const to = /^PING\s+(\S+)|Pinging\s+(\S+)|--- (\S+) ping statistics/m.exec(text);
  const unix = /(?<!\d)(\d{1,9}) packets transmitted, (\d{1,9}) (?:packets )?received/.exec(text);
  const desktop = /Sent = (\d+), Received = (\d+)/.exec(text);
  const counts = unix ?? desktop;
  if (!counts) return [];
  const average =
    /(?:rtt|round-trip) min\/avg\/max\S* = [\d.]+\/([\d.]+)\//.exec(text) ??
    /Average = (\d+)\s*ms/.exec(text);
  return [
    {
      kind: 'ping',
      to: to?.[1] ?? to?.[2] ?? to?.[3] ?? '',
      sent: Number(counts[1]),
      received: Number(counts[2]),
      averageMs: average ? Number(average[1]) : undefined,
    },
  ];
};

/** Hops of a trace: a number, then names, addresses and times, or stars. */
const traces: Parser = (text) => {
  const rows = text.split('\n').flatMap((line) => {
    const rest = /^ ?\d{1,2} (.*)$/.exec(line)?.[1];
    return rest !== undefined && /\bms\b|\*/.test(rest) ? [rest] : [];
  });
  if (rows.length < 2) return [];
  return [
    {
      kind: 'hops',
      hops: rows.map((rest) =>
        read(/\d{1,3}(?:\.\d{1,3}){3}|(?<![0-9a-fA-F:])[0-9a-fA-F]{0,4}:[0-9a-fA-F:]{1,40}/.exec(rest)?.[0]),
      ),
    },
  ];
};

/** "pmtu 1492", "mtu = 1492", "mtu=1492": the last word of a probe counts. */
const pathMtu: Parser = (text) => {
  const last = all(text, /p?mtu ?[=:]? ?(\d{3,5})\b/gi)
    .map(([, bytes]) => Number(bytes))
    .filter((bytes) => bytes >= 576 && bytes <= 9216)
    .at(-1);
  // An address listing names the MTU of each interface; that is no probe.
  return last === undefined || /\bqdisc\b|<[A-Z,]*UP[A-Z,]*>/.test(text)
    ? []
    : [{ kind: 'path-mtu', bytes: last }];
};

interface ThroughputReport {
  readonly start?: { readonly test_start?: { readonly reverse?: number } };
  readonly end?: { readonly sum_received?: { readonly bits_per_second?: number } };
}

/** The JSON that throughput testers write: received bits a second; "reverse" means towards the one who asked. */
const throughput: Parser = (text) => {
  if (!text.trimStart().startsWith('{')) return [];
  try {
    const report = JSON.parse(text) as ThroughputReport;
    const bits = report.end?.sum_received?.bits_per_second;
    if (typeof bits !== 'number' || !Number.isFinite(bits)) return [];
    return [
      {
        kind: 'rate',
        direction: report.start?.test_start?.reverse === 1 ? 'down' : 'up',
        mbps: Math.round(bits / 1e4) / 100,
      },
    ];
  } catch {
    return [];
  }
};

/** The registry of parsers. A new kind of tool is one function and one name here. */
const parsers: readonly Parser[] = [throughput, pings, traces, pathMtu, gateways, addresses];

/** All figures in what was pasted; nothing where nothing is understood. */
export function parseTools(text: string): Figure[] {
  const tidy = pastedLines(text).join('\n');
  return parsers.flatMap((parse) => parse(tidy));
}

/** One figure as it goes into a record. */
export function figureText(figure: Figure): string {
  switch (figure.kind) {
    case 'address':
      return `${figure.on ? `${figure.on}: ` : ''}${formatAddress(figure.address)}${figure.length === undefined ? '' : `/${figure.length}`}`;
    case 'gateway':
      return `gateway ${formatAddress(figure.address)}`;
    case 'ping':
      return `ping ${figure.to}: ${figure.received} of ${figure.sent}${figure.averageMs === undefined ? '' : `, ${figure.averageMs} ms`}`;
    case 'hops':
      return `${figure.hops.length} hops: ${figure.hops.map((host) => (host ? formatAddress(host) : '*')).join(', ')}`;
    case 'path-mtu':
      return `path MTU ${figure.bytes}`;
    case 'rate':
      return `${figure.mbps} Mb/s ${figure.direction}`;
  }
}

/** What goes into the record of a step: the figures in one line, or the text itself where none was found. */
export function readingOf(text: string): string {
  const pings = readPings(text);
  // A few pings are a test; a long row of them is the record of an outage.
  if (pings.ok && pings.value.answered >= 8) return gapText(pings.value);
  const figures = parseTools(text);
  return figures.length === 0
    ? text.replace(/\s+/g, ' ').trim().slice(0, 2000)
    : figures.map(figureText).join('; ').slice(0, 2000);
}
