import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from '@jest/globals';
import { run } from './main.ts';

const folder = mkdtempSync(join(tmpdir(), 'netter-cli-'));
const demo = (name: string): string => fileURLToPath(new URL(`../demo/${name}.json`, import.meta.url));
const file = (name: string, text: string): string => {
  writeFileSync(join(folder, name), text);
  return join(folder, name);
};

function printed(...args: string[]): { exit: number; out: string; error: string } {
  let [out, error] = ['', ''];
  const exit = run(args, {
    stdout: { write: (text) => (out += text) },
    stderr: { write: (text) => (error += text) },
  });
  return { exit, out, error };
}

// eslint-disable-next-line @typescript-eslint/no-explicit-any
function netter(...args: string[]): { exit: number; out: any; error: any } {
  const { exit, out, error } = printed(...args);
  return { exit, out: out && JSON.parse(out), error: error && JSON.parse(error) };
}

describe('netter', () => {
  test('check: 0 without a blocker, 1 with one, 2 where the file cannot be read', () => {
    expect(netter('check', demo('farrow-sound'))).toMatchObject({ exit: 0, out: { blockers: 0 } });
    const hollin = netter('check', demo('hollin-edge'));
    expect(hollin.exit).toBe(1);
    expect(hollin.out.findings[0]).toMatchObject({
      rule: 'overlap',
      severity: 'blocker',
      fix: { patch: expect.any(Array) },
    });
    expect(netter('check', join(folder, 'nothing.json'))).toMatchObject({
      exit: 2,
      error: { error: 'unreadable' },
    });
    expect(netter('check', file('broken.json', '{"format": nonsense'))).toMatchObject({
      exit: 2,
      error: { error: 'not-json', at: expect.stringContaining('line 1, column 13') },
    });
    expect(netter('check', folder)).toMatchObject({ exit: 2, error: { error: 'unreadable' } });
  });

  test('figures in JSON end after twelve digits, and what has no bound says so', () => {
    const { out } = printed('sum', 'free-space-loss', 'mhz=806', 'km=3.2');
    const all = [...out.matchAll(/-?\d+\.\d+/g)].map(([figure]) => figure.replace(/[-.]|^-?0\.0*/g, ''));
    expect(all.length).toBeGreaterThan(0);
    for (const digits of all) expect(digits.length).toBeLessThanOrEqual(12);
    expect(out).not.toMatch(/\bnull\b|Infinity/);
  });

  test('path: from a network, from the internet, from an address', () => {
    const path = (...args: string[]) => netter('path', demo('farrow-sound'), ...args);
    expect(path('--from', 'guests', '--to', '203.0.113.9', '--proto', 'tcp', '--port', '8443')).toMatchObject(
      { exit: 0, out: { outcome: 'refused' } },
    );
    expect(
      path('--from', '198.51.100.26', '--to', '203.0.113.9', '--proto', 'tcp', '--port', '8443'),
    ).toMatchObject({ exit: 0, out: { outcome: 'delivered' } });
    expect(
      path('--from', 'internet', '--to', 'tide-logger', '--port', '8443', '--down', 'fibre'),
    ).toMatchObject({ exit: 0, out: { outcome: 'impossible' } });
    expect(path('--from', 'office')).toMatchObject({ exit: 2, error: { at: '--to' } });
    expect(path('--from', 'office', '--to', 'internet', '--proto', 'carrier-pigeon')).toMatchObject({
      exit: 2,
      error: { at: '--proto' },
    });
    expect(path('--from', 'office', '--to', 'internet', '--port', '99999')).toMatchObject({
      exit: 2,
      error: { error: 'query' },
    });
  });

  test('runsheet, acceptance with records, schema', () => {
    expect(netter('runsheet', demo('weir-street')).out[0]).toMatchObject({ id: 'kit' });
    const records = file(
      'records.json',
      JSON.stringify([
        {
          id: 1,
          at: '2026-03-02T09:00:00Z',
          kind: 'tick',
          subject: 'internet:staff',
          reading: 'the catalogue opened',
          initials: 'AB',
          revision: 1,
        },
      ]),
    );
    const accepted = netter('acceptance', demo('weir-street'), '--records', records).out;
    expect(
      accepted
        .filter((each: { accepted: boolean }) => each.accepted)
        .map((each: { promise: { id: string } }) => each.promise.id),
    ).toEqual(['internet:staff']);
    expect(
      netter('acceptance', demo('weir-street'), '--records', file('bad.json', '[{"kind":"tick"}]')),
    ).toMatchObject({ exit: 2, error: { error: 'not-records' } });
    expect(netter('schema').out.properties.format).toMatchObject({ const: 'netter-plan' });
  });

  test('brief: a letter becomes a plan, and its password stands nowhere', () => {
    const letter = file(
      'letter.txt',
      'Fibre, PPPoE, VLAN 7\nUser name: a1@line.example\nPassword: Wren-Teapot-41\n',
    );
    const made = netter('brief', letter, '--answer', 'name=Mill,box:fibre=bridged');
    expect(made.exit).toBe(0);
    expect(made.out).toMatchObject({
      plan: {
        site: { name: 'Mill' },
        uplinks: [
          {
            type: 'pppoe',
            vlan: 7,
            handoff: { mode: 'bridged' },
            settings: { pppoe: { userName: 'a1@line.example' } },
          },
        ],
      },
    });
    expect(JSON.stringify(made.out)).not.toContain('Teapot');
  });

  test('script, transcript and found: what is tried, what it said, and the site as it is', () => {
    expect(printed('script', demo('farrow-sound'), '--from', 'Office', '--on', 'macos').out).toContain(
      "say '@@ begin office'",
    );
    expect(netter('script', demo('farrow-sound'), '--from', 'cellar')).toMatchObject({
      exit: 2,
      error: { at: '--from', says: expect.stringContaining('office, tickets, passengers, plant, outside') },
    });
    const said = file(
      'said.txt',
      '@@ begin office\n@@ listing\n    inet 10.24.20.20/27 scope global eth0\n@@ routes\ndefault via 10.24.20.1 dev eth0\n@@ end\n',
    );
    expect(netter('transcript', said, '--plan', demo('farrow-sound'))).toMatchObject({
      exit: 1,
      out: {
        network: 'tickets',
        contradictions: [expect.stringContaining('was written for Office')],
        steps: [],
      },
    });
    const paste = file(
      'laptop.txt',
      'inet 10.61.10.40/24 scope global eth0\ndefault via 10.61.10.1 dev eth0',
    );
    const outside = file('outside.txt', '203.0.113.80');
    expect(netter('found', paste, outside, '--plan', demo('weir-street'))).toMatchObject({
      exit: 0,
      out: {
        boxes: [{ address: '10.61.10.1' }],
        translations: 1,
        beside: [{ what: 'Address that the outside sees on Cable', differs: true }, { differs: false }],
      },
    });
  });

  test('sum: by name, listed, and bad input named', () => {
    expect(netter('sum', 'subnet', 'prefix=10.9.8.0/21').out).toMatchObject({ value: 2046, unit: 'hosts' });
    expect(netter('sum', 'classify', 'address=100.64.3.2').out).toMatchObject({
      value: 'carrier-shared',
      source: 'RFC 6598 section 7',
    });
    expect(
      netter('sum', 'route', 'table=0.0.0.0/0=fibre,10.24.0.0/16=inside', 'to=10.24.1.1').out.value,
    ).toBe('inside');
    expect(netter('sum', '--list').out.map((each: { name: string }) => each.name)).toEqual(
      expect.arrayContaining(['subnet', 'classify', 'overlap', 'route']),
    );
    expect(netter('sum', 'subnet', 'prefix=10.9.8.0')).toMatchObject({ exit: 2, error: { at: 'prefix' } });
    expect(netter('sum', 'subnet', 'ten')).toMatchObject({ exit: 2, error: { at: 'ten' } });
  });

  test('anything else is one JSON object on stderr', () => {
    for (const args of [
      [],
      ['nonsense'],
      ['check'],
      ['check', demo('weir-street'), 'more'],
      ['sum'],
      ['constructor'],
      ['path', demo('weir-street'), '--from', 'staff', '--colour', 'red'],
    ])
      expect(netter(...args)).toMatchObject({
        exit: 2,
        out: '',
        error: { error: expect.any(String), at: expect.any(String), says: expect.any(String) },
      });
  });

  test('failover: the same seed is the same run; a promise that is broken is exit 1', () => {
    const run = netter(
      'failover',
      demo('farrow-sound'),
      '--fault',
      'pull:fibre',
      '--at',
      '60',
      '--for',
      '600',
      '--seed',
      '7',
    );
    expect(run).toMatchObject({ exit: 0, out: { seed: 7, faults: [{ kind: 'pull', line: 'fibre' }] } });
    expect(
      netter('failover', demo('farrow-sound'), '--fault', 'pull:fibre', '--seed', '7').out.promises,
    ).toEqual(run.out.promises);
    expect(netter('failover', demo('farrow-sound'), '--fault', 'restart', '--for', '60').exit).toBe(1);
    expect(netter('failover', demo('farrow-sound'), '--fault', 'fire:fibre')).toMatchObject({
      exit: 2,
      error: { error: 'fault', at: '--fault' },
    });
    expect(netter('failover', demo('farrow-sound'), '--fault', 'pull:fibre', '--for', 'long').exit).toBe(2);
  });

  test('availability: random years, and a plan that promises nothing', () => {
    expect(netter('availability', demo('farrow-sound'), '--years', '200', '--seed', '7').out).toMatchObject({
      years: 200,
      promise: 'Card terminals are back within 45 s',
    });
    expect(netter('availability', demo('weir-street'))).toMatchObject({
      exit: 2,
      error: { error: 'no-promise' },
    });
    expect(netter('availability', demo('farrow-sound'), '--years', '0').exit).toBe(2);
  });

  test('vpn: the ranking of most days and of the day the first line fails, and who reaches what', () => {
    const { out } = netter('vpn', demo('farrow-sound'));
    expect([out.ranking[0].way, out.rankingWhenFirstLineIsDown[0].way]).toEqual(['wireguard', 'hub']);
    const peer = (id: string) => out.peers.find((each: { id: string }) => each.id === id);
    expect(peer('idris-laptop').reaches).toEqual(['Gate panel of Gate controller']);
    expect(peer('old-tablet')).toMatchObject({ revoked: true, reaches: [], routes: [] });
  });

  test('check --date and access: what ended is found on its day, and what the router holds is compared', () => {
    const rules = (...more: string[]): string[] =>
      netter('check', demo('farrow-sound'), ...more).out.findings.map(({ rule }: { rule: string }) => rule);
    expect(rules()).not.toContain('vpn-ended');
    expect(rules('--date', '2027-02-01')).toContain('vpn-ended');
    const access = (...more: string[]) =>
      netter('access', demo('farrow-sound'), '--date', '2027-02-01', ...more);
    const states = access().out.access.map(({ id, state }: { id: string; state: string }) => [id, state]);
    expect(states).toContainEqual(['idris-laptop', 'ended']);
    expect(states).toContainEqual(['old-tablet', 'revoked']);
    const list = file(
      'router.txt',
      'peer: T26gglwnPvHlizDZwOkYww/yb2Cn3I0LLr2H0jdHf00=\n  allowed ips: 10.24.60.0/24\n',
    );
    const { exit, out } = access('--router', list);
    expect(exit).toBe(1);
    expect(out.router.map(({ rule }: { rule: string }) => rule)).toEqual(
      expect.arrayContaining(['revoked-in', 'wide', 'not-entered']),
    );
    expect(access('--router', file('empty.txt', 'no key')).error).toMatchObject({ error: 'listing' });
    expect(netter('check', demo('farrow-sound'), '--date', '1.2.2027').error).toMatchObject({ at: '--date' });
  });

  test('vpn: joined sites, and what becomes of the tunnel when a line fails', () => {
    const [far] = netter('vpn', demo('mill-lane')).out.sites;
    expect(far).toMatchObject({ name: 'Weir Street library', joined: ['Staff'] });
    expect(far.states.map(({ up }: { up: string }) => up)).toEqual(['itself', 'itself', 'no', 'no']);
    expect(
      netter('path', demo('mill-lane'), '--from', 'staff', '--to', '10.61.40.2', '--down', 'dsl').out,
    ).toMatchObject({ outcome: 'delivered' });
  });

  test('second: the three ways of each, and exit code 1 where one is in the way of the first', () => {
    const larch = netter('second', demo('larch-house'));
    expect(larch.exit).toBe(0);
    expect(larch.out.map(({ way }: { way: string }) => way)).toEqual(['access-point', 'bridge', 'chained']);
    expect(larch.out[0].options[0]).toMatchObject({ way: 'access-point', recommended: true });
    const plan = JSON.parse(readFileSync(demo('larch-house'), 'utf8'));
    plan.second[0].dhcp = true;
    expect(netter('second', file('larch.json', JSON.stringify(plan))).exit).toBe(1);
  });

  test('wiring --from: a frame is followed, its answer goes one way, and what is wrong is said', () => {
    const frame = (...more: string[]) => netter('wiring', demo('weir-street'), '--from', ...more);
    const { out, exit } = frame('counter at the main door d1', '--to', 'Rack router, eight ports');
    expect(exit).toBe(0);
    expect(out.map(({ steps }: { steps: { does: string }[] }) => steps.map(({ does }) => does))).toEqual([
      ['floods', 'takes', 'stops'],
      ['forwards', 'takes'],
      ['forwards', 'takes'],
    ]);
    // The modem is in the transit VLAN alone.
    expect(frame('Counter at the main door D1', '--to', 'Cable modem, cellar').exit).toBe(1);
    expect(frame('Switch, rack 99').error.says).toMatch(
      /No port is called "Switch, rack 99". There are: .*Switch, rack 5/,
    );
    expect(frame('Switch, rack 5', '--tag', 'red').error.says).toMatch(/--tag is a VLAN from 1 to 4094/);
  });

  test('channels: those that the country allows, beside a scan without the own names', () => {
    const scan = file(
      'scan.txt',
      'BSS 00:00:5e:00:53:01(on wlan0)\n\tfreq: 2412\n\tsignal: -40.00 dBm\n\tSSID: Larch House\nBSS 00:00:5e:00:53:02(on wlan0)\n\tfreq: 2412\n\tsignal: -45.00 dBm\n\tSSID: Next door',
    );
    const { out } = netter('channels', demo('larch-house'), '--scan', scan);
    expect(out.heard.map(({ ssid }: { ssid: string }) => ssid)).toEqual(['Next door']);
    expect(out.country).toMatchObject({ code: 'GB', says: 'ask your regulator' });
    expect(out.channels.find(({ radio }: { radio: string }) => /hall.*2\.4/.test(radio)).channel).not.toBe(1);
    expect(out.widths.map(({ band, width }: { band: string; width: number }) => [band, width])).toEqual([
      ['2.4', 20],
      ['5', 80],
    ]);
  });

  test('exposure: who reaches what, with the rule and a packet; with a line down nothing comes in', () => {
    const from = (name: string, ...more: string[]) =>
      netter('exposure', demo('farrow-sound'), ...more).out.senders.find(
        (each: { from: string }) => each.from === name,
      ).reaches;
    expect(from('Internet')[0]).toEqual({
      to: 'Tide logger',
      services: 'tcp 8443',
      at: '/forwards/0',
      rule: 'allowed by forward "Tide readings for the harbour office"',
      witness: 'from 198.51.100.25 to fibre tcp 8443',
    });
    expect(from('Internet', '--down', 'Fibre')).toEqual([]);
    expect(netter('exposure', demo('farrow-sound'), '--down', 'copper')).toMatchObject({
      exit: 2,
      error: { error: 'unknown-line', at: '--down' },
    });
  });

  test('diff: exit 1 where the second plan opens something, 0 where it only closes', () => {
    const plan = JSON.parse(readFileSync(demo('farrow-sound'), 'utf8'));
    plan.reach.push({ id: 'x', from: 'passengers', to: 'tickets', device: '', service: '' });
    const open = file('open.json', JSON.stringify(plan));
    expect(netter('diff', demo('farrow-sound'), open)).toMatchObject({
      exit: 1,
      out: { opens: [{ says: 'opens everything from Passengers to Tickets', at: '/reach/5' }], closes: [] },
    });
    expect(netter('diff', open, demo('farrow-sound'))).toMatchObject({
      exit: 0,
      out: { opens: [], closes: [{ from: 'Passengers', to: 'Tickets' }] },
    });
    expect(netter('diff', open)).toMatchObject({ exit: 2 });
  });

  test('export and profile: no secret without --vault, and what was exported has no fault but the missing key', () => {
    const exported = (...more: string[]) =>
      netter('export', demo('farrow-sound'), '--as', 'wireguard', '--peer', 'maren-phone', ...more);
    const secret = `${'A'.repeat(42)}E=`;
    const vault = file('secrets.json', JSON.stringify({ 'tunnel-maren-telephone': secret }));
    expect(exported().out.profile).toContain('(in the vault: tunnel-maren-telephone)');
    expect(exported('--vault', vault).out.profile).toContain(`PrivateKey = ${secret}`);
    const judged = (text: string) =>
      netter('profile', file('field.conf', text), '--plan', demo('farrow-sound'));
    expect(judged(exported().out.profile)).toMatchObject({
      exit: 1,
      out: { peer: 'maren-phone', faults: [{ rule: 'private-key' }] },
    });
    expect(judged('hello')).toMatchObject({ exit: 2, error: { error: 'profile' } });
  });

  test.each([
    ['plan', '{\n  "format": "netter-plan"'],
    ['record-json', '{\n  "title": "Farrow Sound ferry office"'],
    ['record-markdown', '# Farrow Sound ferry office'],
    ['access-csv', 'Person,Device,Group'],
    ['calendar', 'BEGIN:VCALENDAR\r\n'],
  ])('export --as %s prints a file of the whole site', (as, start) => {
    const { exit, out } = printed('export', demo('farrow-sound'), '--as', as, '--date', '2026-03-02');
    expect([exit, out.slice(0, start.length)]).toEqual([0, start]);
  });

  test('record: JSON and Markdown, the same as the files', () => {
    const day = ['--date', '2026-03-02'];
    for (const as of ['json', 'markdown'])
      expect(printed('record', demo('farrow-sound'), '--as', as, ...day)).toEqual(
        printed('export', demo('farrow-sound'), '--as', `record-${as}`, ...day),
      );
    expect(netter('record', demo('farrow-sound'), '--as', 'paper')).toMatchObject({
      exit: 2,
      error: { at: '--as' },
    });
  });

  test.each([
    [['export', 'farrow-sound', '--as', 'calendar', '--peer', 'maren-phone'], 'usage'],
    [['export', 'farrow-sound', '--as', 'record-json', '--date', 'soon'], 'usage'],
    [['export', 'farrow-sound', '--as', 'paper', '--peer', 'maren-phone'], 'usage'],
    [['export', 'farrow-sound', '--as', 'wireguard', '--peer', 'nobody'], 'no-peer'],
    [['export', 'farrow-sound', '--as', 'wireguard', '--peer', 'old-tablet'], 'revoked'],
  ])('%j is refused in a sentence', ([command, name, ...rest], error) =>
    expect(netter(command!, demo(name!), ...rest)).toMatchObject({ exit: 2, error: { error } }),
  );
});
