import {
  type StepNature,
  allOf,
  atCupboard,
  atFarEnd,
  atSecond,
  everybody,
} from '../../behaviour/domain-types/nature.ts';
import type { At } from '../../plan/at.ts';
import { formatVlans } from '../../base/net/vlan.ts';
import type { Site } from '../../site/model.ts';
import { socketName, type Box, type Run } from '../../site/wiring.ts';
import { internetPromiseId } from '../../behaviour/domain-types/promise.ts';
import { choiceReading, numberReading, type ReadingField } from '../../behaviour/domain-types/reading.ts';
import { entry, fieldEntry, type StepDraft } from '../../behaviour/domain-types/step.ts';
import { titleAt } from '../../plan/places.ts';
import { linePaths, networkOfVlan, routerSockets, runRate } from '../../behaviour/wiring/paths.ts';
import { rateText } from '../../base/worked/cabling.ts';

/** Cables, switches, lines that are carried over the cabling, and what proves them. */
export function cablingSteps(site: Site): StepDraft[] {
  const { wiring } = site;
  if (wiring.runs.length === 0) return [];
  const switches = farthestFirst(site).filter(settable);
  return [
    cables(site),
    ...switches.map((box, index) => vlans(site, box, switches[index - 1])),
    ...carried(site, switches),
    ...switches.flatMap((box) => [...links(box, wiring.runs), ...pages(site, box)]),
  ];
}

function cables({ wiring }: Site): StepDraft {
  return {
    id: 'cables',
    nature: atCupboard,
    phase: 'prepare',
    title: 'Lay and test the cables',
    needs: ['labels'],
    entries: wiring.runs.map((run) =>
      entry(
        run.name,
        [
          run.ends.map(socketName).join(' to '),
          run.category === 'unknown' ? '' : titleAt('/wiring/runs/*/category', run.category),
          run.metres === null ? '' : `${run.metres} m`,
          run.shielded ? 'screen at both ends' : '',
        ]
          .filter((part) => part !== '')
          .join(', '),
        ['Cable', 'Patch cord', 'Run'],
        run.at,
      ),
    ),
    why: 'A pair that is not connected still links, at 100 Mb/s: nobody sees it until the line is faster than that.',
    lowSeconds: 30 * wiring.runs.length,
    highSeconds: 180 * wiring.runs.length,
    proof: 'A cable tester shows all pairs of each, in order, and the label reads the same at both ends.',
    ifNot: 'Replace the plug; a cable that is bent sharply or runs beside mains is laid again.',
    cautions: [
      'Power and data cables keep their distance; holes through fire walls, work near mains, on roofs and on masts are for licensed work, and local codes decide.',
      'Never look into a fibre: laser light is invisible and harms the eye.',
    ],
    fields: [choiceReading('tested', 'All pairs of all cables', 'connected, in order', 'one is not')],
  };
}

/** Hops from the router over the runs, whatever VLANs they carry. */
function farthestFirst({ wiring }: Site): Box[] {
  const hops = new Map<Box, number>();
  const waiting = wiring.boxes.filter(({ kind }) => kind === 'router');
  for (const box of waiting) hops.set(box, 0);
  for (let box = waiting.shift(); box !== undefined; box = waiting.shift())
    for (const { ends } of wiring.runs)
      if (ends.some((end) => end.box === box))
        for (const end of ends)
          if (!hops.has(end.box)) {
            hops.set(end.box, hops.get(box)! + 1);
            waiting.push(end.box);
          }
  return wiring.boxes.filter((box) => hops.has(box)).sort((a, b) => hops.get(b)! - hops.get(a)!);
}

const settable = ({ kind, kit }: Box): boolean => kind === 'bridge' && kit !== undefined;

/** The switches from the far end inward: what is set on a near one first would cut off the one behind it. */
/** At a switch; one that is a second router has its steps one after another with that. */
const atSwitch = (site: Site, box: Box): StepNature => {
  const second = site.second.find((each) => each.box?.id === box.id);
  return second ? atSecond(second) : { place: `switch:${box.id}` };
};

