import { seeded } from '../../behaviour/provider-sim/stand-in.ts';
import { anyTruth, Dice, type LetterTruth, type LineTruth } from './truth.ts';
import { english } from './voices-english.ts';
import { dutch, german } from './voices-north.ts';
import { french, italian, portuguese, spanish } from './voices-south.ts';
import type { Label, Voice } from './voice.ts';

export const voices: readonly Voice[] = [english, german, french, spanish, italian, dutch, portuguese];

/** How label and value stand beside each other. */
export const shapes = [
  'colon',
  'bars',
  'tabs',
  'dots',
  'columns',
  'below',
  'head',
  'list',
  'prose',
  'equals',
] as const;
export type Shape = (typeof shapes)[number];

export interface WrittenLetter {
  readonly text: string;
  readonly truth: LetterTruth;
  readonly language: string;
  readonly shape: Shape;
}

const dottedMask = (length: number): string => `255.255.255.${256 - 2 ** (32 - length)}`;

/** Label and value of every fact, in the order in which such forms have them. */
function pairsOf(line: LineTruth, voice: Voice, dice: Dice): [label: string, value: string][] {
  const unit = dice.one(voice.units);
  const label = (key: Label): string => dice.one(voice.labels[key]);
  const figure = (value: number): string => voice.figure(value, dice);
  const pairs: [string, string][] = [[label('medium'), dice.one(voice.media[line.medium])]];
  const put = (key: Label, value: string | number | undefined): void => {
    if (value !== undefined) pairs.push([label(key), String(value)]);
  };
  if (line.downMbps !== undefined)
    if (dice.chance(0.6)) {
      put('down', `${figure(line.downMbps)} ${unit}`);
      put('up', `${figure(line.upMbps!)} ${unit}`);
    } else put('rate', `${figure(line.downMbps)}/${figure(line.upMbps!)} ${unit}`);
  if (line.type !== 'cellular') put('type', dice.one(voice.types[line.type]));
  put('userName', line.userName);
  if (line.userName !== undefined) put('password', line.password ?? dice.one(voice.separately));
  put('vlan', line.vlan);
  if (line.address !== undefined)
    if (line.prefixLength === undefined) put('address', line.address);
    else if (dice.chance(0.3)) put('address', `${line.address}/${line.prefixLength}`);
    else {
      put('address', line.address);
      put('mask', dice.chance(0.8) ? dottedMask(line.prefixLength) : `/${line.prefixLength}`);
    }
  put('gateway', line.gateway);
  if (line.resolvers)
    if (dice.chance(0.5)) {
      put('dns1', line.resolvers[0]);
      put('dns2', line.resolvers[1]);
    } else put('dns', line.resolvers.join(dice.one([', ', ' / ', ' ', '; '])));
  put('mtu', line.mtuBytes);
  put('apn', line.apn);
  put('pin', line.pin);
  if (line.capGigabytes !== undefined) put('cap', `${line.capGigabytes} GB`);
  put('aftr', line.translator);
  return pairs;
}

/** The same facts in sentences. */
function sentencesOf(line: LineTruth, voice: Voice, dice: Dice): string[] {
  const values: Record<string, string> = {
    medium: dice.one(voice.media[line.medium]),
    unit: dice.one(voice.units),
    down: line.downMbps === undefined ? '' : voice.figure(line.downMbps, dice),
    up: line.upMbps === undefined ? '' : voice.figure(line.upMbps, dice),
    vlan: String(line.vlan),
    user: line.userName ?? '',
    password: line.password ?? '********',
    address: line.address ?? '',
    mask: dottedMask(line.prefixLength ?? 24),
    length: String(line.prefixLength),
    gateway: line.gateway ?? '',
    dns1: line.resolvers?.[0] ?? '',
    dns2: line.resolvers?.[1] ?? '',
    apn: line.apn ?? '',
    pin: line.pin ?? '',
    cap: String(line.capGigabytes),
    mtu: String(line.mtuBytes),
    aftr: line.translator ?? '',
  };
  const say = (key: keyof Voice['sentences'], when: boolean): string[] =>
    when
      ? [dice.one(voice.sentences[key]!).replaceAll(/\{(\w+)\}/g, (_, name: string) => values[name]!)]
      : [];
  return [
    ...say('open', true),
    ...say('rates', line.downMbps !== undefined),
    ...say('dhcp', line.type === 'dhcp'),
    ...say('login', line.userName !== undefined),
    ...say('vlan', line.vlan !== undefined),
    ...say('fixed', line.prefixLength !== undefined),
    ...say('address', line.address !== undefined && line.prefixLength === undefined),
    ...say('dns', line.resolvers !== undefined),
    ...say('mtu', line.mtuBytes !== undefined),
    ...say('aftr', line.translator !== undefined),
    ...say('apn', line.apn !== undefined),
    ...say('pin', line.pin !== undefined),
    ...say('cap', line.capGigabytes !== undefined),
  ];
}

