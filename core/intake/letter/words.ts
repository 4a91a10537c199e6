import { media } from '../../behaviour/media/index.ts';
import type { MediumName, WanTypeName } from '../../plan/schema.ts';
import { specialFirst } from '../../wan-types/index.ts';
import type { Purpose } from './facts.ts';

/*
 * The words of the trade under which letters, order sheets and slips of paper name things (common practice, no
 * source). Each pattern is tried on one line of text, without regard to case.
 */

export const numberWords: Readonly<Record<string, number>> = {
  a: 1,
  an: 1,
  one: 1,
  two: 2,
  three: 3,
  four: 4,
  five: 5,
  six: 6,
  seven: 7,
  eight: 8,
  nine: 9,
  ten: 10,
  eleven: 11,
  twelve: 12,
  dozen: 12,
  twenty: 20,
  thirty: 30,
  forty: 40,
  fifty: 50,
  sixty: 60,
  hundred: 100,
};

/** What a line is made of; the first that fits. */
export const mediumWords: readonly (readonly [RegExp, MediumName])[] = media
  .toReversed()
  .flatMap(({ name, inText = [] }) => inText.map((form) => [form, name] as const));

/** How a line gives its address; the first that fits. */
export const typeWords: readonly (readonly [RegExp, WanTypeName])[] = specialFirst.flatMap(
  ({ name, inText }) => (inText ? [[inText, name] as const] : []),
);

export const backupWord =
  /\b(?:back-?up|failover|fail-over|fallback|stand-?by|reserve line|secondary|spare line)\b/gi;
export const mainWord =
  /\b(?:primary|main) (?:line|connection|internet|access|uplink|wan)\b|^\s{0,20}(?:primary|main)\s{0,20}(?=:|$)/gi;
