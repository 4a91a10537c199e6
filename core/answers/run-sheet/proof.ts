import { onPage, allOf, fromOutside } from '../../behaviour/domain-types/nature.ts';
import { mustNotReach } from '../path/must-not.ts';
import { apartPromiseId, forwardPromiseId, internetPromiseId } from '../../behaviour/domain-types/promise.ts';
import { formatPorts } from '../../base/net/ports.ts';
import { formatPrefix } from '../../base/net/prefix.ts';
import type { Site } from '../../site/model.ts';
import { entry, type StepDraft } from '../../behaviour/domain-types/step.ts';
import { choiceReading, textReading } from '../../behaviour/domain-types/reading.ts';
import { fromReading } from './from-reading.ts';

/** Proof that it works: saved, from every network, and from outside. */
export function proofSteps(site: Site): StepDraft[] {
  const forwards = site.forwards.map((forward) => `forward:${forward.id}`);
  const uplinks = site.lines.map((line) => `uplink:${line.id}`);
  const reaches = site.networks.map((network): StepDraft => ({
    id: `internet:${network.id}`,
    nature: (all) => ({ place: `network:${network.id}`, uses: allOf(all) }),
    phase: 'proof',
    title: `Open a page from a device on ${network.name}`,
    needs: ['save', ...uplinks],
    why: 'A light, an address or a ping of a number can all be right while names or replies fail.',
    lowSeconds: 60,
    highSeconds: 180,
    proof:
      'On a device of that network: a number is pinged, a name is pinged, and a page that was never opened before opens.',
    ifNot: `An address answers, a name does not: the DNS server. A name answers, a page does not open: the MTU, or a filter. Nothing: ask Netter "from ${network.name} to internet" and compare hop by hop.`,
    fields: [fromReading(network), textReading('page', 'Page, and what it showed')],
    evidence: [{ promise: internetPromiseId(network), rung: 'page' }],
  }));
  const outsides = site.forwards.map((forward): StepDraft => ({
    id: `outside:${forward.id}`,
    nature: fromOutside,
    phase: 'proof',
    title: `Test ${forward.name} from an external network`,
    needs: ['save', `forward:${forward.id}`, `box-forward:${forward.id}`],
    entries: forward.outside
      ? [
          entry(
            'Try',
            `${forward.line?.publicAddressKnown ? '' : 'outside address, '}port ${formatPorts(forward.outside)} on ${forward.line?.name ?? 'the uplink'}`,
            ['Open port check'],
            `${forward.at}/outsidePorts`,
          ),
        ]
      : [],
    why: 'From inside, the packet turns round in the router and proves nothing about connections from outside.',
    lowSeconds: 60,
    highSeconds: 300,
    proof:
      forward.allowed.kind === 'some'
        ? `From ${forward.allowed.prefixes.map(formatPrefix).join(' or ')} it answers; from any other network it does not.`
        : 'It answers from a phone with wireless off, or from the office.',
    ifNot:
      'Compare the outside address with the one on the status page first. If they differ, there is another device in front.',
    fields: [textReading('answered', 'What answered')],
    evidence: [{ promise: forwardPromiseId(forward), rung: 'outside-port' }],
  }));
  const refused = site.forwards.flatMap((forward): StepDraft[] =>
    forward.allowed.kind !== 'some'
      ? []
      : [
          {
            id: `outside-refused:${forward.id}`,
            nature: fromOutside,
            phase: 'proof',
            title: `Try ${forward.name} from a source that is not allowed`,
            needs: ['save', `outside:${forward.id}`],
            entries: [
              entry('Allowed', forward.allowed.says, ['Source IP'], `${forward.at}/sources`),
              entry('Try from', 'any other address, such as a phone on mobile data', ['Open port check']),
            ],
            why: 'That it answers those who may says nothing about those who may not.',
            lowSeconds: 30,
            highSeconds: 180,
            proof: 'Nothing answers.',
            ifNot:
              'The list of sources is not in force: look at the rule again, and whether another one is above it.',
            fields: [choiceReading('answer', 'The other end', 'did not answer', 'answered')],
            evidence: [{ promise: forwardPromiseId(forward), rung: 'outside-refused' }],
          },
        ],
  );
  const apart = site.networks.flatMap((network): StepDraft[] => {
    const pairs = mustNotReach(site, network);
    return pairs.length === 0
      ? []
      : [
          {
            id: `apart:${network.id}`,
            nature: { place: `network:${network.id}`, uses: ['router'] },
            phase: 'proof',
            title: `Test blocked access from ${network.name}`,
            needs: ['save'],
            entries: pairs.map(({ to, text }) => entry(`On ${to.name}`, text, ['Port check'], to.at)),
            why: 'A rule that is listed may stand below one that allows more.',
            lowSeconds: 60,
            highSeconds: 180,
            proof: 'From a device on that network none of them answers, while a page on the internet opens.',
            ifNot:
              'The rule is below one that allows more, or the networks are on one wire: compare the VLAN of the port.',
            fields: [
              fromReading(network),
              ...pairs.map(({ to, text }, index) =>
                choiceReading(`pair${index + 1}`, `${text} on ${to.name}`, 'did not answer', 'answered'),
              ),
            ],
            evidence: [{ promise: apartPromiseId(network), rung: 'apart' }],
          },
        ];
  });
  return [
    {
      id: 'save',
      nature: onPage,
      phase: 'proof',
      title: 'Save permanently',
      needs: [
        'reach',
        ...site.networks.flatMap((network) => [`pool:${network.id}`, `reservations:${network.id}`]),
        ...uplinks,
        ...site.lines.flatMap(({ id }) => [`standing:${id}`, `page:${id}`, `size:${id}`, `rate:${id}`]),
        'lines',
        'habits',
        'shares',
        'clock',
        ...(site.lines.length > 1 ? ['failover-rules'] : []),
        'vpn-grants',
        'router-moves',
        ...site.wiring.boxes.map(({ id }) => `switch:${id}`),
        ...site.wifi.networks.flatMap(({ id }) => [`wifi:${id}`, `terms:${id}`]),
        ...site.wifi.radios.map(({ id }) => `radio:${id}`),
        ...site.second.flatMap(({ id }) => [`second-cable:${id}`, `second-join:${id}`]),
        ...forwards,
        ...site.forwards.map((forward) => `box-forward:${forward.id}`),
      ],
      entries: [
        entry('Press', 'save and apply', ['Apply', 'Commit', 'Write to start-up', 'Save configuration']),
      ],
      why: 'Some routers keep what was entered only until the next restart.',
      lowSeconds: 10,
      highSeconds: 60,
      proof: 'No page shows unsaved changes.',
      ifNot: 'Look for a second button in the top bar.',
    },
    ...reaches,
    ...apart,
    ...outsides,
    ...refused,
  ];
}
