/** Anything that JSON can be. */
type Json = Record<string, unknown>;

const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/**
 * A plan as an earlier program wrote it, in the form of today. A joined site then had one block for each side, without
 * the block that it stands for: that is left to be filled in.
 */
export function fromOlder(document: Json): Json {
  const { vpn } = document;
  if (!isObject(vpn) || !Array.isArray(vpn.sites)) return document;
  return { ...document, vpn: { ...vpn, sites: vpn.sites.map(siteOfToday) } };
}

function siteOfToday(site: unknown): unknown {
  if (!isObject(site) || !('translated' in site || 'ownTranslated' in site)) return site;
  const { translated, ownTranslated, ...rest } = site;
  const row = (of: 'here' | 'there', seen: unknown): Json[] =>
    typeof seen === 'string' && seen !== '' ? [{ id: of, of, seen }] : [];
  return { ...rest, translations: [...row('there', translated), ...row('here', ownTranslated)] };
}
