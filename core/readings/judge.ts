import { figure } from '../worked/worked.ts';
import { pingRange } from '../failover/rehearse.ts';
import { fibreBudget } from '../media/fibre.ts';
import { judgeOptical } from '../media/optical.ts';
import { dslMargin } from '../media/copper.ts';
import { formatAddress, parseAddress, type Address } from '../net/address.ts';
import { classify, reachableFromOutside } from '../net/classify.ts';
import { valueOf } from '../result.ts';
import type { Line, Site } from '../site/model.ts';
import { gapOf } from './outage.ts';
import { rateVerdict } from '../worked/line.ts';
import { pingWorked } from '../worked/packets.ts';
import { verdict, type Verdict } from '../terms/verdict.ts';

const addressesIn = (text: string): Address[] =>
  [...text.matchAll(/\b\d{1,3}(?:\.\d{1,3}){3}\b/g)].flatMap(([host]) => valueOf(parseAddress(host)) ?? []);
const numberIn = (text: string): number | undefined => {
  const match = /-?\d+(?:[.,]\d+)?/.exec(text);
  return match ? Number(match[0].replace(',', '.')) : undefined;
};

export type Standing = 'direct' | 'second-nat' | 'carrier-nat' | 'between';

/**
 * The main-router test: the address of the WAN port, the one the outside sees, and the special ranges together tell
 * what stands between (RFC 1918, RFC 6598).
 */
export function standingOf(wan: Address, outside: Address): { standing: Standing; says: string } {
  const { class: kind } = classify(wan);
  const [here, there] = [formatAddress(wan), formatAddress(outside)];
  if (kind === 'carrier-shared')
    return {
      standing: 'carrier-nat',
      says: `${here} is carrier-shared and the outside sees ${there}: the provider translates. Everything that begins inside works; forwards, calls from outside and waiting tunnels do not. Ways out: a public address from the provider, IPv6, or let the device call out.`,
    };
  if (kind === 'private')
    return {
      standing: 'second-nat',
      says: `${here} is private and the outside sees ${there}: a device in front translates too. Forwards end there. Ways out: have it bridged, open the ports on it as well, or use this router as an access point behind it.`,
    };
  if (!reachableFromOutside(kind))
    return {
      standing: 'between',
      says: `${here} is ${kind}: no line has such an address for good. The line is not up, whatever the page says.`,
    };
  if (wan.value === outside.value)
    return {
      standing: 'direct',
      says: `${here} on the port is what the outside sees: this router is the main one, and forwards can work.`,
    };
  return {
    standing: 'between',
    says: `The port has ${here}, the outside sees ${there}, and neither is private: another line answered, a proxy or tunnel is in between, or the address changed meanwhile. Read both again, one after the other.`,
  };
}

function judgeAddress(line: Line, text: string): Verdict | undefined {
  const [host] = addressesIn(text);
  if (!host) return undefined;
  const { class: kind } = classify(host);
  if (kind === 'link-local' || kind === 'unspecified')
    return verdict('bad', `${formatAddress(host)} means that nobody gave an address: the line is not up.`);
  if (line.addressKnown && host.value !== line.address.value)
    return verdict(
      'doubt',
      `The plan expects ${formatAddress(line.address)}. Another one may be right after all: correct the plan, or look for another line.`,
    );
  if (kind === 'private' && !line.box?.routes)
    return verdict(
      'doubt',
      `${formatAddress(host)} is private: a device in front routes, which the plan does not say.`,
    );
  return verdict('good', `${formatAddress(host)} is as it should be. An address is one rung only.`);
}

function judgeSize(line: Line, text: string): Verdict | undefined {
  const size = numberIn(text);
  if (size === undefined) return undefined;
  const wanted = pingWorked(line.mtuBytes).value;
  if (size === wanted) return verdict('good', `${size} bytes pass, as ${line.mtuBytes} - 28 should.`);
  return size < wanted
    ? verdict(
        'bad',
        `Only ${size} bytes pass: enter an MTU of ${size + 28} for ${line.name}, not ${line.mtuBytes}.`,
      )
    : verdict(
        'doubt',
        `${size} bytes pass where ${wanted} were to be the most: fragmented on the way (was "do not fragment" set?), or the MTU of ${size + 28} is right.`,
      );
}