/** A heading that numbers lines: "Line 2", "WAN2", "Connection no. 1". */
export const ordinalWord =
  /\b(?:(?:line|wan|connection|uplink|circuit|access|service) ?(?:no\.? ?|nr\.? ?|#)?([12])\b(?!\d|\.|\/)|(first|second) (?:line|wan|connection|uplink|circuit))/gi;

export type StateName =
  'carrier-nat' | 'bridged' | 'routes' | 'active' | 'not-yet' | 'number' | 'tied' | 'no-vlan';

/** What is said of the state of a line, or of what stands in front of the router. */
export const stateWords: readonly (readonly [RegExp, StateName])[] = [
  [
    /\b(?:cg-?nat|carrier[- ]grade nat|no public (?:ipv4|ip|address)\w*(?: address)?|shared (?:ipv4|ip)(?: address)?)\b/gi,
    'carrier-nat',
  ],
  [/\b(?:bridged?(?: mode)?|modem only|pass-?through)\b(?! (?:port|loan))/gi, 'bridged'],
  [
    /\b(?:double nat|(?:provider|isp)'?s? (?:own )?(?:router|box|gateway)(?! (?:stays |is )?(?:in )?bridge)|(?:router|box) of the provider|(?:box|router|modem) routes|(?:our|the) managed router)\b/gi,
    'routes',
  ],
  [
    /\b(?:has been activated|is (?:already )?(?:active|live|switched on|activated)|active since)\b/gi,
    'active',
  ],
  [
    /\b(?:will be (?:activated|switched on|connected|ready|live|provisioned)|activation (?:date|on)|activated on|goes live|go-live|to be activated)\b[^.;,]{0,40}/gi,
    'not-yet',
  ],
  [
    /\b(?:customer|contract|line|circuit|order|service|reference|account)\s{0,20}(?:no\.?|number|id|ref(?:erence)?)\s{0,20}[:=\t|]?\s{0,20}(?=[\w/-]*\d)[\w/-]{3,}/gi,
    'number',
  ],
  [
    /\b(?:tied to|answers? (?:only )?(?:one|to one|the|a single) (?:mac|device)|only (?:one (?:mac|device)|answers)|mac[- ]locked)\b/gi,
    'tied',
  ],
  [/\buntagged\b|\bno vlan\b/gi, 'no-vlan'],
];

/** Durations that are no outage. */
export const otherDuration =
  /\b(?:reply|answer|deliver\w*|arrive|call|repair|lease|work(?:ing)? days?|month|contract|notice)\b/i;

/** Purposes of networks by the words for the people in them. */
export const networkWords: readonly (readonly [RegExp, Purpose, string])[] = [
  [
    /\b(?:guests?|visitors?|hotspot|patrons?|passengers?|campers?|(?:public|free|pitches'?|readers?'?|patients?'?|customers?'?|clients?'?|residents?'?|tenants?'?|students?'?|members?'?|tourists?'?)(?: (?:should|must|can|may|will|to))?(?: (?:get|have|use|be given))?(?: (?:the|free|our))? (?:wi-?fi|wlan|wireless|internet)|(?:wi-?fi|wlan|wireless|internet) for (?:the )?(?:guests?|visitors?|patients?|customers?|clients?|residents?|tenants?|students?|members?|tourists?|public|passengers?))(?:'s?|s')?(?: (?:wi-?fi|wlan|wireless|network|vlan|lan))?\b/gi,
    'guests',
    'Guests',
  ],
  [
    /\b(?:back ?office|office|staff|employees|reception|home office|workstations)(?: (?:network|lan|vlan|wi-?fi|pcs?))?\b/gi,
    'staff',
    'Office',
  ],
  [/\b(?:management|mgmt)(?: (?:network|lan|vlan))\b/gi, 'management', 'Management'],
  [/\b(?:payments?|point of sale)(?: (?:network|lan|vlan))?\b/gi, 'payment', 'Payment'],
  [/\b(?:cctv|surveillance)(?: (?:network|lan|vlan))?\b/gi, 'cameras', 'Cameras'],
  [/\b(?:voice|voip|telephony)(?: (?:network|lan|vlan))?\b/gi, 'voice', 'Telephones'],
  [
    /\b(?:iot|plant|machines?|building (?:control|services|automation)|automation)(?: (?:network|lan|vlan))\b/gi,
    'plant',
    'Plant',
  ],
];

/** Devices, singular, and the purpose of the network that they belong in. */
export const deviceWords: readonly (readonly [word: RegExp, kind: string, purpose: Purpose])[] = (
  [
    ['(?:video |camera |network )?recorders?|nvrs?|dvrs?', 'recorder', 'cameras'],
    ['(?:ip |security |cctv |dome |outdoor |indoor |ptz )*cam(?:era)?s?', 'camera', 'cameras'],
    [
      'card (?:terminal|reader|machine)s?|payment terminals?|pin pads?|eftpos(?: terminals?)?',
      'card terminal',
      'payment',
    ],
    ['tills?|cash registers?|checkouts?|pos(?: terminals?)?|ticket (?:desks?|machines?)', 'till', 'payment'],
    [
      '(?<!(?:his|her|their|my|your|mobile|smart|cell|the|by) )(?:ip |voip |sip |desk |cordless )*(?:tele)?phones?(?! (?:no|number|line|call|:))|handsets?|dect bases?',
      'telephone',
      'voice',
    ],
    ['(?:label |network |receipt )?printers?|multifunction devices?', 'printer', 'staff'],
    ['nas(?: box)?|file servers?|network storage', 'file server', 'staff'],
    ['(?:web|www) ?servers?', 'web server', 'staff'],
    ['mail ?servers?', 'mail server', 'staff'],
    [
      '(?:booking|database|application|house|game|media) servers?|(?<!(?:dns|name|dhcp|time|ntp|sip|tunnel|vpn|proxy|domain|smtp|server) )servers?(?= (?:in|that|must|should|at|has|is|with|named|called|under)\\b)',
      'server',
      'staff',
    ],
    [
      '(?:office |staff )?(?:pcs?|computers?|laptops?|desktops?|workstations?)(?! must| to run)',
      'computer',
      'staff',
    ],
    ['weather stations?', 'weather station', 'plant'],
    ['(?:tide |data |temperature )?loggers?', 'logger', 'plant'],
    [
      '(?:gate|door|access|barrier) (?:controllers?|counters?|locks?|systems?|control)|door counters?',
      'door controller',
      'plant',
    ],
    [
      'heating(?: (?:controller|control|system))?|boilers?|heat pumps?|thermostats?',
      'heating controller',
      'plant',
    ],
    [
      '(?:solar |pv )?inverters?|solar (?:system|plant|panels)|pv (?:system|plant)',
      'solar inverter',
      'plant',
    ],
    [
      'plcs?|cnc (?:machines?|mills?|lathes?)|milling machines?|lathes?|ovens?|welding robots?|robots?|scales?',
      'machine',
      'plant',
    ],
    [
      '(?:temperature |humidity )?sensors?|(?:freezer|fridge|cold ?room)(?: (?:sensors?|monitors?))?|smart meters?|energy meters?',
      'sensor',
      'plant',
    ],
    ['(?:ev |car )chargers?|charging (?:points?|stations?)|wall ?boxe?s?', 'charging point', 'plant'],
    ['intercoms?|door ?(?:phones?|bells?)|door entry', 'door station', 'plant'],
    ['alarm (?:panel|system)s?|fire alarms?|burglar alarms?', 'alarm panel', 'plant'],
    ['signage (?:players?|screens?)|(?:smart )?tvs?|televisions?|display screens?', 'display', 'other'],
  ] as const
).map(([word, kind, purpose]) => [new RegExp(`\\b(?:${word})\\b`, 'gi'), kind, purpose] as const);

/** What is done at the site. */
export const tradeWord =
  /(?<![\p{L}\p{N}@._-])(bakery|baker's|butcher'?s?(?: shop)?|florist|caf[eé]|coffee (?:shop|bar)|restaurant|pub|bar|hotel|guest ?house|hostel|bed and breakfast|b&b|campsite|camping site|holiday (?:home|flat|let|cottage|park)|shop|store|boutique|pharmacy|chemist'?s?|dentist'?s?(?: practice)?|doctor'?s?(?: practice| surgery)?|surgery|clinic|vet(?:erinary)?(?: practice)?|salon|hairdresser'?s?|barber'?s?|workshop|garage|joinery|carpentry|brewery|dairy|farm|vineyard|winery|warehouse|depot|factory|studio|gallery|museum|library|school|nursery|kindergarten|church|parish hall|village hall|town hall|club ?house|sports club|gym|ferry office|harbour office|marina|petrol station|filling station|law firm|accountant'?s? office|estate agent'?s?|home office|branch office)(?![\p{L}\p{N}@_-])/iu;

/** Who comes in from outside. */
export const personWord =
  /\b(owner|landlord|boss|manager|manageress|duty manager|book-?keeper|accountant|contractor|engineer|technician|caretaker|installer|supplier|office staff|staff|employees|director|partner|doctor|baker|chef|warden|harbou?r ?master|head office|service company|(?:gate|heating|solar|alarm|it) (?:contractor|company|engineer|support))s?\b/gi;

export const remoteWord =
  /\b(?:from (?:home|outside|afar|anywhere|on the road|abroad|away)|remote(?:ly)?(?: access| users?| work(?:ing)?| in)?|vpn(?: access)?|work(?:s|ing)? from home|home ?working|telework\w*|dial(?:s|ling)? in|on the road|while away|when travelling)\b/gi;

export const everybodyWord =
  /\b(?:(?:from|to|on|by|for) (?:the )?(?:whole |open |public )?(?:internet|world|everybody|everyone|anyone|anybody)|public(?:ly)?(?= (?:web|reach|access|avail|visib))|world-?wide)\b/i;
export const reachWord =
  /\b(?:reach(?:able|ed)?|visible|answer(?:s|ing)?|access(?:ible)?|open(?:ed)?|see|seen|view|watch|port.?forward(?:ing|ed|s)?|forward(?:ed|s|ing)?|expose[ds]?|publish(?:ed)?)\b/i;

export const outageWord =
  /\b(?:online|outages?|interruptions?|down|fails?|failed|failure|lost|gone|back|switch(?:es)?|fail-?over|change ?over|take ?over|keep (?:working|running|going)|stay (?:up|connected|online))\b/i;
