import { formatAddress } from '../../base/net/address.ts';
import { contains } from '../../base/net/prefix.ts';
import { formatPorts, portCount } from '../../base/net/ports.ts';
import { replacing, type Check, type Finding } from '../../behaviour/domain-types/finding.ts';
import type { Forward, Site } from '../../site/model.ts';
import { practice, step, type Worked, worked } from '../../base/worked/worked.ts';
import { freeHost } from '../../site/lookups.ts';

/** A forward needs a line, a device, and an address of that device which is the same tomorrow. */
export const forwardTarget: Check = {
  name: 'forward-target',
  run: (site) => site.forwards.flatMap((forward) => checkForward(site, forward)),
};

const chosen = (what: string, value: string): Worked =>
  worked(what, null, '', [step(what, value)], 'the plan itself');

function checkForward(site: Site, forward: Forward): Finding[] {
  const { device, line } = forward;
  const found: Finding[] = [];
  if (!line)
    found.push({
      rule: 'forward-uplink',
      severity: 'blocker',
      at: `${forward.at}/uplink`,
      says: `Forward "${forward.name}" names no uplink, so nothing outside can use it.`,
      why: chosen('Uplink', 'none chosen'),
      ...(site.lines[0] && {
        fix: replacing(`Use ${site.lines[0].name}`, `${forward.at}/uplink`, site.lines[0].id),
      }),
      source: 'the plan itself',
    });
  if (!device)
    return [
      ...found,
      {
        rule: 'forward-device',
        severity: 'blocker',
        at: `${forward.at}/device`,
        says: `Forward "${forward.name}" points to a device that is not in the list.`,
        why: chosen('Device', !forward.deviceNamed ? 'none chosen' : 'no longer in the register'),
        source: 'the plan itself',
      },
    ];
  if (forward.serviceNamed && !forward.service)
    found.push({
      rule: 'forward-service',
      severity: 'blocker',
      at: `${forward.at}/service`,
      says: `Forward "${forward.name}" names a service that ${device.name} no longer lists, so it has no inside port.`,
      why: chosen('Service', 'no longer listed'),
      source: 'the plan itself',
    });
  if (device.addressing === 'automatic') found.push(unstable(site, forward));

  const { inside, outside } = forward;
  if (inside && outside && portCount(inside) !== portCount(outside))
    found.push({
      rule: 'forward-count',
      severity: 'blocker',
      at: `${forward.at}/outsidePorts`,
      says: `Forward "${forward.name}" maps ${portCount(outside)} outside ports to ${portCount(inside)} inside: some of them lead nowhere.`,
      why: worked(
        'Ports on each side',
        portCount(outside),
        'ports',
        [
          step('outside', formatPorts(outside)),
          step('inside', formatPorts(inside)),
          step('difference', portCount(outside) - portCount(inside)),
        ],
        practice,
      ),
      ...(portCount(inside) === 1 || outside.first + portCount(inside) - 1 <= 65535
        ? {
            fix: replacing(
              `Use ${formatPorts({ first: outside.first, last: outside.first + portCount(inside) - 1 })} outside`,
              `${forward.at}/outsidePorts`,
              formatPorts({ first: outside.first, last: outside.first + portCount(inside) - 1 }),
            ),
          }
        : {}),
      source: practice,
    });
  return found;
}

function unstable(site: Site, forward: Forward): Finding {
  const device = forward.device!;
  const { network } = device;
  const typed = device.typedAddress;
  const inside = network?.prefix;
  const to = network && freeHost(site, network);
  const address = to && inside && contains(inside, to) ? formatAddress(to) : undefined;
  return {
    rule: 'forward-unstable',
    severity: 'blocker',
    at: `${forward.at}/device`,
    also: [`${device.at}/addressing`],
    says: `Forward "${forward.name}" leads to ${device.name}, which has neither a reservation nor a fixed address. It works today and leads to another device after the next lease.`,
    why: worked(
      'Address of the device',
      'automatic',
      '',
      [
        step('addressing', 'automatic'),
        step('address seen', typed ? formatAddress(typed) : 'none noted'),
        step('stays the same', 'no'),
      ],
      'RFC 2131 section 4.3.1',
    ),
    ...(address && {
      fix: {
        says: `Reserve ${address} for ${device.name}`,
        patch: [
          { op: 'replace', path: `${device.at}/addressing`, value: 'reserved' },
          { op: 'replace', path: `${device.at}/address`, value: address },
        ],
      },
    }),
    source: 'RFC 2131 section 4.3.1',
  };
}
