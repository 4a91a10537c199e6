import { bad, ok } from '../result.ts';
import {
  availabilityWorked,
  capCostWorked,
  rateVerdict,
  windowWorked,
  type RateRun,
} from '../worked/line.ts';
import { layers, stackWorked } from '../worked/stack.ts';
import { input, numberBetween, sum, wholeBetween, type Sum } from './sum.ts';

const rate = { name: 'rate', says: 'rate of the line', unit: 'Mb/s', example: '44.21' } as const;

export const lineSums: readonly Sum[] = [
  {
    name: 'stack',
    says: 'Largest packet, segments and ping through a stack of wrappings, outermost first',
    inputs: [
      {
        name: 'layers',
        says: layers.map(({ name }) => name).join(', '),
        unit: '',
        example: 'vlan,pppoe,wireguard4',
      },
      {
        name: 'link',
        says: 'largest packet of the Ethernet below',
        unit: 'bytes',
        example: '1500',
        optional: true,
      },
      {
        name: 'frames',
        says: 'largest frame the gear takes, 1518 or 1522',
        unit: 'bytes',
        example: '1522',
        optional: true,
      },
    ],
    run: (given) => {
      const names = input(given, 'layers', (text) => ok(text.split(/[\s,]+/).filter((name) => name !== '')));
      if (!names.ok) return names;
      const link = input({ link: given.link ?? '1500' }, 'link', wholeBetween(576, 9216));
      if (!link.ok) return link;
      const frames = input({ frames: given.frames ?? '1522' }, 'frames', wholeBetween(1518, 9238));
      if (!frames.ok) return frames;
      const worked = stackWorked(names.value, link.value, frames.value);
      return worked.ok ? worked : bad(worked.problem.code, worked.problem.says, 'layers');
    },
  },
  sum({
    name: 'availability',
    says: 'Minutes out of service in a month',
    inputs: [{ name: 'percent', says: 'availability', unit: '%', example: '99.9' }],
    read: { percent: numberBetween(0, 100) },
    run: ({ percent }) => ok(availabilityWorked(percent)),
  }),
  sum({
    name: 'cap-cost',
    says: 'Cost of an outage on a line with a data cap',
    inputs: [
      { name: 'hours', says: 'length of the outage', unit: 'h', example: '6' },
      { name: 'traffic', says: 'traffic meanwhile', unit: 'Mb/s', example: '8' },
      { name: 'left', says: 'left of the cap', unit: 'GB', example: '10' },
      { name: 'price', says: 'price beyond it', unit: 'a GB', example: '2' },
    ],
    read: {
      hours: numberBetween(0, 8784),
      traffic: numberBetween(0, 100_000),
      left: numberBetween(0, 1_000_000),
      price: numberBetween(0, 100_000),
    },
    run: ({ hours, traffic, left, price }) => ok(capCostWorked(hours, traffic, left, price)),
  }),
  sum({
    name: 'window',
    says: 'Most that one TCP connection can carry',
    inputs: [
      rate,
      { name: 'rtt', says: 'round trip', unit: 'ms', example: '25' },
      { name: 'window', says: 'window', unit: 'KiB', example: '64' },
    ],
    read: {
      rate: numberBetween(0.01, 1_000_000),
      rtt: numberBetween(0.01, 60_000),
      window: numberBetween(1, 1_048_576),
    },
    run: ({ rate: line, rtt, window }) => ok(windowWorked(line, rtt, window)),
  }),
  {
    name: 'rate-verdict',
    says: 'Measured rates against the contract: at least three wired runs',
    inputs: [
      { name: 'runs', says: 'wired runs, separated by commas', unit: 'Mb/s', example: '281,279,262' },
      { name: 'contract', says: 'rate that was sold', unit: 'Mb/s', example: '300' },
      { name: 'direction', says: 'down or up', unit: '', example: 'down', optional: true },
    ],
    run: (given) => {
      const contract = input(given, 'contract', numberBetween(0.01, 1_000_000));
      if (!contract.ok) return contract;
      const direction = given.direction === 'up' ? 'up' : 'down';
      const runs: RateRun[] = [];
      for (const text of (given.runs ?? '').split(/[\s,]+/).filter((each) => each !== '')) {
        const mbps = numberBetween(0, 1_000_000)(text);
        if (!mbps.ok) return bad(mbps.problem.code, mbps.problem.says, 'runs');
        runs.push({ direction, mbps: mbps.value, wired: true, hour: 12 });
      }
      const verdict = rateVerdict(runs, direction, contract.value);
      return verdict.ok ? verdict : bad(verdict.problem.code, verdict.problem.says, 'runs');
    },
  },
];
