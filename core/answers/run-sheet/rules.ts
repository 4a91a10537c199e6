import { onPage } from '../../behaviour/domain-types/nature.ts';
import { formatAddress } from '../../base/net/address.ts';
import { formatPorts } from '../../base/net/ports.ts';
import type { Forward, Site } from '../../site/model.ts';
import { entry, type Entry, type StepDraft, fieldEntry } from '../../behaviour/domain-types/step.ts';
import { choiceReading, numberReading, textReading } from '../../behaviour/domain-types/reading.ts';

const protocolText = (protocol: Forward['protocol']): string =>
  protocol === 'both' ? 'TCP and UDP' : protocol.toUpperCase();

/** Where a device takes one protocol in one entry, a forward of both is entered twice. */
const protocolEntryText = (protocol: Forward['protocol'], bothProtocols: boolean): string =>
  protocol === 'both' && !bothProtocols ? 'TCP, and a second entry like it with UDP' : protocolText(protocol);

function forwardEntries(forward: Forward, bothProtocols: boolean): Entry[] {
  return [
    fieldEntry(`${forward.at}/uplink`, forward.line?.name ?? 'not chosen'),
    fieldEntry(`${forward.at}/protocol`, protocolEntryText(forward.protocol, bothProtocols)),
    ...(forward.outside ? [fieldEntry(`${forward.at}/outsidePorts`, formatPorts(forward.outside))] : []),
    ...(forward.device?.address
      ? [
          entry(
            'Inside address',
            formatAddress(forward.device.address),
            ['Internal IP', 'Server IP', 'Target'],
            `${forward.device.at}/address`,
          ),
        ]
      : []),
    ...(forward.inside ? [fieldEntry(`${forward.at}/insidePorts`, formatPorts(forward.inside))] : []),
    fieldEntry(`${forward.at}/sources`, forward.allowed.says),
  ];
}

/** What may pass: between networks, and from outside through forwards, here and on the device in front. */
export function ruleSteps(site: Site): StepDraft[] {
  const steps: StepDraft[] = [];
  const pools = site.networks.map((network) => `pool:${network.id}`);
  if (site.networks.length > 1)
    steps.push({
      id: 'reach',
      nature: onPage,
      phase: 'rules',
      title: 'Separate the inside networks',
      needs: [...pools, ...site.networks.map((network) => `reservations:${network.id}`)],
      entries: [
        entry(
          'Between networks',
          'refuse all',
          ['Inter-VLAN routing off', 'Isolation', 'Block LAN to LAN'],
          '/reach',
        ),
        ...site.reach.map((rule) =>
          entry(
            rule.action === 'allow' ? 'Then allow' : 'Then refuse',
            rule.says,
            ['Firewall rule', 'Access rule'],
            rule.at,
          ),
        ),
      ],
      why: 'A VLAN keeps wires apart; the router still joins them unless it is told not to.',
      lowSeconds: 60,
      highSeconds: 300,
      proof:
        'From a device on one network, a device on another does not answer, except where it is allowed here.',
      ifNot: 'If it answers, the rule is below one that allows more: move it up.',
      fields: [textReading('tried', 'From where to where, and what was tried')],
    });
  steps.push(...habits(site));
  for (const forward of site.forwards) {
    const line = forward.line;
    steps.push({
      id: `forward:${forward.id}`,
      nature: onPage,
      phase: 'rules',
      title: `Open ${forward.name}`,
      needs: [
        'reach',
        ...(line ? [`uplink:${line.id}`] : []),
        ...(forward.device?.network ? [`reservations:${forward.device.network.id}`] : []),
      ],
      entries: forwardEntries(forward, site.router.facts.bothProtocols),
      why: 'Exactly this and nothing beside it. Everything else inbound stays refused.',
      lowSeconds: 60,
      highSeconds: 180,
      proof: 'The rule is listed and switched on.',
      ifNot: 'Refused because the port is taken: by the router itself, or by another rule.',
    });
    if (line?.box?.routes && forward.outside)
      steps.push({
        id: `box-forward:${forward.id}`,
        nature: onPage,
        phase: 'rules',
        title: `Forward ${forward.name} on ${line.box.name}`,
        needs: [`forward:${forward.id}`],
        entries: [
          entry(
            'Protocol',
            protocolEntryText(forward.protocol, line.handoff.bothProtocols),
            ['Type'],
            `${line.at}/handoff/forwards`,
          ),
          entry(
            'Outside port',
            formatPorts(forward.outside),
            ['External port', 'Service port'],
            `${line.at}/handoff/forwards`,
          ),
          entry(
            'To',
            line.addressKnown ? formatAddress(line.address) : 'the WAN address of the router',
            ['Internal IP', 'Server IP'],
            line.addressAt,
          ),
        ],
        why: 'The device in front translates too: without its own rule nothing arrives.',
        lowSeconds: 60,
        highSeconds: 180,
        proof: 'The rule is listed there and switched on.',
        ifNot: 'No access to that device: the provider must do it, or bridge it.',
      });
  }
  return steps;
}

