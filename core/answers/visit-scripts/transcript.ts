import { formatAddress, parseAddress, sameAddress, type Address } from '../../base/net/address.ts';
import { classify } from '../../base/net/classify.ts';
import { addressesIn } from '../../base/net/find.ts';
import { contains, formatPrefix } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import { mustReach } from '../path/must-not.ts';
import { readPings } from '../../intake/readings/outage.ts';
import { parseTools } from '../../intake/readings/tools.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { longestPasted } from '../../base/text.ts';
import { mark } from './script.ts';

/** One try of a port. */
export interface PortTry {
  readonly host: Address;
  readonly port: number;
  readonly answered: boolean;
}

/** What one run of a script, or a heap of pasted listings, says by itself. */
export interface Transcript {
  /** For which network the script was written: its id, or "outside"; empty where no script printed it. */
  readonly writtenFor: string;
  /** ISO 8601, by the laptop's clock. */
  readonly clock: string;
  /** It was pasted to its last line. */
  readonly whole: boolean;
  readonly addresses: readonly { readonly address: Address; readonly length: number | undefined }[];
  readonly gateways: readonly Address[];
  readonly resolvers: readonly Address[];
  readonly names: readonly { readonly name: string; readonly found: boolean }[];
  readonly pages: readonly { readonly page: string; readonly status: string }[];
  readonly pings: readonly { readonly to: string; readonly sent: number; readonly received: number }[];
  /** Average round trip to the farthest host that answered, in milliseconds. */
  readonly delayMs: number | undefined;
  readonly hops: readonly (Address | undefined)[];
  readonly sizes: readonly { readonly bytes: number; readonly passed: boolean }[];
  readonly ports: readonly PortTry[];
  readonly outside: Address | undefined;
  /** Seconds of the longest gap in pings with a clock. */
  readonly gap: number | undefined;
  readonly rates: { readonly down?: number; readonly up?: number };
}

interface Part {
  readonly kind: string;
  readonly rest: readonly string[];
  readonly body: string;
}

/** Cuts a paste at the lines that the script printed itself; without any, it is one part. */
function partsOf(text: string): Part[] {
  const parts: { kind: string; rest: string[]; lines: string[] }[] = [];
  for (const line of text.slice(0, longestPasted).split(/\r?\n/)) {
    const heading = line.startsWith(`${mark} `)
      ? line
          .slice(mark.length + 1)
          .trim()
          .split(/\s+/)
      : undefined;
    if (heading) parts.push({ kind: heading[0]!, rest: heading.slice(1), lines: [] });
    else if (parts.length === 0) parts.push({ kind: '', rest: [], lines: [line] });
    else parts.at(-1)!.lines.push(line);
  }
  return parts.map(({ kind, rest, lines }) => ({ kind, rest, body: lines.join('\n') }));
}

/** Reads what a script printed. Nothing in it can make it fail; what it does not know is left out. */
export function readTranscript(text: string): Transcript {
  const parts = partsOf(text);
  const of = (kind: string): Part[] => parts.filter((part) => part.kind === kind);
  const bodies = (...kinds: string[]): string =>
    kinds.flatMap((kind) => of(kind).map(({ body }) => body)).join('\n');
  const [begin] = of('begin');
  const listing = parseTools(bodies('listing', ''));
  const routes = parseTools(bodies('routes', 'listing', ''));
  const said = (body: string, word: string): boolean =>
    body.split('\n').some((line) => line.trim().toLowerCase() === word);
  const hops = parseTools(bodies('trace', '')).find((figure) => figure.kind === 'hops');
  const pings = of('ping').flatMap(({ rest, body }) =>
    parseTools(body).flatMap((figure) =>
      figure.kind === 'ping'
        ? [
            {
              to: rest[0] ?? figure.to,
              sent: figure.sent,
              received: figure.received,
              averageMs: figure.averageMs,
            },
          ]
        : [],
    ),
  );
  const timed = readPings(bodies('pings', ''));
  const rates = Object.fromEntries(
    of('rate').flatMap(({ rest, body }) =>
      parseTools(body).flatMap((figure) =>
        figure.kind === 'rate' && (rest[0] === 'down' || rest[0] === 'up') ? [[rest[0], figure.mbps]] : [],
      ),
    ),
  );
  return {
    writtenFor: begin?.rest[0] ?? '',
    clock: /\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ/.exec(begin?.body ?? '')?.[0] ?? '',
    whole: of('end').length > 0,
    addresses: listing.flatMap((figure) =>
      figure.kind === 'address' ? [{ address: figure.address, length: figure.length }] : [],
    ),
    gateways: unique(routes.flatMap((figure) => (figure.kind === 'gateway' ? [figure.address] : []))),
    resolvers: unique(
      of('resolvers').flatMap(({ body }) =>
        addressesIn(
          body
            .split('\n')
            .filter((line) => !line.trim().startsWith('#'))
            .join('\n'),
        ),
      ),
    ),
    names: of('name').map(({ rest, body }) => ({ name: rest[0] ?? '', found: said(body, 'found') })),
    pages: of('page').map(({ rest, body }) => ({
      page: rest[0] ?? '',
      status: /(?<!\d)[1-5]\d\d(?!\d)/.exec(body)?.[0] ?? '',
    })),
    pings,
    delayMs: pings.findLast(({ averageMs }) => averageMs !== undefined)?.averageMs,
    hops: hops?.kind === 'hops' ? hops.hops : [],
    sizes: of('size').flatMap(({ rest, body }) =>
      /^\d{1,5}$/.test(rest[1] ?? '') ? [{ bytes: Number(rest[1]), passed: said(body, 'passed') }] : [],
    ),
    ports: of('port').flatMap(({ rest, body }) => {
      const host = valueOf(parseAddress(rest[0] ?? ''));
      const port = Number(rest[1]);
      const [answered, nothing] = [said(body, 'answered'), said(body, 'nothing')];
      // A try that says neither was cut off.
      return host && Number.isInteger(port) && port > 0 && port < 65_536 && answered !== nothing
        ? [{ host, port, answered }]
        : [];
    }),
    outside: addressesIn(bodies('outside'))[0],
    gap: timed.ok && timed.value.answered >= 8 ? timed.value.longestGap : undefined,
    rates,
  };
}

