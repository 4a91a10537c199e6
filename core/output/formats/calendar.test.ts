import { describe, expect, test } from '@jest/globals';
import { compile } from '../../site/compile.ts';
import { demoPlan } from '../../testing/plans.ts';
import { endingsOf, writeCalendar } from './calendar.ts';

describe('the calendar of endings (RFC 5545)', () => {
  const endings = endingsOf(compile(demoPlan('farrow-sound')));
  const text = writeCalendar(endings, 'farrow-sound', '2026-03-02T09:00:00.000Z');

  test('keys in the order of their days; a revoked one is not waited for', () => {
    expect(endings.map(({ id, day }) => [id, day])).toEqual([
      ['key-idris-laptop', '2027-01-31'],
      ['key-maren-phone', '2027-03-02'],
      ['key-maren-laptop', '2027-03-02'],
    ]);
  });

  test('lines end in CR LF and have 75 octets at most, unfolded they say the whole (section 3.1)', () => {
    expect(text.split('\r\n').every((line) => new TextEncoder().encode(line).length <= 75)).toBe(true);
    expect(text.replace(/\r\n/g, '')).not.toContain('\n');
    const unfolded = text.replace(/\r\n[ \t]/g, '');
    expect(unfolded).toContain('SUMMARY:Farrow Sound ferry office: the key of Idris Vane\\, laptop ends');
    expect(unfolded).toContain('DTSTART;VALUE=DATE:20270131');
    expect(unfolded).toContain('DTSTAMP:20260302T090000Z');
    expect(unfolded.match(/BEGIN:(\w+)/g)?.length).toBe(unfolded.match(/END:(\w+)/g)?.length);
  });

  test('certificates and overlaps end as well; what is revoked or has ended its overlap by hand does not', () => {
    const plan = demoPlan('farrow-sound');
    const certificate = (id: string, until: string, revoked = '') => ({
      id,
      person: `Warden ${id}`,
      use: 'client' as const,
      serial: id,
      from: '2026-03-02',
      until,
      revoked,
      secret: id,
      pem: '',
    });
    plan.vpn.certificates = [
      certificate('late', '2028-01-01'),
      certificate('early', '2026-04-01'),
      certificate('gone', '2026-05-01', '2026-03-20'),
      certificate('unknown', ''),
    ];
    Object.assign(plan.vpn.peers[0]!, { oldKey: plan.vpn.peers[1]!.publicKey, oldKeyUntil: '2026-03-16' });
    const all = endingsOf(compile(plan));
    expect(all.map(({ id }) => id)).toEqual([
      'overlap-maren-phone',
      'certificate-early',
      'key-idris-laptop',
      'key-maren-phone',
      'key-maren-laptop',
      'certificate-late',
    ]);
    expect(all[0]!.before).toContain('Remove the old key on the router');
    // Identifiers are of the whole world, and stay the same when the file is made again (RFC 5545 section 3.8.4.7).
    const uids = (stamp: string): string[] => writeCalendar(all, 'site', stamp).match(/^UID:.*$/gm)!;
    expect(uids('2026-03-02T09:00:00.000Z')).toEqual(uids('2027-03-02T09:00:00.000Z'));
    expect(new Set(uids('2026-03-02T09:00:00.000Z')).size).toBe(all.length);
  });

  test('text is escaped: a comma, a semicolon, a backslash and a line break (section 3.3.11)', () => {
    const one = writeCalendar(
      [{ id: 'x', day: '2026-04-01', says: 'a, b; c\\d\ne', before: 'then' }],
      'site',
      '2026-03-02T09:00:00.000Z',
    );
    expect(one).toContain('SUMMARY:a\\, b\\; c\\\\d\\ne\r\n');
  });

  test('what is no day is left out', () => {
    const plan = demoPlan('farrow-sound');
    plan.vpn.peers[0]!.expires = 'next year';
    expect(endingsOf(compile(plan))).toHaveLength(2);
  });
});
