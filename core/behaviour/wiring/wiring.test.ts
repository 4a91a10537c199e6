import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { runChecks } from '../../answers/checks/index.ts';
import { portSchema, runSchema, switchPortSchema, type Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { socketName, type Socket, type Wiring } from '../../site/wiring.ts';
import { soundPlan } from '../../testing/plans.ts';
import { runRateWorked } from '../../base/worked/cabling.ts';
import { flood, sentOut, takenUp } from './frames.ts';
import { runLoads } from './load.ts';
import { linePaths, pathTo } from './paths.ts';
import { loopsOf } from './loops.ts';
import { followFrame } from './learning.ts';
import { storm } from './storm.ts';
import { misplaced } from './where.ts';

type Switches = readonly {
  readonly plain?: boolean;
  readonly stp?: boolean;
  readonly sockets: readonly { readonly untagged?: number; readonly tagged?: readonly string[] }[];
}[];
type Cables = readonly (readonly [box: number, socket: number, box: number, socket: number])[];

/** Switches s0, s1 … with sockets 1, 2 …, and cables between them by number. */
function cabled(switches: Switches, cables: Cables): Site {
  return compile(
    soundPlan((plan) => {
      plan.kit.push(
        ...switches.map(({ plain = false, stp = false, sockets }, index) => ({
          ...plan.kit[0]!,
          id: `s${index}`,
          role: 'switch' as const,
          model: `Switch ${index}`,
          vlanSupport: plain ? ('plain' as const) : ('aware' as const),
          spanningTree: stp,
          ports: sockets.map(({ untagged, tagged }, place) => ({
            id: `p${place}`,
            name: String(place + 1),
            rateMbps: 1000,
            untagged: untagged ?? null,
            tagged: [...(tagged ?? [])],
            poe: 'none' as const,
            poeClass: null,
          })),
        })),
      );
      plan.wiring.runs = cables.map(([from, fromPort, to, toPort], index) => ({
        id: `r${index}`,
        label: `C${index}`,
        fromBox: `s${from}`,
        fromPort: String(fromPort + 1),
        toBox: `s${to}`,
        toDevice: '',
        toPort: String(toPort + 1),
        category: 'cat6' as const,
        metres: 10,
        pairs: 4,
        shielded: false,
      }));
    }),
  );
}
const socket = ({ boxes }: Wiring, box: number, place: number): Socket =>
  boxes.find(({ id }) => id === `s${box}`)!.sockets[place]!;
const three = [{}, {}, {}];

describe('frames in the cabling', () => {
  test('a VLAN passes where both ends are members, and ends where one is not', () => {
    const { wiring } = cabled(
      [
        { sockets: [{ untagged: 20 }, { tagged: ['20', '30'] }] },
        { sockets: [{ tagged: ['20-29'] }, { untagged: 20 }, { untagged: 30 }] },
        { sockets: [{ untagged: 20 }] },
      ],
      [
        [0, 1, 1, 0],
        [1, 1, 2, 0],
      ],
    );
    const { visits, drops } = flood(wiring, socket(wiring, 0, 1), 20);
    expect(
      visits.map(({ box, vlan, way }) => `${box.name} ${vlan} ${way.map(({ tag }) => tag).join()}`),
    ).toEqual(['Switch 1 20 20', 'Switch 2 20 20,0']);
    expect(drops).toEqual([]);
    // 30 is sent along the run, and socket 1 of the next switch is no member of it (IEEE 802.1Q section 8.6.2).
    expect(flood(wiring, socket(wiring, 0, 1), 30).drops.map(({ hop }) => socketName(hop.to))).toEqual([
      'Switch 1 1',
    ]);
  });

  test('untagged at both ends with two numbers joins two VLANs', () => {
    const { wiring } = cabled(
      [{ sockets: [{ untagged: 10 }] }, { sockets: [{ untagged: 20 }, { untagged: 20 }] }],
      [[0, 0, 1, 0]],
    );
    expect(flood(wiring, socket(wiring, 0, 0), 0).visits.map(({ vlan }) => vlan)).toEqual([20]);
  });

  test('a triangle of switches is a loop; spanning tree in one of them makes it a spare way', () => {
    const cables: Cables = [
      [0, 1, 1, 0],
      [1, 1, 2, 0],
      [2, 1, 0, 0],
    ];
    const sockets = [{}, {}, {}];
    expect(
      loopsOf(
        cabled(
          three.map(() => ({ sockets })),
          cables,
        ).wiring,
      ),
    ).toMatchObject([{ blocked: false }]);
    expect(
      loopsOf(
        cabled(
          three.map((_, index) => ({ sockets, stp: index === 1 })),
          cables,
        ).wiring,
      ),
    ).toMatchObject([{ blocked: true }]);
    expect(
      loopsOf(
        cabled(
          three.map(() => ({ sockets })),
          cables.slice(1),
        ).wiring,
      ),
    ).toEqual([]);
  });

  test('two runs between two switches are no loop where they share no VLAN', () => {
    const apart = [
      { sockets: [{ untagged: 10 }, { untagged: 20 }] },
      { sockets: [{ untagged: 10 }, { untagged: 20 }] },
    ];
    const both: Cables = [
      [0, 0, 1, 0],
      [0, 1, 1, 1],
    ];
    expect(loopsOf(cabled(apart, both).wiring)).toEqual([]);
    expect(loopsOf(cabled([{ sockets: [{}, {}] }, { sockets: [{}, {}] }], both).wiring)).toHaveLength(1);
  });

  test('any cabling: there is a loop exactly where one broadcast never comes to rest', () => {
    const vlan = fc.constantFrom(10, 20);
    const port = fc.record({ untagged: vlan, tagged: fc.subarray(['10', '20']) });
    const box = fc.record({ plain: fc.boolean(), sockets: fc.array(port, { minLength: 3, maxLength: 3 }) });
    const place = fc.tuple(fc.nat(3), fc.nat(2));
    fc.assert(
      fc.property(
        fc.array(box, { minLength: 4, maxLength: 4 }),
        fc.uniqueArray(place, { minLength: 2, maxLength: 10, selector: String }),
        (boxes, places) => {
          // Sockets paired off: each has one cable.
          const cables = places.flatMap(([from, fromPort], index) => {
            const other = places[index + 1];
            return index % 2 === 0 && other ? [[from, fromPort, other[0], other[1]] as const] : [];
          });
          const { wiring } = cabled(boxes, cables);
          const endless = wiring.runs.some(({ ends }) =>
            ends.some((end) => [0, 10, 20].some((tag) => storm(wiring, end, tag).endless)),
          );
          expect(loopsOf(wiring, [10, 20]).length > 0).toBe(endless);
        },
      ),
      { numRuns: 300 },
    );
  });

  test('where two circles meet, copies multiply; in one circle they go round', () => {
    const sockets = [{}, {}, {}];
    const circle = cabled(
      three.map(() => ({ sockets })),
      [
        [0, 1, 1, 0],
        [1, 1, 2, 0],
        [2, 1, 0, 0],
      ],
    ).wiring;
    const counts = storm(circle, socket(circle, 0, 1), 0).steps.map(({ frames }) => frames);
    expect(Math.max(...counts)).toBe(1);
    // Four switches, each connected with each: every copy becomes two at each hop.
    const mesh = cabled(
      [...three, {}].map(() => ({ sockets })),
      [
        [0, 0, 1, 0],
        [0, 1, 2, 0],
        [0, 2, 3, 0],
        [1, 1, 2, 1],
        [1, 2, 3, 1],
        [2, 2, 3, 2],
      ],
    ).wiring;
    expect(
      storm(mesh, socket(mesh, 0, 0), 0)
        .steps.map(({ frames }) => frames)
        .slice(0, 6),
    ).toEqual([1, 2, 4, 8, 16, 32]);
    // IEEE 802.3: 64 bytes, preamble and gap are 672 bits, so 1 Gb/s carries 1 488 095 frames a second.
    expect(storm(mesh, socket(mesh, 0, 0), 0).framesPerSecond).toBe(1_488_095);
  });
});

describe('switches that learn', () => {
  // A row of switches, and a device on each end: "s0 - s1 - s2", the middle one with a spare port.
  const row = (plain: boolean): Site =>
    cabled(
      three.map(() => ({ plain, sockets: [{}, {}, {}] })),
      [
        [0, 1, 1, 0],
        [1, 1, 2, 0],
      ],
    );

  test.each([true, false])('the answer goes one way, and so does what follows (plain: %s)', (plain) => {
    const site = row(plain);
    const { wiring } = site;
    const [question] = followFrame(site, socket(wiring, 0, 0), 0);
    // IEEE 802.1Q section 8.8.6: what is for everybody goes out of every port but the one it came in by.
    expect(question!.steps.map(({ box, does }) => [box.name, does])).toEqual([
      ['Switch 0', 'floods'],
      ['Switch 1', 'floods'],
      ['Switch 2', 'stops'],
    ]);
    expect(question!.steps[0]!.says).toMatch(/remembers a laptop on Switch 0 1 there/);
  });

  test('a known station gets its frame alone: nobody else hears it', () => {
    const site = cellar();
    const printer = site.wiring.boxes.find(({ device }) => device !== undefined)!;
    const router = site.wiring.boxes.find(({ kind }) => kind === 'router')!;
    const trips = followFrame(site, printer.sockets[0]!, 0, router);
    expect(trips.map(({ arrived, circle }) => [arrived, circle])).toEqual([
      [true, false],
      [true, false],
      [true, false],
    ]);
    const [question, answer, again] = trips;
    expect(question!.steps.some(({ does }) => does === 'floods')).toBe(true);
    for (const trip of [answer!, again!])
      expect(trip.steps.every(({ does }) => does === 'forwards' || does === 'takes')).toBe(true);
    expect(again!.steps.map(({ box }) => box.name)).toEqual(
      [...answer!.steps.slice(0, -1).map(({ box }) => box.name)].reverse().concat(router.name),
    );
    // The modem is in a VLAN of its own: not even what is for everybody gets there.
    expect(question!.steps.map(({ box }) => box.name)).not.toContain('modem');
  });

  test('any tree of cables: what is for everybody gets where a flood gets, and in no circle', () => {
    const vlan = fc.constantFrom(10, 20);
    const port = fc.record({ untagged: vlan, tagged: fc.subarray(['10', '20']) });
    const box = fc.record({ plain: fc.boolean(), sockets: fc.array(port, { minLength: 3, maxLength: 3 }) });
    fc.assert(
      fc.property(
        fc.array(box, { minLength: 5, maxLength: 5 }),
        fc.array(fc.tuple(fc.nat(4), fc.nat(2), fc.nat(2)), { minLength: 4, maxLength: 4 }),
        fc.nat(4),
        fc.nat(2),
        fc.constantFrom(0, 10, 20),
        (boxes, parents, start, place, tag) => {
          // A tree: each box hangs on one before it, where both sockets are still free.
          const taken = new Set<string>();
          const cables = parents.flatMap(([parent, up, down], index) => {
            const [from, to] = [parent % (index + 1), index + 1];
            if (taken.has(`${from} ${up}`) || taken.has(`${to} ${down}`)) return [];
            taken.add(`${from} ${up}`).add(`${to} ${down}`);
            return [[from, up, to, down] as const];
          });
          const site = cabled(boxes, cables);
          const { wiring } = site;
          const from = socket(wiring, start, place);
          fc.pre(!taken.has(`${start} ${place}`));
          const [question] = followFrame(site, from, tag);
          const entered = takenUp(from, tag);
          const around =
            entered === undefined
              ? []
              : from.box.sockets.flatMap((out) => {
                  const leaving = out === from ? undefined : sentOut(out, entered);
                  return leaving === undefined ? [] : flood(wiring, out, leaving).visits;
                });
          const reached = new Set(around.map(({ box: each, vlan: id }) => `${each.name} ${id}`));
          expect(question!.circle).toBe(false);
          const seen = question!.steps.filter(({ does }) => does !== 'drops');
          expect(new Set(seen.map(({ at, tag: came }) => `${at.box.name} ${takenUp(at, came)}`))).toEqual(
            new Set([...(entered === undefined ? [] : [`${from.box.name} ${entered}`]), ...reached]),
          );
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('ways of VLANs', () => {
  test('a device that gets both a copy without a tag and one with it is where the one without is', () => {
    // Office comes without a tag as VLAN 20; one switch hands it on tagged, a way round through another one untagged.
    const site = compile(
      soundPlan((plan) => {
        const boxOf = (id: string, plain: boolean, ports: [number, string[]][]): Plan['kit'][number] => ({
          ...plan.kit[0]!,
          id,
          role: 'switch',
          model: id,
          vlanSupport: plain ? 'plain' : 'aware',
          ports: ports.map(([untagged, tagged], index) =>
            switchPortSchema.parse({ id: `p${index}`, name: String(index), untagged, tagged }),
          ),
        });
        plan.router.ports = [portSchema.parse({ id: 'l', name: 'LAN', network: plan.networks[0]!.id })];
        const router = plan.kit[0]!.id;
        plan.kit.push(
          boxOf('first', false, [
            [20, []],
            [20, []],
            [10, ['20']],
          ]),
          boxOf('round', false, [
            [10, []],
            [10, []],
          ]),
          boxOf('last', true, [
            [1, []],
            [1, []],
            [1, []],
          ]),
        );
        plan.wiring.runs = (
          [
            [router, 'LAN', 'first', '0'],
            ['first', '1', 'round', '0'],
            ['first', '2', 'last', '0'],
            ['round', '1', 'last', '1'],
          ] as const
        ).map(([fromBox, fromPort, toBox, toPort], index) =>
          runSchema.parse({ id: `r${index}`, fromBox, fromPort, toBox, toPort }),
        );
        plan.wiring.runs.push(
          runSchema.parse({ id: 'end', fromBox: 'last', fromPort: '2', toDevice: plan.devices[0]!.id }),
        );
      }),
    );
    const box = site.wiring.boxes.find(({ device }) => device !== undefined)!;
    expect(pathTo(site, box.device!.network!, box)).toMatchObject({ arrives: true });
    expect(misplaced(site).size).toBe(0);
  });

  const vlan = fc.constantFrom(10, 20);
  const port = fc.record({ untagged: vlan, tagged: fc.subarray([10, 20]) });
  const switches = fc.array(
    fc.record({ plain: fc.boolean(), ports: fc.array(port, { minLength: 4, maxLength: 4 }) }),
    { minLength: 3, maxLength: 3 },
  );
  const place = fc.tuple(fc.nat(2), fc.nat(3));

  test('any cabling without a loop: a network gets to a device exactly where trying every way finds one', () => {
    fc.assert(
      fc.property(
        switches,
        fc.uniqueArray(place, { minLength: 4, maxLength: 10, selector: String }),
        fc.boolean(),
        (boxes, places, second) => {
          // The first place has the router, the second the device, the others are joined two and two.
          const [[gate, gatePort], [end, endPort], ...rest] = places as [
            [number, number],
            [number, number],
            ...[number, number][],
          ];
          const cables = rest.flatMap((from, index) => {
            const to = rest[index + 1];
            return index % 2 === 0 && to ? [[from, to] as const] : [];
          });
          const site = compile(
            soundPlan((plan) => {
              const [office] = plan.networks;
              plan.networks = [office!, { ...office!, id: 'other', name: 'other', prefix: '10.24.99.0/24' }];
              Object.assign(plan.networks[0]!, { vlan: 10 });
              Object.assign(plan.networks[1]!, { vlan: 20 });
              plan.devices = [{ ...plan.devices[0]!, network: second ? 'other' : office!.id }];
              plan.router.ports = [portSchema.parse({ id: 'l', name: 'LAN', network: office!.id })];
              plan.kit.push(
                ...boxes.map(({ plain, ports }, index) => ({
                  ...plan.kit[0]!,
                  id: `s${index}`,
                  role: 'switch' as const,
                  model: `Switch ${index}`,
                  vlanSupport: plain ? ('plain' as const) : ('aware' as const),
                  ports: ports.map(({ untagged, tagged }, at) => ({
                    id: `p${at}`,
                    name: String(at),
                    rateMbps: 1000,
                    untagged,
                    tagged: tagged.map(String),
                    poe: 'none' as const,
                    poeClass: null,
                  })),
                })),
              );
              const run = (id: string, more: object): Plan['wiring']['runs'][number] =>
                runSchema.parse({ id, label: id, ...more });
              plan.wiring.runs = [
                run('gate', {
                  fromBox: plan.kit[0]!.id,
                  fromPort: 'LAN',
                  toBox: `s${gate}`,
                  toPort: String(gatePort),
                }),
                run('end', { fromBox: `s${end}`, fromPort: String(endPort), toDevice: plan.devices[0]!.id }),
                ...cables.map(([a, b], index) =>
                  run(`c${index}`, {
                    fromBox: `s${a[0]}`,
                    fromPort: String(a[1]),
                    toBox: `s${b[0]}`,
                    toPort: String(b[1]),
                  }),
                ),
              ];
            }),
          );
          // In a loop frames never rest: that is found, and decides.
          fc.pre(loopsOf(site.wiring, [10, 20]).length === 0);
          // Every way, tried step by step, by the words of IEEE 802.1Q alone.
          const enters = (box: number, at: number, tag: number): number | undefined => {
            const { plain, ports } = boxes[box]!;
            if (plain) return tag;
            return tag === 0 ? ports[at]!.untagged : ports[at]!.tagged.includes(tag) ? tag : undefined;
          };
          const leaves = (box: number, at: number, inside: number): number | undefined => {
            const { plain, ports } = boxes[box]!;
            if (plain) return inside;
            if (ports[at]!.untagged === inside) return 0;
            return ports[at]!.tagged.includes(inside) ? inside : undefined;
          };
          const seen = new Set<string>();
          let arrives = false;
          const walk = (box: number, at: number, tag: number): void => {
            const inside = enters(box, at, tag);
            if (inside === undefined || seen.has(`${box} ${at} ${inside}`)) return;
            seen.add(`${box} ${at} ${inside}`);
            for (let out = 0; out < 4; out += 1) {
              const leaving = out === at ? undefined : leaves(box, out, inside);
              if (leaving === undefined) continue;
              if (box === end && out === endPort && leaving === 0) arrives = true;
              for (const [a, b] of cables) {
                if (a[0] === box && a[1] === out) walk(b[0], b[1], leaving);
                if (b[0] === box && b[1] === out) walk(a[0], a[1], leaving);
              }
            }
          };
          // The router sends its first network without a tag, the second with its own.
          walk(gate, gatePort, second ? 20 : 0);
          const box = site.wiring.boxes.find(({ device }) => device !== undefined)!;
          const path = pathTo(site, box.device!.network!, box);
          expect(path?.arrives ?? false).toBe(arrives);
          // Where it does not arrive over cables that lead there, a port is named.
          if (path && !path.arrives) expect(path.stop?.says).toBeTruthy();
        },
      ),
      { numRuns: 400 },
    );
  });
});

/**
 * The shared run: a modem in the cellar, the router upstairs, one cable between two switches that carries the line in
 * VLAN 900 and the staff in VLAN 10. The staff printer is in the cellar.
 */
function cellar(change: (plan: Plan) => void = () => {}): Site {
  return compile(
    soundPlan((plan) => {
      const [router] = plan.kit;
      plan.uplinks[0]!.rateDownMbps = 300;
      plan.uplinks[0]!.rateUpMbps = 100;
      plan.uplinks[0]!.vlan = null;
      const switchOf = (id: string, sockets: [string, number, string[]][]): Plan['kit'][number] => ({
        ...router!,
        id,
        role: 'switch',
        model: id,
        vlanSupport: 'aware',
        ports: sockets.map(([name, untagged, tagged]) => ({
          id: `p${name}`,
          name,
          rateMbps: 1000,
          untagged,
          tagged,
          poe: 'none',
          poeClass: null,
        })),
      });
      plan.kit.push(
        { ...router!, id: 'modem', role: 'modem', model: 'modem' },
        switchOf('cellar', [
          ['1', 900, []],
          ['2', 10, []],
          ['8', 1, ['10', '900']],
        ]),
        switchOf('upstairs', [
          ['1', 900, []],
          ['2', 10, []],
          ['8', 1, ['10', '900']],
        ]),
      );
      plan.networks[0]!.vlan = 10;
      plan.router.ports = [
        portSchema.parse({ id: 'w', name: 'WAN', role: 'wan', uplink: plan.uplinks[0]!.id, rateMbps: 1000 }),
        portSchema.parse({ id: 'l', name: 'LAN', network: plan.networks[0]!.id, rateMbps: 1000 }),
      ];
      const run = (
        id: string,
        a: [string, string],
        b: [string, string],
        toDevice = '',
      ): Plan['wiring']['runs'][number] => ({
        id,
        label: id,
        fromBox: a[0],
        fromPort: a[1],
        toBox: b[0],
        toPort: b[1],
        toDevice,
        category: 'cat6',
        metres: 20,
        pairs: null,
        shielded: false,
      });
      plan.wiring.runs = [
        run('modem', ['modem', '1'], ['cellar', '1']),
        run('shared', ['cellar', '8'], ['upstairs', '8']),
        run('wan', ['upstairs', '1'], [router!.id, 'WAN']),
        run('lan', ['upstairs', '2'], [router!.id, 'LAN']),
        run('printer', ['cellar', '2'], ['', ''], plan.devices[0]!.id),
      ];
      plan.wiring.transits = [{ id: 't', uplink: plan.uplinks[0]!.id, vlan: 900 }];
      plan.devices[0]!.network = plan.networks[0]!.id;
      change(plan);
    }),
  );
}
const wiringRules = (site: Site): string[] =>
  runChecks(site)
    .filter(({ rule }) => /^(run-|vlan-path|loop|transit|untagged|wired|poe-)/.test(rule))
    .map(({ rule, severity }) => `${rule} ${severity}`);

describe('a line carried over the cabling', () => {
  test('gets to the router, alone, and nothing is found', () => {
    const site = cellar();
    expect(linePaths(site).map(({ line, way }) => [line.at, way.map(({ run }) => run.name).join()])).toEqual([
      ['/uplinks/0', 'modem,shared,wan'],
    ]);
    expect(wiringRules(site)).toEqual([]);
  });

  test('loads the shared run with 400 Mb/s each way where the line has 300 down and 100 up', () => {
    // Arithmetic: download 300 to the router and 300 from it; upload 100 to the router and 100 from it.
    const load = runLoads(cellar()).find(({ run }) => run.name === 'shared')!;
    expect([load.there, load.back, load.capacityMbps]).toEqual([400, 400, 1000]);
  });

  test('over two pairs of wires the run is the bottleneck', () => {
    const site = cellar((plan) => {
      plan.wiring.runs[1]!.pairs = 2;
    });
    expect(wiringRules(site)).toEqual(expect.arrayContaining(['run-load warning', 'run-rate warning']));
  });

  test.each([
    [
      'the tag is missing on the run',
      (plan: Plan) => void (plan.kit[2]!.ports[2]!.tagged = ['10']),
      'transit blocker',
    ],
    [
      'a third socket is in its VLAN',
      (plan: Plan) => void (plan.kit[2]!.ports[1]!.untagged = 900),
      'transit blocker',
    ],
    ['a network has its VLAN', (plan: Plan) => void (plan.wiring.transits[0]!.vlan = 10), 'transit blocker'],
    [
      'the staff VLAN ends at a socket',
      (plan: Plan) => void (plan.kit[3]!.ports[2]!.tagged = ['900']),
      'vlan-path blocker',
    ],
    [
      'both ends untagged, two numbers',
      (plan: Plan) => void (plan.kit[3]!.ports[2]!.untagged = 30),
      'untagged-mismatch warning',
    ],
    [
      'two cables in one socket',
      (plan: Plan) => void (plan.wiring.runs[4]!.fromPort = '8'),
      'wired-twice blocker',
    ],
    [
      'a hundred and twenty metres',
      (plan: Plan) => void (plan.wiring.runs[1]!.metres = 120),
      'run-rate blocker',
    ],
  ])('%s: it is found', (_name, change, expected) => {
    expect(wiringRules(cellar(change))).toContain(expected);
  });
});

describe('what a run carries', () => {
  // ISO/IEC 11801, TIA-568, TSB-155, IEEE 802.3ab, an, bz: the values for copper Ethernet, from memory.
  test.each([
    ['cat5e', 100, 4, 2500],
    ['cat6', 55, 4, 10_000],
    ['cat6', 56, 4, 5000],
    ['cat6a', 100, 4, 10_000],
    ['cat5', 100, 4, 1000],
    ['cat6a', 101, 4, 0],
    ['cat6', 20, 2, 100],
    // IEEE 802.3ba, ae, by: 100GBASE-LR4, 10GBASE-ER, 25GBASE-SR, from memory.
    ['os2', 10_000, 4, 100_000],
    ['os2', 40_000, 4, 10_000],
    ['os2', 40_001, 4, 0],
    ['om3', 70, 4, 25_000],
    ['om3', 300, 4, 10_000],
    ['om4', 100, 4, 25_000],
  ] as const)('%s over %i m with %i pairs: %i Mb/s', (category, metres, pairs, mbps) => {
    expect(runRateWorked({ category, metres, pairs }).value).toBe(mbps);
  });

  test('the slowest of cable and sockets decides', () => {
    expect(runRateWorked({ category: 'cat6a', metres: 30, ends: [10_000, 1000] }).value).toBe(1000);
    expect(runRateWorked({ category: 'unknown', metres: null }).value).toBeNull();
  });
});
