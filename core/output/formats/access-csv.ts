import { writeTable } from '../../base/encode/index.ts';
import { formatAddress } from '../../base/net/address.ts';
import type { Site } from '../../site/model.ts';
import { accessList } from '../../behaviour/remote-access/access.ts';
import { reachText } from '../../behaviour/remote-access/reach.ts';
import { siteFileName, type SiteFormat } from './type.ts';

/** Remote access as rows for a spreadsheet (RFC 4180): who, since when, until when, and to what. No key is in it. */
export const writeAccess = (site: Site, today: string): string =>
  writeTable(
    ['Person', 'Device', 'Group', 'Addresses', 'State', 'Given', 'Ends', 'Revoked', 'Last seen', 'Reaches'],
    accessList(site, today).map(({ peer, says }) => [
      peer.person,
      peer.deviceName,
      peer.group?.name ?? '',
      [peer.address, peer.address6].flatMap((host) => (host ? [formatAddress(host)] : [])).join(' '),
      says,
      peer.created,
      peer.expires,
      peer.revokedOn,
      peer.lastSeen,
      reachText(peer).join('; '),
    ]),
  );

export const accessCsv: SiteFormat = {
  says: 'Who has remote access on a day, CSV (RFC 4180)',
  mediaType: 'text/csv',
  fileName: ({ site, day }) => `${siteFileName(site.about.name)}-access-${day}.csv`,
  write: ({ site, day }) => `${writeAccess(site, day)}\r\n`,
};
