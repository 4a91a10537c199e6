import { describe, expect, test } from '@jest/globals';
import { promisesOf } from '../../answers/acceptance/promises.ts';
import { runChecks } from '../../answers/checks/index.ts';
import { simulate } from '../../behaviour/failover/simulate.ts';
import { ask } from '../../answers/path/ask.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { demoPlan, good, soundPlan } from '../../testing/plans.ts';
import { layoutOf, scaleOf } from './layout.ts';
import { momentOf, nodeOf } from './overlays.ts';
import { pictureOf, type Picture } from './picture.ts';
import { wayOfQuestion } from './way.ts';

const demos = ['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane', 'larch-house'];
const siteOf = (name: string): Site => compile(demoPlan(name));
/** Many networks, and many devices in one of them. */
const large = (networks: number, devices: number): Site =>
  compile(
    soundPlan((plan) => {
      const [first] = plan.networks;
      for (let index = 0; index < networks; index += 1)
        plan.networks.push({
          ...first!,
          id: `n${index}`,
          name: `Room ${index}`,
          vlan: 100 + index,
          prefix: `10.30.${index}.0/24`,
          routerAddress: `10.30.${index}.1`,
        });
      for (let index = 0; index < devices; index += 1)
        plan.devices.push({
          ...plan.devices[0]!,
          id: `d${index}`,
          name: `Printer ${index}`,
          network: 'n0',
          address: `10.30.0.${10 + index}`,
          services: [],
        });
    }),
  );
const titles = (picture: Picture, kind: string): string[] =>
  picture.nodes.filter((node) => node.kind === kind).map(({ title }) => title);

describe('the site in one picture', () => {
  test.each(demos)(
    '%s: every line, network and place is on it, and every edge joins two of its nodes',
    (name) => {
      const site = siteOf(name);
      const picture = pictureOf(site);
      expect(titles(picture, 'line')).toEqual(site.lines.map((line) => line.name));
      expect(titles(picture, 'network')).toEqual(site.networks.map((network) => network.name));
      const ids = new Set(picture.nodes.map(({ id }) => id));
      expect(ids.size).toBe(picture.nodes.length);
      for (const { from, to } of picture.edges) expect([ids.has(from), ids.has(to)]).toEqual([true, true]);
    },
  );

  test('what is many folds, and opens one group at a time', () => {
    const site = large(50, 40);
    const picture = pictureOf(site);
    expect(titles(picture, 'networks')).toEqual(['Staff']);
    expect(picture.nodes.length).toBeLessThan(20);
    const opened = pictureOf(site, new Set(['networks:staff']));
    expect(titles(opened, 'network').length).toBeGreaterThan(50);
    expect(titles(opened, 'devices')).toContain('40 devices');
  });

  test.each([
    ...demos.map((name) => [name, siteOf(name)] as const),
    ['fifty networks', large(50, 40)] as const,
  ])('%s: nothing lies on anything else, and it is legible at 1280x800', (_, site) => {
    const layout = layoutOf(pictureOf(site));
    const { places } = layout;
    const all = [...places.values()];
    for (const [index, one] of all.entries())
      for (const other of all.slice(index + 1))
        expect(
          one.x < other.x + other.width &&
            other.x < one.x + one.width &&
            one.y < other.y + other.height &&
            other.y < one.y + one.height,
        ).toBe(false);
    // Letters of 12 px shrink to 9 px at the least.
    expect(scaleOf(layout)).toBeGreaterThan(0.75);
  });
});

describe("a packet's way on it", () => {
  const way = (site: Site, question: string): string[] =>
    wayOfQuestion(site, question, new Set())!.there.flatMap(({ nodes }) => nodes);

  test('from a network outward, over the line in use, and over the other when it is down', () => {
    const site = siteOf('farrow-sound');
    expect(way(site, 'from office to internet tcp 443')).toEqual([
      'network:office',
      'router',
      'box:fibre',
      'line:fibre',
      'internet',
    ]);
    expect(way(site, 'from office to internet tcp 443 when fibre is down')).toContain('line:cellular');
  });

  test('from outside through a forward to its device, and back the same way', () => {
    const site = siteOf('farrow-sound');
    const found = wayOfQuestion(site, 'from internet to 203.0.113.9 tcp 8443', new Set())!;
    const there = found.there.flatMap(({ nodes }) => nodes);
    expect(there[0]).toBe('internet');
    expect(there).toContain('router');
    const answer = good(ask(site, 'from internet to 203.0.113.9 tcp 8443'));
    expect(found.there).toHaveLength(answer.hops.length);
    expect(found.back).toHaveLength(answer.reply.length);
  });

  test('each step goes along an edge of the picture, whatever is asked', () => {
    for (const name of demos) {
      const site = siteOf(name);
      const picture = pictureOf(site);
      const joined = new Set(picture.edges.flatMap(({ from, to }) => [`${from} ${to}`, `${to} ${from}`]));
      const names = [
        ...site.networks.map((network) => network.name.toLowerCase().replace(/\s+/g, '-')),
        'internet',
        'router',
      ];
      for (const from of names)
        for (const to of names) {
          const found = wayOfQuestion(site, `from ${from} to ${to} tcp 443`, new Set());
          for (const steps of [found?.there ?? [], found?.back ?? []]) {
            const nodes = steps.flatMap((step) => step.nodes);
            nodes
              .slice(1)
              .forEach((node, index) =>
                expect([name, from, to, nodes[index], node, joined.has(`${nodes[index]} ${node}`)]).toEqual([
                  name,
                  from,
                  to,
                  nodes[index],
                  node,
                  true,
                ]),
              );
          }
        }
    }
  });
});

describe('what is laid over it', () => {
  test('every finding and every promise of the demos has its place, but for what is about the site as a whole', () => {
    for (const name of demos) {
      const site = siteOf(name);
      const all = new Set([
        ...site.networks.map(({ id }) => `network:${id}`),
        ...site.devices.map(({ id }) => `device:${id}`),
        ...pictureOf(site).nodes.map(({ id }) => id),
      ]);
      for (const { at } of [...runChecks(site), ...promisesOf(site)]) {
        const id = nodeOf(site, at);
        expect([
          at,
          id === undefined ? /^\/(site|failover|visit|contacts|demo)/.test(at) : all.has(id),
        ]).toEqual([at, true]);
      }
    }
  });

  test('a line that dies is out on it, and the traffic is on the other', () => {
    const site = siteOf('farrow-sound');
    const run = simulate(site, {
      faults: [{ kind: 'beyond', line: 'fibre', atSeconds: 60, forSeconds: 600, amount: 0 }],
      untilSeconds: 900,
      seed: 1,
    });
    expect(momentOf(site, run, 30)).toMatchObject({ active: 'fibre' });
    expect(momentOf(site, run, 30).states.get('line:fibre')?.state).toBe('good');
    const later = momentOf(site, run, 300);
    expect(later.active).toBe('cellular');
    expect(later.states.get('line:fibre')?.state).toBe('out');
  });
});
