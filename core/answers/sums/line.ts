import { callQualityWorked, callsWorked, codecs, type Codec } from '../../base/worked/calls.ts';
import { blocksWorked, byteRateWorked } from '../../base/worked/fragments.ts';
import { bad, ok } from '../../base/result.ts';
import {
  availabilityWorked,
  capCostWorked,
  rateVerdict,
  switchedDowntimeWorked,
  transferWorked,
  windowScaleWorked,
  windowWorked,
} from '../../base/worked/line.ts';
import { layers, stackWorked } from '../../base/worked/stack.ts';
import {
  listOf,
  needed,
  numberBetween,
  oneOf,
  optional,
  sum,
  wholeBetween,
  yesOrNo,
  type Sum,
} from './sum.ts';

const rate = needed('rate of the line', 'Mb/s', '44.21', numberBetween(0.01, 1_000_000));
const roundTrip = needed('round-trip time', 'ms', '25', numberBetween(0.01, 60_000));

const codecNames = Object.keys(codecs) as Codec[];

export const lineSums: readonly Sum[] = [
  sum(
    'stack',
    'Largest packet, segments and ping through a stack of wrappings, outermost first',
    {
      layers: needed(
        layers.map(({ name }) => name).join(', '),
        '',
        'vlan,pppoe,wireguard4',
        listOf((name) => ok(name), 12),
      ),
      link: optional('largest packet of the Ethernet below', 'bytes', '1500', wholeBetween(576, 9216)),
      frames: optional(
        'largest frame the gear takes, tags and check sum counted',
        'bytes',
        '1522',
        wholeBetween(594, 9300),
      ),
      rfc4638: optional('both ends of PPPoE agreed on 1500 bytes inside, yes or no', '', 'no', yesOrNo),
    },
    ({ layers: names, link, frames, rfc4638 }) => {
      const found = stackWorked(names, {
        ...(link !== undefined && { linkBytes: link }),
        ...(frames !== undefined && { frameBytes: frames }),
        ...(rfc4638 !== undefined && { largePppoe: rfc4638 }),
      });
      return found.ok ? found : bad(found.problem.code, found.problem.says, 'layers');
    },
  ),
  sum(
    'availability',
    'Minutes out of service in a month',
    { percent: needed('availability', '%', '99.9', numberBetween(0, 100)) },
    ({ percent }) => availabilityWorked(percent),
  ),
  sum(
    'downtime',
    'Minutes out of service in a year with a backup that takes over',
    {
      failures: needed('failures', 'per year', '4', numberBetween(0, 10_000)),
      repair: needed('time to repair', 'h', '6', numberBetween(0, 8760)),
      switch: needed('until the backup carries', 's', '20', numberBetween(0, 86_400)),
    },
    ({ failures, repair, switch: seconds }) => switchedDowntimeWorked(failures, repair, seconds),
  ),
  sum(
    'cap-cost',
    'Cost of an outage on a line with a data allowance',
    {
      hours: needed('length of the outage', 'h', '6', numberBetween(0, 8784)),
      traffic: needed('traffic during it', 'Mb/s', '8', numberBetween(0, 100_000)),
      left: needed('left of the allowance', 'GB', '10', numberBetween(0, 1_000_000)),
      price: needed('price above it', 'per GB', '2', numberBetween(0, 100_000)),
    },
    ({ hours, traffic, left, price }) => capCostWorked(hours, traffic, left, price),
  ),
  sum(
    'window',
    'Most that one TCP connection can carry',
    { rate, rtt: roundTrip, window: needed('window', 'KiB', '64', numberBetween(1, 1_048_576)) },
    ({ rate: line, rtt, window }) => windowWorked(line, rtt, window),
  ),
  sum('window-scale', 'TCP window scale that fills a line', { rate, rtt: roundTrip }, ({ rate: line, rtt }) =>
    windowScaleWorked(line, rtt),
  ),
  sum(
    'transfer',
    'Time that an amount of data takes',
    { data: needed('amount of data', 'GB', '40', numberBetween(0, 1_000_000)), rate },
    ({ data, rate: line }) => transferWorked(data, line),
  ),
  sum(
    'rate-verdict',
    'Measured rates against the contract: at least three wired runs',
    {
      runs: needed(
        'wired runs, separated by commas',
        'Mb/s',
        '281,279,262',
        listOf(numberBetween(0, 1_000_000)),
      ),
      contract: needed('rate that was sold', 'Mb/s', '300', numberBetween(0.01, 1_000_000)),
      direction: optional('down or up', '', 'down', oneOf(['down', 'up'])),
    },
    ({ runs, contract, direction = 'down' }) => {
      const verdict = rateVerdict(
        runs.map((mbps) => ({ direction, mbps, wired: true, hour: null })),
        direction,
        contract,
      );
      if (!verdict.ok) return bad(verdict.problem.code, verdict.problem.says, 'runs');
      const { standing: _standing, ...worked } = verdict.value;
      return worked;
    },
  ),
  sum(
    'calls',
    'Telephone calls that a line carries at once, one way',
    {
      codec: needed('codec', '', 'g711', oneOf(codecNames)),
      packet: needed('voice in a packet', 'ms', '20', numberBetween(5, 120)),
      link: needed('what the link adds to each packet', 'bytes', '18', wholeBetween(0, 200)),
      rate: needed('rate of the line', 'Mb/s', '10', numberBetween(0.01, 400_000)),
    },
    ({ codec, packet, link, rate }) => callsWorked(codec, packet, link, rate),
  ),
  sum(
    'call-quality',
    'What delay and loss leave of a telephone call',
    {
      codec: needed('codec', '', 'g711', oneOf(codecNames)),
      delay: needed('delay, one way, jitter buffer included', 'ms', '80', numberBetween(0, 5000)),
      loss: needed('packet loss', '%', '1', numberBetween(0, 100)),
    },
    ({ codec, delay, loss }) => callQualityWorked(codec, delay, loss),
  ),
  sum(
    'byte-rate',
    'A rate in Mb/s as MB/s and MiB/s',
    { rate: needed('rate', 'Mb/s', '100', numberBetween(0.001, 1_000_000)) },
    ({ rate }) => byteRateWorked(rate),
  ),
  sum(
    'data-blocks',
    'Price of data that is sold in blocks beyond an allowance',
    {
      used: needed('data used', 'GB', '57', numberBetween(0, 1_000_000)),
      included: needed('allowance', 'GB', '50', numberBetween(0, 1_000_000)),
      block: needed('size of a block', 'GB', '5', numberBetween(0.001, 1_000_000)),
      price: needed('price of a block', '', '9.9', numberBetween(0, 1_000_000)),
    },
    ({ used, included, block, price }) => blocksWorked(used, included, block, price),
  ),
];
