import { bad, ok, type Result } from '../../base/result.ts';
import {
  endlessLease,
  leastIpv6Mtu,
  leaseWorked,
  mssWorked,
  pingWorked,
  powerWorked,
  tcpCeilingWorked,
} from '../../base/worked/packets.ts';
import { fragmentsWorked, lossCeilingWorked } from '../../base/worked/fragments.ts';
import { needed, numberBetween, oneOf, optional, sum, wholeBetween, yesOrNo, type Sum } from './sum.ts';

const mtuInput = needed('largest packet', 'bytes', '1500', wholeBetween(68, 65_535));
const familyInput = optional('IP version, 4 or 6', '', '4', (text): Result<4 | 6> => {
  const word = oneOf(['4', '6'])(text);
  return word.ok ? ok(word.value === '4' ? 4 : 6) : bad('family', `"${text.trim()}" is neither 4 nor 6.`);
});

/** No link of IPv6 carries less than 1280 bytes. */
const tooSmall = (mtu: number, family: 4 | 6 | undefined) =>
  family === 6 && mtu < leastIpv6Mtu
    ? bad(
        'mtu-ipv6',
        `An MTU of ${mtu} is none for IPv6: every link carries ${leastIpv6Mtu} bytes or more (RFC 8200 section 5).`,
        'mtu',
      )
    : undefined;

export const packetSums: readonly Sum[] = [
  sum(
    'mss',
    'Largest TCP segment in a packet of that size',
    { mtu: mtuInput, family: familyInput },
    ({ mtu, family }) => tooSmall(mtu, family) ?? mssWorked(mtu, family),
  ),
  sum(
    'ping',
    'Payload of the largest ping that must not be fragmented',
    { mtu: mtuInput, family: familyInput },
    ({ mtu, family }) => tooSmall(mtu, family) ?? pingWorked(mtu, family),
  ),
  sum(
    'tcp-ceiling',
    'Best payload rate of TCP on an Ethernet line',
    {
      rate: needed('rate of the line', 'Mb/s', '1000', numberBetween(0, 1_000_000)),
      mtu: optional('largest packet', 'bytes', '1500', wholeBetween(576, 9216)),
      timestamps: optional('TCP timestamps in use, yes or no', '', 'no', yesOrNo),
      family: familyInput,
      wrapping: optional(
        'bytes of tag, session or tunnel around each packet',
        'bytes',
        '12',
        wholeBetween(0, 500),
      ),
    },
    ({ rate, mtu, timestamps, family, wrapping }) =>
      tooSmall(mtu ?? 1500, family) ??
      tcpCeilingWorked(rate, {
        ...(mtu !== undefined && { mtuBytes: mtu }),
        ...(timestamps !== undefined && { timestamps }),
        ...(family !== undefined && { family }),
        ...(wrapping !== undefined && { wrappingBytes: wrapping }),
      }),
  ),
  sum(
    'lease',
    'Renewal and rebinding times of a DHCP lease',
    { lease: needed('lease time', 'seconds', '86400', wholeBetween(1, endlessLease)) },
    ({ lease }) => leaseWorked(lease),
  ),
  sum(
    'power',
    'Power of a supply from its label',
    {
      volts: needed('volts on the label', 'V', '12', numberBetween(0, 1000)),
      amps: needed('amperes on the label', 'A', '1.5', numberBetween(0, 100)),
    },
    ({ volts, amps }) => powerWorked(volts, amps),
  ),
  sum(
    'fragments',
    'Pieces into which a router cuts an IPv4 packet',
    { packet: needed('size of the packet', 'bytes', '4000', wholeBetween(21, 65_535)), mtu: mtuInput },
    ({ packet, mtu }) => fragmentsWorked(packet, mtu),
  ),
  sum(
    'loss-ceiling',
    'Most that one TCP connection carries under random loss',
    {
      mss: needed('segment', 'bytes', '1460', wholeBetween(1, 65_535)),
      rtt: needed('round-trip time', 'ms', '100', numberBetween(0.01, 60_000)),
      loss: needed('packet loss', '%', '0.1', numberBetween(0.000_001, 100)),
    },
    ({ mss, rtt, loss }) => lossCeilingWorked(mss, rtt, loss),
  ),
];
