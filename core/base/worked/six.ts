import { address, formatAddress, type Address } from '../net/address.ts';
import type { MacAddress } from '../net/mac.ts';
import { formatPrefix, type Prefix } from '../net/prefix.ts';
import { bad, ok, type Result } from '../result.ts';
import { arithmetic, grouped, step, type Worked, worked } from './worked.ts';

/** The subnet of a number, from 0, in a delegated prefix. */
export function nthSubnetWorked(space: Prefix, length: number, index: number): Result<Worked<string>> {
  const bits = space.family === 4 ? 32 : 128;
  if (length < space.length || length > bits)
    return bad('length', `/${length} is not between /${space.length} and /${bits}.`, 'length');
  const count = 1n << BigInt(length - space.length);
  if (BigInt(index) >= count)
    return bad(
      'no-room',
      `${formatPrefix(space)} holds ${grouped(count)} subnets of /${length}, numbered from 0: there is no number ${index}.`,
      'index',
    );
  const size = 1n << BigInt(bits - length);
  const first = space.first + BigInt(index) * size;
  const text = `${formatAddress(address(space.family, first))}/${length}`;
  return ok(
    worked(
      `Subnet ${index}`,
      text,
      '',
      [
        step('subnets in it', `2^(${length} - ${space.length}) = ${grouped(count)}`),
        step('each', `2^${bits - length} addresses`),
        step(`number ${index}, from 0`, text),
      ],
      arithmetic,
    ),
  );
}

/** The interface identifier that a MAC address gives, and the address in a prefix of 64 bits (RFC 4291 appendix A). */
export function eui64Worked(mac: MacAddress, prefix: Prefix | undefined): Result<Worked<string>> {
  if (prefix && (prefix.family !== 6 || prefix.length !== 64))
    return bad('length', `${formatPrefix(prefix)} is not an IPv6 prefix of 64 bits.`, 'prefix');
  const digits = mac.text.replaceAll(':', '').toLowerCase();
  const flipped = (parseInt(digits.slice(0, 2), 16) ^ 2).toString(16).padStart(2, '0');
  const identifier = BigInt(`0x${flipped}${digits.slice(2, 6)}fffe${digits.slice(6)}`);
  const linkLocal = 0xfe80n << 112n;
  const host = formatAddress(address(6, (prefix?.first ?? linkLocal) | identifier));
  return ok(
    worked(
      'Address from the MAC address',
      host,
      '',
      [
        step('MAC address', mac.text),
        step('seventh bit of the first octet turned over', flipped),
        step(
          'ff:fe in the middle',
          `${flipped}${digits.slice(2, 6)}fffe${digits.slice(6)}`.replace(/(.{4})(?=.)/g, '$1:'),
        ),
        step(prefix ? 'in the prefix' : 'link-local', host),
      ],
      'RFC 4291 appendix A, RFC 2464 section 4',
      'Clients with privacy addresses (RFC 8981) or stable ones (RFC 7217) do not use it; printers and cameras mostly do.',
    ),
  );
}

/** The multicast group at which neighbours ask for the MAC address of a host (RFC 4291 section 2.7.1). */
export function solicitedNodeWorked(host: Address): Result<Worked<string>> {
  if (host.family !== 6)
    return bad(
      'family',
      `${formatAddress(host)} is an IPv4 address: neighbours ask for it by ARP.`,
      'address',
    );
  const group = address(6, (0xff02n << 112n) | (0x1ffn << 24n) | (host.value & 0xffffffn));
  return ok(
    worked(
      'Solicited-node group',
      formatAddress(group),
      '',
      [
        step('last 24 bits', (host.value & 0xffffffn).toString(16).padStart(6, '0')),
        step('after ff02::1:ff00:0/104', formatAddress(group)),
      ],
      'RFC 4291 section 2.7.1',
    ),
  );
}
