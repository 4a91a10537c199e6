import { parseClock } from '../../base/days.ts';
import { medium } from '../../behaviour/media/index.ts';
import type { Check, Finding } from '../../behaviour/domain-types/finding.ts';
import type { Site } from '../../site/model.ts';
import { note, said } from './note.ts';

/** Time zone and country, as the standards that they come from know them. */
export const place: Check = {
  name: 'place',
  run: (site: Site) => [
    ...zone(site.about.timeZone.trim()),
    ...country(site.about.country.trim()),
    ...unplaced(site),
    ...rented(site),
    ...hours(site),
    ...drilling(site),
  ],
};

/** Fixed work in a rented building needs its owner, whom somebody has to be able to ask. */
function rented({ about, contacts }: Site): Finding[] {
  if (!about.rented || contacts.some(({ role }) => /owner|landlord|letting|manager|caretaker/i.test(role)))
    return [];
  return [
    note(
      'rented',
      'advice',
      '/site/rented',
      'The building is rented, and nobody who speaks for its owner is among the people: fixed work, antennas and holes need the consent of the owner, in writing.',
      said('Rented', 'yes'),
    ),
  ];
}

/** The visit begins before it has to be over; a night's work has no end on the same day. */
function hours({ visit: { begins, ends } }: Site): Finding[] {
  if (!parseClock(begins).ok || !parseClock(ends).ok || begins.trim() < ends.trim()) return [];
  return [
    note(
      'visit-reversed',
      'warning',
      '/visit/ends',
      `The visit begins at ${begins.trim()} and must be over by ${ends.trim()}, before it begins: one of the two is wrong. For work over midnight leave the end empty.`,
      said('Must be over by', ends.trim()),
    ),
  ];
}

/** Where no hole may be drilled, the way of an outdoor cable is settled before the visit. */
function drilling({ about, lines }: Site): Finding[] {
  const outdoor = lines.filter((line) => medium(line.medium).outdoors);
  if (!about.noDrilling || outdoor.length === 0) return [];
  return [
    note(
      'no-drilling',
      'advice',
      '/site/noDrilling',
      `No hole may be drilled, and ${outdoor.map(({ name }) => name).join(' and ')} needs a cable from outdoors: find the opening that is there (window, air brick, old duct) before the visit, and where the cable is earthed. Work on roofs and masts, and lightning protection, is for licensed people; local codes decide.`,
      said('No drilling', 'yes'),
    ),
  ];
}

/** What cannot be judged, or is meant differently, while nobody knows where the site is. */
function unplaced({ about, wifi, failover }: Site): Finding[] {
  const found: Finding[] = [];
  if (about.country.trim() === '' && wifi.radios.length > 0)
    found.push(
      note(
        'country-missing',
        'warning',
        '/site/country',
        'Radios are entered, and no country: which channels and what power are allowed there cannot be checked. Enter the country, and set it on every access point.',
        { ...said('Country', 'none'), source: 'ISO 3166-1 alpha-2' },
      ),
    );
  if (about.timeZone.trim() === '' && failover.back === 'quiet-hour')
    found.push(
      note(
        'time-zone-missing',
        'warning',
        '/site/timeZone',
        `Traffic is switched back at ${failover.quietHour} o'clock, and no time zone is entered: a router that counts in UTC does it in the middle of the working day elsewhere.`,
        { ...said('Time zone', 'none'), source: 'IANA time zone database' },
      ),
    );
  if (about.street.trim() === '' && about.town.trim() === '')
    found.push(
      note(
        'no-address-of-site',
        'advice',
        '/site/street',
        'No address is entered: the provider asks for it on every call, and so does the next person who drives there.',
        said('Address', 'none'),
      ),
    );
  return found;
}

function zone(name: string): Finding[] {
  if (name === '' || isZone(name)) return [];
  return [
    note(
      'time-zone',
      'warning',
      '/site/timeZone',
      `"${name}" is not a time zone. Write it like Europe/Lisbon. Until then nobody can tell which hours the record and the quiet hour of the router mean.`,
      { ...said('Time zone', name), source: 'IANA time zone database' },
    ),
  ];
}

function isZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

function country(code: string): Finding[] {
  if (code === '' || isCountry(code)) return [];
  return [
    note(
      'country',
      'warning',
      '/site/country',
      `"${code}" is no country code: two letters, like PT or GB. Radio rules depend on it.`,
      { ...said('Country', code), source: 'ISO 3166-1 alpha-2' },
    ),
  ];
}

function isCountry(code: string): boolean {
  if (!/^[A-Za-z]{2}$/.test(code)) return false;
  // A code that stands for no country has no name but itself; "UK" and others are kept as other words for one.
  const name = new Intl.DisplayNames('en', { type: 'region', fallback: 'none' }).of(code.toUpperCase());
  return (
    name !== undefined && new Intl.Locale('und', { region: code.toUpperCase() }).region === code.toUpperCase()
  );
}
