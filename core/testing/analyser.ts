import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Message } from '../behaviour/provider-sim/stand-in.ts';
import { writePcapng } from '../output/formats/pcapng.ts';

interface Captured {
  readonly messages: readonly Message[];
  readonly keyLog?: string;
}

/** Columns that a general protocol analyser reads out of a capture. */
export function analyse(
  { messages, keyLog = '' }: Captured,
  fields: readonly string[],
  filter = '',
): string[][] {
  const folder = mkdtempSync(join(tmpdir(), 'netter-capture-'));
  const file = join(folder, 'exchange.pcapng');
  writeFileSync(file, writePcapng(messages, 1_772_442_000, keyLog));
  const result = spawnSync(
    'tshark',
    [
      '-r',
      file,
      '-T',
      'fields',
      ...fields.flatMap((field) => ['-e', field]),
      ...(filter === '' ? [] : ['-Y', filter]),
      '-o',
      'ip.check_checksum:TRUE',
      '-o',
      'udp.check_checksum:TRUE',
    ],
    { encoding: 'utf8' },
  );
  rmSync(folder, { recursive: true, force: true });
  if (result.error || result.status !== 0)
    throw new Error(`tshark cannot read it: ${result.error?.message ?? result.stderr}`);
  return result.stdout
    .split('\n')
    .filter((row) => row !== '')
    .map((row) => row.split('\t'));
}
/** What such an analyser objects to. */
export const faulty =
  '_ws.malformed || _ws.expert.severity >= 0x600000 || ip.checksum.status == "Bad" || udp.checksum.status == "Bad"';
