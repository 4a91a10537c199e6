import { formatAddress } from '../net/address.ts';
import { formatPorts } from '../net/ports.ts';
import type { Forward, Site } from '../site/model.ts';
import { entry, type Entry, type StepDraft, fieldEntry } from '../terms/step.ts';

const protocolText = (protocol: Forward['protocol']): string =>
  protocol === 'both' ? 'TCP and UDP' : protocol.toUpperCase();

function forwardEntries(forward: Forward): Entry[] {
  return [
    fieldEntry(`${forward.at}/uplink`, forward.line?.name ?? 'not chosen'),
    fieldEntry(`${forward.at}/protocol`, protocolText(forward.protocol)),
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
      reading: 'From where to where, and what was tried',
    });
  for (const forward of site.forwards) {
    const line = forward.line;
    steps.push({
      id: `forward:${forward.id}`,
      phase: 'rules',
      title: `Open ${forward.name}`,
      needs: [
        'reach',
        ...(line ? [`uplink:${line.id}`] : []),
        ...(forward.device?.network ? [`reservations:${forward.device.network.id}`] : []),
      ],
      entries: forwardEntries(forward),
      why: 'Exactly this and nothing beside it. Everything else inbound stays refused.',
      lowSeconds: 60,
      highSeconds: 180,
      proof: 'The rule is listed and switched on.',
      ifNot: 'Refused because the port is taken: by the router itself, or by another rule.',
    });
    if (line?.box?.routes && forward.outside)
      steps.push({
        id: `box-forward:${forward.id}`,
        phase: 'rules',
        title: `Hand ${forward.name} on at ${line.box.name}`,
        needs: [`forward:${forward.id}`],
        entries: [
          entry('Protocol', protocolText(forward.protocol), ['Type'], `${line.at}/handoff/forwards`),
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
