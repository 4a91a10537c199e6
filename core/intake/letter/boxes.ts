import { capitalized } from '../../base/text.ts';
import type { Collector } from './collector.ts';
import type { BoxFacts } from './facts.ts';
import type { WifiBand } from '../../base/worked/wifi.ts';
import { numberWords } from './words.ts';

/*
 * What a text says of boxes behind the router: access points, repeaters, a second router, and whether a cable reaches
 * the place. The words of the trade in letters (common practice, no source).
 */

const count = String.raw`(?:(\d{1,2}|a|an|one|two|three|four|five|six|seven|eight|nine|ten|another|second|further|additional|extra)\s+)?`;
const kinds: readonly (readonly [RegExp, BoxFacts['kind']])[] = [
  [
    new RegExp(
      String.raw`\b${count}(?:(?:new|wi-?fi|wireless|wlan|indoor|outdoor|ceiling)\s+){0,3}(?:access points?|aps)\b`,
      'gi',
    ),
    'access-point',
  ],
  [
    new RegExp(
      String.raw`\b${count}(?:new\s+)?(?:(?:wi-?fi|wireless|wlan)\s+(?:bridges?\b(?! mode)|(?:range )?extenders?)|(?:wi-?fi |wireless |wlan )?repeaters?|mesh (?:points?|nodes?))`,
      'gi',
    ),
    'bridge',
  ],
  [/\b(?:a |an |the )?(second|another|additional|extra|further) (?:wi-?fi |wireless )?router\b/gi, 'router'],
];
/** "The tenant has a router of her own", "the surgery in flat 2 wants to keep its own router behind ours". */
const ownRouter =
  /\b([a-z]{3,20})(?:'s)?(?: in [a-z]{2,12}(?: \d{1,3})?)? (?:(?:wants?|wishes|is allowed|has|have) to )?(?:has|have|keeps?|brings?|uses?|run|with) (?:(?:a|an) router of (?:his|her|their|its) own|(?:his|her|their|its) own router)\b(?: behind (?:ours|yours|mine|it|the router)\b)?/gi;
const category =
  /\bcat(?:egory)?[ .-]{0,2}(5e|6a|[5-8])\b(?: (?:network |data |patch |ethernet )?(?:cables?|runs?)\b)?/i;
/** The word for it where its kind or length is told: no line of a provider. */
const cableWord = /\b(?:(?:network|data|patch|ethernet|lan) )?cables?\b/i;
const lengthWords = /(?<![\w.,/])(\d{1,4})(?:[.,]\d)? ?(?:m|metres?|meters?)\b(?!\/)/i;
const sightWords = /\b(?:clear (?:view|sight|line of sight)|line of sight|in sight|can be seen)\b/i;
const wallWords = /\b(?:no (?:line of sight|clear view)|through (?:the |two |three |several )?walls?)\b/i;
const bandWords: readonly (readonly [RegExp, WifiBand])[] = [
  [/\b2[.,]4(?: ?ghz)?\b/i, '2.4'],
  [/\b5 ?ghz\b/i, '5'],
  [/\b6 ?ghz\b/i, '6'],
];
/** "a switch with 24 ports, 8 with PoE, 120 W together", "24-port PoE switch, 370 W". */
const switchWord = /\b(?:(\d{1,2})[ -]ports? )?(?:(?:poe\+?|managed|smart|gigabit|network) ){0,3}switch\b/i;
const noCable =
  /\b(?:no|without an?|without) (?:network |data |ethernet |lan )?cables?(?: (?:reaches|goes|gets|runs|is|there|to|into|in|up|at|for)[^.,;]{0,30})?/gi;
const cableThere =
  /\b(?:a|the|one|network|ethernet|lan) (?:network |ethernet |lan )?cable (?:goes|runs|reaches|leads|is (?:laid|there|in place))[^.,;]{0,30}/gi;
const placeWords =
  /\b(upstairs|downstairs|outside|(?:(?:first|second|third|top|ground|upper|lower) floor)|(?:[a-z]+ )?(?:barn|attic|loft|cellar|basement|hall|garage|shed|workshop|annexe?|stables?|garden|landing|restaurant|yard|tower|chapel|warehouse|reception|cabin|pitches|kitchen|studio|gatehouse|outbuilding))\b/gi;
const articles = /^(?:the|a|an|in|at|on|to|for|and|one|of|behind|into|from|under) /i;

interface Found {
  readonly start: number;
  readonly end: number;
}

const placesIn = (text: string): string[] =>
  [...text.matchAll(placeWords)].map(([found]) => {
    let place = found.toLowerCase();
    while (articles.test(place)) place = place.replace(articles, '');
    return place;
  });

/**
 * Takes the boxes behind the router out of a row: what is read further speaks of lines and networks. A cable that does
 * not reach the barn is no line with a cable, and a wireless bridge is no device that is bridged.
 */
export function readBoxes(row: string, collector: Collector): string {
  const { boxes } = collector.facts;
  let rest = row;
  const take = ({ start, end }: Found, says: string): void => {
    collector.mark({ start, end }, says);
    rest = rest.slice(0, start) + ' '.repeat(end - start) + rest.slice(end);
  };
  for (const sentence of sentencesOf(row)) {
    const text = row.slice(sentence.start, sentence.end);
    const places = placesIn(text);
    const own: BoxFacts[] = [];
    for (const [pattern, kind] of kinds)
      for (const found of text.matchAll(pattern)) {
        const start = sentence.start + found.index;
        const word = (found[1] ?? '').toLowerCase();
        // "Access points: hall, kitchen and first floor" are as many as there are places.
        const listed = word === '' && /s$/i.test(found[0]) ? Math.max(1, places.length) : 1;
        const many = Math.min(20, numberWords[word] ?? (/^\d+$/.test(word) ? Number(word) : listed));
        take({ start, end: start + found[0].length }, kindWords[kind]);
        // A bridge where an access point was named already is how that one is connected.
        const known =
          kind === 'bridge' && many === 1
            ? boxes.find(
                (each) => each.kind === 'access-point' && places.includes(each.place) && each.place !== '',
              )
            : undefined;
        if (known) {
          known.kind = 'bridge';
          own.push(known);
          continue;
        }
        for (let index = 0; index < many; index += 1)
          own.push({ kind, place: places[index] ?? '', who: '', from: collector.from() });
      }
    for (const found of text.matchAll(ownRouter)) {
      const start = sentence.start + found.index;
      take({ start, end: start + found[0].length }, 'a router of another party behind the router');
      own.push({
        kind: 'router',
        place: places[0] ?? '',
        who: found[1]!.toLowerCase(),
        from: collector.from(),
      });
    }
    for (const [pattern, cable] of [
      [noCable, false],
      [cableThere, true],
    ] as const)
      for (const found of text.matchAll(pattern)) {
        const at = placesIn(found[0])[0] ?? places[0];
        const meant =
          own.length > 0 && !at
            ? own
            : [...boxes, ...own].filter(({ place }) => place === at && place !== '');
        if (meant.length === 0 && own.length === 0 && !/reach|gets|goes|runs|leads|laid/i.test(found[0]))
          continue;
        const start = sentence.start + found.index;
        take(
          { start, end: start + found[0].length },
          cable ? 'a cable reaches the place' : 'no cable reaches the place',
        );
        for (const box of meant.length > 0 ? meant : own) box.cable = cable;
      }
    for (const box of own) if (!boxes.includes(box)) boxes.push(box);
    const spoken = own.length > 0 ? own : boxes.filter(({ place }) => place !== '' && places.includes(place));
    const bands = bandWords.flatMap(([form, band]) => (form.test(text) ? [band] : []));
    if (bands.length > 0) for (const box of spoken) box.bands ??= bands;
    readDistance(text, spoken, (found, says) =>
      take({ start: sentence.start + found.start, end: sentence.start + found.end }, says),
    );
    readSwitch(text, places, collector, (found, says) =>
      take({ start: sentence.start + found.start, end: sentence.start + found.end }, says),
    );
  }
  return rest;
}

type Take = (found: Found, says: string) => void;

const spanOf = (found: RegExpExecArray): Found => ({
  start: found.index,
  end: found.index + found[0].length,
});

/** What the cable to a box is, or how far it is through the air. */
function readDistance(text: string, spoken: readonly BoxFacts[], take: Take): void {
  const kind = category.exec(text);
  const all = spoken.length === 1 || /\b(?:all|both|each)\b/i.test(text) ? spoken : [];
  const byAir = all.every((box) => box.kind === 'bridge' || box.cable === false);
  const length = lengthWords.exec(text);
  const word = cableWord.exec(text);
  if (kind) {
    take(spanOf(kind), all.length === 1 ? 'what the cable is made of' : 'what the cables are made of');
    if (word) take(spanOf(word), 'cables of the site');
  }
  if (all.length === 0) return;
  if (kind && !byAir)
    for (const box of all) {
      box.category = `cat${kind[1]!.toLowerCase()}` as NonNullable<BoxFacts['category']>;
      box.cable = true;
    }
  if (length && (byAir || kind || word)) {
    for (const box of all) {
      box[byAir ? 'airMetres' : 'cableMetres'] = Number(length[1]);
      if (!byAir) box.cable = true;
    }
    take(spanOf(length), byAir ? 'distance through the air' : 'length of the cable');
  }
  const wall = wallWords.exec(text);
  const seen = wall ?? sightWords.exec(text);
  if (byAir && seen) {
    for (const box of all) box.sight = wall ? 'walls' : 'clear';
    take(spanOf(seen), wall ? 'something is in between' : 'nothing is in between');
  }
}

/** A switch with its ports and its power for devices; without a figure it is a word like others. */
function readSwitch(text: string, places: readonly string[], collector: Collector, take: Take): void {
  const found = switchWord.exec(text);
  if (!found) return;
  const counted = found[1] ?? /\b(\d{1,2}) ?-?ports?\b/i.exec(text)?.[1];
  if (counted === undefined || Number(counted) < 2) return;
  const fed = /\b(\d{1,2})(?: of them)?(?: ports?)?(?: of them)? (?:with|give|have|are) poe\b/i.exec(
    text,
  )?.[1];
  const watts = /(?<![\w.,])(\d{1,4}) ?w(?:atts?)?\b/i.exec(text);
  const poe = /\bpoe\b/i.test(text);
  collector.facts.switches.push({
    place: places[0] ?? '',
    ports: Math.min(64, Number(counted)),
    poePorts: fed === undefined ? (poe ? Math.min(64, Number(counted)) : 0) : Number(fed),
    ...(watts && poe && { poeWatts: Number(watts[1]) }),
    from: collector.from(),
  });
  take(spanOf(found), `a switch with ${counted} ports`);
}

const kindWords: Readonly<Record<BoxFacts['kind'], string>> = {
  'access-point': 'an access point',
  bridge: 'a box that is joined by air',
  router: 'a second router',
};

/** Sentences of a row; a comma joins what belongs together. */
const sentencesOf = (text: string): Found[] => {
  const found: Found[] = [];
  let start = 0;
  for (const { index } of text.matchAll(/[.;](?=\s|$)/g)) {
    found.push({ start, end: index });
    start = index + 1;
  }
  found.push({ start, end: text.length });
  return found;
};

/** What a box is called in the plan: "Access point, barn". */
export const boxName = ({ kind, place, who }: BoxFacts, index: number): string =>
  who !== ''
    ? `${capitalized(who)}'s router`
    : `${{ 'access-point': 'Access point', bridge: 'Wireless bridge', router: 'Second router' }[kind]}${place === '' ? (index === 0 ? '' : ` ${index + 1}`) : `, ${place}`}`;
