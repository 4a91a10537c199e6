import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import { follow } from '../path/follow.ts';
import { sampleHost } from '../path/query.ts';
import { admittedSource } from '../../site/allowed.ts';
import { createRouter, type Router } from '../../behaviour/router/router.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { valueOf } from '../../base/result.ts';
import { pingHeaderBytes } from '../../base/worked/packets.ts';
import { headingOf, mark, probesFrom, probesFromOutside, type Probe } from './script.ts';

/** A laptop on a simulated site: where it hangs, which lines are pulled, and what is wrong. */
export interface Laptop {
  readonly on: Network | 'outside';
  /** Ids of lines that are down. */
  readonly down?: readonly string[];
  /** Seconds without an answer in a row of pings that runs meanwhile. */
  readonly gapSeconds?: number;
  /** Address from which the laptop asks when it is outside; an allowed source of the first forward without it. */
  readonly source?: string;
  /** What is entered on the routers: another site than the plan, where something was entered wrongly. */
  readonly built?: Site;
  /** ISO 8601. */
  readonly clock?: string;
}

/** Prints what the script of a network would print on the simulated site; the same laptop, the same text. */
export function answerScript(site: Site, laptop: Laptop): string {
  const built = laptop.built ?? site;
  const { on, down = [] } = laptop;
  const gone = new Set(down);
  const router = createRouter(built, gone);
  const line = built.lines.find(({ id }) => !gone.has(id));
  const network = on === 'outside' ? undefined : built.networks.find(({ id }) => id === on.id);
  const own =
    on === 'outside'
      ? (valueOf(parseAddress(laptop.source ?? '')) ??
        (built.forwards[0] && admittedSource(built.forwards[0].allowed, built.outsider)) ??
        built.outsider)
      : network && sampleHost(built, network);
  const far: Far = { site: built, network, own, line, router, down: gone };
  const probes = on === 'outside' ? probesFromOutside(site) : probesFrom(site, on);
  const parts = probes.flatMap((probe) => [`${mark} ${headingOf(probe)}`, ...answer(far, probe)]);
  return [
    `${mark} begin ${on === 'outside' ? 'outside' : on.id}`,
    laptop.clock ?? '2026-03-02T10:00:00Z',
    ...parts,
    ...(laptop.gapSeconds === undefined ? [] : [`${mark} pings`, ...pings(laptop.gapSeconds)]),
    `${mark} end`,
    '',
  ].join('\n');
}

interface Far {
  readonly site: Site;
  readonly network: Network | undefined;
  readonly own: Address | undefined;
  readonly line: Line | undefined;
  readonly router: Router;
  readonly down: ReadonlySet<string>;
}

const says = (yes: boolean, word: string): string[] => [yes ? word : 'nothing'];

function answer(far: Far, probe: Probe): string[] {
  const { network, own, line } = far;
  const seen = own && network && line ? (line.publicAddressKnown ? line.publicAddress : undefined) : own;
  switch (probe.kind) {
    case 'listing':
      return own
        ? [
            '2: eth0: <BROADCAST,MULTICAST,UP,LOWER_UP> mtu 1500 qdisc fq_codel state UP',
            `    inet ${formatAddress(own)}/${network?.prefix?.length ?? 24} brd 255.255.255.255 scope global dynamic eth0`,
          ]
        : [];
    case 'routes':
      return network?.routerAddress
        ? [`default via ${formatAddress(network.routerAddress)} dev eth0 proto dhcp`]
        : [];
    case 'resolvers':
      return (network?.resolvers ?? []).map((host) => `nameserver ${formatAddress(host)}`);
    case 'neighbours':
      return [];
    case 'name':
      return says(reaches(far, far.site.outsider, 443), 'found');
    case 'page':
      return [reaches(far, far.site.outsider, 443) ? '200' : 'nothing'];
    case 'ping': {
      const host = valueOf(parseAddress(probe.to));
      const got = host && reaches(far, host, undefined) ? 4 : 0;
      return [
        `PING ${probe.to} (${probe.to}) 56(84) bytes of data.`,
        `--- ${probe.to} ping statistics ---`,
        `4 packets transmitted, ${got} received, ${got === 4 ? 0 : 100}% packet loss, time 3004ms`,
        ...(got > 0 ? ['rtt min/avg/max/mdev = 11.8/12.4/13.1/0.4 ms'] : []),
      ];
    }
    case 'trace':
      return line
        ? [
            `traceroute to ${probe.to} (${probe.to}), 6 hops max, 60 byte packets`,
            ` 1  ${network?.routerAddress ? formatAddress(network.routerAddress) : '*'}  0.4 ms`,
            ` 2  ${line.gateway ? formatAddress(line.gateway) : '*'}  3.1 ms`,
            ` 3  ${probe.to}  9.8 ms`,
          ]
        : [];
    case 'size':
      return says(line !== undefined && probe.bytes + pingHeaderBytes <= line.mtuBytes, 'passed');
    case 'port': {
      const host = valueOf(parseAddress(probe.to));
      return says(host !== undefined && reaches(far, host, probe.port), 'answered');
    }
    case 'outside':
      return seen ? [formatAddress(seen)] : ['nothing'];
    case 'rate': {
      const mbps = (probe.down ? line?.rateDownMbps : line?.rateUpMbps) ?? 0;
      return [
        JSON.stringify({
          start: { test_start: { reverse: probe.down ? 1 : 0 } },
          end: { sum_received: { bits_per_second: mbps * 0.93e6 } },
        }),
      ];
    }
  }
}

/** Whether a packet gets there and something there answers: a registered service, the router, or anybody outside. */
function reaches(
  { site, network, own, line, router, down }: Far,
  to: Address,
  port: number | undefined,
): boolean {
  if (!own) return false;
  const trace = follow(
    site,
    {
      origin: network
        ? { kind: 'inside', network, name: network.name }
        : { kind: 'outside', name: formatAddress(own), line },
      header: {
        protocol: port === undefined ? 'icmp' : 'tcp',
        source: own,
        sourcePort: port === undefined ? 0 : 49152,
        destination: to,
        destinationPort: port ?? 0,
        sizeBytes: 60,
      },
      down,
    },
    router,
  );
  return trace.outcome === 'delivered' || trace.outcome === 'hairpin';
}

/** One ping a second with the clock in front, and so many seconds of silence. */
function pings(gapSeconds: number): string[] {
  const start = 1_772_445_600;
  const reply = (second: number): string =>
    `[${start + second}.000000] 64 bytes from 192.0.2.10: icmp_seq=${second + 1} ttl=56 time=12.3 ms`;
  const silence = (second: number): string =>
    `[${start + second}.000000] no answer yet for icmp_seq=${second + 1}`;
  const gap = Math.round(gapSeconds);
  return [
    ...Array.from({ length: 10 }, (_, second) => reply(second)),
    ...Array.from({ length: gap }, (_, second) => silence(10 + second)),
    ...Array.from({ length: 10 }, (_, second) => reply(10 + gap + second)),
  ];
}
