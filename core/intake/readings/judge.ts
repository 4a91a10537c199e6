import { figure } from '../../base/worked/worked.ts';
import { pingRange } from '../../behaviour/failover/rehearse.ts';
import { fibreBudget } from '../../behaviour/media/fibre.ts';
import { judgeOptical } from '../../behaviour/media/optical.ts';
import { cablePower, cableSnr, dslMargin } from '../../behaviour/media/copper.ts';
import { formatAddress, parseAddress, sameAddress, type Address } from '../../base/net/address.ts';
import { classify, reachableFromOutside } from '../../base/net/classify.ts';
import { valueOf } from '../../base/result.ts';
import type { Line, Site } from '../../site/model.ts';
import { rateVerdict } from '../../base/worked/line.ts';
import { pingHeaderBytes, pingWorked } from '../../base/worked/packets.ts';
import type { ReadingField, Values } from '../../behaviour/domain-types/reading.ts';
import type { RunStep } from '../../behaviour/domain-types/step.ts';
import { verdict, type Verdict } from '../../behaviour/domain-types/verdict.ts';
import { judgeValue, readValue } from './fields.ts';

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
      says: `${here} is ${kind}: no line keeps such an address. The line is not up, whatever the page says.`,
    };
  if (wan.value === outside.value)
    return {
      standing: 'direct',
      says: `${here} on the port is what the outside sees: this router is the main one, and forwards can work.`,
    };
  return {
    standing: 'between',
    says: `The port has ${here}, the outside sees ${there}, and neither is private: another line answered, a proxy or tunnel is in between, or the address changed in between. Read both again, one after the other.`,
  };
}

/** One typed figure and what it says. */
export interface FieldVerdict {
  readonly key: string;
  readonly verdict: Verdict;
}

/** The values of a step as they can be read; undefined where one is empty or cannot. */
class Typed {
  private readonly fields: readonly ReadingField[];
  private readonly values: Values;
  constructor(fields: readonly ReadingField[], values: Values) {
    this.fields = fields;
    this.values = values;
  }
  private read(key: string): string | number | undefined {
    const field = this.fields.find((each) => each.key === key);
    return field && valueOf(readValue(field, this.values[key] ?? ''));
  }
  number(key: string): number | undefined {
    const value = this.read(key);
    return typeof value === 'number' ? value : undefined;
  }
  address(key: string): Address | undefined {
    const value = this.read(key);
    return typeof value === 'string' ? valueOf(parseAddress(value)) : undefined;
  }
  text(key: string): string | undefined {
    const value = this.read(key);
    return typeof value === 'string' ? value : undefined;
  }
}

type Judge = (line: Line, typed: Typed, site: Site) => FieldVerdict[];
const says = (key: string, kind: Verdict['kind'], text: string): FieldVerdict[] => [
  { key, verdict: verdict(kind, text) },
];

const judgeAddress: Judge = (line, typed) => {
  const host = typed.address('address');
  if (!host) return [];
  const { class: kind } = classify(host);
  if (kind === 'link-local' || kind === 'unspecified')
    return says(
      'address',
      'bad',
      `${formatAddress(host)} means that nobody gave an address: the line is not up.`,
    );
  const gateway = typed.address('gateway');
  if (gateway && sameAddress(gateway, host))
    return says(
      'gateway',
      'bad',
      'A gateway is another host than the port: one of the two was read wrongly.',
    );
  if (line.addressKnown && !sameAddress(host, line.address))
    return says(
      'address',
      'doubt',
      `The plan expects ${formatAddress(line.address)}. Another one may be right after all: correct the plan, or look for another line.`,
    );
  if (kind === 'private' && !line.box?.routes)
    return says(
      'address',
      'doubt',
      `${formatAddress(host)} is private: a device in front routes, which the plan does not say.`,
    );
  return says('address', 'good', `${formatAddress(host)} is as it should be. An address is one rung only.`);
};

const judgeSize: Judge = (line, typed) => {
  const size = typed.number('passed');
  if (size === undefined) return [];
  const wanted = pingWorked(line.mtuBytes).value;
  if (size === wanted) return says('passed', 'good', `${size} bytes pass, as ${line.mtuBytes} - 28 should.`);
  return size < wanted
    ? says(
        'passed',
        'bad',
        `Only ${size} bytes pass: enter an MTU of ${size + pingHeaderBytes} for ${line.name}, not ${line.mtuBytes}.`,
      )
    : says(
        'passed',
        'doubt',
        `${size} bytes pass where ${wanted} were to be the most: fragmented on the way (was "do not fragment" set?), or the MTU of ${size + pingHeaderBytes} is right.`,
      );
};

