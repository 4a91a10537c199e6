import { needs } from '../../wan-types/facts.ts';
import { formatAddress } from '../../base/net/address.ts';
import { capitalized } from '../../base/text.ts';
import { readAddress, readMask, readRange } from './addresses.ts';
import { lineName, type Collector } from './collector.ts';
import type { LineFacts } from './facts.ts';
import { readDevice } from './lists.ts';
import { clausesOf, labelBefore, type Row, type WordToken } from './row.ts';
import { isPrivate, type ValueToken } from './tokens.ts';
import * as words from './words.ts';

/** Reads a row that is no row of a list: clause by clause, each word and value where it stands. */
export function readProse(row: Row, collector: Collector): void {
  for (const clause of clausesOf(row.text)) {
    const within = ({ start }: { start: number }): boolean => start >= clause.start && start < clause.end;
    const found = row.words.filter(within);
    const backups = found
      .filter(({ kind }) => kind === 'backup')
      .map((word) => boundTo(row.text, word, found));
    if (found.some(({ kind }) => kind === 'backup') && !found.some(({ kind }) => kind === 'medium'))
      chooseBackup(row.text.slice(clause.start, clause.end), collector);
    const tokens = [...found, ...row.values.filter(within)].sort((a, b) => a.start - b.start);
    for (const token of tokens)
      if ('text' in token && isWord(token)) readWord(row, token, backups.includes(token), collector);
      else readValue(row, token as ValueToken, row.text.slice(clause.start, clause.end), collector);
    for (const word of found)
      if (word.kind === 'backup' && collector.facts.lines.some((line) => line.backup))
        collector.mark(word, 'the line that takes over');
    readRemote(row.text, clause, found, collector);
  }
}

/** "60 guests", "12 people in the office". */
const peopleBefore =
  /(?<![\w.,/])(\d{1,4})\s{1,3}(?:(?:people|persons|users|devices|colleagues) (?:in|on|at) (?:the )?|[a-z]{1,20} )?$/i;
/** "Guests: 60", "guest Wi-Fi for up to 60 people", "visitors (about 40 at once)", "a guest network, up to 80 devices". */
const peopleBehind =
  /^(?: (?:wi-?fi|wlan|network|lan))?(?: ?[:(,] ?| for | )(?:(?:about|up to|some|around|roughly|ca\.|max\.|at most) ){0,2}(\d{1,4})(?= (?:people|persons|users|devices|guests|visitors|at once|at a time|at the same time)\b|\s*[,;.)]|\s*$)/i;

const wordKinds = new Set([
  'medium',
  'type',
  'backup',
  'main',
  'remote',
  'ordinal',
  'network',
  'device',
  'state',
]);
const isWord = (token: WordToken | ValueToken): token is WordToken => wordKinds.has(token.kind);

/** The word for a line that "backup" belongs to: the one behind it in "backup over cellular", else the one before it. */
function boundTo(text: string, backup: WordToken, found: readonly WordToken[]): WordToken | undefined {
  const media = found.filter(({ kind }) => kind === 'medium');
  const next = media.find(({ start }) => start >= backup.end);
  const previous = media.filter(({ end }) => end <= backup.start).at(-1);
  const joined =
    next !== undefined &&
    /^\s{0,9}(?:(?:line|connection|access)\s{0,9})?(?:over|by|via|on|with|through|using|is|:|=|-|–)?\s{0,9}(?:a |an |the )?(?:separate |second |[45]g |lte )?$/i.test(
      text.slice(backup.end, next.start),
    );
  return joined ? next : (previous ?? next);
}

/** A backup without a word for what it is made of: a line, or the heading of one. */
function chooseBackup(clause: string, collector: Collector): void {
  const backup = collector.facts.lines.find((each) => each.backup);
  if (
    /\b(?:back-?up|secondary|stand-?by|reserve|spare|failover) (?:line|connection|internet|access|uplink|router)\b/i.test(
      clause,
    )
  ) {
    collector.current = backup ?? collector.newLine('backup');
    collector.current.backup = true;
  } else if (/^\s*(?:back-?up|secondary|stand-?by|failover)\s*(?:$|[:–-])/i.test(clause)) {
    collector.current = backup;
    collector.backupPending = backup === undefined;
  }
}

