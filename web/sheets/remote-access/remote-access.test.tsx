import { describe, expect, test } from '@jest/globals';
import type { Plan } from '../../../core/index.ts';
import { demoPlan } from '../../../core/testing/plans.ts';
import { draw, tagsOf, wordsOf } from '../../testing/render.tsx';
import { dayAfter } from '../../../core/index.ts';
import { today } from '../../state/time.ts';
import AccessSection from './access.tsx';
import { Component as Handover } from '../handover/handover.tsx';
import JoinedSites from './site-to-site.tsx';
import PersonPanel from './person-panel.tsx';
import { Component as RemoteAccess } from './remote-access.tsx';
import { StateList } from '../../parts/state-list.tsx';
import ClientBench from '../bench/client-bench.tsx';

const farrow = (change: (plan: Plan) => unknown = () => {}): Plan => {
  const plan = demoPlan('farrow-sound');
  change(plan);
  return plan;
};
const weir = (change: (plan: Plan) => unknown = () => {}): Plan => {
  const plan = demoPlan('weir-street');
  change(plan);
  return plan;
};
const named = (markup: string, name: string): string[] =>
  tagsOf(markup).flatMap(({ attributes }) =>
    attributes['aria-label']?.includes(name) ? [attributes['aria-label']] : [],
  );

describe('who may come in today', () => {
  const words = (change: (plan: Plan) => unknown): string => wordsOf(draw(farrow(change), <AccessSection />));

  test('counts by state, and each state once', () => {
    const day = today();
    expect(
      words((plan) => {
        plan.vpn.peers[0]!.expires = dayAfter(day, -3);
        plan.vpn.peers[1]!.expires = dayAfter(day, 3);
        plan.vpn.peers[2]!.publicKey = '';
      }),
    ).toContain(
      '4 devices: 1 ending soon, 1 expired, still active on the router, 1 without a key, 1 revoked.',
    );
  });

  test('one device is one device; the next thing to come is named', () => {
    const text = words((plan) => {
      plan.vpn.peers = [{ ...plan.vpn.peers[0]!, expires: dayAfter(today(), 200) }];
    });
    expect(text).toContain('1 device: 1 in.');
    expect(text).toContain(`Next: ${dayAfter(today(), 200)} , Maren Holt, telephone, access ends.`);
  });

  test('with nobody there is no list; the list of a router is asked for where routers have one', () => {
    expect(
      draw(
        farrow((plan) => (plan.vpn.peers = [])),
        <AccessSection />,
      ),
    ).toBe('');
    expect(words(() => {})).toContain('Peer list of the router');
    expect(words((plan) => (plan.vpn.way = 'ikev2'))).not.toContain('Peer list of the router');
  });
});

describe('the page of a person', () => {
  const page = (index: number, change: (plan: Plan) => unknown = () => {}): string =>
    draw(farrow(change), <PersonPanel index={index} />);

  test('before the vault is open there is the profile without its secret, and a page that can be printed', () => {
    const words = wordsOf(page(0));
    expect(words).toContain('PrivateKey = (in the vault: tunnel-maren-telephone)');
    expect(words).toContain('Print the page, A4');
    expect(words).not.toContain('The QR code is the key');
    expect(page(0)).not.toContain('<svg');
  });

  test('who makes the key alone is told to keep it', () => {
    expect(wordsOf(page(2))).toContain('(the one you made yourself)');
    expect(wordsOf(page(2))).toContain('the private half never leaves the device');
  });

  test('with IKEv2 there is no profile, but a page', () => {
    const words = wordsOf(page(0, (plan) => (plan.vpn.way = 'ikev2')));
    expect(words).not.toContain('PrivateKey');
    expect(words).not.toContain('Open the vault for its secrets');
    expect(words).toContain('Print the page, A4');
  });

  test('nobody is there any more', () => expect(page(9)).toBe(''));
});

