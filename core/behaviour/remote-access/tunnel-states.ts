import { detectionOf, switchOf, watchOf } from '../failover/predict.ts';
import { formatAddress } from '../../base/net/address.ts';
import type { Line, Site } from '../../site/model.ts';
import { practice, step, type Worked, worked } from '../../base/worked/worked.ts';
import type { FarSite } from '../../site/vpn.ts';

/** One end of a tunnel between two sites, as far as a failing line matters to it. */
export interface TunnelEnd {
  readonly name: string;
  /** First and second line; an empty endpoint means that no connection can be opened from outside over it. */
  readonly lines: readonly { readonly name: string; readonly endpoint: string }[];
  /** Until traffic runs over the second line, at worst; undefined where it never does by itself. */
  readonly backSeconds: number | undefined;
  /** Until its DNS name points at the second line everywhere. */
  readonly nameSeconds: number;
}

export interface TunnelState {
  readonly when: string;
  /** By itself, after somebody has entered another endpoint, or not before a line is back. */
  readonly up: 'itself' | 'by-hand' | 'no';
  readonly says: string;
  readonly worked: Worked;
}

/**
 * An answer is missed after 10 s, and 5 s later a new handshake begins (the protocol's paper, section 6, from memory).
 */
const missedSeconds = 15;

/** Endpoint of a site over one of its lines; empty where no connection can be opened from outside over it. */
export function endpointOver(site: Site, line: Line): string {
  // Where nobody knows yet whether the line accepts connections from outside, a DNS name noted for it counts.
  if (line.inbound === 'impossible') return '';
  const named =
    site.vpn.endpoints.find((each) => each.host !== '' && each.line === line) ??
    site.vpn.endpoints.find((each) => each.host !== '' && !each.line);
  return (
    named?.host ||
    site.failover.dynamicName ||
    (line.publicAddressKnown ? formatAddress(line.publicAddress) : '')
  );
}

/** Until the second line of a site carries a tunnel's packets; undefined where it never does by itself. */
function backOf(site: Site): number | undefined {
  const [first, second] = site.lines;
  // Kept sessions hold a tunnel on the dead line: its keep-alives never let the session end.
  if (!first || !second || site.failover.sessions === 'keep') return undefined;
  const found = detectionOf(watchOf(site, first));
  return found && found.worstSeconds + switchOf(second).highSeconds;
}

/** What a failing line of this site means to a tunnel: computed from the plan. */
export const endOf = (site: Site): TunnelEnd => ({
  name: site.about.name || 'this site',
  lines: site.lines.slice(0, 2).map((line) => ({ name: line.name, endpoint: endpointOver(site, line) })),
  backSeconds: backOf(site),
  nameSeconds: site.failover.updateSeconds + site.failover.ttlSeconds,
});

/** The same of the other end: what was written down about it. */
export const endOfFar = (far: FarSite): TunnelEnd => ({
  name: far.name,
  lines: [
    { name: 'the first line', endpoint: far.endpoint.trim() },
    ...(far.failsOver ? [{ name: 'the second line', endpoint: far.backupEndpoint.trim() }] : []),
  ],
  backSeconds: far.failsOver ? (far.backSeconds ?? undefined) : undefined,
  nameSeconds: far.nameSeconds,
});

/** The tunnel on most days, with the first line of either end down, and with both down. */
export const tunnelStates = (
  here: TunnelEnd,
  there: TunnelEnd,
  keepAliveSeconds: number,
): readonly TunnelState[] => [
  whole(here, there),
  oneDown(here, there, keepAliveSeconds),
  oneDown(there, here, keepAliveSeconds),
  bothDown(here, there),
];

const firstOf = (end: TunnelEnd): string => `${end.lines[0]?.name ?? 'the only line'} of ${end.name}`;

function state(
  when: string,
  up: TunnelState['up'],
  says: string,
  steps: readonly (readonly [string, number])[] = [],
): TunnelState {
  const total = steps.reduce((sum, [, seconds]) => sum + seconds, 0);
  return {
    when,
    up,
    says: steps.length > 0 ? `${says} Back within ${total} s.` : says,
    worked: worked(
      `The tunnel, ${when}`,
      up === 'no' ? 'down' : up === 'by-hand' ? 'by hand' : steps.length > 0 ? total : 'up',
      steps.length > 0 ? 's at worst' : '',
      steps.length > 0
        ? [...steps.map(([name, seconds]) => step(name, `+ ${seconds} s`)), step('at worst', `${total} s`)]
        : [step('without help', { itself: 'yes', 'by-hand': 'no, by hand', no: 'no' }[up])],
      steps.length > 0 ? "the protocol's paper, section 6 (from memory); RFC 5880 section 6.8.4" : practice,
    ),
  };
}