function vlans(site: Site, box: Box, farther: Box | undefined): StepDraft {
  const untagged = box.sockets.some(({ vlans: { tagged } }) => tagged.length > 0);
  return {
    id: `switch:${box.id}`,
    nature: atSwitch(site, box),
    phase: 'inside',
    title: `Set the VLANs of ${box.name}`,
    needs: [
      'reconnect',
      'cables',
      ...site.networks.map(({ id }) => `network:${id}`),
      ...site.second.flatMap((second) => (second.box?.id === box.id ? [`second-address:${second.id}`] : [])),
      ...(farther ? [`switch:${farther.id}`] : []),
    ],
    entries: [
      ...box.sockets
        .filter(({ name }) => name !== '')
        .map((socket) =>
          entry(
            `Port ${socket.name}`,
            [
              `untagged ${socket.vlans.untagged}`,
              socket.vlans.tagged.length > 0 ? `tagged ${formatVlans(socket.vlans.tagged)}` : '',
              socket.poe === 'gives' ? 'PoE on' : '',
            ]
              .filter((part) => part !== '')
              .join('; '),
            ['PVID', 'Trunk', 'Access', 'VLAN membership'],
            socket.at,
          ),
        ),
      ...(box.kit ? [fieldEntry(`${box.kit.at}/spanningTree`, box.spanningTree ? 'on' : 'off')] : []),
    ],
    why: `The farthest switch comes first, and VLANs are added before any is taken away: what a near switch stops carrying cuts off the ones behind it.${untagged ? '' : ' The untagged VLAN of a port is set together with its membership, or the port falls silent.'}`,
    lowSeconds: 60 + 15 * box.sockets.length,
    highSeconds: 180 + 60 * box.sockets.length,
    proof: 'It still answers after saving, and once more after it was switched off and on.',
    ifNot:
      'Gone: switch it off and on. If it was not saved yet, it comes back as it was; if it was, reset it by its button.',
    cautions: ['Change the port that leads to your laptop last, and save only when you still see the page.'],
    fields: [choiceReading('answers', 'After a restart', 'it answers', 'it does not')],
  };
}

/** A line over the cabling, and the router that moves to where its port is: the switches first, the router last. */
function carried(site: Site, switches: readonly Box[]): StepDraft[] {
  const paths = linePaths(site);
  const set = switches.map(({ id }) => `switch:${id}`);
  const transits = site.wiring.transits.flatMap(({ at, line, vlan }): StepDraft[] => {
    const path = paths.find((each) => each.line === line);
    if (!line || vlan === null || !path) return [];
    const [first] = path.way;
    const last = path.way.at(-1)!;
    return [
      {
        id: `transit:${line.id}`,
        nature: (all) => ({ ...atFarEnd, uses: [`line:${line.id}`], interrupts: everybody(all) }),
        phase: 'uplink',
        title: `Try ${line.name} at the far end before the router moves`,
        needs: ['reconnect', ...set],
        entries: [
          fieldEntry(`${at}/vlan`, String(vlan)),
          entry(
            'At its box',
            `${socketName(first!.from)} into ${socketName(first!.to)}`,
            ['Access port'],
            first!.run.at,
          ),
          ...path.way
            .slice(1, -1)
            .map((hop) =>
              entry(
                'Between',
                `${socketName(hop.from)} to ${socketName(hop.to)}: tagged ${vlan}`,
                ['Trunk'],
                hop.run.at,
              ),
            ),
          entry('At the router', `${socketName(last.from)}, untagged ${vlan}`, ['Access port'], last.run.at),
        ],
        why: 'The router is still where it was, so the way back is one plug. What does not pass here would be missed only when the router stands there.',
        lowSeconds: 120,
        highSeconds: 600,
        proof: `A laptop at ${socketName(last.from)} gets what ${line.name} gives one device, and nobody else is in VLAN ${vlan}.`,
        ifNot: `An address of an inside network: the port is not untagged in ${vlan}. None: a switch between does not carry the tag, or the provider's box still remembers the router: two minutes without power.`,
        cautions: [
          'A laptop there stands on the internet without a router: its own firewall on, nothing shared, minutes only.',
        ],
        fields: [choiceReading('passes', 'At the far end', 'the line answers', 'it does not')],
      },
    ];
  });
  if (transits.length === 0) return [];
  const ports = routerSockets(site).flatMap((socket) =>
    site.wiring.runs.flatMap((run) => {
      const other = run.ends.find((end) => end !== socket);
      return run.ends.includes(socket) && other
        ? [
            entry(
              `Port ${socket.name}`,
              `${socketName(other)}, ${run.name}`,
              ['WAN port', 'LAN port'],
              run.at,
            ),
          ]
        : [];
    }),
  );
  return [
    ...transits,
    {
      id: 'router-moves',
      nature: (all) => ({ ...atFarEnd, uses: allOf(all), interrupts: everybody(all) }),
      phase: 'uplink',
      title: 'Install and connect the router',
      needs: [...transits.map(({ id }) => id), 'labels'],
      entries: ports,
      why: 'The switches carry everything already, so the move takes as long as the walk. The LAN cable goes in before the WAN cable: the switch stays in sight.',
      lowSeconds: 120,
      highSeconds: 600,
      proof: `Both ends of each cable have a light, and every switch still answers${switches.length > 0 ? `: ${switches.map(({ name }) => name).join(', ')}` : ''}.`,
      ifNot: 'Carry it back and plug it in as it was: nothing was taken away on the switches yet.',
      fields: [choiceReading('switches', 'Every switch', 'answers', 'one does not')],
    },
  ];
}

