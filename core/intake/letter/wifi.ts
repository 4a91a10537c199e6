import { isDay } from '../../base/days.ts';
import type { Collector } from './collector.ts';
import type { WifiFacts } from './facts.ts';

/*
 * What a text says of Wi-Fi: names, whom each is for, how it is protected, when it ends, and what is promised in a room.
 * The words of the trade in letters (common practice, no source).
 */

const wifiWord = /\b(?:wi-?fi|wlan|ssids?|wireless networks?)\b/i;
const quoted = /["“”„«]([^"“”„«»]{1,32})["“”»]|(?<![\p{L}\d])['‘]([^'’]{1,32})['’](?![\p{L}\d])/gu;
/** "SSID: Harbour", "Wi-Fi name Harbour Office", "a Wi-Fi called Harbour": up to what parts it from the rest. */
const plain =
  /\b(?:ssid|SSID|(?:[Ww]i-?[Ff]i|WLAN|wlan|[Ww]ireless)[ -](?:[Nn]etwork[ -])?[Nn]ame)\s{0,4}[:=]?\s{1,4}([^\s,;"“„][^,;"“„\n.]{0,31})|\b(?:[Ww]i-?[Ff]i|WLAN|wlan|[Ww]ireless network)(?: network)? (?:called|named) ([A-Z\d][^\s,;.]{0,31}(?: [A-Z\d][^\s,;.]{0,20}){0,2})/g;
/** "SSIDs: Harbour Office, Harbour Guests and Till (hidden)". */
const listed =
  /\b(?:ssids?|(?:wi-?fi|wlan|wireless)(?: network)? names?|(?:wi-?fi|wlan|wireless) networks?) ?[:=] (.{1,300})$/i;
const listedName = /^([A-Z\d][^\s(]{0,31}(?: (?!for\b|with\b|until\b)[^\s(]{1,20}){0,3})/;
const guestWord = /\b(?:guests?|visitors?|customers|public|gast|gäste|besucher|patrons)\b/i;
const endWord = /\b(?:until|till|up to|ends? on|bis(?: zum)?)\b/i;
const months = 'jan feb mar apr may jun jul aug sep oct nov dec'.split(' ');

const dayForm =
  /\b(?:(\d{4}-\d\d-\d\d)|(\d{1,2})(?:st|nd|rd|th)? (?:of )?([a-z]{3,9}),? (\d{4})|([a-z]{3,9}) (\d{1,2})(?:st|nd|rd|th)?, (\d{4})|(\d{1,2})\.(\d{1,2})\.(\d{4}))\b/i;

/** A day in a sentence: 2027-10-31, 31 October 2027, October 31, 2027, 31.10.2027. */
function dayIn(
  text: string,
): { readonly day: string; readonly start: number; readonly end: number } | undefined {
  const found = dayForm.exec(text);
  if (!found) return undefined;
  const two = (value: string | number): string => String(value).padStart(2, '0');
  const monthOf = (word: string): number => months.indexOf(word.slice(0, 3).toLowerCase()) + 1;
  const [whole, iso, date, month, year, month2, date2, year2, date3, month3, year3] = found;
  const day =
    iso ??
    (year !== undefined
      ? `${year}-${two(monthOf(month!))}-${two(date!)}`
      : year2 !== undefined
        ? `${year2}-${two(monthOf(month2!))}-${two(date2!)}`
        : `${year3}-${two(month3!)}-${two(date3!)}`);
  return isDay(day) ? { day, start: found.index, end: found.index + whole.length } : undefined;
}
function securityIn(text: string): WifiFacts['security'] {
  const [two, three] = [/\bwpa-?2\b/i.test(text), /\bwpa-?3\b/i.test(text)];
  if (two && three) return 'both';
  if (three) return 'wpa3';
  if (two) return 'wpa2';
  return /\b(?:open|without (?:a )?(?:key|password|passphrase))\b/i.test(text) ? 'open' : undefined;
}

/** "20 Mbit/s at most", "not more than 20 Mbit/s", "limited to 20 Mb/s". */
const limitWords =
  /\b(\d{1,4}(?:[.,]\d)?) ?mb(?:it)?(?:\/s|ps| a second| per second)? (?:at most|at the most|maximum|max\b)|\b(?:at most|not more than|no more than|limited to|max(?:imum|\.)?) (\d{1,4}(?:[.,]\d)?) ?mb(?:it)?(?:\/s|ps| a second| per second)?/i;

/** "In the tasting room the visitors need 15 Mbit/s": a room, whom it is for, and a rate. */
const promise =
  /\bin (?:the )?([a-z][a-z -]{1,38}?),? (?:(?:the|our|all) )?(guests?|visitors?|customers?|staff|people|everybody|we|wi-?fi|wlan)(?:'s? wi-?fi)? [^.;\d]{0,40}?(\d{1,4}(?:[.,]\d)?) ?mb(?:it)?(?:\/s|ps| a second| per second)?/gi;
/** "15 Mbit/s Wi-Fi in the hall", "visitors' Wi-Fi gives 10 Mb/s in the hall". */
const promiseBefore =
  /\b(?:(guests?|visitors?|customers?)['’]? )?(?:wi-?fi|wlan)\b[^.;\d]{0,40}?(\d{1,4}(?:[.,]\d)?) ?mb(?:it)?(?:\/s|ps| a second| per second)?[^.;\d]{0,20}? in (?:the )?([a-z][a-z -]{1,38}?)(?=[,.;]|$| (?:and|for|with|at|as)\b)/gi;

/** Names behind a label, one after the other, without quotation marks. */
function namesListed(row: string): { ssid: string; start: number; end: number }[] {
  const list = listed.exec(row);
  if (!list) return [];
  const names: { ssid: string; start: number; end: number }[] = [];
  let start = list.index + list[0].length - list[1]!.length;
  for (const piece of list[1]!.split(/(, |; | and (?![^(]{0,60}\)))/)) {
    const ssid = listedName
      .exec(piece)?.[1]
      ?.replace(/[.,;]$/, '')
      .trim();
    if (ssid !== undefined && ssid !== '' && ssid.length <= 32)
      names.push({ ssid, start, end: start + ssid.length });
    start += piece.length;
  }
  return names;
}

/** Takes what is said of Wi-Fi out of a row: a name in it is no network, and a rate in a room none of a line. */
export function readWifi(row: string, collector: Collector): string {
  const { wifi, rooms } = collector.facts;
  let rest = row;
  const take = (start: number, end: number, says: string): void => {
    collector.mark({ start, end }, says);
    rest = rest.slice(0, start) + ' '.repeat(end - start) + rest.slice(end);
  };
  const room = (found: RegExpMatchArray, name: string, who: string, mbps: string): void => {
    take(found.index!, found.index! + found[0].length, `Wi-Fi in the ${name.trim()}: ${mbps} Mb/s`);
    rooms.push({
      name: name.trim(),
      guests: guestWord.test(who),
      mbps: Number(mbps.replace(',', '.')),
      from: collector.from(),
    });
  };
  for (const found of row.matchAll(promise)) room(found, found[1]!, found[2]!, found[3]!);
  for (const found of row.matchAll(promiseBefore))
    if (!rooms.some(({ from, name }) => from === collector.from() && name === found[3]!.trim()))
      room(found, found[3]!, found[1] ?? '', found[2]!);
  const speaks = wifiWord.exec(row) ?? wifiWord.exec(collector.label);
  if (!speaks || /\b(?:pass ?(?:word|phrase|code)|pwd|key|psk)\b ?(?:[:=]|is\b)/i.test(row)) return rest;
  const from = wifiWord.exec(row)?.index ?? 0;
  const names = [
    ...[...row.matchAll(quoted)].map((found) => ({ found, ssid: found[1] ?? found[2]! })),
    ...(listed.test(row) ? [] : [...row.matchAll(plain)]).map((found) => ({
      found,
      ssid: (found[1] ?? found[2])!,
    })),
  ]
    .map(({ found, ssid }) => ({
      ssid: ssid.trim(),
      start: found.index + found[0].lastIndexOf(ssid),
      end: found.index + found[0].length,
    }))
    .filter(({ ssid, start }) => ssid !== '' && start >= from)
    .sort((a, b) => a.start - b.start);
  if (names.length === 0) names.push(...namesListed(row));
  for (const [index, { ssid: read, start, end }] of names.entries()) {
    const ssid = collector.asTyped(read, start);
    if (wifi.some((each) => each.ssid === ssid)) continue;
    // What is said of it stands behind it, up to the next name or the end of the sentence.
    const next = names[index + 1]?.start ?? row.length;
    const stop = /[.;](?=\s|$)/.exec(row.slice(end, next));
    const about = row.slice(end, stop ? end + stop.index : next);
    const guests = guestWord.test(ssid) || guestWord.test(about);
    const security = securityIn(about);
    const until = endWord.test(about) ? dayIn(about) : undefined;
    take(start, start + read.length, guests ? 'a Wi-Fi network for guests' : 'a Wi-Fi network');
    if (until) take(end + until.start, end + until.end, 'its last day');
    const limit = limitWords.exec(about);
    const mbps = Number((limit?.[1] ?? limit?.[2] ?? '').replace(',', '.'));
    if (limit) take(end + limit.index, end + limit.index + limit[0].length, `${mbps} Mb/s at most`);
    wifi.push({
      ssid,
      guests,
      hidden: /\bhidden\b/i.test(about),
      terms: guests && /\b(?:terms|captive portal|splash page|hotspot)\b/i.test(about),
      ...(security && { security }),
      ...(until && { until: until.day }),
      from: collector.from(),
    });
    if (!guests) continue;
    const network = collector.network('guests', 'Guests');
    if (limit) network.limitMbps ??= collector.said(mbps);
  }
  return rest;
}
