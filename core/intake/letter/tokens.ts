import { formatAddress, parseAddress, type Address } from '../../base/net/address.ts';
import { classify } from '../../base/net/classify.ts';
import { parseMac } from '../../base/net/mac.ts';
import { parseLength } from '../../base/net/prefix.ts';
import { rateOf } from '../../base/net/rate.ts';
import { valueOf } from '../../base/result.ts';
import { numberWords } from './words.ts';

interface At {
  /** Offsets in the line. */
  readonly start: number;
  readonly end: number;
}

/** A value of a line of text, as the standards write it. */
export type ValueToken = At &
  (
    | { readonly kind: 'address'; readonly address: Address; readonly text: string; readonly length?: number }
    | { readonly kind: 'range'; readonly from: string; readonly to: string }
    | { readonly kind: 'mask'; readonly length: number }
    | { readonly kind: 'mac'; readonly mac: string }
    | { readonly kind: 'vlan'; readonly id: number }
    | { readonly kind: 'priority'; readonly value: number }
    | { readonly kind: 'rate'; readonly downMbps?: number; readonly upMbps?: number; readonly mbps?: number }
    | { readonly kind: 'volume'; readonly gigabytes: number }
    | { readonly kind: 'mtu'; readonly bytes: number }
    | { readonly kind: 'duration'; readonly seconds: number }
    | { readonly kind: 'ports'; readonly ports: string; readonly protocol: 'tcp' | 'udp' | 'both' }
    | { readonly kind: 'user'; readonly name: string | undefined }
    | { readonly kind: 'apn'; readonly apn: string }
    | { readonly kind: 'aftr'; readonly name: string }
    | { readonly kind: 'server'; readonly name: string }
    | { readonly kind: 'card'; readonly number: string }
    | { readonly kind: 'phone'; readonly phone: string }
    | { readonly kind: 'mail'; readonly mail: string }
    | { readonly kind: 'secret'; readonly value: string; readonly of: string }
  );

/** What stands behind a label: a colon, an equals sign, a tab, a bar, dots, several spaces. */
const gap = String.raw`(?:\s{0,20}(?::|=|\||\t|\.{2,}|(?:\. ){2,}\.?)\s{0,20}|\s{2,60}|\s{1,20}(?:is|are|was|reads?|called|named)(?::)?\s{1,20}|\s{1,20}[-–—]\s{1,20})`;
const empty =
  /^(?:is|sent|see|by|in|to|will|separate(?:ly)?|follows?|comes?|on|and|or|with|from|the|a|an|for|of|as|at|not|no|none|n\/a|unknown|optional|any|your|you|our|needed|required|must|x{3,}|\*{2,}|\.{2,}|_+|-+|–)$/i;

