import { bad, type Result } from '../../base/result.ts';
import type { Worked } from '../../base/worked/worked.ts';
import { addressSums } from './addresses.ts';
import { cablingSums } from './cabling.ts';
import { failoverSums } from './failover.ts';
import { lineSums } from './line.ts';
import { mediaSums } from './media.ts';
import { packetSums } from './packets.ts';
import { powerSums } from './power.ts';
import { vpnSums } from './vpn.ts';
import { wifiSums } from './wifi.ts';
import type { Given, Sum } from './sum.ts';

/** The registry of sums. */
export const sums: readonly Sum[] = [
  ...addressSums,
  ...packetSums,
  ...lineSums,
  ...mediaSums,
  ...failoverSums,
  ...vpnSums,
  ...powerSums,
  ...cablingSums,
  ...wifiSums,
];

/** Runs a sum by name; an input it does not have is refused rather than ignored. */
export function runSum(name: string, given: Given): Result<Worked> {
  const sum = sums.find((each) => each.name === name);
  if (!sum)
    return bad(
      'unknown-sum',
      `There is no sum "${name}". Known: ${sums.map((each) => each.name).join(', ')}.`,
      name,
    );
  const stray = Object.keys(given).find((key) => !sum.inputs.some((each) => each.name === key));
  if (stray !== undefined)
    return bad(
      'unknown-input',
      `"${name}" has no input "${stray}"; it has ${sum.inputs.map((each) => each.name).join(', ')}.`,
      stray,
    );
  return sum.run(given);
}