function judgeLight(line: Line, text: string): Verdict | undefined {
  const budget = fibreBudget(line.media.fibre);
  const dbm = numberIn(text);
  if (!budget || dbm === undefined) return undefined;
  if (dbm > 0 && dbm < 60) return verdict('doubt', `Received power is below zero: is it ${-dbm} dBm?`);
  const judged = judgeOptical(budget, dbm);
  return verdict(
    judged.verdict === 'as-expected'
      ? 'good'
      : judged.verdict === 'weak' || judged.verdict === 'strong'
        ? 'doubt'
        : 'bad',
    judged.says,
  );
}

function judgeSync(_line: Line, text: string): Verdict | undefined {
  const margin = /margin\D{0,12}(-?\d+(?:[.,]\d+)?)/i.exec(text);
  if (!margin) return undefined;
  const judged = dslMargin(Number(margin[1]!.replace(',', '.')));
  return verdict(
    judged.verdict === 'good' ? 'good' : judged.verdict === 'poor' ? 'doubt' : 'bad',
    judged.worked.means ?? '',
  );
}

function judgeStanding(_line: Line, text: string): Verdict | undefined {
  const [wan, outside] = addressesIn(text);
  if (!wan || !outside) return undefined;
  const { standing, says } = standingOf(wan, outside);
  return verdict(standing === 'direct' ? 'good' : standing === 'between' ? 'bad' : 'doubt', says);
}

/** Three or more wired runs down, beside the contract. */
function judgeRate(line: Line, text: string): Verdict | undefined {
  const runs = [...text.matchAll(/\d+(?:[.,]\d+)?/g)].map(([rate]) => ({
    direction: 'down' as const,
    mbps: Number(rate.replace(',', '.')),
    wired: true,
    hour: null,
  }));
  const contract = line.rateDownMbps;
  if (runs.length === 0 || contract === null) return undefined;
  const judged = rateVerdict(runs, 'down', contract, line.mtuBytes, line.wrappingBytes);
  if (!judged.ok) return verdict('doubt', judged.problem.says);
  const { standing, value: share } = judged.value;
  return verdict(
    standing === 'as-sold' ? 'good' : standing === 'far-less' ? 'bad' : 'doubt',
    `${figure(share, 0)} % of what a test can show. ${judged.value.means ?? ''}`,
  );
}

/** A gap that was timed, beside what may be expected of a pulled or a useless line. */
const judgeGap =
  (how: 'pull' | 'beyond') =>
  (line: Line, text: string, site: Site): Verdict | undefined => {
    const gap = gapOf(text);
    const backup = site.lines.find((each) => each !== line);
    const range = backup && pingRange(site, line, backup, how);
    if (gap === undefined || !range) return undefined;
    const expected = `${range.fromSeconds} to ${range.toSeconds} s were to be expected`;
    if (gap > range.toSeconds)
      return verdict(
        'bad',
        `${gap} s, where ${expected}: the router watches in another way than the plan says, or the backup was dialled only then. Compare its settings with the run sheet.`,
      );
    if (gap < range.fromSeconds)
      return verdict(
        'doubt',
        `${gap} s, where ${expected}: sooner than probes can tell. The link was lost after all, or the ping never used ${line.name}.`,
      );
    return verdict('good', `${gap} s, and ${expected}.`);
  };

/** Steps whose reading can be judged, by the first part of their id. */
const judges: Readonly<Record<string, (line: Line, text: string, site: Site) => Verdict | undefined>> = {
  uplink: judgeAddress,
  size: judgeSize,
  light: judgeLight,
  sync: judgeSync,
  standing: judgeStanding,
  rate: judgeRate,
  pull: judgeGap('pull'),
  'second-network': judgeGap('pull'),
  'brown-out': judgeGap('beyond'),
};

/** What a typed reading of a step means, as soon as it means something. */
export function judgeReading(site: Site, stepId: string, text: string): Verdict | undefined {
  const [kind = '', id] = stepId.split(':');
  const line = site.lines.find((each) => each.id === id);
  return line && text.trim() !== '' ? judges[kind]?.(line, text, site) : undefined;
}
