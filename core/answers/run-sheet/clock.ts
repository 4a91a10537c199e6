import { onPage } from '../../behaviour/domain-types/nature.ts';
import type { Site } from '../../site/model.ts';
import { choiceReading, textReading } from '../../behaviour/domain-types/reading.ts';
import { entry, fieldEntry, type StepDraft } from '../../behaviour/domain-types/step.ts';
import { posixZone } from '../../base/worked/time-zone.ts';

const known = new Map<string, string | undefined>();

/** The same zone is asked at every edit, and looking through six years of it takes a while. */
function zoneText(zone: string, year: number): string | undefined {
  const key = `${zone} ${year}`;
  if (!known.has(key)) known.set(key, posixZone(zone, year));
  return known.get(key);
}

/** The clock of the router: certificates, logs and quiet hours go by it. */
export function clockStep(site: Site, year: number): StepDraft {
  const { timeZone } = site.about;
  const written = timeZone.trim() === '' ? undefined : zoneText(timeZone.trim(), year);
  return {
    id: 'clock',
    nature: onPage,
    phase: 'rules',
    title: 'Set the clock and its zone',
    entries: [
      ...(timeZone.trim() === '' ? [] : [fieldEntry('/site/timeZone', timeZone.trim())]),
      ...(written === undefined
        ? []
        : [entry('Where it wants the zone as text', written, ['TZ', 'POSIX time zone', 'Time zone string'])]),
      entry('Time server', 'on; the one of the provider or of the router', ['NTP', 'SNTP', 'Internet time']),
    ],
    why: 'A log whose time is wrong proves nothing, and a certificate is refused on a wrong day.',
    lowSeconds: 30,
    highSeconds: 120,
    proof: 'Once a line is up, the newest line of its log has the time of your watch.',
    ifNot:
      'Off by whole hours: the zone, or summer time. Off by years: it has not reached a time server yet.',
    fields: [
      choiceReading('log', 'Its log', 'shows the right time', 'shows another time'),
      textReading('time', 'Time in its log, and on your watch', { optional: true }),
    ],
  };
}
