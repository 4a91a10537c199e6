import { describe, expect, test } from '@jest/globals';
import { compile } from '../../site/compile.ts';
import { compiledCopy, demoPlan } from '../../testing/plans.ts';
import { adviceFor } from './demand.ts';
import { watchText } from './words.ts';

describe('how a line is monitored, in a sentence', () => {
  test('what is probed, how often, and that it keeps the promise', () => {
    const text = watchText(compile(demoPlan('farrow-sound')), 0);
    expect(text).toMatch(
      /^Probes two targets, 192\.0\.2\.53 \(ping\) and 198\.51\.100\.153 \(DNS query\), every 2 s: down after 4 lost, back after 60 s good: keeps the promise of 45 s/,
    );
  });

  test('figures that the advisor set name the promise that they were set by', () => {
    const plan = structuredClone(demoPlan('farrow-sound'));
    const site = compiledCopy(plan);
    const tightest = [...site.failover.promises].sort((a, b) => a.withinSeconds - b.withinSeconds)[0]!;
    Object.assign(plan.uplinks[0]!.watch, adviceFor(site, tightest)!.setting);
    expect(watchText(compiledCopy(plan), 0)).toMatch(/: set by the promise of 45 s\.$/);
  });

  test('too slow for the promise, or nothing probed, is said', () => {
    const plan = structuredClone(demoPlan('farrow-sound'));
    Object.assign(plan.uplinks[0]!.watch, { intervalSeconds: 30, downAfter: 10 });
    expect(watchText(compiledCopy(plan), 0)).toMatch(
      /too slow for the promise of 45 s, 3\d\d(?:\.\d)? s at worst/,
    );
    plan.uplinks[0]!.watch.targets = [];
    expect(watchText(compiledCopy(plan), 0)).toMatch(/^Probes nothing/);
  });
});
