import { formatAddress, sameAddress, type Address } from '../core/base/net/address.ts';
import { contains, overlaps, roleIn, samePrefix } from '../core/base/net/prefix.ts';
import type { Reached, Trace } from '../core/answers/path/packet.ts';
import { createRouter } from '../core/behaviour/router/router.ts';
import { confusedLines } from '../core/behaviour/router/source-check.ts';
import type { Site } from '../core/site/model.ts';
import type { FarSite } from '../core/site/vpn.ts';
import { translated } from '../core/behaviour/remote-access/translation.ts';
import { canPing, chainedRouters, Lab, networkPlace, places, type Outcome } from './lab.ts';
import { asked, dice, listeningPorts, questionsAbout, routerOf, type Question } from './questions.ts';

/** A question on which the kernel and the stages of the router do not agree. */
export interface Difference {
  readonly question: string;
  readonly down: readonly string[];
  readonly asked: string;
  readonly kernel: string;
}

/** A mistake made on purpose in a file of the router. */
export interface WrongFile {
  readonly file: string;
  readonly change: (text: string) => string;
}

export interface Compared {
  readonly questions: number;
  readonly arrived: number;
  readonly differences: readonly Difference[];
}

const placeOf = (site: Site, reached: Reached, arrived: Address): string => {
  switch (reached.kind) {
    case 'network': {
      const second = chainedRouters(site).findIndex(
        ({ network, inside }) => network === reached.network && contains(inside.prefix, arrived),
      );
      if (second >= 0) return places.second(second);
      return networkPlace(site, reached.network);
    }
    case 'router':
      return places.router;
    case 'site':
      return places.site(site.vpn.sites.indexOf(reached.far));
    case 'internet':
      return places.internet;
    case 'in-front':
      return places.box(site.lines.indexOf(reached.line));
  }
};

/** What is said to arrive, in the words in which the lab says it. */
function expected(site: Site, lab: Lab, trace: Trace, { header }: Question): string {
  const { reached, arrived } = trace;
  if (!reached || !arrived) return 'nothing arrives';
  // TCP and ping show themselves only once they are answered.
  if (header.protocol !== 'udp' && !trace.answered) return 'nothing arrives';
  if (header.protocol === 'icmp') return 'answered';
  const place = placeOf(site, reached, arrived.destination);
  // The internet tells by the source which line it was; a carrier's own address is the lab's.
  const from =
    reached.kind === 'internet'
      ? lab.outsideOf(reached.line, site.lines.indexOf(reached.line))
      : formatAddress(arrived.source);
  // What another site translates on its own router is no matter of this one.
  const sent =
    reached.kind === 'site' ? beforeTranslation(reached.far, arrived.destination) : arrived.destination;
  const answered = header.protocol === 'tcp' ? `, ${trace.answered ? 'answered' : 'no answer'}` : '';
  const to = header.protocol === 'tcp' ? formatAddress(sent) : '';
  return `${place} from ${from} to ${to}:${arrived.destinationPort}${answered}`;
}

export function beforeTranslation(far: FarSite, host: Address): Address {
  const row = far.translations.find(({ of, real }) => of === 'there' && contains(real, host));
  return (row && translated(host, row.real, row.seen)) ?? host;
}

function found({ seen, answered }: Outcome, { header }: Question): string {
  if (header.protocol === 'icmp') return answered ? 'answered' : 'nothing arrives';
  if (!seen) return 'nothing arrives';
  const said = header.protocol === 'tcp' ? `, ${answered ? 'answered' : 'no answer'}` : '';
  return `${seen.place} from ${seen.from} to ${seen.to}:${seen.port}${said}`;
}

/**
 * Sites on which routers differ from one to the next, so that the lab would answer for one of them only: a line whose
 * subnet is one of the networks too, a box whose subnet does not hold the router's address, a network whose router's
 * address is no host of it, two networks with one subnet, a second router with another's address or subnet.
 * Each is a finding that stops, and Ask takes the worst, or what was meant (docs/decisions.md).
 */
