import { dayAfter, daysBetween, isDay } from '../../base/days.ts';
import { formatAddress, sameAddress } from '../../base/net/address.ts';
import { formatPrefix, parsePrefix, type Prefix } from '../../base/net/prefix.ts';
import { bad, ok, valueOf, type Result } from '../../base/result.ts';
import type { Site } from '../../site/model.ts';
import { silentDays } from './access.ts';
import { faultList, type AddFault, type Fault } from '../domain-types/fault.ts';
import type { Peer } from '../../site/vpn.ts';
import { pastedLines } from '../../base/text.ts';

/** One far end as the router has it. */
export interface ListedPeer {
  readonly publicKey: string;
  readonly allowed: readonly Prefix[];
  /** Day of its last handshake; "never" where the router says so, empty where it says nothing. */
  readonly seen: string;
}

const keyPattern = /(?<![A-Za-z0-9+/=])[A-Za-z0-9+/]{43}=(?![A-Za-z0-9+/=])/g;
const blockPattern = /(?:\d{1,3}(?:\.\d{1,3}){3}|[0-9a-f]{0,4}(?::[0-9a-f]{0,4}){2,7})\/\d{1,3}/gi;
const secondsIn: Readonly<Record<string, number>> = {
  second: 1,
  minute: 60,
  hour: 3600,
  day: 86_400,
  week: 604_800,
  year: 31_536_000,
};

const mostSeconds = 50 * 31_536_000;

/**
 * Reads what the router lists about its far ends: a table with tabs, a configuration with [Peer] sections, or the
 * sentences of its page. Every key begins a far end; blocks and times after it belong to it. Secrets are passed over.
 * @param today ISO 8601 date, from which "two days ago" counts
 */
export function parseListing(text: string, today: string): Result<ListedPeer[]> {
  const found: { publicKey: string; allowed: Prefix[]; seen: string }[] = [];
  for (const raw of pastedLines(text, { tabs: true })) {
    // Secrets and the router's own interface are no far ends.
    if (/pre-?shared|private/i.test(raw)) continue;
    const line = withoutSecrets(raw.split('\t'));
    const [key] = line.match(keyPattern) ?? [];
    if (key) found.push({ publicKey: key, allowed: [], seen: '' });
    const last = found.at(-1);
    if (!last) continue;
    for (const block of line.match(blockPattern) ?? []) {
      const prefix = valueOf(parsePrefix(block));
      if (prefix) last.allowed.push(prefix);
    }
    last.seen ||= seenIn(line, today);
  }
  return found.length === 0
    ? bad(
        'listing',
        'No key is in there: 43 letters and digits, then "=". Paste the list of peers as the router shows it.',
      )
    : ok(found);
}

/**
 * A row of a table with tabs: key, pre-shared key, endpoint, allowed blocks, time of the handshake, and counters. Two
 * keys in a shorter row are the router's own, private one first: nothing of it is read.
 */
function withoutSecrets(cells: readonly string[]): string {
  const [first, second] = cells.flatMap((cell, index) => (cell.match(keyPattern) ? [index] : []));
  if (first === undefined || cells.length === 1) return cells.join();
  if (cells.length >= first + 5) return [cells[first], cells[first + 3], cells[first + 4], ''].join('\t');
  return second === undefined ? cells.join('\t') : '';
}

function seenIn(line: string, today: string): string {
  const epoch = /\b1[5-9]\d{8}\b|\b[2-4]\d{9}\b/.exec(line)?.[0];
  if (epoch) return new Date(Number(epoch) * 1000).toISOString().slice(0, 10);
  const date = /\b\d{4}-\d\d-\d\d\b/.exec(line)?.[0];
  if (date && isDay(date)) return date;
  if (/\bnever\b|\t0(?:\t|$)/i.test(line)) return 'never';
  const parts = [...line.matchAll(/(?<!\d)(\d{1,9}) ?(second|minute|hour|day|week|year)s?\b/gi)];
  if (!/handshake|ago|seen/i.test(line) || parts.length === 0 || !isDay(today)) return '';
  const seconds = parts.reduce(
    (sum, [, count, unit]) => sum + Number(count) * secondsIn[unit!.toLowerCase()]!,
    0,
  );
  // Longer ago than the protocol exists is no time, but something else.
  return seconds > mostSeconds ? '' : dayAfter(today, -Math.round(seconds / 86_400));
}