const unique = (hosts: readonly Address[]): Address[] =>
  hosts.filter((host, index) => hosts.findIndex((each) => sameAddress(each, host)) === index);

/** Where a transcript comes from, and what in it cannot be true together. */
export interface Origin {
  readonly network: Network | undefined;
  /** The laptop's address there. */
  readonly address: Address | undefined;
  readonly line: Line | undefined;
  /** What contradicts what, in sentences; empty where all fits. */
  readonly contradictions: readonly string[];
}

/** Tells the network from the laptop's own address and the line from what the outside saw, or from the first hops. */
export function originOf(site: Site, transcript: Transcript): Origin {
  const places = transcript.addresses.flatMap(({ address, length }) => {
    const network = site.networks.find(({ prefix }) => prefix && contains(prefix, address));
    return network ? [{ network, address, length }] : [];
  });
  // With several interfaces up, the one that leads to the gateway counts.
  const via = places.find(({ network }) =>
    transcript.gateways.some((gateway) => network.prefix && contains(network.prefix, gateway)),
  );
  const place = via ?? places[0];
  const seen = site.lines.find(
    (line) =>
      transcript.outside && line.publicAddressKnown && sameAddress(line.publicAddress, transcript.outside),
  );
  const passed = site.lines.find((line) =>
    transcript.hops.some(
      (hop) =>
        hop &&
        ((line.gateway && sameAddress(line.gateway, hop)) ||
          (line.box?.address && sameAddress(line.box.address, hop))),
    ),
  );
  const line = seen ?? passed;
  return {
    network: place?.network,
    address: place?.address,
    line,
    contradictions: contradictionsOf(site, transcript, place, seen, passed),
  };
}

function contradictionsOf(
  site: Site,
  transcript: Transcript,
  place: { network: Network; address: Address; length: number | undefined } | undefined,
  seen: Line | undefined,
  passed: Line | undefined,
): string[] {
  const found: string[] = [];
  const written = site.networks.find(({ id }) => id === transcript.writtenFor);
  if (transcript.writtenFor !== '' && !transcript.whole)
    found.push('The last line of the script is missing: what it printed was not pasted whole.');
  if (written && place && place.network !== written)
    found.push(
      `The script was written for ${written.name}, and the laptop was on ${place.network.name} (${formatAddress(place.address)}).`,
    );
  if (written && !place && transcript.addresses.length > 0)
    found.push(
      `The laptop had ${transcript.addresses.map(({ address }) => formatAddress(address)).join(', ')}, which is no address of ${written.name}${written.prefix ? ` (${formatPrefix(written.prefix)})` : ''}.`,
    );
  if (place) {
    const { network, length } = place;
    const stranger = transcript.gateways.find(
      (gateway) =>
        network.prefix &&
        contains(network.prefix, gateway) &&
        network.routerAddress &&
        !sameAddress(network.routerAddress, gateway),
    );
    if (stranger)
      found.push(
        `The gateway on ${network.name} is ${formatAddress(stranger)}, and the router is ${formatAddress(network.routerAddress!)}: a second router hands out addresses there.`,
      );
    if (
      length !== undefined &&
      network.prefix &&
      place.address.family === 4 &&
      length !== network.prefix.length
    )
      found.push(
        `The laptop got a mask of /${length} on ${network.name}, and the plan has /${network.prefix.length}.`,
      );
    if (transcript.gateways.length > 1)
      found.push(
        `There is more than one default gateway (${transcript.gateways.map(formatAddress).join(', ')}): Wi-Fi is on beside the cable. Switch it off and run the script again.`,
      );
  }
  if (seen && passed && seen !== passed)
    found.push(
      `The outside saw the address of ${seen.name}, and the trace went over ${passed.name}: the line changed in between.`,
    );
  if (place) {
    const asked = transcript.resolvers.filter((host) => classify(host).class !== 'loopback');
    const { resolvers } = place.network;
    if (
      asked.length > 0 &&
      resolvers.length > 0 &&
      !asked.some((host) => resolvers.some((each) => sameAddress(each, host)))
    )
      found.push(
        `The laptop asks ${asked.map(formatAddress).join(', ')} for names, and ${place.network.name} hands out ${resolvers.map(formatAddress).join(', ')}: it was set by hand, or another server answers.`,
      );
    for (const { host, port, name: service } of mustReach(site, place.network))
      if (
        transcript.ports.some((each) => each.port === port && !each.answered && sameAddress(each.host, host))
      )
        found.push(
          `${service} (${formatAddress(host)} tcp ${port}) did not answer from ${place.network.name}, and the rules allow it.`,
        );
  }
  const most = transcript.sizes.filter(({ passed: through }) => through).sort((a, b) => b.bytes - a.bytes)[0];
  const stuck = transcript.sizes.find(({ bytes, passed: through }) => !through && most && bytes < most.bytes);
  if (most && stuck)
    found.push(
      `${stuck.bytes} bytes did not pass, and ${most.bytes} did: packets were lost, run the script again.`,
    );
  const page = transcript.pages.find(({ status }) => status !== '');
  const name = transcript.names.find((each) => !each.found);
  if (page && name)
    found.push(`${page.page} answered, and the name ${name.name} was not found: a proxy answers in between.`);
  return found;
}
