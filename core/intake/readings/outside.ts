import { formatAddress, parseAddress, sameAddress } from '../../base/net/address.ts';
import { classify, reachableFromOutside } from '../../base/net/classify.ts';
import { contains } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import { admits } from '../../site/allowed.ts';
import type { Forward, Site } from '../../site/model.ts';

/** Why an address is no proof that the test came from outside; undefined where it is one. */
export function outsideRefusal(site: Site, seenFrom: string): string | undefined {
  if (seenFrom.trim() === '')
    return 'the address the test came from is not noted, so it may have come from inside';
  const parsed = parseAddress(seenFrom);
  if (!parsed.ok) return `the address the test came from cannot be read: ${parsed.problem.says}`;
  const host = parsed.value;
  const own = site.lines.find(
    (line) =>
      (line.publicAddressKnown && sameAddress(line.publicAddress, host)) ||
      (line.addressKnown && sameAddress(line.address, host)),
  );
  if (own)
    return `${formatAddress(host)} is this site's own address on ${own.name}: the test came from inside`;
  const inside = site.prefixes.find(({ prefix, role }) => role !== 'line' && contains(prefix, host));
  if (inside) return `${formatAddress(host)} is on ${inside.name}: the test came from inside`;
  const name = classify(host).class;
  if (!reachableFromOutside(name) && name !== 'carrier-shared')
    return `${formatAddress(host)} is ${name}: the address seen by the other end is wanted, not the one on the device`;
  return undefined;
}

/** Tries of a limited forward: one from an allowed source, and one from another, which must be refused. */
export function sourceRefusal(
  forward: Pick<Forward, 'allowed'>,
  seenFrom: string,
  wanted: 'answered' | 'refused',
): string | undefined {
  const host = valueOf(parseAddress(seenFrom));
  if (!host || forward.allowed.kind !== 'some') return undefined;
  const allowed = admits(forward.allowed, host);
  if (wanted === 'refused' && allowed)
    return `${formatAddress(host)} is an allowed source: the try has to come from another one`;
  return wanted === 'answered' && !allowed
    ? `${formatAddress(host)} is no allowed source: that it answers there would be wrong`
    : undefined;
}
