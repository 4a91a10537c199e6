import { formatAddress, type Address } from '../../base/net/address.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import { follow } from '../path/follow.ts';
import { sampleHost } from '../path/query.ts';
import { createRouter, type Router } from '../../behaviour/router/router.ts';
import type { Line, Site } from '../../site/model.ts';
import type { Reach, RunStep } from '../../behaviour/domain-types/step.ts';
import type { AdminPlace } from './admin-place.ts';

const none: Reach = { kind: 'none' };

/** Answers before each step whether the laptop, from where it is plugged in, reaches the page that the step opens. */
export function reachOf(site: Site, place: AdminPlace): (step: RunStep, lines: ReadonlySet<string>) => Reach {
  const routers = new Map<string, Router>();
  const routerWith = (down: ReadonlySet<string>): Router => {
    const key = [...down].sort().join(' ');
    const known = routers.get(key) ?? createRouter(site, down);
    routers.set(key, known);
    return known;
  };
  const admin = site.router.adminNetwork;
  const known = new Map<string, Reach>();
  const cached = (key: string, make: () => Reach): Reach => {
    const before = known.get(key);
    if (before) return before;
    const made = make();
    known.set(key, made);
    return made;
  };

  /** A packet from the laptop on the network that the router is managed from. */
  const tried = (to: Address, port: number | undefined, up: ReadonlySet<string>): Reach => {
    const source = admin && sampleHost(site, admin);
    if (!admin || !source) return none;
    const down = new Set(site.lines.filter(({ id }) => !up.has(id)).map(({ id }) => id));
    const trace = follow(
      site,
      {
        origin: { kind: 'inside', network: admin, name: 'the laptop' },
        header: {
          protocol: port === undefined ? 'icmp' : 'tcp',
          source,
          sourcePort: port === undefined ? 0 : 49152,
          destination: to,
          destinationPort: port ?? 0,
          sizeBytes: 60,
        },
        down,
      },
      routerWith(down),
    );
    return {
      kind: trace.outcome === 'delivered' ? 'reached' : 'cut-off',
      from: admin.name,
      to: formatAddress(to),
      says: trace.says(),
    };
  };

  const toRouter = (session: RunStep['session'], up: ReadonlySet<string>): Reach => {
    if (session.kind === 'none') return none;
    if (session.address === place.factory && place.factoryLaptop !== undefined)
      return {
        kind: 'reached',
        from: `a LAN port, as ${place.factoryLaptop} or automatic`,
        to: session.address,
        says: 'The laptop and the new router are in one subnet.',
      };
    const address = admin?.routerAddress;
    if (!address || session.address !== formatAddress(address)) return none;
    return cached('router', () => {
      const page = site.services.find(({ role, protocol }) => role === 'management' && protocol !== 'udp');
      return tried(address, page?.ports.first, up);
    });
  };

  const toBox = (line: Line, up: ReadonlySet<string>): Reach => {
    const { box } = line;
    if (!box?.address || !box.prefix) return none;
    const through = up.has(line.id) ? cached(`box ${line.id}`, () => tried(box.address!, 443, up)) : none;
    return through.kind === 'reached'
      ? through
      : {
          kind: 'reached',
          from: `a LAN port of ${box.name}`,
          to: formatAddress(box.address),
          says: `Plug the laptop into ${box.name} itself, with an automatic address of ${formatPrefix(box.prefix)}; ${
            through.kind === 'cut-off'
              ? `through the router it is not reached: ${through.says}`
              : 'the router does not lead there yet.'
          }`,
        };
  };

  return (step, lines) => {
    const [kind, id] = step.id.split(':');
    if (kind === 'box' || kind === 'box-forward') {
      const line =
        kind === 'box'
          ? site.lines.find((each) => each.id === id)
          : site.forwards.find((each) => each.id === id)?.line;
      return line ? toBox(line, lines) : none;
    }
    return step.place === 'router' ? toRouter(step.session, lines) : none;
  };
}