function whole(here: TunnelEnd, there: TunnelEnd): TunnelState {
  const when = 'with every line up';
  const [toThere, toHere] = [there.lines[0]?.endpoint ?? '', here.lines[0]?.endpoint ?? ''];
  if (toThere !== '' && toHere !== '')
    return state(when, 'itself', 'Either end can open the tunnel; the first that sends brings it up.');
  if (toThere === '' && toHere === '')
    return state(
      when,
      'no',
      'Neither end can be reached from outside: use a hub with a public address, or get a public address for one of them.',
    );
  const [caller, called] = toThere === '' ? [there, here] : [here, there];
  return state(
    when,
    'itself',
    `${caller.name} opens the tunnel: ${called.name} can be reached from outside, ${caller.name} cannot.`,
  );
}

/** What keeps a site from going on over a second line, or undefined. */
const stuck = (end: TunnelEnd): string | undefined =>
  end.lines.length < 2
    ? `${end.name} has one line: until that is back there is no tunnel. A second line there would change that.`
    : end.backSeconds === undefined
      ? `Nobody moves the tunnel to ${end.lines[1]!.name} of ${end.name}: nothing beyond the provider is watched there, or sessions are kept on the dead line. Set it on its Failover sheet.`
      : undefined;

/** The end that failed over has a new address: it sends first, or its DNS name follows. */
function oneDown(failed: TunnelEnd, other: TunnelEnd, keepAliveSeconds: number): TunnelState {
  const when = `while ${firstOf(failed)} is down`;
  const why = stuck(failed);
  if (why) return state(when, 'no', why);
  const back = [`failover of ${failed.name} to ${failed.lines[1]!.name}`, failed.backSeconds!] as const;
  if ((other.lines[0]?.endpoint ?? '') !== '')
    return state(
      when,
      'itself',
      `${failed.name} sends first, over ${failed.lines[1]!.name}; ${other.name} answers to its new address.`,
      [back, ['its next keep-alive', keepAliveSeconds === 0 ? missedSeconds : keepAliveSeconds]],
    );
  return calledAnew(when, failed, other, back);
}

function bothDown(here: TunnelEnd, there: TunnelEnd): TunnelState {
  const when = 'while both first lines are down';
  const why = stuck(here) ?? stuck(there);
  if (why) return state(when, 'no', why);
  const slower = here.backSeconds! >= there.backSeconds! ? here : there;
  const ends = [here, there];
  const second = (end: TunnelEnd): string => end.lines[1]!.endpoint;
  const called =
    ends.find((end) => second(end) !== '' && second(end) === end.lines[0]!.endpoint) ??
    ends.find((end) => second(end) !== '') ??
    here;
  const caller = called === here ? there : here;
  return calledAnew(when, called, caller, [
    `failover of ${slower.name} to its second line`,
    slower.backSeconds!,
  ]);
}

/** The tunnel has to be opened anew to an end with a new address: by a DNS name that follows it, or at another endpoint. */
function calledAnew(
  when: string,
  moved: TunnelEnd,
  caller: TunnelEnd,
  back: readonly [string, number],
): TunnelState {
  const [before, now] = moved.lines.map(({ endpoint }) => endpoint);
  if (!now)
    return state(
      when,
      'no',
      `${moved.name} cannot be reached from outside over ${moved.lines[1]!.name}, and neither can ${caller.name}. Get a public address for one of the two, or use a hub.`,
    );
  if (now !== before)
    return state(
      when,
      'by-hand',
      before
        ? `Change the endpoint at ${caller.name} from ${before} to ${now} by hand. A DNS name that follows the line would save that.`
        : `Enter the endpoint ${now} at ${caller.name} by hand.`,
    );
  return state(
    when,
    'itself',
    `${caller.name} connects to ${now} again, which then resolves to ${moved.lines[1]!.name}. Its router has to look the name up again: many do so only when the tunnel is switched on.`,
    [back, ['DNS update and caches', moved.nameSeconds], ['missing answer noticed', missedSeconds]],
  );
}
