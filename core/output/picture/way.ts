import { sameAddress, type Address } from '../../base/net/address.ts';
import { contains } from '../../base/net/prefix.ts';
import { isChained } from '../../site/second.ts';
import type { Flow, Hop, Trace } from '../../answers/path/packet.ts';
import { devicesOn } from '../../site/lookups.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { follow } from '../../answers/path/follow.ts';
import { flowOf, parseQuery } from '../../answers/path/query.ts';
import { pictureOf, shownAs, type Picture } from './picture.ts';

/** A stretch of a packet's way on the picture: the nodes that it passes up to one hop, and which hop that is. */
export interface WayStep {
  readonly hop: number;
  readonly nodes: readonly string[];
}

const atHost = (site: Site, network: Network, host: Address): string => {
  const second = site.second.find(
    (each) => each.network === network && each.address && sameAddress(each.address, host),
  );
  if (second) return `second:${second.id}`;
  const device = devicesOn(site, network).find((each) => each.address && sameAddress(each.address, host));
  return device ? `device:${device.id}` : `network:${network.id}`;
};

function beginsAt(site: Site, { origin, header }: Flow): string {
  switch (origin.kind) {
    case 'inside':
      return atHost(site, origin.network, header.source);
    case 'behind':
      return `second:${origin.second.id}`;
    case 'outside':
      return 'internet';
    case 'in-front':
      return origin.line.box ? `box:${origin.line.id}` : 'internet';
    case 'site':
      return `site:${origin.far.id}`;
    case 'client':
      return origin.peer.group ? `users:${origin.peer.group.id}` : 'internet';
    case 'router':
      return 'router';
  }
}

function endsAt(site: Site, { reached, arrived }: Trace): string | undefined {
  switch (reached?.kind) {
    case 'network': {
      // Handed on by a second router, it arrived with an address of that router's own subnet.
      const second =
        arrived &&
        site.second
          .filter(isChained)
          .find(
            (each) => each.network === reached.network && contains(each.inside.prefix, arrived.destination),
          );
      if (second) return `second:${second.id}`;
      return arrived ? atHost(site, reached.network, arrived.destination) : `network:${reached.network.id}`;
    }
    case 'router':
      return 'router';
    case 'site':
      return `site:${reached.far.id}`;
    case 'internet':
      return 'internet';
    case 'in-front':
      return `box:${reached.line.id}`;
    default:
      return undefined;
  }
}

/** The line over which a packet goes: where it left, or where it came in. */
function lineOf(site: Site, { origin, header, down }: Flow, { reached, hops }: Trace): Line | undefined {
  if (reached?.kind === 'internet' || reached?.kind === 'in-front') return reached.line;
  if (origin.kind === 'in-front') return origin.line;
  const named = site.lines.find((line) =>
    hops.some(({ node }) => node === line.box?.name || node === `carrier NAT of ${line.name}`),
  );
  if (named) return named;
  const up = site.lines.filter(({ id }) => !down.has(id));
  if (origin.kind === 'outside')
    return (
      origin.line ??
      up.find(({ publicAddress, lineAddress }) =>
        [publicAddress, lineAddress].some((host) => sameAddress(host, header.destination)),
      ) ??
      up[0]
    );
  return up[0];
}

/** The node at which a hop looks at the packet. */
function placeOf(hop: Hop, line: Line | undefined): string | undefined {
  switch (hop.kind) {
    case 'router':
      return 'router';
    case 'box':
      return line?.box ? `box:${line.id}` : undefined;
    case 'carrier':
      return line && `line:${line.id}`;
    case 'internet':
      return 'internet';
    default:
      return undefined;
  }
}

/** The shortest way between two nodes that does not pass the other lines. */
function between(picture: Picture, from: string, to: string, closed: (id: string) => boolean): string[] {
  const before = new Map<string, string>([[from, from]]);
  const queue = [from];
  for (let node = queue.shift(); node !== undefined && node !== to; node = queue.shift())
    for (const edge of picture.edges) {
      const next = edge.from === node ? edge.to : edge.to === node ? edge.from : undefined;
      if (next === undefined || before.has(next) || (closed(next) && next !== to)) continue;
      before.set(next, node);
      queue.push(next);
    }
  if (!before.has(to)) return [to];
  const way = [to];
  while (way[0] !== from) way.unshift(before.get(way[0]!)!);
  return way.slice(1);
}

/** A packet's way on the picture, hop by hop: there, or back. */
function wayOf(picture: Picture, site: Site, flow: Flow, trace: Trace, back = false): WayStep[] {
  const line = lineOf(site, flow, trace);
  const closed = (id: string): boolean =>
    /^(?:line|box):/.test(id) && line !== undefined && id !== `line:${line.id}` && id !== `box:${line.id}`;
  const show = (id: string): string => shownAs(picture, site, id);
  const begin = show(beginsAt(site, flow));
  const end = endsAt(site, trace);
  const hops = back ? trace.reply : trace.hops;
  const steps: WayStep[] = [];
  let here = back && end ? show(end) : begin;
  hops.forEach((hop, index) => {
    const place = placeOf(hop, line);
    const last = index === hops.length - 1;
    const wanted =
      place ??
      (last && !hop.stops && !back && end
        ? end
        : index > 0 && back && last
          ? beginsAt(site, flow)
          : undefined);
    const next = wanted === undefined ? here : show(wanted);
    const nodes = index === 0 ? [here] : [];
    if (next !== here) nodes.push(...between(picture, here, next, closed));
    here = next;
    steps.push({ hop: index, nodes });
  });
  // The last look may be the router's: what it let through arrives all the same.
  const goal = back ? begin : trace.arrived && end ? show(end) : undefined;
  if (goal !== undefined && goal !== here && steps.length > 0) {
    const tail = steps.at(-1)!;
    steps[steps.length - 1] = { ...tail, nodes: [...tail.nodes, ...between(picture, here, goal, closed)] };
  }
  return steps;
}

/** The way of a question's packet on the picture, there and back; undefined where it is no question about one. */
export function wayOfQuestion(
  site: Site,
  question: string,
  open: ReadonlySet<string>,
): { readonly there: readonly WayStep[]; readonly back: readonly WayStep[] } | undefined {
  const query = parseQuery(question);
  const flow = query.ok ? flowOf(site, query.value) : undefined;
  if (!flow?.ok) return undefined;
  const trace = follow(site, flow.value);
  const picture = pictureOf(site, open);
  return {
    there: wayOf(picture, site, flow.value, trace),
    back: trace.reply.length === 0 ? [] : wayOf(picture, site, flow.value, trace, true),
  };
}