const judgeLight: Judge = (line, typed) => {
  const budget = fibreBudget(line.media.fibre);
  const dbm = typed.number('power');
  if (dbm === undefined) return [];
  if (dbm > 10 && dbm < 60) return says('power', 'bad', `Received power is below zero: is it ${-dbm} dBm?`);
  if (dbm < -80 || dbm >= 60)
    return says('power', 'bad', `${dbm} dBm is no received power: a meter shows -80 to 10 dBm.`);
  if (!budget) return [];
  const judged = judgeOptical(budget, dbm);
  return says(
    'power',
    judged.verdict === 'as-expected'
      ? 'good'
      : judged.verdict === 'weak' || judged.verdict === 'strong'
        ? 'doubt'
        : 'bad',
    judged.says,
  );
};

const judgeSync: Judge = (_line, typed) => {
  const margin = typed.number('margin');
  if (margin === undefined) return [];
  const judged = dslMargin(margin);
  return says(
    'margin',
    judged.verdict === 'good' ? 'good' : judged.verdict === 'poor' ? 'doubt' : 'bad',
    judged.worked.means ?? '',
  );
};

const judgeChannels: Judge = (_line, typed) =>
  (
    [
      ['power', cablePower],
      ['snr', cableSnr],
    ] as const
  ).flatMap(([key, judge]) => {
    const value = typed.number(key);
    if (value === undefined) return [];
    const judged = judge(value);
    return says(
      key,
      judged.verdict === 'good' ? 'good' : judged.verdict === 'poor' ? 'doubt' : 'bad',
      judged.worked.means ?? '',
    );
  });

/** A level after alignment that is lower than before made it worse. */
const judgeLevels: Judge = (_line, typed) => {
  const [before, after] = [typed.number('before'), typed.number('after')];
  if (before === undefined || after === undefined) return [];
  return after < before
    ? says('after', 'bad', `${after} dBm is weaker than ${before} dBm: go back to the marks.`)
    : says('after', 'good', `${figure(after - before, 1)} dB better than before.`);
};

/** The line whose outside address this is, where it is that of another one. */
function otherLine(site: Site, line: Line, outside: Address | undefined): Line | undefined {
  const own = outside && line.publicAddressKnown && sameAddress(line.publicAddress, outside);
  return outside && !own
    ? site.lines.find(
        (each) => each !== line && each.publicAddressKnown && sameAddress(each.publicAddress, outside),
      )
    : undefined;
}

const overAnother = (key: string, host: Address, other: Line, line: Line): FieldVerdict[] =>
  says(
    key,
    'bad',
    `${formatAddress(host)} is the address of ${other.name}: this was taken over ${other.name}, and says nothing about ${line.name}.`,
  );

const judgeStanding: Judge = (line, typed, site) => {
  const [wan, outside] = [typed.address('port'), typed.address('outside')];
  const other = otherLine(site, line, outside);
  if (other) return overAnother('outside', outside!, other, line);
  if (!wan || !outside) return [];
  const { standing, says: text } = standingOf(wan, outside);
  const planned =
    (standing === 'second-nat' && line.translators.includes('box')) ||
    (standing === 'carrier-nat' && line.translators.includes('carrier'));
  return says(
    'outside',
    standing === 'direct' || planned ? 'good' : standing === 'between' ? 'bad' : 'doubt',
    planned ? `${text} The plan says so too.` : text,
  );
};

const judgePage: Judge = (line, typed, site) => {
  const outside = typed.address('outside');
  const other = otherLine(site, line, outside);
  return other ? overAnother('outside', outside!, other, line) : [];
};

/** Three wired runs in each direction, beside the contract. */
const judgeRate: Judge = (line, typed) =>
  (['down', 'up'] as const).flatMap((direction): FieldVerdict[] => {
    const contract = direction === 'down' ? line.rateDownMbps : line.rateUpMbps;
    const runs = [1, 2, 3].flatMap((run) => {
      const mbps = typed.number(`${direction}${run}`);
      return mbps === undefined ? [] : [{ direction, mbps, wired: true, hour: null }];
    });
    if (contract === null || runs.length === 0) return [];
    const key = `${direction}${runs.length}`;
    const judged = rateVerdict(runs, direction, contract, line.mtuBytes, line.wrappingBytes);
    if (!judged.ok) return says(key, 'doubt', judged.problem.says);
    const { standing, value: share } = judged.value;
    return says(
      key,
      standing === 'as-sold' ? 'good' : standing === 'far-less' ? 'bad' : 'doubt',
      `${figure(share, 0)} % of what a test can show. ${judged.value.means ?? ''}`,
    );
  });

