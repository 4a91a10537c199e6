import { expect, test } from '@jest/globals';
import type { Plan } from '../../plan/schema.ts';
import { compile } from '../../site/compile.ts';
import { demoPlan } from '../../testing/plans.ts';
import { pageOf, pageText, type PersonPage } from './page.ts';

const pageFor = (id: string, change: (plan: Plan) => unknown = () => {}): PersonPage => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  const site = compile(plan);
  return pageOf(
    site,
    site.vpn.peers.find((each) => each.id === id)!,
  );
};

test('the gate contractor: the gate panel and nothing else, the own key, somebody else to call', () => {
  const page = pageFor('idris-laptop');
  expect(page.opens).toEqual([{ what: 'Gate panel of Gate controller', where: '10.24.40.21, tcp 443' }]);
  expect(page.steps.join()).toContain('the private half never leaves the device');
  expect(page.keyCaution).toBe('');
  expect(page.cautions[0]).toContain('Maren Holt, 01632 960 012');
});

test('the duty manager: three services and the router, a picture that is a key; who lost the telephone is not the one to call', () => {
  const page = pageFor('maren-phone');
  expect(page.opens.at(-1)).toEqual({ what: 'the pages of the router', where: '10.24.60.1' });
  expect(page.opens).toHaveLength(4);
  expect(page.keyCaution).toMatch(/destroy the page/);
  expect(page.cautions[0]).toContain('to the installer');
  expect(page.cautions[0]).not.toContain('01632');
});

test.each([
  ['ikev2', /type IKEv2: server and remote identity quay\.farrow-ferries\.example/],
  ['tls', /add quay\.farrow-ferries\.example as the server/],
] as const)('%s: the certificate and its password never simulateClient together', (way, words) => {
  const page = pageFor('maren-phone', (plan) => (plan.vpn.way = way));
  const text = pageText(page);
  expect(text).toMatch(words);
  expect(text).toMatch(/its password comes by telephone/);
  expect(text).not.toContain('WireGuard');
});

test('as text: every step with its number, what opens, and no secret and no key', () => {
  const text = pageText(pageFor('maren-phone'));
  expect(text.match(/^\d+\. /gm)).toHaveLength(5);
  expect(text).not.toMatch(/[A-Za-z0-9+/]{43}=/);
  expect(pageText(pageFor('maren-phone', (plan) => (plan.vpn.groups[0]!.grants = [])))).toContain(
    'the pages of the router',
  );
});
