import { formatAddress, sameAddress } from '../../base/net/address.ts';
import { classify, reachableFromOutside } from '../../base/net/classify.ts';
import type { Header } from '../../base/net/packet.ts';
import { contains, formatPrefix } from '../../base/net/prefix.ts';
import type { Line, Network } from '../../site/model.ts';
import { capitalized } from '../../base/text.ts';
import type { Reached, Trace } from './packet.ts';
import { atNoHost, back, end, hop, stopped, type Run } from './run.ts';

/**
 * From the router's WAN port to the rest of the world.
 * @param inward back into this site over another of its lines, where the destination is the outside address of that one
 */
export function overLine(
  run: Run,
  line: Line,
  header: Header,
  from: Network | undefined,
  inward: (line: Line, header: Header) => Trace,
): Trace {
  let current = header;
  const { box } = line;
  // The subnet of the line lies between its ends.
  const stop = line.prefix && contains(line.prefix, header.destination) ? atNoHost(run, header) : undefined;
  if (stop) return stop;
  if (box?.routes) {
    if (box.prefix && contains(box.prefix, current.destination)) {
      hop(
        run,
        'host',
        `${box.name}'s inside`,
        'neighbour',
        current,
        current,
        () => `${formatAddress(current.destination)} is in ${formatPrefix(box.prefix!)}`,
        () => `a neighbour between ${box.name} and the router`,
        `${line.at}/handoff/insidePrefix`,
      );
      if (answerIsLost(run, line, current)) return lost(run, current, { kind: 'in-front', line });
      return end(
        run,
        'delivered',
        () =>
          `Delivered between ${box.name} and the router: ${formatAddress(header.destination)} is on its own side.`,
        current,
        back(run, current, formatAddress(current.destination)),
        { kind: 'in-front', line },
      );
    }
    if (line.lineAddressKnown && sameAddress(current.destination, line.lineAddress)) {
      hop(
        run,
        'box',
        box.name,
        'hairpin',
        current,
        current,
        () => `${formatAddress(current.destination)} is the outside address of ${box.name}`,
        () =>
          'the packet would have to turn round in a device whose behaviour is not known: do not rely on it',
        `${line.at}/handoff/outsideAddress`,
        true,
      );
      return stopped(run, 'dropped');
    }
    const outward = { ...current, source: line.lineAddress };
    const before = current;
    hop(
      run,
      'box',
      box.name,
      'source NAT',
      before,
      outward,
      () => `leaving by ${box.name}, the second translation`,
      () =>
        `source becomes ${formatAddress(line.lineAddress)}${line.lineAddressKnown ? '' : ' (a stand-in: not known yet)'}`,
      `${line.at}/handoff/outsideAddress`,
    );
    run.memories.push({ kind: 'box', node: box.name, before, after: outward });
    current = outward;
  } else if (box)
    hop(
      run,
      'box',
      box.name,
      'bridge',
      current,
      current,
      () => 'a bridged device',
      () => 'handed on unchanged',
      `${line.at}/handoff/mode`,
    );

  if (line.translators.includes('carrier')) {
    const outward = { ...current, source: line.publicAddress };
    const before = current;
    hop(
      run,
      'carrier',
      `carrier NAT of ${line.name}`,
      'source NAT',
      before,
      outward,
      () => `${formatAddress(before.source)} is ${line.lineClass}`,
      () => 'source becomes an address that many customers share (a stand-in is shown)',
      line.addressAt,
    );
    run.memories.push({ kind: 'carrier', node: `carrier NAT of ${line.name}`, before, after: outward });
    current = outward;
  }

  const { source, destination } = current;
  const destinationClass = classify(destination).class;
  if (!reachableFromOutside(destinationClass)) {
    hop(
      run,
      'internet',
      'internet',
      'routing',
      current,
      current,
      () => `${formatAddress(destination)} is ${destinationClass}`,
      () => 'the internet carries nothing to it',
      undefined,
      true,
    );
    return stopped(run, 'dropped');
  }
  const sourceClass = classify(source).class;
  if (!reachableFromOutside(sourceClass)) {
    hop(
      run,
      'internet',
      line.name,
      'provider',
      current,
      current,
      () => `source ${formatAddress(source)} is ${sourceClass}`,
      () =>
        `the provider throws it away, and no reply could find ${from?.name ?? 'the sender'}: ${line.name} needs source NAT`,
      `${line.at}/sourceNat`,
      true,
    );
    return stopped(run, 'dropped');
  }
  const other = run.site.lines.find(
    (each) => each !== line && each.publicAddressKnown && sameAddress(each.publicAddress, destination),
  );
  if (other) return inward(other, current);
  const arrived = current;
  hop(
    run,
    'internet',
    formatAddress(destination),
    'arrival',
    arrived,
    arrived,
    () => `seen from ${formatAddress(source)}`,
    () => 'it answers',
  );
  if (answerIsLost(run, line, header)) return lost(run, arrived, { kind: 'internet', line });
  return end(
    run,
    'delivered',
    () => `Delivered over ${line.name}; the other end sees ${formatAddress(arrived.source)}.`,
    arrived,
    back(run, arrived, formatAddress(destination)),
    { kind: 'internet', line },
  );
}

/** The box in front knows its own subnet only: an answer to another source finds no way back to the router. */
function answerIsLost(run: Run, line: Line, { source }: Header): boolean {
  const { box } = line;
  if (!box?.routes || !box.prefix || contains(box.prefix, source)) return false;
  const { header } = run.flow;
  hop(
    run,
    'box',
    box.name,
    'reply',
    header,
    header,
    () => `the way back to ${formatAddress(source)}`,
    () =>
      `it arrives, and its answer is lost: ${box.name} knows ${formatPrefix(box.prefix!)} only. ${line.name} needs source NAT, or ${box.name} a route`,
    `${line.at}/sourceNat`,
    true,
  );
  return true;
}

/** It arrived, and nobody hears of it. */
const lost = (run: Run, arrived: Header, reached: Reached): Trace =>
  end(run, 'dropped', () => `${capitalized(run.hops.at(-1)!.decided())}.`, arrived, undefined, reached);
