import { bringUp, faultsOf } from '../../behaviour/provider-sim/bench.ts';
import { medium } from '../../behaviour/media/index.ts';
import { formatAddress } from '../../base/net/address.ts';
import type { Trace } from '../path/packet.ts';
import type { Line } from '../../site/model.ts';
import { wanType } from '../../wan-types/index.ts';
import { pingWorked } from '../../base/worked/packets.ts';
import { linePromiseId } from '../../behaviour/domain-types/promise.ts';
import type { SitePromise } from '../../behaviour/domain-types/promise.ts';
import type { LadderRung } from '../../behaviour/domain-types/promise.ts';

/** The ladder of evidence for "this line is up", in the words of its medium and its WAN type. */
export function lineLadder(line: Line): LadderRung[] {
  const { gateway, translators } = line;
  const type = wanType(line.type);
  const beyond = translators.includes('carrier')
    ? 'it differs from the one on the status page, because the provider translates'
    : translators.includes('box')
      ? "it is the outside one of the device in front, not the router's"
      : line.publicAddressKnown
        ? `it is ${formatAddress(line.publicAddress)}`
        : 'it is the one on the status page';
  const rates = [line.rateDownMbps, line.rateUpMbps].map((rate) => rate ?? '?').join(' and ');
  return [
    { rung: 'light', says: medium(line.medium).light },
    { rung: 'address', says: type.bringUp(line).proof },
    {
      rung: 'next-hop',
      says: `${gateway ? formatAddress(gateway) : 'The gateway of the line'} answers a ping.`,
    },
    {
      rung: 'ping-number',
      says: `An address beyond the provider answers ${pingWorked(line.mtuBytes).value} bytes that must not be fragmented.`,
    },
    { rung: 'ping-name', says: 'A name answers: the DNS servers work over this line too.' },
    { rung: 'page', says: `A page opens while ${line.name} is the only line plugged in.` },
    { rung: 'outside-address', says: `The address that the outside sees is read there: ${beyond}.` },
    { rung: 'rate', says: `Three wired runs each way, beside the ${rates} Mb/s of the contract.` },
  ];
}

/**
 * "This line is up": on paper a packet leaves over it while every other line is down, on the bench it comes up
 * against its stand-in, on site the two addresses are compared.
 */
export function linePromise(line: Line, trace: Trace | undefined, question: string): SitePromise {
  const refused =
    line.type === 'unknown'
      ? `The WAN type of ${line.name} is not known yet.`
      : line.activation === 'not-yet'
        ? `${line.name} is not activated yet: "no session" would be no fault of the router.`
        : undefined;
  const exchange = bringUp(line, '', 1);
  return {
    id: linePromiseId(line),
    kind: 'line',
    at: line.at,
    says: `${line.name} is up`,
    needs: ['page', 'outside-address'],
    outside: false,
    ladder: lineLadder(line),
    paper: {
      kept: refused === undefined && trace?.outcome === 'delivered',
      says: refused ?? trace?.says() ?? 'There is no inside network yet from which a packet could leave.',
      question,
    },
    ...(exchange && {
      bench: {
        kept: exchange.up,
        says: `${exchange.says} ${faultsOf(line).length} faults can be rehearsed on the Bench.`,
      },
    }),
  };
}