function readWord(row: Row, token: WordToken, isBackup: boolean, collector: Collector): void {
  const { facts } = collector;
  switch (token.kind) {
    case 'ordinal': {
      const known =
        facts.lines.find(({ key }) => key === `line ${token.number}`) ?? facts.lines[token.number - 1];
      collector.current = known ?? collector.newLine(`line ${token.number}`);
      if (token.number === 2) collector.current.backup = true;
      return collector.mark(token, `line ${token.number}`);
    }
    case 'medium':
      return readMedium(row, token, isBackup, collector);
    case 'type': {
      if (
        /\bno\s+$/i.test(row.text.slice(0, token.start)) ||
        /^\s*(?:[:=]\s*)?(?:none|no|not)\b/i.test(row.text.slice(token.end))
      )
        return;
      const to = collector.line();
      // A word for a login says more than "dynamic".
      if (to.type?.value === 'dhcp' && needs(token.type, 'userName')) to.type = collector.said(token.type);
      to.type ??= collector.said(token.type);
      if (to.type.value === token.type) collector.mark(token, `WAN type of ${lineName(to)}`);
      return;
    }
    case 'backup':
      if (collector.current?.backup || collector.backupPending || facts.lines.some((line) => line.backup))
        collector.mark(token, 'the line that takes over');
      return;
    case 'main':
      return collector.mark(token, 'the line that is used first');
    case 'network': {
      // "Card payments must be back within a minute" promises something, and names no network.
      if (token.purpose === 'payment' && !/network|lan/i.test(token.text)) return;
      const network = collector.network(token.purpose, token.name);
      const people =
        peopleBefore.exec(row.text.slice(0, token.start)) ?? peopleBehind.exec(row.text.slice(token.end));
      if (people) network.expectedDevices ??= collector.said(Number(people[1]));
      return collector.mark(token, `network ${network.name.value}`);
    }
    case 'device':
      return readDevice(token, collector);
    case 'state':
      return readState(token, collector);
    default:
  }
}

/** Chooses the line that a word for its medium speaks of. */
function readMedium(
  row: Row,
  token: Extract<WordToken, { kind: 'medium' }>,
  isBackup: boolean,
  collector: Collector,
): void {
  const { lines } = collector.facts;
  const { text } = row;
  const { medium } = token;
  // "when the fibre is down the tills stay online": spoken of, not ordered.
  const before = text.slice(0, token.start);
  const spokenOf =
    /\b(?:if|when|while|once|should|behind|without)\s+(?:the |our |their |a )?$/i.test(before) &&
    medium !== 'router';
  // Under a heading for the second line every word is of that one, the same medium too.
  const heading = collector.backupPending && collector.current === undefined;
  const headed =
    collector.current?.backup &&
    !collector.current.medium &&
    !row.words.some(({ kind }) => kind === 'backup');
  const another = isBackup || heading || /\b(?:second|another|further)\s+(?:\w+\s)?$/i.test(before);
  const same = lines.filter((each) => each.medium?.value === medium);
  const known =
    another && !spokenOf
      ? (same.find((each) => each.backup) ?? (lines.length > 1 ? same[0] : undefined))
      : (same.find((each) => each === collector.current) ?? same[0]);
  const current = collector.current && !collector.current.medium ? collector.current : undefined;
  const waiting = current && !(another && !current.backup && current.key !== 'backup') ? current : undefined;
  const open = another ? undefined : lines.find((each) => !each.medium && !each.backup);
  const numbered = current && /^line \d/.test(current.key) ? current : undefined;
  collector.current =
    numbered ??
    (headed && !spokenOf ? collector.current : undefined) ??
    known ??
    waiting ??
    open ??
    collector.newLine(medium);
  const line = collector.current;
  line.medium ??= collector.said(medium);
  if (another && !spokenOf && lines.length > 0) line.backup ||= isBackup || lines.indexOf(line) > 0;
  collector.mark(token, `medium of ${lineName(line)}`);
  // "4G router", "the landlord's router": a box of its own routes in front.
  const router = /^\s*(?:modem )?router\b/i.test(text.slice(token.end)) && medium !== 'router';
  if (medium === 'router' || router) line.box ??= collector.said('routes' as const);
}

