import { describe, expect, test } from '@jest/globals';
import { renderToStaticMarkup } from 'react-dom/server';
import { compile, parseFault, simulate, type SimulationRun } from '../../../core/index.ts';
import { demoPlan, good } from '../../../core/testing/plans.ts';
import { clockOf, Moment, Timeline } from './timeline.tsx';

const site = compile(demoPlan('farrow-sound'));
const runOf = (text: string): SimulationRun =>
  simulate(site, { faults: [good(parseFault(site, text, 60, 300))], untilSeconds: 1200, seed: 3 });

describe('the strip chart', () => {
  const run = runOf('beyond:fibre');
  const drawn = (at: number): string =>
    renderToStaticMarkup(<Timeline run={run} at={at} moveTo={() => undefined} />);

  test('one row a lane, and every mark inside the drawing', () => {
    const markup = drawn(70);
    for (const { name } of run.lanes) expect(markup).toContain(`>${name}<`);
    for (const [, x, width] of markup.matchAll(/<rect[^>]* x="([\d.]+)" width="([\d.]+)"/g)) {
      expect(Number(x)).toBeGreaterThanOrEqual(0);
      expect(Number(x) + Number(width)).toBeLessThanOrEqual(1001);
    }
    expect(markup.match(/mark-out/g)!.length).toBeGreaterThanOrEqual(4);
  });

  test('it opens on the change, offers the way back, and the slider keeps to the view', () => {
    const markup = drawn(0);
    expect(markup).toMatch(/aria-pressed="true"[^>]*>Switching over/);
    expect(markup).toContain('Switching back');
    const [, least, value] = /min="([\d.]+)"[^>]*value="([\d.]+)"/.exec(markup)!;
    expect(Number(value)).toBeGreaterThanOrEqual(Number(least));
  });

  test('a run in which nothing changes over has no way back to look at', () => {
    const quiet = renderToStaticMarkup(
      <Timeline run={runOf('resolver:fibre')} at={0} moveTo={() => undefined} />,
    );
    expect(quiet).not.toContain('Switching back');
  });

  test('at a moment: what happened last, what the router believes, what people say', () => {
    const moment = (at: number): string => renderToStaticMarkup(<Moment run={run} at={at} />);
    expect(moment(10)).toContain('Nothing has happened yet');
    const down = run.events.find(({ says }) => says.includes('counts as down'))!.at;
    expect(moment(down - 0.5)).toContain('counts as up, but a probe was lost');
    expect(moment(down)).toContain('counts as down');
    expect(moment(61)).toContain('Have you got cash?');
    expect(moment(1199)).toContain('cards are taken');
  });

  test('seconds as a clock', () => {
    expect([0, 59.9, 60, 605].map(clockOf)).toEqual(['0:00', '0:59', '1:00', '10:05']);
  });
});
