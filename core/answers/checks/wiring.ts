import type { At } from '../../plan/at.ts';
import { formatVlans, holdsVlan } from '../../base/net/vlan.ts';
import type { Site } from '../../site/model.ts';
import { socketName, type Socket } from '../../site/wiring.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import { rateText, sharedRunWorked } from '../../base/worked/cabling.ts';
import { poeBudgetWorked } from '../../base/worked/power.ts';
import { step, worked } from '../../base/worked/worked.ts';
import { runLoads } from '../../behaviour/wiring/load.ts';
import { loopsOf } from '../../behaviour/wiring/loops.ts';
import { flood, runsBySocket } from '../../behaviour/wiring/frames.ts';
import { misplaced } from '../../behaviour/wiring/where.ts';
import { beginningsOf, linePaths, pathTo, runRate, wayWorked } from '../../behaviour/wiring/paths.ts';
import { vlansOf } from '../../behaviour/wiring/report.ts';
import { storm } from '../../behaviour/wiring/storm.ts';
import { note, said } from './note.ts';

const dot1q = 'IEEE 802.1Q (from memory)';

/** The cabling: what each run carries, where each VLAN goes, loops, lines that are carried over it, and power. */
export const wiring: Check = {
  name: 'wiring',
  run: (site) =>
    site.wiring.runs.length === 0
      ? []
      : [
          ...sockets(site),
          ...rates(site),
          ...paths(site),
          ...mismatches(site),
          ...loops(site),
          ...transits(site),
          ...served(site),
          ...power(site),
          ...loads(site),
        ],
};

/** A socket takes one plug. */
function sockets({ wiring: { runs } }: Site): Finding[] {
  const taken = new Map<Socket, string>();
  return runs.flatMap(({ at, name, ends }) =>
    ends.flatMap((end, index): Finding[] => {
      const before = end.name === '' ? undefined : taken.get(end);
      taken.set(end, name);
      return before === undefined
        ? []
        : [
            note(
              'wired-twice',
              'blocker',
              `${at}/${index === 0 ? 'fromPort' : 'toPort'}`,
              `${socketName(end)} is to take two cables, ${before} and ${name}. A port takes one.`,
              said('Cables in the port', `${before}, ${name}`),
            ),
          ];
    }),
  );
}

/** What a run carries beside what its sockets and its lines could. */
function rates(site: Site): Finding[] {
  const carried = new Map(
    linePaths(site).flatMap(({ line, way }) => way.map(({ run }) => [run, line] as const)),
  );
  return site.wiring.runs.flatMap((run): Finding[] => {
    const why = runRate(run);
    if (why.value === null) return [];
    const at = `${run.at}/category` as const;
    if (why.value === 0)
      return [
        note(
          'run-rate',
          'blocker',
          run.metres === null ? at : `${run.at}/metres`,
          `${run.name} is longer than any standard assures for its cable: it may link today and fail tomorrow.`,
          why,
        ),
      ];
    const wanted = Math.min(...run.ends.flatMap(({ rateMbps }) => rateMbps ?? []));
    const line = carried.get(run);
    const need = Math.max(line?.rateDownMbps ?? 0, line?.rateUpMbps ?? 0);
    if (line && need > why.value)
      return [
        note(
          'run-rate',
          'warning',
          at,
          `${run.name} carries ${rateText(why.value)}, and ${line.name} gives ${rateText(need)}: ${Math.round((1 - why.value / need) * 100)} % is lost on the cable.`,
          why,
        ),
      ];
    return Number.isFinite(wanted) && wanted > why.value
      ? [
          note(
            'run-rate',
            'advice',
            at,
            `${run.name} carries ${rateText(why.value)}; the ports at its ends could do ${rateText(wanted)}.`,
            why,
          ),
        ]
      : [];
  });
}

/** Every device that is plugged in somewhere is on the network that the plan gives it. */
function paths(site: Site): Finding[] {
  return [...misplaced(site).values()].map(({ at, says, path }) =>
    note('vlan-path', 'blocker', at, says, wayWorked(path)),
  );
}

/** Untagged at both ends under two numbers: two VLANs become one. */
function mismatches({ wiring: { runs } }: Site): Finding[] {
  return runs.flatMap(({ at, name, ends }): Finding[] => {
    const [a, b] = ends;
    if (a.box.kind !== 'bridge' || b.box.kind !== 'bridge' || a.vlans.untagged === b.vlans.untagged)
      return [];
    return [
      note(
        'untagged-mismatch',
        'warning',
        `${at}/label`,
        `${name}: ${socketName(a)} sends VLAN ${a.vlans.untagged} without a tag, and ${socketName(b)} takes it for VLAN ${b.vlans.untagged}. The two become one network: give both the same untagged VLAN.`,
        worked(
          'Untagged VLAN at both ends',
          false,
          '',
          [step(socketName(a), a.vlans.untagged), step(socketName(b), b.vlans.untagged), step('same', 'no')],
          dot1q,
        ),
      ),
    ];
  });
}