/** Automatic functions of the router, where that is wrong here or was not looked at yet. */
function habits(site: Site): StepDraft[] {
  const { portControl, sipHelper, hairpin } = site.router.facts;
  const calls = site.networks.some(({ purpose }) => purpose === 'voice');
  const entries = [
    ...(portControl === 'off' ? [] : [fieldEntry('/router/portControl', 'off')]),
    ...(calls && sipHelper !== 'off' ? [fieldEntry('/router/sipHelper', 'off')] : []),
  ];
  const limits = site.networks.flatMap(({ at, name, limitDownMbps, limitUpMbps }) => [
    ...(limitDownMbps === null
      ? []
      : [fieldEntry(`${at}/limitDownMbps`, `${name}: ${limitDownMbps} Mb/s (not MB/s)`)]),
    ...(limitUpMbps === null
      ? []
      : [fieldEntry(`${at}/limitUpMbps`, `${name}: ${limitUpMbps} Mb/s (not MB/s)`)]),
  ]);
  const shaped = site.lines.flatMap(({ at, name, shapeDownMbps, shapeUpMbps }) => [
    ...(shapeDownMbps === null ? [] : [fieldEntry(`${at}/shapeDownMbps`, `${name}: ${shapeDownMbps} Mb/s`)]),
    ...(shapeUpMbps === null ? [] : [fieldEntry(`${at}/shapeUpMbps`, `${name}: ${shapeUpMbps} Mb/s`)]),
  ]);
  const steps: StepDraft[] = [];
  if (entries.length > 0)
    steps.push({
      id: 'habits',
      nature: onPage,
      phase: 'rules',
      title: 'Disable automatic functions',
      needs: ['reach'],
      entries,
      why: 'A port that a device opens automatically is in no plan, and a helper that rewrites calls breaks them.',
      lowSeconds: 30,
      highSeconds: 180,
      proof: 'The switches are off after the page was loaded again.',
      ifNot:
        'No such switch: look under NAT, gaming or telephony, then in the manual; write down that it is not there.',
      fields: [
        textReading('on', 'What was on'),
        ...(hairpin === 'unknown' && site.forwards.length > 0
          ? [
              {
                ...choiceReading('hairpin', 'The outside address, from inside', 'answers', 'does not answer'),
                choices: [
                  { value: 'yes', title: 'answers', good: true },
                  { value: 'no', title: 'does not answer', good: true },
                ],
                at: '/router/hairpin' as const,
              },
            ]
          : []),
      ],
    });
  if (limits.length + shaped.length > 0)
    steps.push({
      id: 'shares',
      nature: onPage,
      phase: 'rules',
      title: 'Share the lines',
      needs: ['reach', ...site.lines.map(({ id }) => `uplink:${id}`)],
      entries: [...shaped, ...limits],
      why: 'One download takes a whole line, and calls wait behind it. Look at the unit: eight megabits are one megabyte.',
      lowSeconds: 60,
      highSeconds: 300,
      proof:
        'A download on a limited network stays at its limit, while a ping from the office stays as quick as on a quiet line.',
      ifNot:
        'No effect: an acceleration of the router may go round its rules; look for it and switch it off.',
      fields: [
        numberReading('rate', 'Rate on the limited network', 'Mb/s'),
        numberReading('ping', 'Ping from another network during it', 'ms'),
      ],
    });
  return steps;
}