/** A gap that was timed, beside what may be expected of a pulled or a useless line. */
const judgeGap =
  (how: 'pull' | 'beyond'): Judge =>
  (line, typed, site) => {
    const outside = typed.address('outside');
    if (outside && line.publicAddressKnown && sameAddress(outside, line.publicAddress))
      return says(
        'outside',
        'bad',
        `${formatAddress(outside)} is the address of ${line.name} itself: traffic never left it.`,
      );
    const gap = typed.number('gap');
    const backup = site.lines.find((each) => each !== line);
    const range = backup && pingRange(site, line, backup, how);
    if (gap === undefined || !range) return [];
    const expected = `${range.fromSeconds} to ${range.toSeconds} s were to be expected`;
    if (gap > range.toSeconds)
      return says(
        'gap',
        'bad',
        `${gap} s, where ${expected}: the router watches in another way than the plan says, or the backup was dialled only then. Compare its settings with the run sheet.`,
      );
    if (gap < range.fromSeconds)
      return says(
        'gap',
        'doubt',
        `${gap} s, where ${expected}: sooner than probes can tell. The link was lost after all, or the ping never used ${line.name}.`,
      );
    return says('gap', 'good', `${gap} s, and ${expected}.`);
  };

const judgeBack: Judge = (line, typed, site) => {
  const outside = typed.address('outside');
  const other = otherLine(site, line, outside);
  return other
    ? says(
        'outside',
        'bad',
        `${formatAddress(outside!)} is the address of ${other.name}: traffic is not back yet.`,
      )
    : [];
};

/** Steps of a line whose readings say something together, by the first part of their id. */
const judges: Readonly<Record<string, Judge>> = {
  uplink: judgeAddress,
  size: judgeSize,
  light: judgeLight,
  sync: judgeSync,
  modem: judgeChannels,
  align: judgeLevels,
  standing: judgeStanding,
  page: judgePage,
  rate: judgeRate,
  pull: judgeGap('pull'),
  'second-network': judgeGap('pull'),
  'brown-out': judgeGap('beyond'),
  'plug-in': judgeBack,
};

/** The file that is loaded is the one that its maker published: compared as a whole, one digit wrong is another file. */
function judgeFirmware(typed: Typed, site: Site): FieldVerdict[] {
  const [published, computed] = [typed.text('published'), typed.text('computed')];
  if (published && computed && published !== computed) {
    const place = [...published].findIndex((digit, index) => digit !== computed[index]) + 1;
    return says(
      'computed',
      'bad',
      `The two differ from digit ${place} on: this is not the file that was published. Delete it, do not load it.`,
    );
  }
  const wanted = site.router.kit?.firmware.trim() ?? '';
  const version = typed.text('version');
  if (version !== undefined && wanted !== '' && version !== wanted)
    return says('version', 'doubt', `The plan wants ${wanted}. Take over what is loaded, or load the other.`);
  return published && computed ? says('computed', 'good', 'All 64 digits are the same.') : [];
}

/** Whether the laptop hangs on the new router, or on another one. */
function judgeLaptop(typed: Typed, site: Site): FieldVerdict[] {
  const [own, gateway] = [typed.address('address'), typed.address('gateway')];
  if (own && classify(own).class === 'link-local')
    return says(
      'address',
      'bad',
      `${formatAddress(own)} means that nobody gave an address: wait for the end of the start, try another LAN port, then the fixed address.`,
    );
  const { factory } = site.router;
  if (!gateway || !factory) return [];
  return sameAddress(gateway, factory.host)
    ? says('gateway', 'good', `${formatAddress(gateway)} is the address on the label.`)
    : says(
        'gateway',
        'bad',
        `Another router answers: the label says ${formatAddress(factory.host)}, and the laptop got ${formatAddress(gateway)}. Unplug everything but the laptop, or look at the label again.`,
      );
}

/** Steps that are about no line, by the first part of their id. */
const others: Readonly<Record<string, (typed: Typed, site: Site) => FieldVerdict[]>> = {
  firmware: judgeFirmware,
  laptop: judgeLaptop,
};

/** What the typed values of a step mean, as soon as they mean something; the worst of a field is what it says. */
export function judgeValues(
  site: Site,
  step: Pick<RunStep, 'id' | 'fields'>,
  values: Values,
): FieldVerdict[] {
  const alone = step.fields.flatMap((field): FieldVerdict[] => {
    const judged = judgeValue(field, values[field.key] ?? '');
    return judged ? [{ key: field.key, verdict: judged }] : [];
  });
  const typed = new Typed(step.fields, values);
  const [kind = '', id] = step.id.split(':');
  const line = site.lines.find((each) => each.id === id);
  const together = Object.hasOwn(others, kind)
    ? others[kind]!(typed, site)
    : line && Object.hasOwn(judges, kind)
      ? judges[kind]!(line, typed, site)
      : [];
  return [...alone, ...together.filter(({ key }) => !alone.some((each) => each.key === key))];
}
