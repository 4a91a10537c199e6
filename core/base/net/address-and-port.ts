import { bad, ok, type Result } from '../result.ts';
import { address, bitsOf, type Address } from './address.ts';
import { portsOverlap, type PortRange } from './ports.ts';
import { containsPrefix, firstOf, formatPrefix, prefixAround, type Prefix } from './prefix.ts';

/*
 * One public IPv4 address for several subscribers, each with ports of its own: mapping of address and port (RFC 7597
 * section 5), carried as IPv6 (MAP-T, RFC 7599) or inside it (MAP-E).
 */

/** A basic mapping rule of a provider (RFC 7597 section 5.2). */
export interface MappingRule {
  readonly ipv6: Prefix;
  readonly ipv4: Prefix;
  /** Embedded address bits: what of the delegated prefix, after that of the rule, tells subscribers apart. */
  readonly eaBits: number;
  /** Bits before the PSID in a port number; the lowest ports stay out where it is above 0 (section 5.1). */
  readonly psidOffset: number;
}

/** What a rule gives the subscriber with a delegated prefix. */
export interface Mapped {
  readonly address: Address;
  /** All addresses, where the subscriber has more than one. */
  readonly block: Prefix | undefined;
  readonly psid: number;
  readonly psidLength: number;
  /** Ports of the address that are the subscriber's; undefined where all are. */
  readonly ports: readonly PortRange[] | undefined;
  /** The IPv6 address by which the translator is known (section 6). */
  readonly ipv6: Address;
}

/** The port set of a PSID, in ascending order (RFC 7597 section 5.1 and appendix B). */
export function portSet(psid: number, psidLength: number, psidOffset: number): PortRange[] {
  const restBits = 16 - psidOffset - psidLength;
  const size = 2 ** restBits;
  return Array.from({ length: 2 ** psidOffset }, (_, block) => {
    const first = block * 2 ** (16 - psidOffset) + psid * size;
    return { first, last: first + size - 1 };
  }).slice(psidOffset > 0 ? 1 : 0);
}

/**
 * What the rule makes of a delegated prefix.
 * @returns a problem where rule and prefix do not fit each other: `map-…`
 */
export function mapped(delegated: Prefix, rule: MappingRule): Result<Mapped> {
  const { ipv6, ipv4, eaBits, psidOffset } = rule;
  if (delegated.family !== 6 || ipv6.family !== 6 || ipv4.family !== 4)
    return bad(
      'map-family',
      'The delegated prefix and the first of the rule are IPv6, the second of the rule is IPv4.',
    );
  if (!containsPrefix(ipv6, delegated))
    return bad(
      'map-outside',
      `${formatPrefix(delegated)} is not within the rule's ${formatPrefix(ipv6)}: the rule is that of other subscribers.`,
    );
  const needed = ipv6.length + eaBits;
  if (needed > 64 || delegated.length < needed)
    return bad(
      'map-length',
      `The rule needs ${ipv6.length} + ${eaBits} = ${needed} bits of the delegated prefix, and ${needed > 64 ? 'a prefix has 64 at most' : `${formatPrefix(delegated)} has ${delegated.length}`}.`,
    );
  const suffixBits = Math.min(eaBits, 32 - ipv4.length);
  const psidLength = eaBits - suffixBits;
  if (psidOffset + psidLength > 16)
    return bad(
      'map-ports',
      `PSID offset ${psidOffset} and ${psidLength} bits of PSID are more than the 16 bits of a port.`,
    );
  const embedded = (delegated.first >> BigInt(bitsOf(6) - needed)) & ((1n << BigInt(eaBits)) - 1n);
  const psid = Number(embedded & ((1n << BigInt(psidLength)) - 1n));
  const suffix = embedded >> BigInt(psidLength);
  const hostBits = 32 - ipv4.length - suffixBits;
  const own = address(4, firstOf(ipv4).value | (suffix << BigInt(hostBits)));
  const above = (delegated.first >> 64n) << 64n;
  return ok({
    address: own,
    block: hostBits > 0 ? prefixAround(own, 32 - hostBits) : undefined,
    psid,
    psidLength,
    ports: psidLength === 0 ? undefined : portSet(psid, psidLength, psidOffset),
    ipv6: address(6, above | (own.value << 16n) | BigInt(psid)),
  });
}

/** Whether all ports of a range are in a set; every port is in a set that is not given. */
export const ownsPorts = (own: readonly PortRange[] | undefined, { first, last }: PortRange): boolean =>
  own === undefined || own.some((each) => each.first <= first && last <= each.last);

/** The first so many ports in a row that are in a set and in none of the ranges that are taken. */
export function freePorts(
  own: readonly PortRange[],
  taken: readonly PortRange[],
  count: number,
): PortRange | undefined {
  for (const { first: lowest, last } of own)
    for (let first = lowest; first + count - 1 <= last;) {
      const range = { first, last: first + count - 1 };
      const inTheWay = taken.find((each) => portsOverlap(each, range));
      if (!inTheWay) return range;
      first = inTheWay.last + 1;
    }
  return undefined;
}