function loops(site: Site): Finding[] {
  return loopsOf(site.wiring, vlansOf(site.networks)).map(({ hops, blocked }) => {
    const [first] = hops;
    const names = [...new Set(hops.map(({ run }) => run.name))].join(', ');
    const rate = Math.min(
      ...hops.map(({ run }) => runRate(run).value ?? 1000).filter((mbps) => mbps > 0),
      1_000_000,
    );
    const { framesPerSecond } = storm(site.wiring, first!.from, first!.tag, rate);
    const why = worked(
      'Frames that one broadcast becomes',
      blocked ? 1 : framesPerSecond,
      'frames/s',
      [
        step('runs of the circle', names),
        step('smallest frame on the wire', '(64 + 8 + 12) × 8 = 672 bits'),
        step(`slowest run, ${rate} Mb/s`, `${rate} 000 000 / 672`),
        step('frames a second', blocked ? 'none: a port is blocked' : framesPerSecond),
      ],
      'IEEE 802.3 clause 4, IEEE 802.1D section 17 (from memory)',
    );
    return note(
      'loop',
      blocked ? 'advice' : 'blocker',
      `${first!.run.at}/label`,
      blocked
        ? `${names} are a circle. Spanning tree keeps one of its ports blocked: a spare way, as long as it stays on.`
        : `${names} form a loop. One broadcast floods the network, ${framesPerSecond} times a second, and the network stands still. Take one run out, or turn spanning tree on.`,
      why,
    );
  });
}

/** A line that is carried over the cabling is alone in its VLAN: its box, the router, and nobody else. */
function transits(site: Site): Finding[] {
  const arrived = new Set(linePaths(site).map(({ line }) => line));
  return site.wiring.transits.flatMap(({ at, line, vlan }): Finding[] => {
    if (!line || vlan === null) return [];
    const found: Finding[] = [];
    const shared = site.networks.find((network) => network.vlan === vlan);
    if (shared)
      found.push(
        note(
          'transit',
          'blocker',
          `${at}/vlan`,
          `VLAN ${vlan} carries ${line.name} and is ${shared.name} too: devices of ${shared.name} would stand before the router, unprotected.`,
          said('VLAN', String(vlan)),
        ),
      );
    const bridges = site.wiring.boxes.filter(({ kind }) => kind === 'bridge');
    const access = bridges.flatMap(({ sockets: all }) => all.filter(({ vlans }) => vlans.untagged === vlan));
    const plugged = new Set(site.wiring.runs.flatMap(({ ends }) => ends));
    const belongs = (socket: Socket): boolean =>
      site.wiring.runs.some(
        ({ ends }) =>
          ends.includes(socket) &&
          ends.some(
            (end) => end.box.kind === 'line' || (end.box.kind === 'router' && end.port?.role === 'wan'),
          ),
      );
    // Tagged it may go from switch to switch only; whoever else gets the tag can be in it too.
    for (const run of site.wiring.runs)
      for (const [index, end] of run.ends.entries()) {
        const other = run.ends[1 - index]!;
        const allowed =
          other.box.kind === 'bridge' || (other.box.kind === 'router' && other.port?.role === 'wan');
        if (end.box.kind === 'bridge' && holdsVlan(end.vlans.tagged, vlan) && !allowed)
          found.push(
            note(
              'transit',
              'warning',
              fieldOfSocket(end, 'tagged'),
              `${socketName(end)} sends VLAN ${vlan}, which carries ${line.name}, with its tag to ${other.box.name}: it is to be on the runs between switches only.`,
              said('Tagged VLANs', formatVlans(end.vlans.tagged)),
            ),
          );
      }
    for (const socket of access)
      if (!belongs(socket))
        found.push(
          note(
            'transit',
            'blocker',
            fieldOfSocket(socket, 'untagged'),
            `${socketName(socket)} is in VLAN ${vlan}, which carries ${line.name}: whatever is plugged in there stands before the router, unprotected, and may take the address that the provider gives one device.`,
            worked(
              'Untagged ports of the VLAN',
              access.length,
              '',
              [
                ...access.map((each) => step(socketName(each), plugged.has(each) ? 'in use' : 'free')),
                step('ports', access.length),
              ],
              dot1q,
            ),
          ),
        );
    if (!arrived.has(line))
      found.push(
        note(
          'transit',
          'blocker',
          `${at}/vlan`,
          `${line.name} does not get from its box to the router over VLAN ${vlan}. It needs one untagged port at its box, one at the router's WAN port, and the tag on every run between switches.`,
          worked(
            'Ports of the VLAN',
            access.length,
            '',
            [
              step('untagged', access.map(socketName).join(', ') || 'none'),
              step(
                'tagged',
                bridges
                  .flatMap(({ sockets: all }) => all.filter(({ vlans }) => holdsVlan(vlans.tagged, vlan)))
                  .map(socketName)
                  .join(', ') || 'none',
              ),
              step('untagged ports', access.length),
            ],
            dot1q,
          ),
        ),
      );
    return found;
  });
}

