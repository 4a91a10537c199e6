/*
 * What a text takes back: it stands there and does not hold. Blanked out before anything is read, so that no reader
 * has to know of it; every place stays where it was.
 */

/** No word of what it stands before: blanked, and nothing is taken back. */
export const chosen = 'chosen';
/** A figure that another one of its row stands for. */
export const correction = 'corrected by what stands beside it';

/** A stretch that does not hold, and why. */
export interface Void {
  readonly start: number;
  readonly end: number;
  readonly says: string;
}

const box = String.raw`(?:\[\s?[xX✓✔_]?\s?\]|\(\s?[xX✓✔_]?\s?\)|[☐☑☒□■✓✔])`;
const ticked = /[xX✓✔☑☒■]/;

/** A form with boxes: what stands behind an empty one, up to the next box or column, was not chosen. */
function untickedIn(row: string): Void[] {
  const boxes = [...row.matchAll(new RegExp(box, 'g'))];
  // A bracket alone is no form: one box of the row stands before a word, and one of them has a mark or is square.
  if (!boxes.some(({ 0: text }) => /[[\]☐☑☒□■]/.test(text) || ticked.test(text))) return [];
  return boxes.flatMap(({ index: start, 0: mark }, place): Void[] => {
    const from = start + mark.length;
    const rest = row.slice(from, boxes[place + 1]?.index ?? row.length);
    if (!/^\s{0,3}\S/.test(rest)) return [];
    const words = rest.trimStart();
    const stop = /\t|\|| {3,}/.exec(words)?.index ?? words.length;
    const end = from + rest.length - words.length + stop;
    // Of a box that is ticked only the mark is no word.
    return ticked.test(mark) ? [{ start, end: from, says: chosen }] : [{ start, end, says: 'not chosen' }];
  });
}

const cancelled =
  /\b(?:(?:is|are|was|were|has been|have been|is hereby)\s+)?(?:cancelled|canceled|withdrawn|revoked|void|superseded|no longer (?:valid|needed|wanted|applies))\b/gi;

/** From the beginning of the sentence to the word that cancels it: "order 23 (DSL) is cancelled and replaced by …". */
function cancelledIn(row: string): Void[] {
  return [...row.matchAll(cancelled)].flatMap(({ index: at, 0: word }): Void[] => {
    const before = row.slice(0, at);
    if (/\b(?:not|cannot be|can be|may be|if|unless|until)\s+(?:\w+\s+)?$/i.test(before)) return [];
    const start = Math.max(
      ...[...before.matchAll(/(?:[.;!?]\s|^|[:–-]\s)/g)].map((cut) => cut.index + cut[0].length),
      0,
    );
    return [{ start, end: at + word.length, says: 'cancelled' }];
  });
}

/** "not 8 but 31", "31 instead of 8", "31 (was 8)": the figure that was corrected. */
const corrected: readonly RegExp[] = [
  /\bnot\s+(?=[^.;\n]{1,80}\bbut\b)((?:(?!\bbut\b)[^.;\n]){1,80})/gi,
  /\b(?:instead of|in place of|rather than|and not|no longer|formerly|previously|up to now|until now)[\s:]{1,4}([^,.;()\n]{1,40})/gi,
  /\((?:was|were|formerly|before|old)[: ]\s{0,3}([^(),;\n]{1,40})(?=[),;])/gi,
];

function correctedIn(row: string): Void[] {
  return corrected.flatMap((form) =>
    [...row.matchAll(form)].flatMap((found): Void[] => {
      const part = found[1]!;
      if (!/\d/.test(part) && !/\b(?:pppoe|dhcp|static|dsl|fibre|cable)\b/i.test(part)) return [];
      const start = found.index + found[0].lastIndexOf(part);
      const end = start + part.length;
      // "VLAN not 7 but 132": the label stands before what holds.
      const but = /^\bbut\b(?:\s+(?:to|is))?/i.exec(row.slice(end));
      return [
        ...(but ? [{ start: found.index, end: start, says: chosen }] : []),
        { start, end, says: correction },
        ...(but ? [{ start: end, end: end + but[0].length, says: chosen }] : []),
      ];
    }),
  );
}

/** VLAN IDs of services that are not the internet, beside that of the line: "VLAN 7 (television: 35, telephone: 40)". */
const otherVlan =
  /\b(?:television|tv|iptv|voice|voip|telephone|telephony|multicast|management)\b(?:\s+vlan)?(?:\s+id)?\s{0,3}[:=]?\s{0,3}\d{1,4}\b|\bvlan(?:\s+id)?\s{0,3}[:=]?\s{0,3}\d{1,4}\s+(?:is\s+)?for\s+(?:the\s+)?(?:television|tv|iptv|voice|voip|telephones?|telephony|multicast|management)\b/gi;