describe('site-to-site', () => {
  test('each is a card with what becomes of its tunnel, and a hub says what it passes on', () => {
    const words = wordsOf(draw(demoPlan('mill-lane'), <JoinedSites />));
    expect(words).toContain('while DSL of Mill Lane branch library is down up');
    expect(words).toContain('Back within 43 s.');
    expect(words).toContain('forwards nothing between them');
    expect(
      wordsOf(
        draw(
          weir((plan) => (plan.vpn.hub = true)),
          <JoinedSites />,
        ),
      ),
    ).toContain('forwards between the other sites');
  });

  test('the second line of the other end has its fields once it has one', () => {
    const fields = (failsOver: boolean): number =>
      tagsOf(
        draw(
          weir((plan) => (plan.vpn.sites[0]!.failsOver = failsOver)),
          <JoinedSites />,
        ),
      ).filter(({ attributes }) =>
        /sites\/0\/(backupEndpoint|backSeconds|nameSeconds)$/.test(attributes['data-at'] ?? ''),
      ).length;
    expect([fields(false), fields(true)]).toEqual([0, 3]);
  });

  test('the networks that take part are ticked; guests are not', () => {
    const markup = draw(weir(), <JoinedSites />);
    const ticks = [...markup.matchAll(/<label>(?:(?!<\/label>).)*type="checkbox".*?<\/label>/gs)].map(
      ([label]) => [wordsOf(label).trim(), /checked=""/.test(label)],
    );
    expect(ticks).toEqual([
      ['Staff', true],
      ['Reading room', false],
      ['Door counter', true],
    ]);
  });

  test.each([
    ['itself', 'up'],
    ['by-hand', 'by hand'],
    ['no', 'down'],
  ] as const)('a tunnel that comes back %s is %s in words, not by colour alone', (up, word) => {
    const worked = { name: '', value: '', unit: '', steps: [], source: '' };
    const markup = draw(
      weir(),
      <StateList label="The tunnel" states={[{ when: 'on a day', up, says: 'So it is.', worked }]} />,
    );
    expect(wordsOf(markup)).toBe(` on a day ${word} So it is. `);
    expect(named(markup, 'The tunnel')).toEqual(['The tunnel']);
  });
});

describe('the sheet', () => {
  test.each([
    ['none', [], ['Groups and what each may reach', 'Site-to-site']],
    [
      'wireguard',
      ['Tunnel settings of the router', 'What to enter on the router'],
      ['HMAC-SHA2-256', 'TLS 1.3'],
    ],
    ['ikev2', ['HMAC-SHA2-256'], ['Site-to-site', 'Tunnel settings of the router']],
    ['tls', ['TLS 1.3'], ['Site-to-site']],
    ['mesh', ['Groups and what each may reach', 'Remote access today'], ['The tunnel, on the side']],
    ['dated', [], ['Groups and what each may reach']],
  ] as const)('with %s shows what belongs to it and nothing else', (way, there, missing) => {
    const words = wordsOf(
      draw(
        farrow((plan) => (plan.vpn.way = way)),
        <RemoteAccess />,
      ),
    );
    for (const each of there) expect(words).toContain(each);
    for (const each of missing) expect(words).not.toContain(each);
  });

  test('a pool that is missing is offered, for both families', () => {
    const offers = (change: (plan: Plan) => unknown): number =>
      wordsOf(draw(farrow(change), <RemoteAccess />)).split('Suggest one').length - 1;
    expect(offers(() => {})).toBe(0);
    expect(offers((plan) => (plan.vpn.pool6 = ''))).toBe(1);
    expect(offers((plan) => Object.assign(plan.vpn, { pool: '', pool6: '' }))).toBe(2);
  });

  test('no key pair, no secret: the sheet names the private key and shows the public one', () => {
    const markup = draw(farrow(), <RemoteAccess />);
    expect(wordsOf(markup)).toContain('in the vault: tunnel-router');
    expect(markup).toContain(farrow().vpn.publicKey);
  });
});

test('a remote user on the Bench: what is seen at both ends, and captures where something is on the wire', () => {
  const markup = draw(farrow(), <ClientBench />);
  expect(wordsOf(markup)).toContain('At the client At the router');
  expect(wordsOf(markup)).toContain('Save the capture at the router');
  expect(
    draw(
      farrow((plan) => (plan.vpn.way = 'tls')),
      <ClientBench />,
    ),
  ).toBe('');
});

test('the record names who may come in, to what, and the sites that are connected', () => {
  const later = dayAfter(today(), 400);
  const words = wordsOf(
    draw(
      farrow((plan) => (plan.vpn.peers[2]!.expires = later)),
      <Handover />,
    ),
  );
  expect(words).toContain('Remote access: WireGuard (point-to-site VPN)');
  expect(words).toContain(`Idris Vane, laptop until ${later}`);
  expect(words).toContain('revoked 2026-02-11');
  const library = wordsOf(draw(weir(), <Handover />));
  expect(library).toContain('Site-to-site');
  expect(library).toContain('Staff here: 10.61.10.0/24 as 172.24.1.0/24');
});
