import { bad, ok, type Result } from '../result.ts';
import { leaseWorked, mssWorked, pingWorked, powerWorked, tcpCeilingWorked } from '../worked/packets.ts';
import { input, numberBetween, sum, wholeBetween, type Sum } from './sum.ts';

const mtuInput = { name: 'mtu', says: 'largest packet', unit: 'bytes', example: '1500' } as const;
const familyInput = {
  name: 'family',
  says: 'IP version, 4 or 6',
  unit: '',
  example: '4',
  optional: true,
} as const;

const family = (text: string | undefined): Result<4 | 6> => {
  const typed = (text ?? '4').trim();
  return typed === '4'
    ? ok(4)
    : typed === '6'
      ? ok(6)
      : bad('family', `"${typed}" is neither 4 nor 6.`, 'family');
};

export const packetSums: readonly Sum[] = [
  {
    name: 'mss',
    says: 'Largest TCP segment in a packet of that size',
    inputs: [mtuInput, familyInput],
    run: (given) => {
      const mtu = input(given, 'mtu', wholeBetween(68, 65_535));
      if (!mtu.ok) return mtu;
      const version = family(given.family);
      return version.ok ? ok(mssWorked(mtu.value, version.value)) : version;
    },
  },
  {
    name: 'ping',
    says: 'Payload of the largest ping that must not be fragmented',
    inputs: [mtuInput, familyInput],
    run: (given) => {
      const mtu = input(given, 'mtu', wholeBetween(68, 65_535));
      if (!mtu.ok) return mtu;
      const version = family(given.family);
      return version.ok ? ok(pingWorked(mtu.value, version.value)) : version;
    },
  },
  {
    name: 'tcp-ceiling',
    says: 'Best payload rate of TCP on an Ethernet line',
    inputs: [
      { name: 'rate', says: 'rate of the line', unit: 'Mb/s', example: '1000' },
      { ...mtuInput, optional: true },
      {
        name: 'timestamps',
        says: 'TCP timestamps in use, yes or no',
        unit: '',
        example: 'no',
        optional: true,
      },
    ],
    run: (given) => {
      const rate = input(given, 'rate', numberBetween(0, 1_000_000));
      if (!rate.ok) return rate;
      const mtu = input({ mtu: given.mtu ?? '1500' }, 'mtu', wholeBetween(68, 9216));
      return mtu.ok ? ok(tcpCeilingWorked(rate.value, mtu.value, given.timestamps === 'yes')) : mtu;
    },
  },
  sum({
    name: 'lease',
    says: 'Renewal and rebinding times of a DHCP lease',
    inputs: [{ name: 'lease', says: 'lease time', unit: 'seconds', example: '86400' }],
    read: { lease: wholeBetween(1, 4_294_967_295) },
    run: ({ lease }) => ok(leaseWorked(lease)),
  }),
  sum({
    name: 'power',
    says: 'Power of a supply from its label',
    inputs: [
      { name: 'volts', says: 'volts on the label', unit: 'V', example: '12' },
      { name: 'amps', says: 'amperes on the label', unit: 'A', example: '1.5' },
    ],
    read: { volts: numberBetween(0, 1000), amps: numberBetween(0, 100) },
    run: ({ volts, amps }) => ok(powerWorked(volts, amps)),
  }),
];