const mostFields = 52;

/** What the two ends of each run say of it: the rate, and errors that grow. */
function links(box: Box, runs: readonly Run[]): StepDraft[] {
  const own = runs.filter(({ ends }) => ends.some((end) => end.box === box)).slice(0, mostFields);
  if (own.length === 0) return [];
  return [
    {
      id: `links:${box.id}`,
      nature: { place: `switch:${box.id}` },
      phase: 'proof',
      title: `Read link rates and error counters of ${box.name}`,
      needs: ['save', `switch:${box.id}`, 'router-moves'],
      entries: own.flatMap((run) => {
        const mbps = runRate(run).value;
        return mbps === null || mbps === 0
          ? []
          : [
              entry(
                run.name,
                `${rateText(mbps)} or more, at both ends`,
                ['Link speed', 'Negotiated'],
                run.at,
              ),
            ];
      }),
      why: 'A bad plug links slower than it should, or links and loses frames: both show on the page of the switch before anybody complains.',
      lowSeconds: 60,
      highSeconds: 60 + 30 * own.length,
      proof: 'Each run shows its rate, and after five minutes of traffic no counter of errors has grown.',
      ifNot:
        'Slower: a pair is open, or the other end is set by hand. Errors: plug, cable beside mains, or duplex.',
      fields: [
        ...own.flatMap((run): ReadingField[] => {
          const mbps = runRate(run).value;
          return mbps === null || mbps === 0
            ? []
            : [
                numberReading(`rate-${run.id}`, `${run.name}, link rate`, 'Mb/s', {
                  optional: true,
                  limits: {
                    least: mbps,
                    says: `${run.name} is planned for ${rateText(mbps)}: a pair is open, or an end is set lower.`,
                  },
                }),
              ];
        }),
        numberReading('errors', 'Errors that were added in five minutes, all ports', 'frames', {
          limits: { most: 0, says: 'Frames are lost on a cable: find the port whose counter grows.' },
        }),
      ],
    },
  ];
}

/** A page on every network that is untagged at some free port of a switch. */
function pages(site: Site, box: Box): StepDraft[] {
  const used = new Set(site.wiring.runs.flatMap(({ ends }) => ends));
  const seen = new Map<string, { name: string; port: string; at: At; id: string }>();
  // A free port of each network, or one in use where none is free.
  for (const socket of [...box.sockets].sort((a, b) => Number(used.has(a)) - Number(used.has(b)))) {
    const network = socket.name === '' ? undefined : networkOfVlan(site, box, socket.vlans.untagged);
    if (network && !seen.has(network.id))
      seen.set(network.id, { name: network.name, port: socketName(socket), at: socket.at, id: network.id });
  }
  if (seen.size === 0) return [];
  return [
    {
      id: `ports:${box.id}`,
      nature: { place: `switch:${box.id}`, uses: ['router'] },
      phase: 'proof',
      title: `Open a page on every VLAN of ${box.name}`,
      needs: ['save', `switch:${box.id}`, 'router-moves', ...site.lines.map(({ id }) => `uplink:${id}`)],
      entries: [...seen.values()].map(({ name, port, at }) => entry(name, port, ['Access port', 'PVID'], at)),
      why: 'A port on the wrong VLAN works too: with an address of the wrong network.',
      lowSeconds: 60 * seen.size,
      highSeconds: 180 * seen.size,
      proof: 'At each port named here the laptop gets an address of that network, and a page opens.',
      ifNot:
        'Another network: the untagged VLAN of the port. None: a hop on the way does not carry the VLAN; see Wiring.',
      fields: [...seen.values()].map(({ id, name, port }) =>
        choiceReading(`net-${id}`, `${name} at ${port}`, 'its address, and a page', 'not'),
      ),
      evidence: [...seen.values()].map(({ id }) => ({
        promise: internetPromiseId({ id }),
        rung: 'page' as const,
      })),
    },
  ];
}
