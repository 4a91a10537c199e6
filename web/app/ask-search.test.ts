import { describe, expect, test } from '@jest/globals';
import { compile, endpointNames, runChecks } from '../../core/index.ts';
import { demoPlan } from '../../core/testing/plans.ts';
import { findEverything, type Found } from './ask-search.ts';

const plan = demoPlan('farrow-sound');
const site = compile(plan);
const went: string[] = [];
const find = (typed: string): Found[] =>
  findEverything(
    typed,
    {
      plan,
      findings: runChecks(site),
      names: endpointNames(site),
      recent: ['from office to internet tcp 443'],
      commands: [
        { title: 'Open the vault', words: 'password secret', key: '', run: () => void went.push('vault') },
      ],
      sites: [{ id: 'weir-street', name: 'Weir Street library', customer: 'Weir District Libraries' }],
    },
    {
      ask: (question) => void went.push(`ask ${question}`),
      goTo: (at) => void went.push(at),
      open: (path) => void went.push(path),
    },
  );
const first = (typed: string, group: Found['group']): Found | undefined =>
  find(typed).find((each) => each.group === group);

describe('Ask finds everything', () => {
  test('what was asked last comes first, before anything is typed', () => {
    expect(find('')[0]).toMatchObject({ group: 'Recent', title: 'from office to internet tcp 443' });
  });

  test('a packet, whole or on the way to one', () => {
    expect(find('from office to tide-logger tcp 8443')[0]!.title).toBe('from office to tide-logger tcp 8443');
    expect(find('from off')[0]!.title).toBe('from office');
  });

  test('a field by any word that boxes hide it under, a device by its address, a person, a command, a site', () => {
    // "Masquerade" is source NAT, "Maximum transmission unit" the MTU (docs/words.md, also called).
    expect(first('masquerade', 'Fields')?.title).toBe('Source NAT');
    expect(first('maximum transmission unit', 'Fields')?.title).toBe('MTU');
    const device = plan.devices.find(({ address }) => address !== '')!;
    expect(first(device.address, 'On this site')?.title).toBe(device.name);
    expect(first('maren', 'On this site')?.title).toMatch(/Maren Holt/);
    expect(first('secret', 'Sheets and commands')?.title).toBe('Open the vault');
    expect(first('weir', 'Sites')?.title).toBe('Weir Street library');
    expect(first('battery', 'Findings')).toBeDefined();
  });

  test('what is inside: a Wi-Fi network, a cable by its label, a second router by its place', () => {
    const larch = demoPlan('larch-house');
    const at = (typed: string): string | undefined => {
      const found = findEverything(
        typed,
        { plan: larch, findings: [], names: [], recent: [], commands: [], sites: [] },
        { ask: () => {}, goTo: (place) => void went.push(place), open: () => {} },
      ).find(({ group }) => group === 'On this site');
      went.length = 0;
      found?.run();
      return went[0];
    };
    expect(at('larch house guests')).toBe('/wifi/networks/1/ssid');
    expect(at('T1')).toBe('/wiring/runs/1/label');
    expect(at('second ground floor')).toBe('/second/2/way');
    expect(at('attic rooms')).toBe('/wifi/rooms/1/name');
  });

  test('each leads somewhere that the plan has, or does what it says', () => {
    for (const typed of ['tide', 'mtu', 'vault', 'weir', 'uplinks', 'from office to internet ping'])
      for (const { run } of find(typed)) {
        went.length = 0;
        run();
        expect(went).toHaveLength(1);
      }
    expect(find('zzzzqq')).toHaveLength(1);
  });
});
