import { describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { formatAddress } from '../../base/net/address.ts';
import { acceptance } from '../acceptance/judge.ts';
import { runSheet } from '../run-sheet/sheet.ts';
import { compile } from '../../site/compile.ts';
import type { Site } from '../../site/model.ts';
import { demoPlan } from '../../testing/plans.ts';
import { demoNames } from '../../testing/wishes.ts';
import { fillSteps } from './fill.ts';
import { desktops, writeScript, type Desktop } from './script.ts';
import { answerScript } from './stand-in.ts';
import { originOf, readTranscript } from './transcript.ts';

const siteOf = (name: string): Site => {
  const plan = demoPlan(name);
  plan.visit.outsideUrl = 'https://far-end.example/address';
  return compile(plan);
};
const farrow = siteOf('farrow-sound');
const steps = runSheet(farrow);
const network = (id: string, site = farrow) => site.networks.find((each) => each.id === id)!;
const filled = (text: string, site = farrow): string[] =>
  fillSteps(site, runSheet(site), readTranscript(text))
    .filter(({ complete }) => complete)
    .map(({ step }) => step.id);

describe('scripts', () => {
  test.each(Object.keys(desktops) as Desktop[])(
    'for %s: read-only, and no text of the plan is a command',
    (desktop) => {
      const plan = demoPlan('farrow-sound');
      plan.site.name = "x'; touch /tmp/owned; $(id) `id`\u2028rm";
      plan.networks[0]!.name = '"; Remove-Item x #';
      plan.visit.outsideUrl = "https://x.example/'; id";
      plan.visit.throughputHost = 'a b; id';
      const site = compile(plan);
      const lines = writeScript(site, desktop, site.networks[0]!).split('\n');
      expect(lines.filter((line) => !line.startsWith('#')).join('\n')).not.toMatch(
        /touch|Remove-Item|\bid\b|iperf/,
      );
      expect(lines.filter((line) => !line.startsWith('#')).join('\n')).not.toMatch(
        /\b(?:rm|sudo|ip (?:addr|route) (?:add|del)|Set-|New-Net|netsh)\b/,
      );
      expect(lines.at(-2)).toContain('end');
    },
  );

  test('for the two unix kinds are understood by a shell, quotation and all', () => {
    const folder = mkdtempSync(join(tmpdir(), 'netter-script-'));
    for (const desktop of ['linux', 'macos'] as const)
      for (const from of [...farrow.networks, 'outside' as const]) {
        const file = join(folder, 'probe.sh');
        writeFileSync(file, writeScript(farrow, desktop, from));
        expect(() => execFileSync('sh', ['-n', file])).not.toThrow();
      }
  });
});

describe('one paste of a script', () => {
  test('tells by itself from which network and line it came, and answers its steps', () => {
    const text = answerScript(farrow, { on: network('office') });
    const origin = originOf(farrow, readTranscript(text));
    expect([origin.network?.id, origin.line?.id, origin.contradictions]).toEqual(['office', 'fibre', []]);
    expect(filled(text).sort()).toEqual(['apart:office', 'internet:office', 'page:fibre', 'size:fibre']);
    // What answered nothing is not complete: the address of the port is typed from its page.
    const standing = fillSteps(farrow, steps, readTranscript(text)).find(
      ({ step }) => step.id === 'standing:fibre',
    )!;
    expect([standing.complete, standing.values]).toEqual([false, { outside: '203.0.113.9' }]);
  });

  test('over the other line it measures the other line', () => {
    const text = answerScript(farrow, { on: network('office'), down: ['fibre'] });
    expect(originOf(farrow, readTranscript(text)).line?.id).toBe('cellular');
    expect(filled(text)).not.toContain('page:fibre');
  });

  test('taken on Office it ticks nothing of another network, and says so', () => {
    const written = answerScript(farrow, { on: network('passengers') });
    const moved = written.replaceAll(/inet [\d.]+\/\d+/g, 'inet 10.24.10.140/24');
    expect(filled(moved).filter((id) => id.includes('passengers'))).toEqual([]);
    expect(originOf(farrow, readTranscript(moved)).contradictions).toContainEqual(
      expect.stringContaining('The script was written for Passengers, and the laptop was on Office'),
    );
  });

  test('with a rule entered wrongly it shows what answers and must not', () => {
    const plan = demoPlan('farrow-sound');
    plan.reach.unshift({
      ...plan.reach[0]!,
      id: 'wrong',
      action: 'allow',
      from: 'passengers',
      to: 'office',
      device: '',
      service: '',
    });
    const text = answerScript(farrow, { on: network('passengers'), built: compile(plan) });
    const apart = fillSteps(farrow, steps, readTranscript(text)).find(
      ({ step }) => step.id === 'apart:passengers',
    )!;
    expect([apart.complete, Object.values(apart.values)]).toEqual([false, expect.arrayContaining(['no'])]);
  });

  test('a laptop that reaches nothing proves no separation', () => {
    const text = answerScript(farrow, { on: network('passengers'), down: ['fibre', 'cellular'] }).replaceAll(
      '4 received',
      '0 received',
    );
    expect(filled(text)).not.toContain('apart:passengers');
  });

  test('from outside the address seen decides: from inside it answers nothing, from another source it must be refused', () => {
    const from = (source: string): string[] => filled(answerScript(farrow, { on: 'outside', source }));
    expect(from('198.51.100.25')).toEqual(['outside:tide']);
    expect(from('192.0.2.77')).toEqual(['outside-refused:tide']);
    expect(from('203.0.113.9')).toEqual([]);
    expect(from('10.24.10.50')).toEqual([]);
  });

  test('a timed gap goes to the network it was timed from', () => {
    const text = answerScript(farrow, { on: network('tickets'), down: ['fibre'], gapSeconds: 18 });
    const gaps = fillSteps(farrow, steps, readTranscript(text)).filter(({ values }) => 'gap' in values);
    expect(gaps.map(({ step }) => step.id)).toEqual(['second-network:fibre:tickets']);
    expect(Math.abs(Number(gaps[0]!.values.gap) - 18)).toBeLessThanOrEqual(1);
  });

  test.each(demoNames)(
    '%s: scripts from every network and from outside prove what they can, nothing twice wrong',
    (name) => {
      const site = siteOf(name);
      const all = runSheet(site);
      for (const each of site.networks) {
        const text = answerScript(site, { on: each });
        expect([each.id, originOf(site, readTranscript(text)).contradictions]).toEqual([each.id, []]);
        const done = fillSteps(site, all, readTranscript(text)).filter(({ complete }) => complete);
        const records = done.map(({ step, values, seenFrom }, index) => ({
          id: index + 1,
          kind: 'tick' as const,
          subject: step.id,
          at: '2026-03-02T09:00:00Z',
          initials: 'AB',
          reading: '',
          values,
          seenFrom,
          revision: 1,
        }));
        const accepted = acceptance(site, records, all).filter((one) => one.open.length === 0);
        for (const { promise } of accepted) expect(promise.id).toMatch(new RegExp(`:${each.id}$`));
        const promised = acceptance(site, [], all).find(
          ({ promise }) => promise.id === `internet:${each.id}`,
        )!;
        if (promised.promise.paper.kept)
          expect(accepted.map(({ promise }) => promise.id)).toContain(`internet:${each.id}`);
      }
    },
  );

  test('cut off, it says so', () => {
    const text = answerScript(farrow, { on: network('office') });
    expect(originOf(farrow, readTranscript(text.slice(0, -12))).contradictions).toContainEqual(
      expect.stringContaining('not pasted whole'),
    );
  });

  test('two lines answer and a second router hands out addresses: both are said', () => {
    const text = answerScript(farrow, { on: network('office') }).replace(
      'default via 10.24.10.1',
      'default via 10.24.10.254',
    );
    expect(originOf(farrow, readTranscript(text)).contradictions).toEqual([
      `The gateway on Office is 10.24.10.254, and the router is ${formatAddress(network('office').routerAddress!)}: a second router hands out addresses there.`,
    ]);
  });

  test('fuzzed: whatever is pasted, nothing fails, and a mangled paste ticks no other network', () => {
    const whole = answerScript(farrow, { on: network('office') });
    const lines = whole.split('\n');
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ maxLength: 400 }),
          fc
            .array(fc.constantFrom(...lines, '@@ port', '@@ size x y', '@@', '\u0000'), { maxLength: 60 })
            .map((rows) => rows.join('\n')),
          fc
            .tuple(fc.nat(whole.length), fc.string({ maxLength: 8 }))
            .map(([at, more]) => whole.slice(0, at) + more + whole.slice(at)),
        ),
        (text) => {
          for (const { step } of fillSteps(farrow, steps, readTranscript(text)))
            expect(step.id).not.toMatch(
              /^(?:internet|apart|second-network\S*):(?:tickets|passengers|plant)$/,
            );
        },
      ),
      { numRuns: 300 },
    );
  });
});
