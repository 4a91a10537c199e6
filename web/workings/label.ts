import { valueAt, type Plan } from '../../core/index.ts';

/** Words for the fields whose key does not say them. */
const words: Record<string, string> = {
  prefix: 'block',
  prefixLength: 'prefix or mask',
  routerAddress: "router's address",
  mtuBytes: 'MTU',
  rateDownMbps: 'rate down',
  rateUpMbps: 'rate up',
  vlan: 'VLAN',
  vlanPriority: 'VLAN priority',
  largePackets: '1500 inside',
  tiedMac: 'tied to MAC',
  lengthKm: 'length',
  splitterWays: 'splitter',
  sentDbm: 'power sent',
  measuredDbm: 'power measured',
  marginDb: 'noise margin',
  attenuationDb: 'attenuation',
  powerDbmv: 'power',
  snrDb: 'SNR',
  roundTripMs: 'round trip',
  rsrpDbm: 'RSRP',
  rsrqDb: 'RSRQ',
  sinrDb: 'SINR',
  rssiDbm: 'RSSI',
  mbps: 'rate',
  downMbps: 'rate down',
  upMbps: 'rate up',
  widthMHz: 'channel width',
  mastKm: 'mast',
  capGigabytes: 'data cap',
  pricePerGigabyte: 'price beyond the cap',
  pinTriesLeft: 'tries of the PIN',
  cardNumber: 'card number',
  apn: 'APN',
  mac: 'MAC address',
  from: 'pool from',
  to: 'pool to',
  powerVolts: 'volts',
  powerAmps: 'amperes',
  leaseMinutes: 'lease',
  insidePrefix: "box's inside block",
  insideAddress: "box's inside address",
  outsideAddress: "box's outside address",
  expectedAddress: 'address expected',
  outsidePorts: 'outside port',
  insidePorts: 'inside port',
  sourceNat: 'source NAT',
  addressing: 'how it gets its address',
  factoryAddress: 'address when new',
  cupboardCelsius: 'cupboard temperature',
  expectedDevices: 'devices expected',
  timeZone: 'time zone',
};

const spaced = (key: string): string =>
  words[key] ?? key.replace(/([A-Z])/g, (letter) => ` ${letter.toLowerCase()}`);

/** "MTU of Fibre": the name of a place in the plan, as a person would say it. */
export function labelOf(plan: Plan, at: string): string {
  const parts = at.split('/').slice(1);
  const key = parts.at(-1) ?? '';
  let owner = '';
  for (let depth = 2; depth <= parts.length; depth += 1) {
    const value = valueAt(plan, `/${parts.slice(0, depth).join('/')}`) as {
      name?: unknown;
      purpose?: unknown;
      model?: unknown;
    } | null;
    if (typeof value !== 'object' || value === null || Array.isArray(value)) continue;
    // A network has a purpose too, but that is a kind and not a name.
    const name =
      'name' in value
        ? value.name
        : 'model' in value
          ? value.model
          : parts[0] === 'forwards'
            ? value.purpose
            : undefined;
    if (typeof name === 'string' && name !== '') owner = name;
  }
  if (/^\d+$/.test(key)) return owner || `row ${Number(key) + 1}`;
  return owner === '' || key === 'name' ? spaced(key) : `${spaced(key)} of ${owner}`;
}
