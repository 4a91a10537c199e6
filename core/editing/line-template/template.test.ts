import { expect, test } from '@jest/globals';
import { runChecks } from '../../answers/checks/index.ts';
import { uplinkSchema } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan, soundPlan } from '../../testing/plans.ts';
import { asTemplate } from './template.ts';

const demos = ['farrow-sound', 'hollin-edge', 'weir-street'].flatMap((name) => demoPlan(name).uplinks);

test.each(demos.map((uplink) => [uplink.name, uplink] as const))(
  '%s: the template is an uplink, is its own template, and has the same type over the same medium',
  (_name, uplink) => {
    const template = asTemplate(uplink);
    expect(uplinkSchema.parse(template)).toEqual(template);
    expect(asTemplate(template)).toEqual(template);
    expect([template.type, template.medium, template.vlan, template.handoff.mode]).toEqual([
      uplink.type,
      uplink.medium,
      uplink.vlan,
      uplink.handoff.mode,
    ]);
  },
);

test('nothing of one customer goes along', () => {
  const [fibre, cellular] = demoPlan('farrow-sound').uplinks;
  const text = JSON.stringify([asTemplate(fibre!), asTemplate(cellular!)]);
  for (const own of ['farrow-sound@line.example', '203.0.113.9', '100.64.12.7', '192.168.8.2', 'roof space'])
    expect(text).not.toContain(own);
});

test('on a new site the template asks for what is missing instead of guessing it', () => {
  const template = asTemplate(demoPlan('farrow-sound').uplinks[0]!);
  const plan = soundPlan((each) => {
    each.uplinks = [{ ...template, id: 'new' }];
    each.forwards = [];
  });
  const missing = runChecks(compile(plan)).filter(
    ({ rule }) => rule === 'missing' || rule === 'secret-missing',
  );
  expect(missing.map(({ at }) => at)).toEqual([
    '/uplinks/0/settings/pppoe/userName',
    '/uplinks/0/settings/pppoe/secret',
  ]);
});
