import Papa from 'papaparse';
import type { WifiBand } from '../../base/worked/wifi.ts';
import type { Heard } from './channels.ts';

/** What a scan said, and the rows of it that could not be read. */
export interface Scan {
  readonly heard: readonly Heard[];
  readonly unread: number;
}

/** A signal in percent, as two usual systems give it: 0 is -100 dBm, 100 is -50 dBm (common practice, no source). */
const dbmOf = (percent: number): number => percent / 2 - 100;

const bandOf = (mhz: number): WifiBand => (mhz < 3000 ? '2.4' : mhz < 5925 ? '5' : '6');
const channelAt = (mhz: number): number =>
  mhz === 2484 ? 14 : mhz < 3000 ? (mhz - 2407) / 5 : mhz < 5925 ? (mhz - 5000) / 5 : (mhz - 5950) / 5;
/** Without a word about the band, a channel beyond 14 is one of 5 GHz. */
const usualBand = (channel: number): WifiBand => (channel <= 14 ? '2.4' : '5');

interface Found {
  ssid?: string;
  band?: WifiBand;
  channel?: number;
  width?: number;
  signalDbm?: number;
}

const complete = ({ ssid = '', band, channel, width = 20, signalDbm }: Found): Heard | undefined =>
  channel === undefined ||
  signalDbm === undefined ||
  !Number.isInteger(channel) ||
  channel < 1 ||
  channel > 233
    ? undefined
    : { ssid, band: band ?? usualBand(channel), channel, width, signalDbm };

/** No tool prints a longer row, and a reader that looks ahead takes no longer than this squared. */
const longestLine = 2000;

/**
 * Reads what general tools print of the networks around: `iw dev … scan`, `iwlist … scan`, `nmcli device wifi list`
 * (table or terse), `netsh wlan show networks mode=bssid`, `system_profiler SPAirPortDataType`, `airport -s`,
 * `iwinfo … scan`, `wpa_cli scan_results`, a table of commas with a heading, or typed rows of name, channel and signal.
 * Several at once, and what stands between them, do no harm. Without `typed` only what tools print is read.
 */
export function parseScan(text: string, typed = true): Scan {
  const lines = text
    .split(/\r?\n/)
    .slice(0, 20_000)
    .map((line) => line.slice(0, longestLine));
  for (const read of [
    readIw,
    readIwlist,
    readNetsh,
    readProfiler,
    readAirport,
    readResults,
    readTable,
    readHeaded,
    ...(typed ? [readTyped] : []),
  ]) {
    const found = read(lines);
    if (found.length > 0) {
      const heard = found.flatMap((each) => complete(each) ?? []);
      return { heard, unread: found.length - heard.length };
    }
  }
  return { heard: [], unread: lines.filter((line) => line.trim() !== '').length };
}

/** Blocks that begin with a line, each read field by field. */
function blocks(
  lines: readonly string[],
  begins: RegExp,
  fields: readonly (readonly [RegExp, (found: Found, value: string) => void])[],
  start: (found: Found, match: RegExpExecArray) => void = () => {},
): Found[] {
  const all: Found[] = [];
  for (const line of lines) {
    const match = begins.exec(line);
    if (match) {
      const found: Found = {};
      start(found, match);
      all.push(found);
    }
    const current = all.at(-1);
    if (!current) continue;
    for (const [pattern, take] of fields) {
      const value = pattern.exec(line)?.[1];
      if (value !== undefined) take(current, value.trim());
    }
  }
  return all;
}

const at = (found: Found, mhz: number): void => {
  found.band = bandOf(mhz);
  found.channel = channelAt(mhz);
};

const readIw = (lines: readonly string[]): Found[] =>
  blocks(lines, /^BSS [0-9a-f]{2}:/i, [
    [/^\s*freq: ?(\d{4})/, (found, mhz) => at(found, Number(mhz))],
    [/^\s*signal: ?(-\d{1,3}(?:\.\d{1,2})?) dBm/, (found, dbm) => void (found.signalDbm = Number(dbm))],
    [/^\s*SSID: ?(.{0,64})$/, (found, ssid) => void (found.ssid = ssid)],
    [
      /^\s*\* channel width: ?\d \((\d{2,3}) MHz/,
      (found, mhz) => void (found.width = Math.max(found.width ?? 20, Number(mhz))),
    ],
    [
      /^\s*\* secondary channel offset: ?(above|below)/,
      (found) => void (found.width = Math.max(found.width ?? 20, 40)),
    ],
  ]);

const readIwlist = (lines: readonly string[]): Found[] =>
  blocks(lines, /^\s*Cell \d{1,3} - Address:/, [
    [/Frequency: ?(\d\.\d{1,3}) GHz/, (found, ghz) => at(found, Math.round(Number(ghz) * 1000))],
    [/Signal(?: level)? ?[=:] ?(-\d{1,3}) dBm/, (found, dbm) => void (found.signalDbm = Number(dbm))],
    [
      /Channel Width: ?(\d{2,3}) MHz/,
      (found, mhz) => void (found.width = Math.max(found.width ?? 20, Number(mhz))),
    ],
    [/ESSID: ?"([^"]{0,64})"/, (found, ssid) => void (found.ssid = ssid)],
  ]);