export const isConfused = (site: Site): boolean =>
  confusedLines(site, createRouter(site, new Set()).route).size > 0 ||
  site.lines.some(
    ({ box, address, addressKnown }) =>
      box?.routes && box.prefix && addressKnown && !contains(box.prefix, address),
  ) ||
  chainedRouters(site).some(
    ({ address, network, inside }, index, all) =>
      !network.prefix ||
      roleIn(network.prefix, address) !== 'host' ||
      (network.routerAddress && sameAddress(network.routerAddress, address)) ||
      contains(inside.prefix, address) ||
      overlaps(inside.prefix, network.prefix) ||
      all.slice(0, index).some((other) => sameAddress(other.address, address)),
  ) ||
  site.networks.some(
    ({ prefix, routerAddress }, index) =>
      prefix &&
      ((routerAddress && roleIn(prefix, routerAddress) !== 'host') ||
        site.networks.slice(0, index).some((other) => other.prefix && samePrefix(other.prefix, prefix))),
  );

/** What a device in front does with its own outside address, asked from behind it, nobody knows beforehand. */
const isOpen = ({ hops }: Trace): boolean => hops.at(-1)?.stage === 'hairpin' && hops.at(-1)?.kind === 'box';

/** Without sources that only the lab knows. */
const comparable = (text: string, unknown: ReadonlySet<string>): string =>
  [...unknown].reduce((left, host) => left.replace(`from ${host} `, 'from (not known) '), text);

/**
 * Builds a site in network namespaces, asks both, and tells where they differ. Each line is taken down in turn.
 * @param mistake a file of the router, and the change of its text; then the first difference is enough
 */
export async function compareWithKernel(
  site: Site,
  perState: number,
  seed: number,
  mistake?: WrongFile,
): Promise<Compared> {
  const roll = dice(seed);
  const lab = await Lab.build(site, listeningPorts(site), (name, text) => {
    if (name !== mistake?.file) return text;
    const changed = mistake.change(text);
    if (changed === text) throw new Error(`This mistake changes nothing in ${name}.`);
    return changed;
  });
  const differences: Difference[] = [];
  let [questions, arrived, id] = [0, 0, 0];
  const unknown = new Set(
    site.lines.flatMap((line, index) =>
      line.addressKnown ? [] : [formatAddress(line.address), lab.routerAddressOn(line, index)],
    ),
  );
  try {
    const states = [[], ...site.lines.map(({ id: down }) => [down])];
    for (const state of states) {
      const down = new Set(state);
      const router = routerOf(site, down);
      lab.setDown(state);
      const batch = questionsAbout(site, down, perState, roll, canPing());
      questions += batch.length;
      const send = (question: Question, waitMs: number): Promise<Outcome> =>
        lab.send(question.place, {
          id: (id += 1),
          protocol: question.header.protocol,
          from: question.origin.kind === 'router' ? '' : formatAddress(question.header.source),
          to: formatAddress(question.header.destination),
          port: question.header.destinationPort,
          waitMs,
        });
      const outcomes = await Promise.all(batch.map((question) => send(question, 500)));
      for (const [index, question] of batch.entries()) {
        const trace = asked(site, question, down, router);
        if (isOpen(trace)) continue;
        const says = comparable(expected(site, lab, trace, question), unknown);
        if (says !== 'nothing arrives') arrived += 1;
        let kernel = comparable(found(outcomes[index]!, question), unknown);
        // A busy machine is slow: what differs is asked once more, alone.
        for (const waitMs of mistake ? [1000] : [1000, 3000])
          if (kernel !== says) kernel = comparable(found(await send(question, waitMs), question), unknown);
        if (kernel === says) continue;
        differences.push({ question: question.says, down: state, asked: says, kernel });
        if (mistake) return { questions, arrived, differences };
      }
    }
  } finally {
    lab.close();
  }
  return { questions, arrived, differences };
}