const otherServiceIn = (row: string): Void[] =>
  /\bvlan\b/i.test(row)
    ? [...row.matchAll(otherVlan)].map(({ index: start, 0: text }) => ({
        start,
        end: start + text.length,
        says: 'VLAN of another service',
      }))
    : [];

/** Rates of something else than the contract: of a test, of the air, of an earlier order, of the time after an allowance. */
const otherRate =
  /\b(?:attainable|achievable|maximum possible|technically possible|measured|speed ?test|last (?:test|measurement)|(?:previous|former|old|earlier) (?:tariff|plan|contract|product|line|speed|rate|bandwidth|package|service|order)|until now|up to now|(?:falls?|drops?|goes down|reduced|limited|throttled|slowed(?: down)?) to|throttled|used up|over the air|wi-?fi ?\d|burst|bearer|(?:port|interface|link|wire|access|hand-?off) (?:speed|rate)|upgrade|next (?:higher|step))\b/i;
const rateFigure =
  /(?<![\d.,])\d[\d.,]{0,12}(?:\s?\/\s?\d[\d.,]{0,12})?\s?(?:[kmg](?:bit|bps|b\/s)(?:\s?\/\s?s(?:ec)?)?|(?:kilo|mega|giga)bits?(?:\/s)?|down\w{0,6}\W{1,4}\d{1,5}\s?up\w{0,6}\b)/gi;

/** Those figures, by the words since the figure before and up to the next comma or bracket. */
function otherRatesIn(row: string): Void[] {
  if (!otherRate.test(row)) return [];
  let from = 0;
  return [...row.matchAll(rateFigure)].flatMap(({ index: start, 0: figure }): Void[] => {
    const end = start + figure.length;
    const sentence = Math.max(from, row.slice(0, start).search(/[.!?]\s[^.!?]*$/) + 1);
    const before = row.slice(sentence, start);
    const behind = /^[^,;.()]*/.exec(row.slice(end))![0];
    from = end;
    return otherRate.test(before) || otherRate.test(behind)
      ? [{ start, end, says: 'not the rate of the contract' }]
      : [];
  });
}

/** What comes by another way is not in the text: "sent separately by letter" is no password. */
const elsewhere =
  /\b(?:(?:is|are|will be|to be)\s+)?(?:sent|posted|mailed|delivered|supplied|handed over|follows?|following)\s+(?:to you\s+)?(?:(?:in a )?separate(?:ly)?(?: (?:letter|envelope|mail))?|by (?:separate )?(?:letter|post|mail|text(?: message)?|sms|phone|telephone))\b[^,;.\n]{0,30}|\bon request\b|\bsee (?:the )?(?:separate )?(?:letter|envelope)\b/gi;

const elsewhereIn = (row: string): Void[] =>
  [...row.matchAll(elsewhere)].map(({ index: start, 0: text }) => ({
    start,
    end: start + text.length,
    says: 'sent by another way',
  }));

/** "Printer: no", "Guests: none" in a list or a form; of what a line lacks (a tag, a PIN) the readers know. */
const refused =
  /(?<![\p{L}\p{N}])([\p{L}][\p{L} -]{1,30})\s?[:=|\t]\s{0,20}(?:no|none|not (?:required|needed|wanted)|nil)(?=\s{0,3}(?:$|[,;.|\t]))/giu;
const ofTheLine = /vlan|tag|pin\b|puk|pass|address|\bip|nat\b|user|login|dns|gateway|public|type|bridge/i;

const refusedIn = (row: string): Void[] =>
  [...row.matchAll(refused)].flatMap(({ index: start, 0: text, 1: label }) =>
    ofTheLine.test(label!) ? [] : [{ start, end: start + text.length, says: 'not there, as it says' }],
  );

/** Between a label and its figure: "VLAN: please use 31". */
const filler =
  /(?<=[:=]\s{0,3}|\b(?:id|tag|vlan)\s{1,3})(?:please\s+)?(?:use|set(?: it)?(?: to)?|enter|take)\s+(?=\d)/gi;

const fillerIn = (row: string): Void[] =>
  [...row.matchAll(filler)].map(({ index: start, 0: text }) => ({
    start,
    end: start + text.length,
    says: chosen,
  }));

/** Everything in a row that does not hold. */
export const voidsOf = (row: string): Void[] =>
  [
    untickedIn,
    cancelledIn,
    correctedIn,
    otherServiceIn,
    elsewhereIn,
    refusedIn,
    fillerIn,
    otherRatesIn,
  ].flatMap((voids) => voids(row));