function rowsOf(line: LineTruth, shape: Shape, voice: Voice, dice: Dice): string[] {
  if (shape === 'prose') {
    const sentences = sentencesOf(line, voice, dice);
    return dice.chance(0.5) ? sentences : [sentences.join(' ')];
  }
  const pairs = pairsOf(line, voice, dice);
  const width = Math.max(...pairs.map(([label]) => label.length)) + 3;
  switch (shape) {
    case 'head': {
      const cut = dice.one([' | ', '\t', ';']);
      const rows: string[] = [];
      for (let at = 0; at < pairs.length; at += 5) {
        const part = pairs.slice(at, at + 5);
        rows.push(part.map(([label]) => label).join(cut), part.map(([, value]) => value).join(cut), '');
      }
      return rows.slice(0, -1);
    }
    case 'below':
      return pairs.flatMap(([label, value]) => [label, value]);
    case 'bars':
      return pairs.map(([label, value]) => `| ${label} | ${value} |`);
    case 'tabs':
      return pairs.map(([label, value]) => `${label}\t${value}`);
    case 'dots':
      return pairs.map(([label, value]) => `${label} ${'.'.repeat(width - label.length + 2)} ${value}`);
    case 'columns':
      return pairs.map(([label, value]) => label.padEnd(width) + value);
    case 'list': {
      const mark = dice.one(['- ', '* ', '• ', '– ']);
      const cut = dice.one([': ', ' : ', ' – ']);
      return pairs.map(([label, value]) => `${mark}${label}${cut}${value}`);
    }
    case 'equals':
      return pairs.map(([label, value]) => `${label}=${value}`);
    default: {
      const cut = dice.one([': ', ': ', ':', ' : ']);
      return pairs.map(([label, value]) => `${label}${cut}${value}`);
    }
  }
}

/** A letter of a seed: facts that are drawn first, then words for them, then what stands around them. */
export function writtenLetter(seed: number): WrittenLetter {
  const dice = new Dice(seeded(seed * 7919 + 17));
  const voice = voices[seed % voices.length]!;
  const shape = dice.one(shapes);
  const truth = anyTruth(dice);
  const noise = dice.mixed(voice.noise).map((row) => row(dice));
  const between = (count: number): string[] => noise.splice(0, dice.whole(0, count));
  const oldVlan = dice.whole(2000, 2999);
  const replaced = (text: string): string =>
    text
      .replaceAll('{order}', String(dice.whole(10, 99_999)))
      .replaceAll('{oldVlan}', String(oldVlan))
      .replaceAll('{old}', text.includes('{new}') ? String(oldVlan) : '16')
      .replaceAll('{new}', String(truth.line.vlan));
  const parts = [
    [dice.one(voice.greetings)],
    dice.chance(0.1) ? [replaced(dice.one(voice.cancelled))] : [],
    between(3),
    truth.backup ? [dice.one(voice.mainHeads)] : [],
    rowsOf(truth.line, shape, voice, dice),
    truth.line.vlan !== undefined && dice.chance(0.1) ? [replaced(dice.one(voice.vlanCorrected))] : [],
    between(2),
    ...(truth.backup
      ? [[dice.one(voice.backupHeads), ...rowsOf(truth.backup, shape, voice, dice)], between(2)]
      : []),
    [dice.one(voice.closings)],
  ];
  const text = parts
    .filter((part) => part.length > 0)
    .map((part) => part.join('\n'))
    .join(dice.one(['\n\n', '\n\n', '\n']));
  return { text, truth, language: voice.language, shape };
}
