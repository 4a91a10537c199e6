import { addressKey, formatAddress, type Address } from '../core/base/net/address.ts';
import { contains } from '../core/base/net/prefix.ts';
import type { Origin, Trace } from '../core/answers/path/packet.ts';
import type { Plan } from '../core/plan/schema.ts';
import { compile } from '../core/site/compile.ts';
import type { Router } from '../core/behaviour/router/router.ts';
import type { Site } from '../core/site/model.ts';
import { beforeTranslation } from './compare.ts';
import { chainedRouters } from './lab.ts';
import { asked, dice, questionsAbout, routerOf, type Question } from './questions.ts';
import { meaning, read, type Meaning, type Sender } from './reader.mjs';

/** A question that the two readings of a plan answer differently. */
export interface Misread {
  readonly question: string;
  readonly down: readonly string[];
  readonly asked: string;
  readonly read: string;
}

/** A mistake that somebody might make in one of the two places where a plan gets its meaning. */
export interface Mistake {
  readonly site?: (site: Site) => Site;
  readonly router?: (router: Router) => Router;
}

export interface Read {
  readonly questions: number;
  readonly arrived: number;
  readonly differences: readonly Misread[];
}

function senderOf(origin: Origin): Sender {
  switch (origin.kind) {
    case 'inside':
      return { kind: 'network', id: origin.network.id };
    case 'outside':
      return { kind: 'outside', id: origin.line?.id ?? '' };
    case 'in-front':
      return { kind: 'front', id: origin.line.id };
    case 'client':
      return { kind: 'client', id: origin.peer.id };
    case 'site':
      return { kind: 'site', id: origin.far.id };
    case 'behind':
      return { kind: 'behind', id: origin.second.id };
    case 'router':
      return { kind: 'router', id: '' };
  }
}

/** A question about the same rows of another compilation of the plan. */
function inSite(site: Site, sound: Site, question: Question): Question {
  if (site === sound) return question;
  const { origin } = question;
  const same = <Row>(list: readonly Row[], others: readonly Row[], row: Row): Row =>
    others[list.indexOf(row)]!;
  switch (origin.kind) {
    case 'inside':
    case 'behind':
    case 'router':
      return question;
    case 'outside':
    case 'in-front':
      return origin.line
        ? { ...question, origin: { ...origin, line: same(sound.lines, site.lines, origin.line) } }
        : question;
    case 'client':
      return { ...question, origin: { ...origin, peer: same(sound.vpn.peers, site.vpn.peers, origin.peer) } };
    case 'site':
      return { ...question, origin: { ...origin, far: same(sound.vpn.sites, site.vpn.sites, origin.far) } };
  }
}

const text = (
  place: string,
  protocol: string,
  source: string | undefined,
  destination: string,
  port: number,
): string =>
  `${place}${place.startsWith('internet') ? '' : ` from ${source ?? 'an address not known yet'}`} to ${destination}${protocol === 'icmp' ? '' : `:${port}`}`;

/** What the stages say, in words that both readings use. */
function saidBy(site: Site, { reached, arrived, answered }: Trace, { header }: Question): string {
  if (!reached || !arrived || (header.protocol !== 'udp' && !answered)) return 'nothing';
  const second =
    reached.kind === 'network' &&
    chainedRouters(site).find(
      ({ network, inside }) => network === reached.network && contains(inside.prefix, arrived.destination),
    );
  const place = second
    ? `second:${second.id}`
    : reached.kind === 'network'
      ? `network:${reached.network.id}`
      : reached.kind === 'site'
        ? `site:${reached.far.id}`
        : reached.kind === 'router'
          ? 'router'
          : `${reached.kind === 'in-front' ? 'front' : 'internet'}:${reached.line.id}`;
  const sent =
    reached.kind === 'site' ? beforeTranslation(reached.far, arrived.destination) : arrived.destination;
  const standIn = site.lines.some(
    ({ address, addressKnown, lineAddress, lineAddressKnown, publicAddress, publicAddressKnown, box }) =>
      [
        ...(addressKnown || box?.prefix ? [] : [address]),
        ...(lineAddressKnown ? [] : [lineAddress]),
        ...(publicAddressKnown ? [] : [publicAddress]),
      ].some((each) => addressKey(each) === addressKey(arrived.source)),
  );
  return text(
    place,
    header.protocol,
    standIn ? undefined : formatAddress(arrived.source),
    formatAddress(sent),
    arrived.destinationPort,
  );
}

function readBy({ place, source, destination, port, answered }: Meaning, { header }: Question): string {
  if (place === 'nothing' || place === 'unsaid') return place;
  if (header.protocol !== 'udp' && !answered) return 'nothing';
  return text(
    place,
    header.protocol,
    source && formatAddress(source as Address),
    formatAddress(destination as Address),
    port!,
  );
}

/**
 * Asks the stages and the second reading the same random questions, each line down in turn.
 * @param mistake made on purpose, in what the plan compiles to or in the stages
 */
export function compareReadings(plan: Plan, perState: number, seed: number, mistake: Mistake = {}): Read {
  const sound = compile(plan);
  const site = mistake.site?.(sound) ?? sound;
  const roll = dice(seed);
  const facts = read(plan);
  const differences: Misread[] = [];
  let [questions, arrived] = [0, 0];
  for (const state of [[], ...sound.lines.map(({ id }) => [id])]) {
    const down = new Set(state);
    const whole = routerOf(site, down);
    const router = mistake.router?.(whole) ?? whole;
    for (const question of questionsAbout(sound, down, perState, roll, true)) {
      const { header, origin } = question;
      const found = meaning(
        facts,
        senderOf(origin),
        {
          protocol: header.protocol,
          source: header.source,
          destination: header.destination,
          port: header.destinationPort,
        },
        down,
      );
      const other = readBy(found, question);
      if (other === 'unsaid') continue;
      questions += 1;
      const says = saidBy(site, asked(site, inSite(site, sound, question), down, router), question);
      if (says !== 'nothing') arrived += 1;
      if (says !== other)
        differences.push({ question: question.says, down: state, asked: says, read: other });
    }
  }
  return { questions, arrived, differences };
}
