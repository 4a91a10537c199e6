import * as z from 'zod';
import { mapped, type MappingRule } from '../../base/net/address-and-port.ts';
import { parsePrefix } from '../../base/net/prefix.ts';
import { valueOf } from '../../base/result.ts';
import { typed, usually, usualWhole, whole, type ValueOf } from '../../plan/field.ts';
import { plainPort, profileOf } from '../profile.ts';

/** What the translation adds: an IPv6 header of 40 bytes in place of the 20 of IPv4 (RFC 7599 section 9, RFC 7915). */
const addedBytes = 20;

const settings = z.strictObject({
  delegated: typed(
    'Delegated prefix',
    'IPv6 prefix that the line gives this site (DHCPv6, RFC 8415).',
    parsePrefix,
    {
      emptyMeans: 'the line tells it',
      alsoCalled: ['End-user IPv6 prefix', 'IA_PD', 'Prefix delegation'],
    },
  ),
  ruleIpv6: typed('IPv6 prefix of the rule', 'From the basic mapping rule (BMR).', parsePrefix, {
    emptyMeans: 'the line tells it (RFC 7598)',
    alsoCalled: ['Rule IPv6 prefix', 'BMR IPv6'],
  }),
  ruleIpv4: typed('IPv4 prefix of the rule', 'From the basic mapping rule (BMR).', parsePrefix, {
    emptyMeans: 'the line tells it (RFC 7598)',
    alsoCalled: ['Rule IPv4 prefix', 'BMR IPv4'],
  }),
  eaBits: whole('EA-bits length', 'How many bits of the delegated prefix tell subscribers apart.', {
    unit: 'bits',
    most: 48,
    emptyMeans: 'the line tells it (RFC 7598)',
    alsoCalled: ['Embedded address bits'],
  }),
  psidOffset: usualWhole(
    'PSID offset',
    'Bits of a port number before the one that tells subscribers apart.',
    {
      unit: 'bits',
      most: 15,
      usual: usually(6, 'RFC 7597 section 5.1'),
      alsoCalled: ['Offset bits', 'a bits'],
    },
  ),
  relayPrefix: typed('Prefix of the border relay', 'Where IPv4 destinations lie in IPv6.', parsePrefix, {
    emptyMeans: 'the line tells it (RFC 7598)',
    alsoCalled: ['DMR prefix', 'Default mapping rule', 'BR prefix'],
  }),
});

export type MapSettings = ValueOf<typeof settings>;

/** The basic mapping rule, where all of it is known. */
export const ruleOf = ({ ruleIpv6, ruleIpv4, eaBits, psidOffset }: MapSettings): MappingRule | undefined =>
  ruleIpv6 && ruleIpv4 && eaBits !== null
    ? { ipv6: ruleIpv6, ipv4: ruleIpv4, eaBits, psidOffset }
    : undefined;

/** IPv4 translated to IPv6 by the router, on an address that several subscribers share by ports (RFC 7599). */
export const profile = profileOf({
  title: 'IPv4 over an IPv6 line by ports (MAP-T)',
  settings,
  port: (own) => {
    const rule = ruleOf(own);
    const found = rule && own.delegated && valueOf(mapped(own.delegated, rule));
    return {
      ...plainPort,
      address: found?.address,
      addressKey: 'delegated',
      routedBlock: found?.block,
      ownPorts: found?.ports,
      largestBytes: 1500 - addedBytes,
      wrappingBytes: addedBytes,
    };
  },
  holds: { delegatedPrefix: 'delegated' },
});
