import { isDay } from '../../base/days.ts';
import type { Site } from '../../site/model.ts';
import { calendarText, type Code } from '../../base/encode/index.ts';
import { siteFileName, type SiteFormat } from './type.ts';

/** Something that ends on a day, and what to do before it does. */
export interface Ending {
  readonly id: string;
  /** ISO 8601 date. */
  readonly day: string;
  readonly says: string;
  readonly before: string;
}

/** Days on which a key, an overlap, a certificate, a forward or a Wi-Fi network of this site ends. */
export function endingsOf(site: Site): Ending[] {
  const { vpn } = site;
  const name = site.about.name;
  return [
    ...vpn.peers
      .filter(({ revoked }) => !revoked)
      .flatMap(({ id, name: peer, expires, oldKeyUntil }): Ending[] => [
        ...(isDay(expires)
          ? [
              {
                id: `key-${id}`,
                day: expires,
                says: `${name}: the key of ${peer} ends`,
                before: 'Ask whether it is still needed; then begin a rotation, or revoke it.',
              },
            ]
          : []),
        ...(isDay(oldKeyUntil)
          ? [
              {
                id: `overlap-${id}`,
                day: oldKeyUntil,
                says: `${name}: the old key of ${peer} ends`,
                before: 'Remove the old key on the router; until then both work.',
              },
            ]
          : []),
      ]),
    ...vpn.certificates
      .filter(({ revoked, until }) => revoked === '' && isDay(until))
      .map(({ id, until, person }) => ({
        id: `certificate-${id}`,
        day: until,
        says: `${name}: the certificate of ${person || 'an unnamed person'} ends`,
        before: 'Issue a new one; the old one goes on until this day.',
      })),
    ...site.forwards
      .filter(({ until }) => isDay(until))
      .map(({ id, until, name: forward }) => ({
        id: `forward-${id}`,
        day: until,
        says: `${name}: the forward ${forward} ends`,
        before: 'Ask whether it is still needed; remove it on the router.',
      })),
    ...site.wifi.networks
      .filter(({ until }) => isDay(until.trim()))
      .map(({ id, until, ssid }) => ({
        id: `wifi-${id}`,
        day: until.trim(),
        says: `${name}: the Wi-Fi network ${ssid || 'without a name'} ends`,
        before: 'Turn it off on every access point, or give it a later day.',
      })),
  ].sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));
}

/** Lines are at most 75 octets long; what is longer goes on after a line break and a space (section 3.1). */
function folded(line: string): string {
  const bytes = new TextEncoder();
  const rows: string[] = [];
  let row = '';
  for (const letter of line) {
    if (bytes.encode(row + letter).length > 75) {
      rows.push(row);
      row = ` ${letter}`;
    } else row += letter;
  }
  return [...rows, row].join('\r\n');
}

const line = calendarText;

/**
 * Endings as a calendar (RFC 5545): one all-day event each, with an alarm a fortnight before.
 * @param stampedAt when the file is made, ISO 8601 in UTC
 */
export function writeCalendar(endings: readonly Ending[], siteId: string, stampedAt: string): string {
  const stamp = `${stampedAt.replace(/[-:]/g, '').slice(0, 15)}Z`;
  const all: readonly Code<'calendar'>[] = [
    line`BEGIN:VCALENDAR`,
    line`VERSION:2.0`,
    line`PRODID:-//Netter//Endings//EN`,
    ...endings.flatMap(({ id, day, says, before }) => [
      line`BEGIN:VEVENT`,
      line`UID:${id}@${siteId}.netter.invalid`,
      line`DTSTAMP:${stamp}`,
      line`DTSTART;VALUE=DATE:${day.replace(/-/g, '')}`,
      line`SUMMARY:${says}`,
      line`DESCRIPTION:${before}`,
      line`BEGIN:VALARM`,
      line`ACTION:DISPLAY`,
      line`DESCRIPTION:${says}`,
      line`TRIGGER:-P14D`,
      line`END:VALARM`,
      line`END:VEVENT`,
    ]),
    line`END:VCALENDAR`,
    line``,
  ];
  return all.map(({ text }) => folded(text)).join('\r\n');
}

export const calendar: SiteFormat = {
  says: 'Days on which keys and certificates end, iCalendar (RFC 5545)',
  mediaType: 'text/calendar',
  fileName: ({ site }) => `${siteFileName(site.about.name)}-endings.ics`,
  write: ({ site, siteId, stampedAt }) => writeCalendar(endingsOf(site), siteId, stampedAt),
};
