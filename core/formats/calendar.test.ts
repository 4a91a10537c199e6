import { describe, expect, test } from '@jest/globals';
import { compile } from '../site/compile.ts';
import { demoPlan } from '../testing/plans.ts';
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

  test('what is no day is left out', () => {
    const plan = demoPlan('farrow-sound');
    plan.vpn.peers[0]!.expires = 'next year';
    expect(endingsOf(compile(plan))).toHaveLength(2);
  });
});
