/** Countries by name, from what the browser knows of ISO 3166-1 alpha-2. */
const names = new Intl.DisplayNames('en', { type: 'region', fallback: 'none' });
const letters = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ'.split('');

export const countries: (readonly [string, string])[] = letters
  .flatMap((a) => letters.map((b) => a + b))
  .flatMap((code): (readonly [string, string])[] => {
    const name = names.of(code);
    return name === undefined || ['ZZ', 'EU', 'EZ', 'UN', 'QO', 'XA', 'XB'].includes(code)
      ? []
      : [[code, name]];
  })
  .sort((a, b) => a[1].localeCompare(b[1]));

export const timeZones: (readonly [string, string])[] = Intl.supportedValuesOf('timeZone').map((zone) => [
  zone,
  zone.replaceAll('_', ' '),
]);
