import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { acceptance } from '../answers/acceptance/judge.ts';
import { runChecks } from '../answers/checks/index.ts';
import { endingsOf, writeCalendar } from '../output/formats/calendar.ts';
import { endpointNames } from '../answers/path/query.ts';
import { ask } from '../answers/path/ask.ts';
import { runSheet } from '../answers/run-sheet/sheet.ts';
import { compile } from '../site/compile.ts';
import { demoPlan, notWords } from '../testing/plans.ts';
import { writeAccess } from '../output/formats/access-csv.ts';
import { vpnOverview } from '../behaviour/remote-access/overview.ts';
import { workingsAt } from '../answers/workings/index.ts';
import { parsePlan } from './read.ts';

/** Every place of a plan, as a JSON Pointer: lists and groups too. */
function placesOf(value: unknown, at = ''): string[] {
  const own = at === '' ? [] : [at];
  if (typeof value !== 'object' || value === null) return own;
  return [...own, ...Object.entries(value).flatMap(([key, each]) => placesOf(each, `${at}/${key}`))];
}

function withValue(document: unknown, at: string, value: unknown): unknown {
  const copy = structuredClone(document);
  const parts = at.split('/').slice(1);
  const last = parts.pop()!;
  let here = copy as Record<string, unknown>;
  for (const part of parts) here = here[part] as Record<string, unknown>;
  here[last] = value;
  return copy;
}

const values = fc.oneof(
  fc.constantFrom<unknown>(
    ...[
      0,
      1,
      -1,
      1.5,
      0.1,
      99,
      4094,
      4095,
      65_535,
      9216,
      999_999,
      1e-7,
      null,
      true,
      false,
      '',
      ' ',
      '0',
      '-1',
    ],
    ...[
      '0.0.0.0',
      '255.255.255.255',
      '10.0.0.1/0',
      '10.0.0.0/33',
      '::',
      '::1/128',
      'fe80::1%eth0',
      '10.24.10.5',
    ],
    ...[
      '1-65535',
      '65536',
      '80-',
      '443,8443',
      '00:00:5e:00:53:01',
      'ff:ff:ff:ff:ff:ff',
      '2026-02-30',
      '9999-12-31',
    ],
    ...[
      'wireguard',
      'none',
      'static',
      'pppoe',
      'cellular',
      'guests',
      'both',
      'fixed',
      'office',
      'router',
      'a.b',
      'ü.example',
    ],
  ),
  fc.double({ noNaN: true, min: -1e6, max: 1e6 }),
  fc.string({ maxLength: 20 }),
);

describe.each(['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane', 'larch-house'])(
  '%s, one value changed at random',
  (name) => {
    const plan = demoPlan(name);
    const places = placesOf(plan);

    test('what the door lets in, everything behind it can work with', () =>
      fc.assert(
        fc.property(fc.constantFrom(...places), values, (at, value) => {
          const parsed = parsePlan(withValue(plan, at, value));
          if (!parsed.ok) return;
          const site = compile(parsed.value);
          const findings = runChecks(site, '2026-03-02');
          const steps = runSheet(site);
          for (const { says } of findings) expect(says).not.toMatch(notWords);
          for (const { title, why, proof, ifNot } of steps)
            expect([title, why, proof, ifNot].join(' ')).not.toMatch(notWords);
          acceptance(site, [], steps);
          workingsAt(site, at);
          ask(site, `from internet to ${endpointNames(site).at(-1)} tcp 443`);
          vpnOverview(site);
          writeAccess(site, '2026-03-02');
          writeCalendar(endingsOf(site), 'x', '2026-03-02T09:00:00.000Z');
          // Nothing of a site is the plan itself, and nothing of the plan was changed on the way.
          expect(parsed).toEqual(parsePlan(withValue(plan, at, value)));
        }),
        { numRuns: Number(process.env.NETTER_RUNS ?? 80) },
      ));
  },
);
