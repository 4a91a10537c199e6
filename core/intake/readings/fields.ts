import { formatAddress, parseAddress } from '../../base/net/address.ts';
import { contains, parsePrefix } from '../../base/net/prefix.ts';
import { rateOf } from '../../base/net/rate.ts';
import { bad, ok, valueOf, type Result } from '../../base/result.ts';
import type { ReadingField, Values } from '../../behaviour/domain-types/reading.ts';
import { verdict, type Verdict } from '../../behaviour/domain-types/verdict.ts';
import { readPings } from './outage.ts';
import { figureText, parseTools } from './tools.ts';

/** Values of one million and more are no figure that anybody reads off on site. */
const mostOfAny = 1e7;

/** A number with or without its unit: "-19,4 dBm", "2.5 MB/s" where the field is in Mb/s, "18 s". */
export function numberOf(field: Pick<ReadingField, 'unit' | 'label'>, text: string): Result<number> {
  const tidy = text.trim().replace(/\u2212/g, '-');
  const rate = field.unit === 'Mb/s' ? rateOf(tidy) : undefined;
  if (rate !== undefined) return ok(rate);
  const figure = /^[+-]?(?:\d+(?:[.,]\d+)?|[.,]\d+)/.exec(tidy)?.[0] ?? '';
  const value = figure === '' ? Number.NaN : Number(figure.replace(',', '.'));
  const unit = tidy.slice(figure.length).trim();
  if (!Number.isFinite(value) || Math.abs(value) > mostOfAny)
    return bad('reading', `${field.label} is a number${field.unit && ` in ${field.unit}`}.`);
  const same = unit === '' || unit.toLowerCase() === field.unit.toLowerCase();
  const seconds = field.unit === 's' && /^(?:sec(?:ond)?s?)$/i.test(unit);
  const minutes = field.unit === 's' && /^(?:min(?:ute)?s?)$/i.test(unit);
  if (!same && !seconds && !minutes)
    return bad('reading', `${field.label} is in ${field.unit || 'no unit'}, and "${unit}" is another one.`);
  return ok(minutes ? value * 60 : value);
}

/** Reads one value of a field back; an empty one is a problem where the step does not count without it. */
export function readValue(field: ReadingField, text: string): Result<string | number> {
  const typed = text.trim();
  if (typed === '') return bad('empty', `${field.label}: nothing was written down.`);
  switch (field.kind) {
    case 'text':
      return ok(typed);
    case 'number':
      return numberOf(field, typed);
    case 'address': {
      const parsed = parseAddress(typed.replace(/\/\d{1,3}$/, ''));
      return parsed.ok ? ok(formatAddress(parsed.value)) : parsed;
    }
    case 'choice':
      return field.choices.some(({ value }) => value === typed)
        ? ok(typed)
        : bad('reading', `${field.label}: choose what was seen.`);
    case 'sha256': {
      const hex = typed.toLowerCase().replace(/[\s:]/g, '');
      return /^[0-9a-f]{64}$/.test(hex)
        ? ok(hex)
        : bad('reading', `${field.label} has 64 digits from 0 to 9 and a to f; here are ${hex.length}.`);
    }
  }
}

/** What one value says by itself: unreadable, the wrong choice, outside its limits, on another network. */
export function judgeValue(field: ReadingField, text: string): Verdict | undefined {
  if (text.trim() === '') return undefined;
  const read = readValue(field, text);
  if (!read.ok) return verdict('bad', read.problem.says);
  if (field.kind === 'choice') {
    const chosen = field.choices.find(({ value }) => value === read.value)!;
    return chosen.good ? undefined : verdict('bad', `${field.label}: ${chosen.title}.`);
  }
  if (field.limits && typeof read.value === 'number') {
    const { least = -Infinity, most = Infinity, says } = field.limits;
    if (read.value < least || read.value > most) return verdict('bad', says);
  }
  if (field.within && typeof read.value === 'string') {
    const host = valueOf(parseAddress(read.value));
    const inside = field.within.prefixes.some((text) => {
      const prefix = valueOf(parsePrefix(text));
      return host && prefix && contains(prefix, host);
    });
    if (!inside) return verdict('bad', `${read.value}: ${field.within.says}`);
  }
  return undefined;
}

/** Fields of a step that have to be filled before it counts, and are not. */
export const emptyFields = (fields: readonly ReadingField[], values: Values): ReadingField[] =>
  fields.filter(({ key, optional }) => !optional && (values[key] ?? '').trim() === '');

