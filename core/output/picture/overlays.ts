import type { SimulationRun } from '../../behaviour/failover/simulate.ts';
import type { Site } from '../../site/model.ts';

/** The node that stands for a place of the plan; undefined for what has no place on the picture. */
export function nodeOf(site: Site, at: string): string | undefined {
  const [, list = '', index = '', part = ''] = at.split('/');
  const row = Number(index);
  switch (list) {
    case 'uplinks': {
      const line = site.lines[row];
      return line && (part === 'handoff' && line.box ? `box:${line.id}` : `line:${line.id}`);
    }
    case 'networks':
      return site.networks[row] && `network:${site.networks[row].id}`;
    case 'devices':
      return site.devices[row] && `device:${site.devices[row].id}`;
    case 'forwards': {
      const device = site.forwards.find((forward) => forward.at === `/forwards/${index}`)?.device;
      return device ? `device:${device.id}` : 'router';
    }
    case 'reach': {
      const rule = site.reach.find((each) => each.at === `/reach/${index}`);
      return rule?.from ? `network:${rule.from.id}` : 'router';
    }
    case 'failover': {
      const promise = site.failover.promises.find((each) => at.startsWith(each.at));
      return promise ? `network:${promise.network.id}` : 'router';
    }
    case 'vpn': {
      const [, , of = '', place = ''] = at.split('/');
      const group = site.vpn.groups[Number(place)];
      const far = site.vpn.sites[Number(place)];
      const peer = site.vpn.peers[Number(place)];
      if (of === 'groups' && group) return `users:${group.id}`;
      if (of === 'peers' && peer?.group) return `users:${peer.group.id}`;
      return of === 'sites' && far ? `site:${far.id}` : 'router';
    }
    case 'second': {
      const second = site.second[row];
      return second && (second.network ? `second:${second.id}` : 'router');
    }
    case 'wifi': {
      const [, , of = '', place = ''] = at.split('/');
      const { networks, radios, rooms } = site.wifi;
      const box = of === 'radios' ? radios[Number(place)]?.box : undefined;
      const second = site.second.find((each) => each.network && each.box !== undefined && each.box === box);
      const network =
        of === 'networks'
          ? networks[Number(place)]?.network
          : of === 'rooms'
            ? rooms[Number(place)]?.wifi?.network
            : undefined;
      return second ? `second:${second.id}` : network ? `network:${network.id}` : 'router';
    }
    case 'router':
    case 'wiring':
    case 'kit':
    case 'routes':
      return 'router';
    default:
      return undefined;
  }
}

/** How something does at one moment of a simulated failure. */
export interface NodeState {
  readonly state: 'good' | 'doubt' | 'out';
  readonly says: string;
}

const flowWords = { good: 'works', doubt: 'slow', out: 'cut off' } as const;
const outStates = new Set(['dead', 'down', 'broken']);
const doubtStates = new Set(['limping', 'doubt', 'starting', 'holding', 'slow']);

/** What each line and each network sees at one moment of a run, and which line carries the traffic. */
export function momentOf(
  site: Site,
  run: SimulationRun,
  at: number,
): { readonly states: ReadonlyMap<string, NodeState>; readonly active: string | undefined } {
  const states = new Map<string, NodeState>();
  let active: string | undefined;
  const put = (id: string, next: NodeState): void => {
    const known = states.get(id);
    const rank = { good: 0, doubt: 1, out: 2 } as const;
    if (!known || rank[next.state] > rank[known.state]) states.set(id, next);
  };
  for (const lane of run.lanes) {
    const segment =
      lane.segments.find(({ from, to }) => from <= at + 0.001 && at + 0.001 < to) ?? lane.segments.at(-1);
    if (!segment) continue;
    const state = outStates.has(segment.state) ? 'out' : doubtStates.has(segment.state) ? 'doubt' : 'good';
    if (lane.kind === 'active') active = site.lines.find(({ name }) => name === segment.state)?.id;
    else if (lane.kind === 'flow') put(`network:${lane.of}`, { state, says: flowWords[state] });
    else put(`line:${lane.of}`, { state, says: segment.says });
  }
  return { states, active };
}
