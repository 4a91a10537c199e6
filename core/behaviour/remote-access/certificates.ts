import type { Site } from '../../site/model.ts';
import type { Peer } from '../../site/vpn.ts';
import type { CertificatePlan } from '../../plan/schema.ts';

/** Ways in for which people have certificates, and not keys of a tunnel. */
export const byCertificate = (site: Site): boolean => ['ikev2', 'tls'].includes(site.vpn.way);

const isFor = (certificate: CertificatePlan, { name, person }: Peer): boolean =>
  certificate.use === 'client' &&
  certificate.person.trim() !== '' &&
  [name, person].some((each) => each.trim().toLowerCase() === certificate.person.trim().toLowerCase());

/** The certificate of a device, or of its person, that is not revoked. */
export const certificateOf = (site: Site, peer: Peer): CertificatePlan | undefined =>
  site.vpn.certificates.find((each) => each.revoked === '' && isFor(each, peer));

/** Certificates that were issued for a device or its person and are still good: with it revoked, they must not be. */
export const leftOver = (site: Site, peer: Peer): readonly CertificatePlan[] =>
  peer.revoked
    ? site.vpn.certificates.filter(
        (each) =>
          each.revoked === '' &&
          isFor(each, peer) &&
          // A certificate of the person goes on for that person's other devices.
          !site.vpn.peers.some((other) => other !== peer && !other.revoked && isFor(each, other)),
      )
    : [];