function readValue(row: Row, token: ValueToken, clause: string, collector: Collector): void {
  const { facts } = collector;
  const label = labelBefore(row, token, collector.label);
  const put = <Key extends keyof LineFacts>(
    to: LineFacts,
    key: Key,
    value: LineFacts[Key],
    says: string,
  ): void => {
    if (to[key] !== undefined && !collector.corrects) return;
    to[key] = value;
    collector.mark(token, `${says} of ${lineName(to)}`);
  };
  switch (token.kind) {
    case 'secret':
      return readSecret(token, row.text, collector);
    case 'user': {
      const to = collector.line();
      to.user ??= collector.said(true);
      if (token.name !== undefined)
        return put(to, 'userName', collector.said(collector.asTyped(token.name, token.start)), 'user name');
      return collector.mark(token, `${lineName(to)} has a user name`);
    }
    case 'vlan':
      return put(collector.line(), 'vlan', collector.said(token.id), 'VLAN ID');
    case 'priority':
      return put(collector.line(), 'vlanPriority', collector.said(token.value), 'VLAN priority');
    case 'apn':
      return put(
        collector.cellularLine(),
        'apn',
        collector.said(collector.asTyped(token.apn, token.start)),
        'APN',
      );
    case 'card':
      return put(collector.cellularLine(), 'cardNumber', collector.said(token.number), 'SIM card number');
    case 'volume': {
      // "The tariff includes two mobile numbers with 50 GB": a volume alone is no line beside the one spoken of.
      const spoken = collector.current?.medium?.value;
      const metered = facts.lines.some(({ medium }) => medium?.value === 'cellular');
      if (spoken && spoken !== 'cellular' && spoken !== 'satellite' && !metered) return;
      const to =
        collector.current?.medium?.value === 'satellite' ? collector.current : collector.cellularLine();
      return put(to, 'capGigabytes', collector.said(token.gigabytes), 'data allowance');
    }
    case 'aftr': {
      const to = collector.line();
      to.type ??= collector.said('ds-lite' as const);
      return put(to, 'translator', collector.said(collector.asTyped(token.name, token.start)), 'AFTR');
    }
    case 'server':
      return put(
        collector.line(),
        'server',
        collector.said(collector.asTyped(token.name, token.start)),
        'tunnel server',
      );
    case 'mtu':
      return put(collector.line(), 'mtuBytes', collector.said(token.bytes), 'MTU');
    case 'rate':
      return readRate(token, collector);
    case 'duration':
      if (facts.withinSeconds || words.otherDuration.test(clause)) return;
      if (!words.outageWord.test(sentenceAt(row.text, token.start))) return;
      facts.withinSeconds = collector.said(token.seconds);
      return collector.mark(token, `longest outage: ${token.seconds} s`);
    case 'mask':
      return readMask(token, label, collector);
    case 'range':
      return readRange(token, label, row.text, collector);
    case 'address':
      if (readDeviceAddress(row, token, clause, collector)) return;
      return readAddress(token, label, row.text.slice(token.end), collector);
    default:
  }
}

/** "Printer at 10.20.30.40": the address of the one device that the clause speaks of. */
function readDeviceAddress(
  row: Row,
  token: Extract<ValueToken, { kind: 'address' }>,
  clause: string,
  collector: Collector,
): boolean {
  if (!isPrivate(token.address) || token.length !== undefined) return false;
  if (/gateway|router|dns|modem|\bbox\b|\bwan\b|pool|range/i.test(clause)) return false;
  const from = row.text.indexOf(clause);
  const devices = row.words.filter(
    ({ kind, start }) => kind === 'device' && start >= from && start < from + clause.length,
  );
  // The one before the address, or the only one.
  const before = devices.findLast(({ end }) => end <= token.start && token.start - end <= 40);
  const device = before ?? (devices.length === 1 ? devices[0] : undefined);
  if (device?.kind !== 'device' || device.count > 1) return false;
  readDevice(device, collector);
  const known = collector.facts.devices.findLast((each) => each.kind === device.what && !each.mac);
  if (!known || known.address || known.count > 1) return false;
  known.address = collector.said(formatAddress(token.address));
  collector.mark(token, `address of ${device.what}`);
  return true;
}

/** The sentence that holds a place of a row. */
const sentenceAt = (text: string, at: number): string =>
  text
    .slice(0, at)
    .split(/[.;!?]\s/)
    .at(-1)! + text.slice(at).split(/[.;!?](?:\s|$)/)[0]!;

