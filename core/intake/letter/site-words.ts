import type { Collector } from './collector.ts';
import type { Facts } from './facts.ts';
import { labelBefore, tradeName, type Row } from './row.ts';
import { numberWords, tradeWord } from './words.ts';

const labelled =
  /^\s{0,20}(?:your\s{1,20})?(customer|company|client|account holder|contract holder|subscriber|site(?: name)?|(?:(?:installation|service|site|delivery|line|premises|connection)\s{1,20})?address(?! (?:range|pool|is|of))|location|premises|street|town|city|post ?code|zip(?: code)?|country|time ?zone|(?:old|present|current|existing)\s{1,20}router|place of installation)\s{0,20}[:=\t|]\s{0,20}(\S.*)$/i;

/** Who the site belongs to, where it is, what is done there, whom to call. */
export function readSite(row: Row, collector: Collector): void {
  readLabels(row, collector);
  const { text, values } = row;
  const { facts } = collector;
  const trade = tradeWord.exec(text);
  if (trade && !facts.trade) {
    facts.trade = collector.said(tradeName(trade[1]!));
    collector.mark({ start: trade.index, end: trade.index + trade[0].length }, 'what the site is');
  }
  for (const token of values) {
    if (token.kind !== 'phone') continue;
    const label = labelBefore(row, token, collector.label);
    const faults = /fault|support|help|hotline|service|24/i.test(`${label} ${collector.label}`);
    const who =
      /(contact|caretaker|owner|manager|key ?holder|ask for)\b[^:]*?[:,]?\s{0,20}(\p{Lu}[\p{L}'-]+(?: \p{Lu}[\p{L}'-]+)*)/u.exec(
        label.replace(/^\s{0,20}\p{Lu}/u, (letter) => letter.toLowerCase()),
      );
    if (!faults && !who) continue;
    facts.contacts.push({
      name: faults ? 'Provider' : who![2]!,
      role: faults ? 'fault line of the provider' : who![1]!.toLowerCase(),
      phone: token.phone.slice(0, 64),
      email: '',
      from: collector.from(),
    });
    collector.mark(token, faults ? 'telephone for faults' : `telephone of ${who![2]!}`);
  }
  const branches =
    /\b(two|three|four|five|\d{1,2}) (?:branches|branch offices|sites|locations|shops)\b/i.exec(text);
  if (branches && !facts.branches) {
    const count = numberWords[branches[1]!.toLowerCase()] ?? Number(branches[1]);
    facts.branches = collector.said(count);
    collector.mark(
      { start: branches.index, end: branches.index + branches[0].length },
      `one of ${count} sites: noted, to be connected on Remote access`,
    );
  }
}

function readLabels({ text, values }: Row, collector: Collector): void {
  const found = labelled.exec(text);
  if (!found || values.some(({ kind }) => kind === 'address' || kind === 'mac')) return;
  const { facts } = collector;
  const value = collector.asTyped(found[2]!.trim()).slice(0, 200);
  const name = found[1]!.toLowerCase().replace(/\s{1,20}/g, ' ');
  const at = { start: text.length - found[2]!.length, end: text.trimEnd().length };
  const put = (key: keyof Facts['site'], says: string, stands = value): void => {
    facts.site[key] ??= collector.said(stands);
    collector.mark(at, says);
  };
  if (/customer|company|client|holder|subscriber/.test(name)) put('customer', 'the customer');
  else if (/router/.test(name)) {
    facts.oldRouter ??= collector.said(value);
    collector.mark(at, 'the router until now');
  } else if (name === 'street') put('street', 'street');
  else if (/town|city/.test(name)) put('town', 'town');
  else if (/post|zip/.test(name)) put('postcode', 'postcode', value.slice(0, 64));
  else if (name === 'country') put('country', 'country', value.slice(0, 2).toUpperCase());
  else if (/time/.test(name)) put('timeZone', 'time zone', value.slice(0, 64));
  else if (/address|location|premises|place/.test(name) || /\d/.test(value)) {
    const [street = '', ...rest] = value.split(/\s{0,20},\s{0,20}/);
    put('street', 'address of the site', street);
    if (rest.length > 0) facts.site.town ??= collector.said(rest.at(-1)!);
  } else put('name', 'name of the site');
}
