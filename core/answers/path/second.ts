import { formatAddress, sameAddress } from '../../base/net/address.ts';
import { formatPorts, hasPort, protocolsMeet } from '../../base/net/ports.ts';
import { contains, formatPrefix } from '../../base/net/prefix.ts';
import { serviceText, type Header } from '../../base/net/packet.ts';
import type { Line } from '../../site/model.ts';
import type { ChainedRouter } from '../../site/second.ts';
import type { Trace } from './packet.ts';
import { atNoHost, back, end, hop, stopped, type Run } from './run.ts';

/**
 * Arrived at the WAN side of a second router: it hands on what a forward of its own names, and nothing else (RFC 3022
 * section 4.2).
 */
export function throughSecond(
  run: Run,
  second: ChainedRouter,
  header: Header,
  hairpin: Line | undefined,
): Trace {
  const { name, network, inside } = second;
  const entry =
    header.protocol === 'icmp'
      ? undefined
      : second.forwards.find(
          (each) =>
            hasPort(each.outside, header.destinationPort) && protocolsMeet(each.protocol, header.protocol),
        );
  const reachable = entry !== undefined && contains(inside.prefix, entry.address);
  const handed: Header =
    entry && reachable
      ? {
          ...header,
          destination: entry.address,
          // More ports outside than inside: the rest all go to the last one.
          destinationPort: Math.min(
            entry.inside.first + (header.destinationPort - entry.outside.first),
            entry.inside.last,
          ),
        }
      : header;
  hop(
    run,
    'box',
    name,
    'destination NAT',
    header,
    handed,
    () =>
      `${serviceText(header)} in the ${second.forwards.length} forward${second.forwards.length === 1 ? '' : 's'} of ${name}`,
    () =>
      !entry
        ? `${name} routes, and hands nothing on for ${serviceText(header)}: it needs a forward of its own to the device`
        : reachable
          ? `${formatPorts(entry.outside)} is handed on to ${formatAddress(entry.address)}`
          : `its forward leads to ${formatAddress(entry.address)}, which is not in its own subnet ${formatPrefix(inside.prefix)}`,
    entry?.at ?? `${second.at}/forwards`,
    !reachable,
  );
  if (!reachable) return stopped(run, 'refused');
  const stop = atNoHost(run, handed);
  if (stop) return stop;
  run.memories.push({ kind: 'box', node: name, before: header, after: handed });
  const device = `${entry.name} behind ${name}`;
  hop(
    run,
    'host',
    device,
    'arrival',
    handed,
    handed,
    () => `${serviceText(handed)} in ${formatPrefix(inside.prefix)}`,
    () => `${formatAddress(handed.destination)} receives it`,
    entry.at,
  );
  return end(
    run,
    hairpin ? 'hairpin' : 'delivered',
    () => `Delivered to ${formatAddress(handed.destination)} behind ${name}, through two translations.`,
    handed,
    back(run, handed, device),
    { kind: 'network', network },
  );
}

/**
 * Arrived by a static route for an address behind a second router: one that translates lets nothing in that began
 * outside; one that only routes hands it on.
 */
export function pastSecond(run: Run, second: ChainedRouter, header: Header): Trace {
  const { name, network, inside, translates } = second;
  hop(
    run,
    'box',
    name,
    'route',
    header,
    header,
    () => `${formatAddress(header.destination)} in ${formatPrefix(inside.prefix)}`,
    () =>
      translates
        ? 'it translates, and lets nothing in that no device behind it asked for: a forward of its own is needed'
        : 'it routes without translation, and hands it on',
    `${second.at}/translates`,
    translates,
  );
  if (translates) return stopped(run, 'refused');
  const stop = atNoHost(run, header);
  if (stop) return stop;
  const itself = sameAddress(header.destination, inside.host);
  return end(
    run,
    'delivered',
    () =>
      itself
        ? `${name} itself answers.`
        : `Delivered to ${formatAddress(header.destination)} behind ${name}.`,
    header,
    back(run, header, itself ? name : formatAddress(header.destination)),
    { kind: 'network', network },
  );
}

/**
 * From behind a second router: to a neighbour there, or out with the second router's own address. The header as the
 * first router's network sees it.
 */
export function behindSecond(run: Run, second: ChainedRouter, name: string): Header | Trace {
  const { header } = run.flow;
  const { inside, address } = second;
  if (contains(inside.prefix, header.destination)) {
    const itself = sameAddress(header.destination, inside.host);
    hop(
      run,
      'host',
      name,
      'own network',
      header,
      header,
      () => `${formatAddress(header.destination)} is in ${formatPrefix(inside.prefix)}`,
      () => (itself ? `that is ${second.name} itself` : 'sent straight to the neighbour: no router sees it'),
      `${second.at}/inside`,
    );
    const stop = atNoHost(run, header);
    if (stop) return stop;
    return end(
      run,
      'delivered',
      () => (itself ? `${second.name} itself answers.` : 'Delivered behind the second router.'),
      header,
      back(run, header, itself ? second.name : formatAddress(header.destination)),
      { kind: 'network', network: second.network },
    );
  }
  hop(
    run,
    'host',
    name,
    'gateway',
    header,
    header,
    () => `${formatAddress(header.destination)} is not in ${formatPrefix(inside.prefix)}`,
    () => `handed to ${second.name} at ${formatAddress(inside.host)}`,
    `${second.at}/inside`,
  );
  if (!second.translates) return header;
  const sent = { ...header, source: address };
  hop(
    run,
    'box',
    second.name,
    'source NAT',
    header,
    sent,
    () => `the way out of ${second.name}`,
    () =>
      `it leaves with the address ${formatAddress(address)} that ${second.name} has on ${second.network.name}`,
    `${second.at}/address`,
  );
  run.memories.push({ kind: 'box', node: second.name, before: header, after: sent });
  return sent;
}
