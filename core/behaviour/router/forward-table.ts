import { hasPort, protocolsMeet, type Protocol } from '../../base/net/ports.ts';
import type { Forward } from '../../site/model.ts';

export interface ForwardTable {
  readonly rules: readonly Forward[];
  readonly size: number;
  /** The first rule, in the order of the plan, that takes this port. */
  readonly find: (protocol: Protocol, port: number) => Forward | undefined;
}

/** The complete forwards of one line, found by port without going through all of them. */
export function forwardTable(rules: readonly Forward[]): ForwardTable {
  const single = new Map<number, number[]>();
  const ranges: number[] = [];
  for (const [index, { outside }] of rules.entries()) {
    if (outside!.first !== outside!.last) ranges.push(index);
    else single.set(outside!.first, [...(single.get(outside!.first) ?? []), index]);
  }
  const find = (protocol: Protocol, port: number): Forward | undefined => {
    const fits = (index: number): boolean => protocolsMeet(rules[index]!.protocol, protocol);
    const one = single.get(port)?.find(fits);
    const wide = ranges.find((index) => hasPort(rules[index]!.outside!, port) && fits(index));
    return rules[Math.min(one ?? rules.length, wide ?? rules.length)];
  };
  return { rules, size: rules.length, find };
}