/** One name has several access points: each begins with its own BSSID. */
function readNetsh(lines: readonly string[]): Found[] {
  let ssid = '';
  let open = false;
  const all: Found[] = [];
  for (const line of lines) {
    const name = /^\s*SSID \d{1,4}\s*: ?(.{0,64})$/.exec(line);
    if (name) ssid = name[1]!.trim();
    if (/^\s*BSSID \d{1,4}\s*:/.test(line)) {
      all.push({ ssid });
      open = true;
    }
    const current = all.at(-1);
    if (!open || !current) continue;
    const percent = /^\s*[A-Za-zÀ-ÿ]{1,12}\s*: ?(\d{1,3})%\s*$/.exec(line);
    if (percent) current.signalDbm = dbmOf(Number(percent[1]));
    const channel = /^\s*(?:Channel|Kanal|Canal|Canale)\s*: ?(\d{1,3})\s*$/i.exec(line);
    if (channel) current.channel = Number(channel[1]);
    const band = /: ?(2[.,]4|5|6) GHz\s*$/.exec(line);
    if (band) current.band = band[1]!.replace(',', '.') as WifiBand;
  }
  return all;
}

/** The name of a network is the line above its fields, with a colon behind it. */
function readProfiler(lines: readonly string[]): Found[] {
  const all: Found[] = [];
  let name = '';
  for (const line of lines) {
    const title = /^\s{4,30}(\S.{0,63}):$/.exec(line);
    if (title) name = title[1]!;
    const channel = /^\s*Channel: (\d{1,3}) \((2|5|6)GHz, (\d{2,3})MHz\)/.exec(line);
    if (channel)
      all.push({
        ssid: name,
        channel: Number(channel[1]),
        band: channel[2] === '2' ? '2.4' : (channel[2] as WifiBand),
        width: Number(channel[3]),
      });
    const signal = /^\s*Signal \/ Noise: (-\d{1,3}) dBm/.exec(line);
    const current = all.at(-1);
    if (signal && current && current.signalDbm === undefined) current.signalDbm = Number(signal[1]);
  }
  return all;
}

/** "Name 00:00:5e:00:53:01 -65 36,+1 Y GB WPA2": the address may be hidden; +1 and -1 are 40 MHz, 80 is 80 MHz. */
const readAirport = (lines: readonly string[]): Found[] =>
  lines.some((line) => /\bSSID\b.*\bRSSI +CHANNEL\b/.test(line))
    ? lines.flatMap((line): Found[] => {
        const row =
          /(?<= )(?:[0-9a-f]{2}(?::[0-9a-f]{2}){5} +)?(-\d{1,3}) +(\d{1,3})(?:,([+-]?\d{1,3}))? /i.exec(line);
        if (!row) return [];
        const [, signal, channel, wide] = row;
        const ssid = line.slice(0, row.index).trim();
        const width = wide === undefined ? 20 : /^[+-]/.test(wide) ? 40 : Number(wide);
        return [{ ssid, channel: Number(channel), width, signalDbm: Number(signal) }];
      })
    : [];

