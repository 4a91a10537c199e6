import type { Check, Finding } from '../terms/finding.ts';
import type { Site } from '../site/model.ts';
import { note, said } from './note.ts';

/** Time zone and country, as the standards that they come from know them. */
export const place: Check = {
  name: 'place',
  run: ({ about }: Site) => [...zone(about.timeZone.trim()), ...country(about.country.trim())],
};

function zone(name: string): Finding[] {
  if (name === '' || isZone(name)) return [];
  return [
    note(
      'time-zone',
      'warning',
      '/site/timeZone',
      `"${name}" is no time zone: write it like Europe/Lisbon. Until then the times of the record, and the quiet hour of the router, are those of nowhere.`,
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