const clean = (text: string): string =>
  text.replace(/^["'“”‘’<([]+/, '').replace(/(?:["'“”‘’>\],;.]|(?<!\([^()]{0,99})\)){1,6}$/, '');

/** What stands before the number of a release, which looks like an address. */
const version = /(?:firmware|software|versi\p{L}*|release|build|\bv)\W{0,3}(?:\p{L}{1,9}\s)?$/iu;

/** Words of a counter before a volume: what has passed is no allowance. */
const counted =
  /\b(?:received?|sent|used|transferred|transmitted?|traffic|remaining|uptime|download(?:ed)?|upload(?:ed)?|rx|tx)\b\W{0,20}$/i;

type Extract = (line: string, found: RegExpExecArray) => ValueToken[];
interface Rule {
  readonly form: RegExp;
  readonly make: Extract;
}

const spanOf = (found: RegExpExecArray, text: string): At => {
  const start = found.index + found[0].lastIndexOf(text);
  return { start, end: start + text.length };
};
const whole = (found: RegExpExecArray): At => ({ start: found.index, end: found.index + found[0].length });

const unit = String.raw`(?:[kmg](?:i?b(?:it|yte)?s?)?(?:\s?(?:\/|p)\s?s(?:ec(?:ond)?)?)?|(?:kilo|mega|giga)(?:bit|byte)s?(?:\s?(?:\/|per|a)\s?s(?:ec(?:ond)?)?)?|meg|gig)\b`;
const figure = String.raw`\d{1,6}(?:[.,]\d{1,3})?`;

/** A figure with its unit in Mb/s; people write a unit in many ways. */
function rate(figureText: string, unitText: string): number | undefined {
  const short = unitText
    .replace(/\s/g, '')
    .replace(/^(k|m|g)(?:ilo|ega|iga)(?=bit|byte)/i, '$1')
    .replace(/^(m|g)(?:eg|ig)$/i, '$1')
    .replace(/(?:per|a)s(?:ec(?:ond)?)?$/i, '/s')
    .replace(/([/p])s(?:ec(?:ond)?)?$/i, '$1s');
  // "500 MB fibre", without "per second", is how bits are misspelt; "MB/s" is taken at its word (IEC 80000-13).
  return rateOf(`${figureText} ${/^[kmg]i?B$/.test(short) ? short.replace('B', 'b') : short}`);
}

const direction = (text: string): 'down' | 'up' | undefined =>
  /\b(?:down(?:load|stream|link)?|receive|rx|↓)/i.test(text)
    ? 'down'
    : /\b(?:up(?:load|stream|link)?(?! to\b)|send|tx|↑)/i.test(text)
      ? 'up'
      : undefined;

/** Ports of services that people call by name (IANA service names). */
const namedPorts: Readonly<Record<string, readonly [string, 'tcp' | 'udp']>> = {
  https: ['443', 'tcp'],
  http: ['80', 'tcp'],
  ssh: ['22', 'tcp'],
  rdp: ['3389', 'tcp'],
  'remote desktop': ['3389', 'tcp'],
  smtp: ['25', 'tcp'],
  imaps: ['993', 'tcp'],
  rtsp: ['554', 'tcp'],
  modbus: ['502', 'tcp'],
  mqtt: ['1883', 'tcp'],
};

const good = <Kind extends ValueToken>(token: Kind | undefined): ValueToken[] => (token ? [token] : []);

/** In this order: what an earlier rule took, a later one leaves alone. */
const rules: readonly Rule[] = [
  {
    form: new RegExp(
      String.raw`\b((?:other |pppoe |ppp |dsl |wi-?fi |wlan |wireless |network |admin |login |sim |account |initial |device |router )*(?:pass ?(?:word|phrase|code)|pwd?|passwd|(?:wi-?fi|wlan|network|pre-?shared|wpa\d?) key|psk|pin(?: ?code| ?1| no\.?)?|puk))${gap}("[^"]{1,128}"|\S{1,128})`,
      'gi',
    ),
    make: (line, found) => {
      const value = clean(found[2]!);
      const said = /\s(?:is|are|was)\s{1,20}$/i.test(found[0].slice(0, found[0].length - found[2]!.length));
      if (value === '' || empty.test(value) || (said && /^[a-z]+$/.test(value))) return [];
      // "Password: see letter": words of a sentence.
      const behind = line.slice(found.index + found[0].length);
      if (/^\p{Ll}{2,12}$/u.test(value) && /^\s\p{L}{2}/u.test(behind)) return [];
      return [{ kind: 'secret', value, of: found[1]!.toLowerCase(), ...spanOf(found, value) }];
    },
  },
  {
    // "the user name lind66 and the password Zk-15002": what follows has the shape of one.
    form: /\b((?:wi-?fi |admin |router |device |sip |telephone )?(?:pass ?(?:word|phrase|code)|passwd|pwd?|pass|psk|pin|puk))\s{1,3}(?:['"“„])?((?=\S{0,99}\d)(?=\S{0,99}[\p{L}!#%&*+?^~])\S{5,128})/giu,
    make: (_, found) => {
      const value = clean(found[2]!);
      return value.length < 5 || /^https?:|@[^@]*\.|[:=]$/.test(value)
        ? []
        : [{ kind: 'secret', value, of: found[1]!.toLowerCase(), ...spanOf(found, value) }];
    },
  },
  {
    form: /\b((?:sim )?(?:pin|puk)(?: ?code| ?1)?)(?:\s{1,20}|(?:[^\d:=\n]|[45]G){1,40}[:=]\s{0,9})(\d{4,8})\b/gi,
    make: (_, found) => [
      { kind: 'secret', value: found[2]!, of: found[1]!.toLowerCase(), ...spanOf(found, found[2]!) },
    ],
  },
  {
    form: /(?<![\w:.-])(?:[0-9a-f]{1,2}([:-]))(?:[0-9a-f]{1,2}\1){4}[0-9a-f]{1,2}(?![\w:-])|(?<![\w.])(?:[0-9a-f]{4}\.){2}[0-9a-f]{4}(?![\w.])/gi,
    make: (_, found) => {
      const text = /[:-]/.test(found[0])
        ? found[0]
            .split(/[:-]/)
            .map((octet) => octet.padStart(2, '0'))
            .join(':')
        : found[0];
      const mac = valueOf(parseMac(text));
      return good(mac && { kind: 'mac', mac: mac.text, ...whole(found) });
    },
  },
  {
    form: new RegExp(
      String.raw`(?<!\b(?:sip|voip|voice|telephones?|phone|fax|e-?mail|portal|wi-?fi|ftp|admin|web|remote|vpn)[ -])\b(?:(?:pppoe|ppp|dial-?in|dsl|internet|wan|access|line|connection)[ -]?)*(?:user(?: ?name| ?id)?s?|log-?in(?: ?name)?|account(?: ?name)?|access id)(?![\w@.])(${gap}|\s{1,20})?("[^"\s]{1,255}"|[^\s,;|]{1,255})?`,
      'gi',
    ),
    make: (line, found) => {
      const gapText = found[1] ?? '';
      const value = clean(found[2] ?? '');
      const parted = /[:=|\t–—-]|\.{2}|\s{2}|\bis\b/.test(gapText);
      const named =
        value !== '' &&
        !empty.test(value) &&
        (/@/.test(value) || (/\d/.test(value) && /[a-z]/i.test(value)) || (parted && /^\S+$/.test(value)));
      if (named && /^(?:name|password|data|support|service|number|no\.?|holder)$/i.test(value)) return [];
      if (named) return [{ kind: 'user', name: value, ...spanOf(found, value) }];
      // "Remote users", "users of the network": people, no name of an account.
      if (
        !/user ?name|log-?in|account|access id/i.test(found[0]) ||
        /\baccount (?:holder|number|no)/i.test(line)
      )
        return [];
      const end = found.index + found[0].length - (found[2]?.length ?? 0) - gapText.length;
      return [{ kind: 'user', name: undefined, start: found.index, end }];
    },
  },
  {
    // "Login stays the same: kiosk7@access.example"
    form: /\b(?:user ?name|log-?in|account)\b[^:=\n@]{1,30}[:=]\s{0,5}([\w./+-]{1,64}@[\w.-]{3,99})/gi,
    make: (_, found) => {
      const name = clean(found[1]!);
      return [{ kind: 'user', name, ...spanOf(found, name) }];
    },
  },
  {
    form: new RegExp(
      String.raw`\b(?:apn|access point name)\)?(?: name)?(?:${gap}|\s{1,20})"?([a-z0-9](?:[\w.-]*[a-z0-9])?)"?`,
      'gi',
    ),
    make: (_, found) =>
      empty.test(found[1]!) || /^(?:name|settings?|needs?|user|has)$/i.test(found[1]!)
        ? []
        : [{ kind: 'apn', apn: found[1]!, ...spanOf(found, found[1]!) }],
  },
  {
    form: /\b([a-z0-9](?:[\w-]*[a-z0-9])?(?:\.[\w-]+)+) (?:as|for) (?:the |your )?(?:apn|access point name)\b/gi,
    make: (_, found) => [{ kind: 'apn', apn: found[1]!, ...spanOf(found, found[1]!) }],
  },
  {
    form: new RegExp(
      String.raw`\b(?:aftr|tunnel end(?:point)?)(?: (?:name|address|gateway))?(?:${gap}|\s{1,20})([a-z0-9][\w.:-]+)`,
      'gi',
    ),
    make: (_, found) =>
      /[.:]/.test(found[1]!) ? [{ kind: 'aftr', name: clean(found[1]!), ...spanOf(found, found[1]!) }] : [],
  },
  {
    form: new RegExp(
      String.raw`\b(?:l2tp|pptp|tunnel|dial-?in) (?:server|gateway|host)(?: (?:name|address))?(?:${gap}|\s{1,20})([a-z0-9][\w.-]+)`,
      'gi',
    ),
    make: (_, found) =>
      /\./.test(found[1]!) ? [{ kind: 'server', name: clean(found[1]!), ...spanOf(found, found[1]!) }] : [],
  },
  { form: /\b89\d{16,18}\b/g, make: (_, found) => [{ kind: 'card', number: found[0], ...whole(found) }] },
  {
    form: /(?<![\w.+-])[\w.+-]{1,64}@[\w-]{1,63}(?:\.[\w-]{1,63})+/g,
    make: (_, found) => [{ kind: 'mail', mail: found[0], ...whole(found) }],
  },
  {
    form: /\b(?:v-?lan|802\.1q|vid|tag(?:ged)?)\b(?:[- ]?(?:id|tag|number|num|no|nr))?[.]?\s{0,20}(?:is|of|with|as|on|in|to|=|:|#|\||\t)?\s{0,20}"?(\d{1,4})\b(?![.:/]\d)/gi,
    make: (_, found) => {
      const id = Number(found[1]);
      return id >= 1 && id <= 4094 ? [{ kind: 'vlan', id, ...whole(found) }] : [];
    },
  },
  {
    form: /\b(?:802\.1p|pcp|cos|(?:vlan )?priority|p-?bit)\b\s{0,20}(?:is|=|:|\t|\|)?\s{0,20}([0-7])\b/gi,
    make: (_, found) => [{ kind: 'priority', value: Number(found[1]), ...whole(found) }],
  },
  {
    form: /(?<![\w.])0x(f[0-9a-f]{7})\b/gi,
    make: (_, found) => {
      const bits = Number.parseInt(found[1]!, 16).toString(2);
      return /^1+0*$/.test(bits)
        ? [{ kind: 'mask', length: bits.lastIndexOf('1') + 1, ...whole(found) }]
        : [];
    },
  },
  {
    form: /(?<![\w./:])\/(\d{1,2})\b(?!\.\d|\/|\s?\d)/g,
    make: (_, found) => {
      const length = Number(found[1]);
      return length >= 8 && length <= 32 ? [{ kind: 'mask', length, ...whole(found) }] : [];
    },
  },
  {
    // "192.0.2.100 - 192.0.2.199", "192.0.2.100-199", "from 192.0.2.100 to 192.0.2.199"
    form: /(?<![\w.])(\d{1,3}(?:\.\d{1,3}){3})\s{0,20}(?:-|–|—|to|until|through|\.\.\.?|…)\s{0,20}((?:\d{1,3}\.){3})?(\d{1,3})(?![\w.])/gi,
    make: (_, found) => {
      const from = valueOf(parseAddress(found[1]!));
      const head = found[2] ?? found[1]!.slice(0, found[1]!.lastIndexOf('.') + 1);
      const to = valueOf(parseAddress(`${head}${found[3]!}`));
      return from && to && to.value > from.value
        ? [{ kind: 'range', from: formatAddress(from), to: formatAddress(to), ...whole(found) }]
        : [];
    },
  },
  {
    form: /(?<![\w.])(\d{1,3}(?:\.\d{1,3}){3})(?:\s?\/\s?(\d{1,2}|\d{1,3}(?:\.\d{1,3}){3}))?(?![\w]|\.\d)/g,
    make: (line, found) => {
      const text = found[1]!;
      const address = valueOf(parseAddress(text));
      if (!address || version.test(line.slice(Math.max(0, found.index - 30), found.index))) return [];
      const length = found[2] === undefined ? undefined : valueOf(parseLength(found[2]));
      // "192.0.2.53 / 192.0.2.54" are two addresses.
      if (found[2] !== undefined && length === undefined)
        return [
          { kind: 'address', address, text, start: found.index, end: found.index + text.length },
          ...[valueOf(parseAddress(found[2]))].flatMap((other) =>
            other
              ? [{ kind: 'address' as const, address: other, text: found[2]!, ...spanOf(found, found[2]!) }]
              : [],
          ),
        ];
      const mask = valueOf(parseLength(text));
      if (found[2] === undefined && mask !== undefined && mask >= 8 && text.startsWith('255.'))
        return [{ kind: 'mask', length: mask, ...whole(found) }];
      return [{ kind: 'address', address, text, ...(length !== undefined && { length }), ...whole(found) }];
    },
  },
  {
    // "1 Gbit/s up and down"
    form: new RegExp(
      String.raw`(?<![\w.,/])(${figure})\s?(${unit})\s{1,3}(?:(?:both|each)\s)?(?:up\w*|down\w*|ways|directions)\s{0,3}(?:and|&|\/|\+)\s{0,3}(?:down|up)\w*`,
      'gi',
    ),
    make: (_, found) => {
      const mbps = rate(found[1]!, found[2]!);
      return mbps === undefined ? [] : [{ kind: 'rate', downMbps: mbps, upMbps: mbps, ...whole(found) }];
    },
  },
  {
    // "100/40 Mbit/s", "1 Gbit/s / 500 Mbit/s", "50 x 10 Mb/s"
    form: new RegExp(
      String.raw`(?<![\w.,])(${figure})\s?(${unit})?\s{0,20}(?:(?:down\w*|↓)\s{0,20})?(?:\/|x|by|and|,|:|\|)\s{0,20}(?:up to )?(${figure})\s?(${unit})(?:\s{0,20}(?:up\w*|↑))?`,
      'gi',
    ),
    make: (line, found) => {
      const [, down, downUnit, up, upUnit] = found;
      const between = found[0].slice(down!.length);
      // "500 Mb/s down, 50 Mb/s up" is two figures with their own words; here the order alone tells.
      if (/,|\band\b/.test(between) && downUnit !== undefined && direction(line)) return [];
      // "4G, download: 50 Mbit/s": a generation of cellular networks is no rate.
      if (/^[2-6]$/.test(down!) && /^g$/i.test(downUnit ?? '')) return [];
      const first = rate(down!, downUnit ?? upUnit!);
      const second = rate(up!, upUnit!);
      if (first === undefined || second === undefined) return [];
      const swapped = /\bup\w*\s{0,20}\/\s{0,20}down/i.test(
        line.slice(Math.max(0, found.index - 24), found.index),
      );
      return [
        {
          kind: 'rate',
          downMbps: swapped ? second : first,
          upMbps: swapped ? first : second,
          ...whole(found),
        },
      ];
    },
  },
  {
    form: new RegExp(
      String.raw`(?<![\w.,/])(${figure})\s?(${unit}(?:\s?symmetric\w*)?|gbe\b|gigabit\b)`,
      'gi',
    ),
    make: (line, found) => {
      const text = found[2]!.replace(/gbe|gigabit/i, 'Gb/s').replace(/\s?symm.*/i, '');
      if (/^[kmg]$/i.test(text.trim()) && !/m|g/i.test(text)) return [];
      // "52 m" are metres; "100m" is written for a rate, where nothing speaks of a length.
      if (
        /^m$/.test(text) &&
        (/\s/.test(found[0]) || /cable|long|length|distance|away|metres?|run\b/i.test(line))
      )
        return [];
      // Volumes: "50 GB a month" is data, no rate; "1 GB fibre" is how bits are misspelt.
      const near = line.slice(Math.max(0, found.index - 20), found.index + found[0].length + 20);
      if (/^gigs?$/i.test(text.trim()) && /\b(?:sim|data|lte|[45]g|cellular|month)\b/i.test(line)) return [];
      if (
        /^[gt]i?B(?:ytes?)?$/i.test(text.trim()) &&
        /B/.test(text) &&
        (Number(found[1]!.replace(',', '.')) > 10 ||
          /allowance|volume|\bdata\b|\bcap\b|quota|includ/i.test(near) ||
          !/fib(?:re|er)|internet|line|connection|broadband|symm|speed|bandwidth|\b(?:down|up)/i.test(near))
      )
        return [];
      if (
        /^[mgt]i?b(?:ytes?)?$/i.test(text.trim()) &&
        !/b(?:it|ps)/i.test(text) &&
        /^\s{0,20}(?:a|per|\/)?\s{0,20}(?:month|mth|mo\b|data|included|allowance|plan|of data|monthly)/i.test(
          line.slice(found.index + found[0].length),
        )
      )
        return [];
      const mbps = rate(found[1]!, text);
      // "4G", "5G" are generations of cellular networks.
      if (mbps === undefined || /^[2-5]g$/i.test(found[0].replace(/\s/g, ''))) return [];
      const after = line.slice(found.index + found[0].length, found.index + found[0].length + 14);
      const before = line.slice(Math.max(0, found.index - 26), found.index);
      const nearest = /^[ (]{0,3}(?:down|up|receive|send|rx|tx|↓|↑)(?!\w{0,8}\s?[:=])/i.test(after)
        ? direction(after.slice(0, 11))
        : direction(before.split(/[,;/|()]/).at(-1)!);
      const both = /symm/i.test(line);
      return [
        {
          kind: 'rate',
          ...(both
            ? { downMbps: mbps, upMbps: mbps }
            : nearest === 'down'
              ? { downMbps: mbps }
              : nearest === 'up'
                ? { upMbps: mbps }
                : { mbps }),
          ...whole(found),
        },
      ];
    },
  },
  {
    // "fibre 500/100": two figures beside the word for the line, or behind a word for speed.
    form: /(?<=\b(?:fibre|fiber|ftt[a-z]|[avs]?dsl2?|docsis(?: ?3\.\d)?|pay(?:ing|s)? for|ordered|booked|contract(?:ed)?|plan|cable|line|speed|rates?|bandwidth|internet|lte|[45]g|satellite|profile|product|tariff|bandwidth)\b[^\d\n]{0,12}\s{0,40})(?<![\d/.])(\d{1,5})\s?\/\s?(\d{1,5})(?![\d/]|\.\d)/gi,
    make: (_, found) => [
      { kind: 'rate', downMbps: Number(found[1]), upMbps: Number(found[2]), ...whole(found) },
    ],
  },
  {
    form: /(?<![\w.,/])(\d{2,5})\s?symm\w{0,10}/gi,
    make: (_, found) => [
      { kind: 'rate', downMbps: Number(found[1]), upMbps: Number(found[1]), ...whole(found) },
    ],
  },
  {
    form: /(?<![\w.,/])(\d{1,5})\s{0,20}down(?:load|stream)?\s{0,20}(?:,|and|\/)?\s{0,20}(\d{1,5})\s{0,20}up(?:load|stream)?\b/gi,
    make: (_, found) => [
      { kind: 'rate', downMbps: Number(found[1]), upMbps: Number(found[2]), ...whole(found) },
    ],
  },
  {
    form: /(?<![\w.,])(\d{1,5}(?:[.,]\d)?)\s?([gt])(?:i?b(?:ytes?)?|igs?)\b(?!\/s|ps|it)/gi,
    make: (line, found) =>
      counted.test(line.slice(Math.max(0, found.index - 24), found.index)) ||
      /^\s{0,3}(?:used|so far|received|sent|left|remaining)\b/i.test(
        line.slice(found.index + found[0].length),
      )
        ? []
        : [
            {
              kind: 'volume',
              gigabytes: Number(found[1]!.replace(',', '.')) * (/t/i.test(found[2]!) ? 1000 : 1),
              ...whole(found),
            },
          ],
  },
  {
    form: /\b(?:mtu|mru)\b(?: size)?\s{0,20}(?:is|of|=|:|\t|\|)?\s{0,20}(\d{3,4})\b/gi,
    make: (_, found) => [{ kind: 'mtu', bytes: Number(found[1]), ...whole(found) }],
  },
  {
    form: new RegExp(
      String.raw`(?:\b(?:within|at most|not? (?:more|longer) than|max(?:imum|\.)?(?: of)?|under|less than|longer than|after|for|in|(?<=up )to)\s{1,20}|<=?\s{0,20}|≤\s{0,20})(?:about )?(half an?|\d{1,4}|${Object.keys(numberWords).join('|')})[\s-]?(s|secs?|seconds?|mins?|minutes?|hours?|h)\b`,
      'gi',
    ),
    make: (_, found) => {
      const word = found[1]!.toLowerCase();
      const count = word.startsWith('half') ? 0.5 : (numberWords[word] ?? Number(word));
      const factor = /^s/i.test(found[2]!) ? 1 : /^m/i.test(found[2]!) ? 60 : 3600;
      return [{ kind: 'duration', seconds: Math.round(count * factor), ...whole(found) }];
    },
  },
  {
    form: /\b(tcp|udp)?(?:\s{0,20}(?:\/|\+|and)\s{0,20}(tcp|udp))?\s{0,20}\bports?\b\s{0,20}(?:no\.?|number)?\s{0,20}(\d{1,5}(?:\s?[-–]\s?\d{1,5})?)(?:\s{0,20}\/?\s{0,20}\(?(tcp|udp)\b)?|\b(tcp|udp)\s{0,20}[/: ]\s{0,20}(\d{1,5}(?:\s?[-–]\s?\d{1,5})?)\b|(?<![\w.])(\d{1,5}(?:-\d{1,5})?)\s{0,20}\/\s{0,20}(tcp|udp)\b/gi,
    make: (_, found) => {
      const ports = (found[3] ?? found[6] ?? found[7])!.replace(/\s/g, '').replace('–', '-');
      if (!ports.split('-').every((port) => Number(port) > 0 && Number(port) < 65_536)) return [];
      const names = [found[1], found[2], found[4], found[5], found[8]].flatMap((name) =>
        name ? [name.toLowerCase()] : [],
      );
      const protocol =
        names.includes('tcp') && names.includes('udp') ? 'both' : names.includes('udp') ? 'udp' : 'tcp';
      return [{ kind: 'ports', ports, protocol, ...whole(found) }];
    },
  },
  {
    form: new RegExp(String.raw`\b(?:${Object.keys(namedPorts).join('|')})\b(?!:)`, 'gi'),
    make: (_, found) => {
      const [ports, protocol] = namedPorts[found[0].toLowerCase()]!;
      return [{ kind: 'ports', ports, protocol, ...whole(found) }];
    },
  },
  {
    form: /(?<![\w.,:/])(?:\+\d{1,3}|\(?0\d{1,5}\)?)(?:[ ()/-]{0,2}\d){5,12}\b(?![.:]\d)/g,
    make: (_, found) => [{ kind: 'phone', phone: found[0].trim(), ...whole(found) }],
  },
];

/** Shapes of values, for what stands beside a label. */
export const addressLike = (text: string): boolean =>
  /(?<![\w.])\d{1,3}(?:\.\d{1,3}){3}(?![\w]|\.\d)/.test(text);
export const looksLikeMask = (text: string): boolean =>
  /^(?:255\.[\d.]{5,11}|\/?\d{1,2}|0xf[0-9a-f]{7})$/i.test(text);
export const hasRate = (text: string): boolean => valueTokens(text).some(({ kind }) => kind === 'rate');
export const hasVolume = (text: string): boolean => /\d\s?[GT]i?[Bo]\b|\d\s?[Gg]igas?\b/.test(text);

/** A value that a label names elsewhere: in the row above, or in the head of its column. */
export function labelledToken(label: string, value: string, at: At): ValueToken | undefined {
  const [token] = valueTokens(`${label}: ${value}`).filter(({ end }) => end > label.length + 1);
  return token && { ...token, ...at };
}

/** The values of one line of text, in their order; none lies on another. */
export function valueTokens(line: string): ValueToken[] {
  const taken: ValueToken[] = [];
  const free = ({ start, end }: At): boolean => taken.every((each) => end <= each.start || start >= each.end);
  for (const { form, make } of rules) {
    form.lastIndex = 0;
    for (const found of line.matchAll(form))
      for (const token of make(line, found as RegExpExecArray)) if (free(token)) taken.push(token);
  }
  return taken.sort((a, b) => a.start - b.start);
}

export const isPrivate = (host: Address): boolean => classify(host).class === 'private';
export const isCarrier = (host: Address): boolean => classify(host).class === 'carrier-shared';
/** An address that a line may have: of the internet, or one that stands for it in examples. */
export const isPublic = (host: Address): boolean =>
  host.family === 4 && ['public', 'documentation'].includes(classify(host).class);