function readRate(
  { downMbps, upMbps, mbps, ...at }: Extract<ValueToken, { kind: 'rate' }>,
  collector: Collector,
): void {
  const to = collector.line();
  const down = downMbps ?? (to.downMbps === undefined ? mbps : undefined);
  const up = upMbps ?? (down === mbps ? undefined : mbps);
  if ((down === undefined || to.downMbps) && (up === undefined || to.upMbps)) return;
  if (down !== undefined) to.downMbps ??= collector.said(down);
  if (up !== undefined) to.upMbps ??= collector.said(up);
  const parts = [down !== undefined && `${down} Mb/s down`, up !== undefined && `${up} Mb/s up`].filter(
    Boolean,
  );
  collector.mark(at, `contract rate of ${lineName(to)}: ${parts.join(', ')}`);
}

/** A password stays with what it opens; its own line of the site, a card, or something else. */
function readSecret(
  token: Extract<ValueToken, { kind: 'secret' }>,
  text: string,
  collector: Collector,
): void {
  const pin = /pin|puk/.test(token.of);
  const ofTelephone = /\b(?:sip|voip|registrar)\b/i.test(text.slice(0, token.start));
  const elsewhere =
    ofTelephone ||
    /^other|wi-?fi|wlan|wireless|network key|wpa|psk|pre-?shared|admin|device|router|puk/.test(token.of);
  const to = elsewhere ? undefined : pin ? collector.cellularLine() : collector.line();
  if (to && !pin) to.user ??= collector.said(true);
  collector.secrets.push({
    value: collector.asTyped(token.value, token.start),
    says: to ? `${token.of} of ${lineName(to)}` : token.of,
    ...(to && { lineKey: to.key }),
    kind: elsewhere ? 'other' : pin ? 'pin' : 'password',
  });
  collector.mark(token, `${token.of}: goes into the vault, not into the plan`, true);
}

function readState(token: Extract<WordToken, { kind: 'state' }>, collector: Collector): void {
  if (token.state === 'number') {
    const to = collector.facts.lines.length > 0 || collector.current ? collector.line() : undefined;
    (to?.notes ?? collector.looseNotes).push(collector.said(collector.typedRow.slice(0, 100)));
    return collector.mark(token, 'number to name when calling the provider');
  }
  const to = collector.line();
  switch (token.state) {
    case 'carrier-nat':
      to.carrierNat ??= collector.said(true);
      return collector.mark(token, `${lineName(to)}: carrier-grade NAT`);
    case 'bridged':
      to.box ??= collector.said('bridged' as const);
      return collector.mark(token, `${lineName(to)}: the box in front is bridged`);
    case 'routes':
      to.box ??= collector.said('routes' as const);
      return collector.mark(token, `${lineName(to)}: a router in front`);
    case 'active':
      to.activation ??= collector.said('active' as const);
      return collector.mark(token, `${lineName(to)} is active`);
    case 'not-yet':
      to.activation ??= collector.said('not-yet' as const);
      to.notes.push(collector.said(collector.typedRow.slice(0, 150)));
      return collector.mark(token, `${lineName(to)} is not active yet`);
    case 'tied':
      return collector.mark(token, `${lineName(to)} answers one MAC address only`);
    case 'no-vlan':
      to.untagged ??= collector.said(true);
      return collector.mark(token, `${lineName(to)}: no VLAN`);
    default:
  }
}

/** Who wants to come in from outside, and to what. */
function readRemote(
  text: string,
  clause: { start: number; end: number },
  found: readonly WordToken[],
  collector: Collector,
): void {
  const remote = found.find(({ kind }) => kind === 'remote');
  const clauseText = text.slice(clause.start, clause.end);
  if (!remote || /\bno (?:remote|vpn)\b/i.test(clauseText)) return;
  const people = [...clauseText.matchAll(words.personWord)];
  const targets = found.flatMap((token) =>
    token.kind === 'device' || (token.kind === 'network' && token.purpose !== 'guests')
      ? [token.purpose]
      : [],
  );
  const names =
    people.length > 0 ? people.map((each) => capitalized(each[1]!.toLowerCase())) : ['Remote user'];
  for (const person of new Set(names)) {
    const known = collector.facts.remote.find((each) => each.person === person);
    if (known) known.targets = [...new Set([...known.targets, ...targets])];
    else if (person !== 'Remote user' || collector.facts.remote.length === 0)
      collector.facts.remote.push({ person, targets: [...new Set(targets)], from: collector.from() });
  }
  for (const person of people) {
    const start = clause.start + person.index;
    collector.mark(
      { start, end: start + person[0].length },
      `${person[1]!.toLowerCase()} comes in from outside`,
    );
  }
  collector.mark(remote, 'remote access');
}