export interface ListingCompared {
  readonly faults: readonly Fault[];
  /** When each device was last seen, by its place in the peer. */
  readonly seen: readonly { readonly index: number; readonly day: string }[];
  readonly known: number;
}

/** What the router lets in, against the plan: keys that nobody has any more, and keys that were never entered. */
export function compareListing(site: Site, listed: readonly ListedPeer[], today: string): ListingCompared {
  const { vpn } = site;
  const { add, sorted } = faultList();
  const seen: { index: number; day: string }[] = [];
  const rows = listed.filter(({ publicKey }) => publicKey !== vpn.publicKey.trim());
  let known = 0;
  for (const row of rows) {
    const blocks = row.allowed.map(formatPrefix).join(', ');
    const far = vpn.sites.find(({ publicKey }) => publicKey.trim() === row.publicKey);
    if (far) {
      known += 1;
      continue;
    }
    const index = vpn.peers.findIndex(({ publicKey, oldKey }) =>
      [publicKey.trim(), oldKey.trim()].includes(row.publicKey),
    );
    const peer = vpn.peers[index];
    if (!peer) {
      add(
        'blocker',
        'unknown-key',
        `A key that is not in the plan has access: ${row.publicKey.slice(0, 8)}…${blocks ? `, for ${blocks}` : ''}${row.seen ? `, last seen ${row.seen}` : ''}. Find out whose it is, or remove it on the router.`,
      );
      continue;
    }
    known += 1;
    if (isDay(row.seen) && peer.publicKey.trim() === row.publicKey) seen.push({ index, day: row.seen });
    checkEntry(peer, row, today, add);
  }
  for (const peer of vpn.peers) {
    const key = peer.publicKey.trim();
    if (!peer.revoked && key !== '' && !rows.some(({ publicKey }) => publicKey === key))
      add(
        'warning',
        'not-entered',
        `${peer.name} is in the plan and not on the router: nobody answers that key.`,
      );
  }
  for (const far of vpn.sites)
    if (!rows.some(({ publicKey }) => publicKey === far.publicKey.trim()))
      add('warning', 'site-not-entered', `${far.name} is connected in the plan and not on the router.`);
  return { faults: sorted(), seen, known };
}

function checkEntry(peer: Peer, row: ListedPeer, today: string, add: AddFault): void {
  const { name } = peer;
  if (peer.revoked)
    add(
      'blocker',
      'revoked-in',
      `${name} was revoked ${peer.revokedOn} and still gets in: remove its key on the router.`,
    );
  else if (peer.oldKey.trim() === row.publicKey && peer.publicKey.trim() !== row.publicKey) {
    if (isDay(peer.oldKeyUntil) && isDay(today) && daysBetween(today, peer.oldKeyUntil) < 0)
      add(
        'warning',
        'old-key-in',
        `The previous key of ${name} was to be removed by ${peer.oldKeyUntil}: remove it on the router.`,
      );
    return;
  } else if (isDay(peer.expires) && isDay(today) && daysBetween(today, peer.expires) < 0)
    add(
      'blocker',
      'ended-in',
      `The access of ${name} ended ${peer.expires}, and the router, which knows no dates, still lets it in.`,
    );
  const wide = row.allowed.filter(({ family, length }) => length < (family === 4 ? 32 : 128));
  if (wide.length > 0)
    add(
      'blocker',
      'wide',
      `${name} may speak for ${wide.map(formatPrefix).join(', ')}: it can use the addresses of other clients. Use one address per device.`,
    );
  const own = [peer.address, peer.address6].flatMap((host) => host ?? []);
  const other = row.allowed.filter(
    (block) =>
      !wide.includes(block) &&
      !own.some((host) => sameAddress(host, { family: block.family, value: block.first })),
  );
  if (other.length > 0)
    add(
      'blocker',
      'other-address',
      `${name} has ${other.map(formatPrefix).join(', ')} on the router and ${own.map(formatAddress).join(', ') || 'none'} in the plan: its packets are dropped.`,
    );
  if (row.seen === 'never')
    add('advice', 'never-seen', `${name} never connected: does the right person have its profile?`);
  else if (isDay(row.seen) && isDay(today) && daysBetween(row.seen, today) > silentDays)
    add('advice', 'silent', `${name} was last seen ${row.seen}: is the access still needed?`);
}
