import { capitalized } from '../text.ts';
import type { Collector } from './collector.ts';
import type { BoxFacts } from './facts.ts';
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
/** "The tenant has a router of her own", "the surgery keeps its own router". */
const ownRouter =
  /\b([a-z]{3,20})(?:'s)? (?:has|have|keeps?|brings?|uses?|with) (?:(?:a|an) router of (?:his|her|their|its) own|(?:his|her|their|its) own router)\b/gi;
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
        const many = Math.min(20, numberWords[word] ?? (/^\d+$/.test(word) ? Number(word) : 1));
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
      take({ start, end: start + found[0].length }, 'a router of somebody else behind the router');
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
  }
  return rest;
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