/** Address, MHz, dBm, flags and name, a row each. */
const readResults = (lines: readonly string[]): Found[] =>
  lines.flatMap((line): Found[] => {
    const row = /^[0-9a-f]{2}(?::[0-9a-f]{2}){5}\s+(\d{4})\s+(-\d{1,3})\s+\[\S{0,200}\s*(.{0,64})$/i.exec(
      line,
    );
    if (!row) return [];
    const found: Found = { ssid: row[3]!.trim(), signalDbm: Number(row[2]) };
    at(found, Number(row[1]));
    return [found];
  });

/** A table with a heading, in columns of a fixed width. */
function readTable(lines: readonly string[]): Found[] {
  const heading = lines.findIndex(
    (line) => /\bSSID\b/.test(line) && /\b(?:CHAN|CHANNEL)\b/i.test(line) && /\bSIGNAL\b/i.test(line),
  );
  if (heading < 0 || /[,;\t]/.test(lines[heading]!)) return [];
  const head = lines[heading]!;
  const column = (name: RegExp): number => head.search(name);
  const [name, channel, signal] = [column(/(?<![A-Z])SSID\b/), column(/\bCHAN/), column(/\bSIGNAL/)];
  const after = (place: number): number => {
    const next = [...head.matchAll(/\S+/g)].map(({ index }) => index).find((each) => each > place);
    return next ?? head.length + 200;
  };
  return lines.slice(heading + 1).flatMap((line): Found[] => {
    if (line.trim() === '') return [];
    const cell = (place: number): string => line.slice(place, after(place)).trim();
    const ssid = cell(name);
    return [{ ssid: ssid === '--' ? '' : ssid, channel: Number(cell(channel)), ...level(cell(signal)) }];
  });
}

/** "-67", "-67 dBm", "66%", or 66 alone, which is percent. */
function level(text: string): Pick<Found, 'signalDbm'> {
  const value = /^(-?\d{1,3}(?:\.\d{1,2})?) ?(?:dBm|%)?$/i.exec(text.trim().replace('\u2212', '-'))?.[1];
  return value === undefined
    ? {}
    : { signalDbm: value.startsWith('-') ? Number(value) : dbmOf(Number(value)) };
}

/** What the columns of a list with a heading are called. */
const columns = {
  ssid: /^(?:e?ssid|name|network(?: name)?)$/i,
  channel: /^(?:primary )?chan(?:nel)?$/i,
  mhz: /^(?:primary )?freq/i,
  signal: /^(?:signal|rssi|strength|level)/i,
  width: /^(?:channel )?(?:width|bandwidth)/i,
} as const;

/** A list with a heading, parted by commas, semicolons or tabs, as programs export it. */
function readHeaded(lines: readonly string[]): Found[] {
  const rows = Papa.parse<string[]>(lines.join('\n'), { skipEmptyLines: true }).data;
  const heading = rows.findIndex(
    (row) =>
      row.some((cell) => columns.signal.test(cell.trim())) &&
      row.some((cell) => columns.channel.test(cell.trim()) || columns.mhz.test(cell.trim())),
  );
  if (heading < 0) return [];
  const place = (form: RegExp): number => rows[heading]!.findIndex((cell) => form.test(cell.trim()));
  return rows.slice(heading + 1).map((row): Found => {
    const cell = (form: RegExp): string => row[place(form)]?.trim() ?? '';
    const found: Found = { ssid: cell(columns.ssid), ...level(cell(columns.signal)) };
    const mhz = parseFloat(cell(columns.mhz));
    if (mhz > 2000) at(found, Math.round(mhz));
    else if (mhz > 2) at(found, Math.round(mhz * 1000));
    const channel = parseInt(cell(columns.channel), 10);
    if (Number.isFinite(channel)) found.channel = channel;
    const width = parseInt(cell(columns.width), 10);
    if ([20, 40, 80, 160].includes(width)) found.width = width;
    return found;
  });
}

/** Name, channel and signal as somebody typed them, or terse fields with colons; a line of something else is not read. */
const readTyped = (lines: readonly string[]): Found[] => {
  const found = lines.flatMap((line): Found[] => (line.trim() === '' ? [] : [typedRow(line)]));
  return found.some((each) => complete(each)) ? found : [];
};

function typedRow(line: string): Found {
  const spaced = /^\s*(\S.{0,63}?)\s+(\d{1,3})\s+(-\d{1,3}) ?(?:dBm)?\s*$/i.exec(line.replace('\u2212', '-'));
  if (spaced && !/[,;\t]/.test(line))
    return { ssid: spaced[1]!, channel: Number(spaced[2]), signalDbm: Number(spaced[3]) };
  const cells = line.includes('\t') ? line.split('\t') : line.split(/[,;]|(?<!\\):/);
  const parts = cells.map((cell) => cell.replace(/\\:/g, ':').trim());
  const signal = parts.findLast((part) => /^[-\u2212]\d{1,3}(?: ?dBm)?$/i.test(part));
  const numbers = parts.filter((part) => /^\d{1,3}%?$/.test(part));
  const [channel] = numbers;
  const strength = signal ?? (numbers.length > 1 ? numbers.at(-1) : undefined);
  if (channel === undefined || strength === undefined || parts.length < 3) return {};
  return {
    ssid:
      parts.find(
        (part) =>
          part !== '' &&
          part !== signal &&
          !numbers.includes(part) &&
          !/^[0-9a-f]{2}(?::[0-9a-f]{2}){5}$/i.test(part),
      ) ?? '',
    channel: parseInt(channel, 10),
    ...level(strength),
  };
}