/** Units that fields have; any other word after a number is no unit. */
const units = ['s', 'ms', 'dbm', 'dbmv', 'db', 'bytes', 'v', 'a'];
const unitOf = (text: string): string => {
  const word = text.toLowerCase();
  if (/^mb(?:it)?(?:\/s|ps)?$/.test(word)) return 'mb/s';
  if (/^sec/.test(word)) return 's';
  return units.includes(word) ? word : '';
};

/**
 * Lays a free text out over the fields of a step: what a tool printed, what was typed before there were fields.
 * Numbers go by their units first, then in their order; a text field takes the whole text; what fits no field is not
 * lost, for it stays in the record.
 */
export function valuesFromText(fields: readonly ReadingField[], text: string): Values {
  const whole = text.replace(/\s+/g, ' ').trim();
  if (whole === '') return {};
  const values: Record<string, string> = {};
  const pings = readPings(text);
  const gap = pings.ok && pings.value.answered >= 8 ? String(pings.value.longestGap) : undefined;
  const figures = parseTools(text);
  // A listing tells which address is a gateway; anything else goes by its order.
  const gateways = figures.flatMap((figure) =>
    figure.kind === 'gateway' ? [formatAddress(figure.address)] : [],
  );
  const hosts = figures.flatMap((figure) => (figure.kind === 'address' ? [figure.address] : []));
  const listed = hosts.sort((a, b) => a.family - b.family).map(formatAddress);
  const isListing = listed.length + gateways.length > 0;
  const addresses = isListing
    ? listed
    : [
        ...whole.matchAll(
          /(?<![\d.])\d{1,3}(?:\.\d{1,3}){3}(?![\d.])|(?<![\w:])[0-9a-f]{0,4}(?::[0-9a-f]{0,4}){2,7}(?![\w:])/gi,
        ),
      ]
        .map(([found]) => found)
        .filter((found) => parseAddress(found).ok);
  // What is left of the text without its addresses, so that a part of one is not taken for a figure.
  const rest = addresses.reduce((left, found) => left.replaceAll(found, ' '), whole);
  const numbers = [...rest.matchAll(/(?<![\w.])([+-]?\d+(?:[.,]\d+)?) ?([a-z/]+\b)?/gi)].map((found) => ({
    figure: found[1]!,
    unit: unitOf(found[2] ?? ''),
    /** The field that is named in front of it. */
    owner: fields.find(({ key }) =>
      rest
        .slice(Math.max(0, found.index - 24), found.index)
        .toLowerCase()
        .includes(key.toLowerCase()),
    )?.key,
    used: false,
  }));
  const mtu = figures.find((figure) => figure.kind === 'path-mtu');
  const take = ({ key, unit }: ReadingField): string | undefined => {
    const free = numbers.filter(
      (each) =>
        !each.used &&
        (each.unit === '' || each.unit === unitOf(unit)) &&
        (each.owner === undefined || each.owner === key),
    );
    const found = free.find(({ owner }) => owner === key) ?? free.find((each) => each.unit !== '') ?? free[0];
    if (found) found.used = true;
    return found?.figure;
  };
  for (const field of fields) {
    let value: string | undefined;
    if (field.kind === 'address')
      value = isListing && field.key === 'gateway' ? gateways.shift() : addresses.shift();
    else if (field.kind === 'text') value = figures.length > 0 ? figures.map(figureText).join('; ') : whole;
    else if (field.kind === 'sha256') value = /\b[0-9a-f]{64}\b/i.exec(whole)?.[0];
    else if (field.kind === 'choice')
      value = field.choices.find(({ title }) => whole.toLowerCase().includes(title.toLowerCase()))?.value;
    else if (field.unit === 's' && gap !== undefined) value = gap;
    else if (field.unit === 'bytes' && mtu) value = String(mtu.bytes - (field.plus ?? 0));
    else value = take(field);
    if (value !== undefined) values[field.key] = value.slice(0, 500);
  }
  return values;
}

/** The values of a step as one line of the record: "Received power -19.4 dBm; …". */
export const valuesText = (fields: readonly ReadingField[], values: Values): string =>
  fields
    .flatMap((field) => {
      const typed = (values[field.key] ?? '').trim();
      if (typed === '') return [];
      const shown = field.choices.find(({ value }) => value === typed)?.title ?? typed;
      const unit = field.kind === 'number' && /^[-+\d.,]+$/.test(typed) && field.unit ? ` ${field.unit}` : '';
      return [`${field.label}: ${shown}${unit}`];
    })
    .join('; ');
