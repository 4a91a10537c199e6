import { spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import Papa from 'papaparse';
import { folderFormats, peerFormats, siteFormats } from '../core/output/formats/index.ts';
import { planSchema, type Plan } from '../core/plan/schema.ts';
import { acceptance } from '../core/answers/acceptance/judge.ts';
import { runChecks } from '../core/answers/checks/index.ts';
import { runSheet } from '../core/answers/run-sheet/sheet.ts';
import { siteRecord } from '../core/output/record/record.ts';
import { compile } from '../core/site/compile.ts';
import type { Site } from '../core/site/model.ts';
import { demoPlan } from '../core/testing/plans.ts';
import { demoNames } from '../core/testing/wishes.ts';
import { writeScript } from '../core/answers/visit-scripts/script.ts';
import { whyNot } from './lab.ts';

/*
 * Plans whose every text is an attack, through every output there is, read back by the program that the output is for:
 * a shell with planted commands, nft, dnsmasq, a CSV reader. A new format is here by itself; one of a kind that nothing
 * here reads fails.
 */
const folder = mkdtempSync(join(tmpdir(), 'netter-hostile-'));
const bin = join(folder, 'bin');
const planted = join(folder, 'planted');

/** A command named `owned` in every place where a text could become one, and words that mean something to a file. */
const attacks = [
  ...['$(owned)', '`owned`', "'; owned; '", '"; owned; "', 'x&owned', 'x|owned', 'x;owned', '&& owned #'],
  ...[
    'x\nowned\n',
    'x\r\nowned',
    '$IFS;owned',
    '#\nowned',
    "\\'; owned #",
    '}\nowned',
    '${owned}',
    'x\u2028owned',
  ],
  ...[
    '=owned()',
    '@owned',
    '+owned',
    '-owned',
    '|owned',
    '\t=owned',
    ';=owned',
    ',=owned',
    '＝owned',
    '"=owned',
  ],
  ...['x\n[Peer]\nPublicKey = y', ']\nPostUp = owned', 'x\nExecStart=owned', 'x\ndhcp-script=owned'],
  ...[
    'ignore',
    '45m',
    'infinite',
    '::',
    '{ }',
    'accept }',
    '"',
    "'",
    '\\',
    '%i',
    '%',
    '| x | y |',
    '<b>',
    '\0',
  ],
];
const attack = fc.constantFrom(...attacks);

type Path = readonly (string | number)[];

/** By field: rows of a list are alike. */
const takesAnyText = new Map<string, boolean>();

/** Places of texts that take any text. */
function freeTexts(plan: Plan): Path[] {
  const found: Path[] = [];
  const walk = (value: unknown, path: Path): void => {
    if (typeof value === 'string') {
      const field = path.map((part) => (typeof part === 'number' ? '*' : part)).join('/');
      const copy = structuredClone(plan);
      if (!takesAnyText.has(field)) {
        putText(copy, path, 'a & b');
        takesAnyText.set(field, planSchema.safeParse(copy).success);
      }
      if (takesAnyText.get(field)) found.push(path);
    } else if (Array.isArray(value)) value.forEach((each, index) => walk(each, [...path, index]));
    else if (value !== null && typeof value === 'object')
      for (const [key, each] of Object.entries(value)) walk(each, [...path, key]);
  };
  walk(plan, []);
  return found;
}

function putText(plan: Plan, path: Path, text: string): void {
  let at = plan as unknown as Record<string | number, unknown>;
  for (const key of path.slice(0, -1)) at = at[key] as Record<string | number, unknown>;
  at[path.at(-1)!] = text;
}

const run = (command: string, args: readonly string[], env: NodeJS.ProcessEnv = process.env): string => {
  const { status, stderr, stdout, error } = spawnSync(command, args, {
    env,
    encoding: 'utf8',
    timeout: 20_000,
  });
  return error || status !== 0 ? `${command} ends with ${status}: ${stderr}${stdout}${error ?? ''}` : '';
};

/** Runs a script where every command there is does nothing, and the one of the attack tells. */
function runsNothingPlanted(file: string, args: readonly string[]): void {
  expect([basename(file), run('/bin/sh', ['-n', file])]).toEqual([basename(file), '']);
  spawnSync('/bin/sh', [file, ...args], {
    env: {
      PATH: bin,
      NETTER_STATE: join(folder, 'state'),
      interface: 'wan1',
      reason: 'BOUND',
      PPP_IFACE: 'wan1',
    },
    timeout: 20_000,
    cwd: folder,
    input: '',
  });
  expect([basename(file), existsSync(planted)]).toEqual([basename(file), false]);
}

const iniKeys = {
  wg: /^(?:PrivateKey|Address|ListenPort|DNS|MTU|PublicKey|PresharedKey|Endpoint|AllowedIPs|PersistentKeepalive)$/,
  unit: /^(?:Description|After|Wants|Type|RemainAfterExit|Restart|ExecStart|WantedBy)$/,
};
function isIni(text: string, keys: RegExp): void {
  for (const line of text.split(/\r\n|[\n\r\u2028\u2029\u0085]/)) {
    if (/^\s*(?:#.*)?$|^\[[A-Za-z]+\]$/.test(line)) continue;
    expect(/^([A-Za-z]+)\s?=/.exec(line)?.[1]).toMatch(keys);
  }
}

const onLinux = whyNot() === undefined;
const dnsmasq = existsSync('/usr/sbin/dnsmasq');

/** Reads a file as its own program does. */
function isSound(name: string, text: string): void {
  const file = join(folder, 'files', name);
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, text);
  if (/\.json$/.test(name)) return expect(() => JSON.parse(text) as unknown).not.toThrow();
  if (/\.csv$/.test(name)) {
    for (const delimiter of [',', ';', '\t'])
      for (const row of Papa.parse<string[]>(text.trim(), { delimiter }).data)
        for (const cell of row) expect(cell).not.toMatch(/^[\s"]*[=+@|%\uff1d\uff0b\uff20]/);
    const rows = Papa.parse<string[]>(text.trim(), { delimiter: ',' }).data;
    return expect(new Set(rows.map(({ length }) => length)).size).toBe(1);
  }
  if (/\.md$/.test(name)) {
    const lines = text.split('\n');
    for (const [index, line] of lines.entries()) {
      if (!line.startsWith('|') || lines[index - 1]?.startsWith('|')) continue;
      // A table: its head, the row of dashes, and as many cells in each row (CommonMark with tables).
      const cells = (row: string): number => row.replace(/\\\|/g, '').split('|').length;
      expect(lines[index + 1]).toMatch(/^\|(?:\s?:?-+:?\s?\|)+$/);
      for (let at = index; lines[at]?.startsWith('|'); at += 1) expect(cells(lines[at]!)).toBe(cells(line));
    }
    return;
  }
  if (/\.ics$/.test(name)) {
    for (const line of text.replace(/\r\n[ \t]/g, '').split('\r\n')) {
      expect(line).toMatch(/^(?:[A-Z-]+[:;].*)?$/);
      expect(line).not.toMatch(/[\n\r\u2028\u2029\0]/);
    }
    return;
  }
  if (/\.sh$|^hooks\//.test(name)) {
    for (const args of name === 'netter.sh'
      ? [['check'], ['apply'], ['remove']]
      : [['up', 'wan1', '192.0.2.1'], ['bound']])
      runsNothingPlanted(file, args);
    return;
  }
  if (/\.nft$/.test(name)) {
    if (onLinux) expect(run('unshare', ['-n', 'nft', '-c', '-f', file])).toBe('');
    return;
  }
  if (name === 'dnsmasq.conf') {
    if (dnsmasq) expect(run('/usr/sbin/dnsmasq', ['--test', `--conf-file=${file}`])).toBe('');
    expect(text).not.toMatch(/^(?:dhcp-script|conf-|enable-tftp|log-facility)/m);
    return;
  }
  if (name === 'hosts') return expect(text).toMatch(/^(?:[\da-f.:]+ [a-z0-9-]+\n)*$/);
  if (name === 'ports.conf') return expect(text).toMatch(/^(?:#.*\n|[a-z0-9-]+ [a-z0-9-]+ (?:-|\d+)\n)*$/);
  if (name === 'sysctl.conf') return expect(text).toMatch(/^(?:#.*\n|[a-z0-9_.]+ = \d+\n)*$/);
  if (/\.conf$/.test(name)) return isIni(text, iniKeys.wg);
  if (/\.service$/.test(name)) return isIni(text, iniKeys.unit);
  throw new Error(`Nothing here reads ${name}.`);
}

function everyOutput(plan: Plan, site: Site): [name: string, text: string][] {
  const sources = {
    plan,
    site,
    siteId: 'site',
    revision: 1,
    day: '2026-03-02',
    stampedAt: '2026-03-02T09:00:00.000Z',
    record: () =>
      siteRecord(site, {
        plan,
        accepted: acceptance(site, []),
        steps: runSheet(site),
        records: [],
        findings: runChecks(site),
        today: '2026-03-02',
        momentText: (iso: string) => iso,
      }),
  };
  return [
    ...Object.values(siteFormats).map((format): [string, string] => {
      const name = format.fileName(sources);
      // A file name is a name, and no way to another folder.
      expect(name).toMatch(/^[A-Za-z0-9][A-Za-z0-9.-]*$/);
      return [name, format.write(sources)];
    }),
    ...Object.values(folderFormats).flatMap((format) => [...format.write(sources)]),
    ...site.vpn.peers.flatMap((peer) =>
      Object.values(peerFormats).map((format): [string, string] => ['peer.conf', format.write(site, peer)]),
    ),
    ...(['linux', 'macos'] as const).flatMap((desktop) =>
      [...site.networks, 'outside' as const].map((from): [string, string] => [
        `${desktop}.sh`,
        writeScript(site, desktop, from),
      ]),
    ),
  ];
}

describe('whatever stands in a plan, each output is what it is and does nothing else', () => {
  beforeAll(() => {
    mkdirSync(bin);
    mkdirSync(join(folder, 'state'));
    const commands =
      `ip nft sysctl cat sed grep wg wireguard-go mkdir rm mv cp dirname basename sleep setsid systemctl chmod
      awk conntrack dnsmasq head tail sort date uname ping curl nslookup getent traceroute tracepath ifconfig route netstat
      scutil resolvectl arp dig host nc iperf3 tr cut wc id ls sh hostname networksetup sw_vers`.split(/\s+/);
    for (const name of commands) writeFileSync(join(bin, name), '#!/bin/sh\nexit 0\n');
    writeFileSync(join(bin, 'owned'), `#!/bin/sh\n: > ${planted}\n`);
    for (const name of [...commands, 'owned']) chmodSync(join(bin, name), 0o755);
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  test('the trap works: a text that is not encoded is found', () => {
    const file = join(folder, 'trap.sh');
    writeFileSync(file, 'x=1\nping x&owned\nwait\n');
    expect(() => runsNothingPlanted(file, [])).toThrow();
    rmSync(planted, { force: true });
  });

  test.each(demoNames)('%s', (name) => {
    const plan = demoPlan(name);
    const places = freeTexts(plan);
    expect(places.length).toBeGreaterThan(60);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(places.length - 1), attack), { minLength: 20, maxLength: 120 }),
        (changes) => {
          // Past the door, which refuses line ends: what leaves must hold by itself.
          const hostile = structuredClone(plan);
          for (const [at, text] of changes) putText(hostile, places[at]!, text);
          for (const [file, text] of everyOutput(hostile, compile(hostile))) isSound(file, text);
        },
      ),
      { numRuns: Number(process.env.NETTER_RUNS ?? 2) },
    );
  });
});