/** Every network whose Wi-Fi an access point serves has to arrive at it over its cable. */
function served(site: Site): Finding[] {
  const bridges = new Set(site.second.flatMap(({ way, box }) => (way === 'bridge' && box ? [box] : [])));
  return site.wiring.boxes.flatMap((box): Finding[] => {
    const { kit } = box;
    const wired = site.wiring.runs.some(({ ends }) => ends.some((end) => end.box === box));
    if (!kit || !wired || box.kind === 'router' || bridges.has(kit)) return [];
    const wanted = new Set(
      site.wifi.radios
        .filter((radio) => radio.box === kit)
        .flatMap(({ networks }) => networks.flatMap(({ network }) => network ?? [])),
    );
    return [...wanted].flatMap((network): Finding[] => {
      const starts = beginningsOf(site, network);
      const floods = starts.map(({ socket, tag }) => flood(site.wiring, socket, tag));
      if (floods.some(({ visits }) => visits.some((visit) => visit.box === box))) return [];
      const plugged = runsBySocket(site.wiring);
      if (!starts.some(({ socket }) => plugged.has(socket))) return [];
      const path = pathTo(site, network, box);
      const drop = floods.flatMap(({ drops }) => drops).find(({ hop }) => hop.to.box === box)?.hop;
      const stop =
        path?.stop ??
        (drop && {
          at: drop.to.at,
          says: `${socketName(drop.to)} ${drop.tag === 0 ? 'takes no frames without a tag' : `does not carry VLAN ${drop.tag}`}.`,
        });
      return [
        note(
          'wifi-vlan',
          'blocker',
          stop?.at ?? box.at,
          `${box.name} serves the Wi-Fi of ${network.name}, and ${network.name} does not get to it over the cabling: who joins there gets no address.${stop ? ` ${stop.says}` : ''}`,
          path ? wayWorked(path) : said('Way', 'none'),
        ),
      ];
    });
  });
}

/** Power over Ethernet: what a switch is to give beside what it has. */
function power({ wiring: { boxes } }: Site): Finding[] {
  return boxes.flatMap(({ name, kit, sockets: all }): Finding[] => {
    const classes = all.flatMap(({ poe, poeClass }) =>
      poe === 'gives' && poeClass !== null ? [poeClass] : [],
    );
    if (classes.length === 0 || kit?.poeWatts === null || kit?.poeWatts === undefined) return [];
    const why = poeBudgetWorked(kit.poeWatts, classes);
    return why.value >= 0
      ? []
      : [
          note(
            'poe-budget',
            'blocker',
            `${kit.at}/poeWatts`,
            `${name} is to give ${kit.poeWatts - why.value} W over its ports and has ${kit.poeWatts} W: some stay without power.`,
            why,
          ),
        ];
  });
}

function loads(site: Site): Finding[] {
  return runLoads(site).flatMap(({ run, carries, serves, there, back, capacityMbps }): Finding[] => {
    const [line] = carries;
    if (!line || serves.length === 0 || capacityMbps === null || Math.max(there, back) <= capacityMbps)
      return [];
    return [
      note(
        'run-load',
        'warning',
        `${run.at}/category`,
        `${run.name} carries ${line.name} and leads to its users: full both ways that is ${Math.max(there, back)} Mb/s each way, and the run carries ${rateText(capacityMbps)}.`,
        sharedRunWorked(line.rateDownMbps ?? 0, line.rateUpMbps ?? 0, capacityMbps),
      ),
    ];
  });
}

/** Where a VLAN of a socket is set: in its row of a box; a port that nobody listed, or one of the router, is pointed to itself. */
const fieldOfSocket = ({ at }: Socket, field: 'tagged' | 'untagged'): At =>
  isListed(at) ? `${at}/${field}` : at;
const isListed = (at: Socket['at']): at is `/kit/${number}/ports/${number}` => at.startsWith('/kit/');
