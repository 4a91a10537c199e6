import { subnetWorked } from '../../base/worked/addresses.ts';
import type { Site } from '../../site/model.ts';
import { keepAliveWorked, portWorked, tunnelWorked } from '../../behaviour/remote-access/interface.ts';
import { routesOf } from '../../behaviour/remote-access/routes.ts';
import { speedOf } from '../../behaviour/remote-access/measured.ts';
import { tunnelsWorked } from '../../behaviour/remote-access/join.ts';
import { endOf, endOfFar, tunnelStates } from '../../behaviour/remote-access/tunnel-states.ts';
import type { Worked } from '../../base/worked/worked.ts';

/** The arithmetic behind a field of remote access. */
export function ofVpn(site: Site, rest: string): Worked[] {
  const { vpn } = site;
  const [part = '', place = ''] = rest.split('/');
  switch (part) {
    case 'pool':
      return vpn.pool ? [subnetWorked(vpn.pool)] : [];
    case 'pool6':
      return vpn.pool6 ? [subnetWorked(vpn.pool6)] : [];
    case 'port':
      return [portWorked(vpn.port)];
    case 'keepAliveSeconds':
      return [keepAliveWorked(vpn.keepAliveSeconds)];
    case 'mtuBytes':
      return [tunnelWorked(vpn.endpoints[0]?.line ?? site.lines[0])];
    case 'peers': {
      const peer = vpn.peers[Number(place)];
      return peer?.group ? [routesOf(site, peer).worked] : [];
    }
    case 'groups': {
      const group = vpn.groups[Number(place)];
      const peer = vpn.peers.find((each) => each.group === group && group !== undefined);
      return peer ? [routesOf(site, peer).worked] : [];
    }
    case 'sites': {
      const far = vpn.sites[Number(place)];
      return [
        ...(far && place !== ''
          ? tunnelStates(endOf(site), endOfFar(far), vpn.keepAliveSeconds).flatMap(({ worked }) =>
              // The others are sentences, which the sheet shows.
              worked.unit === '' ? [] : worked,
            )
          : []),
        ...(vpn.sites.length > 1 ? [tunnelsWorked(vpn.sites.length + 1)] : []),
      ];
    }
    case 'encryptionMbps':
    case 'roundTripMs':
    case 'clientDownMbps':
    case 'runs':
      return speedOf(site, vpn.runs[Number(place)]?.direction ?? 'down');
    default:
      return [];
  }
}
