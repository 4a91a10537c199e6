import { atCupboard, onPage, askedFor, linesOf, overLine } from '../../behaviour/domain-types/nature.ts';
import { asAt } from '../../plan/at.ts';
import { figure } from '../../base/worked/worked.ts';
import { titleAt } from '../../plan/places.ts';
import { internetPromiseId, linePromiseId } from '../../behaviour/domain-types/promise.ts';
import { medium } from '../../behaviour/media/index.ts';
import { formatAddress } from '../../base/net/address.ts';
import { maskText } from '../../base/net/prefix.ts';
import type { FormProblem, Line, Site } from '../../site/model.ts';
import { missingFields } from '../../wan-types/advice.ts';
import { wanType } from '../../wan-types/index.ts';
import { mssWorked, pingHeaderBytes, pingWorked, tcpCeilingWorked } from '../../base/worked/packets.ts';
import { entry, type Entry, type StepDraft, fieldEntry } from '../../behaviour/domain-types/step.ts';
import {
  addressReading,
  numberReading,
  textReading,
  type ReadingField,
} from '../../behaviour/domain-types/reading.ts';

const boxStep = (line: Line): StepDraft[] => {
  const { box } = line;
  if (!box) return [];
  if (!box.routes)
    return [
      {
        id: `box:${line.id}`,
        nature: { place: `box:${line.id}`, uses: [`line:${line.id}`] },
        phase: 'uplink',
        title: `See that ${box.name} is bridged`,
        needs: ['reconnect'],
        entries: [fieldEntry(`${line.at}/handoff/mode`, 'bridge')],
        why: 'If it routes after all, there are two translations, and forwards end in front of the router.',
        lowSeconds: 60,
        highSeconds: 300,
        proof: 'After its restart it gives out no addresses of its own.',
        ifNot:
          'If only the provider can switch it, ask them, and describe it as a router of its own until then.',
      },
    ];
  const reach = line.addressKnown ? formatAddress(line.address) : 'the address the router gets there';
  return [
    {
      id: `box:${line.id}`,
      nature: { place: `box:${line.id}`, uses: [`line:${line.id}`] },
      phase: 'uplink',
      title: `Reserve the address of the router on ${box.name}`,
      needs: ['reconnect'],
      entries: [
        entry("Router's address there", reach, ['Address reservation', 'Static lease'], line.addressAt),
      ],
      why: 'What the device in front forwards must still reach the router tomorrow, so its address is fixed.',
      lowSeconds: 60,
      highSeconds: 180,
      proof: 'The reservation is listed with the MAC address of the WAN port.',
      ifNot: 'No reservation there: give the WAN port a fixed address outside the pool of that device.',
    },
  ];
};

const activation = (line: Line): StepDraft[] =>
  line.activation === 'active'
    ? []
    : [
        {
          id: `activation:${line.id}`,
          nature: askedFor,
          phase: 'prepare',
          title: `See that ${line.name} is activated`,
          needs: [],
          why: 'Before activation "no session" is not a fault of the router, and an hour of searching finds nothing.',
          lowSeconds: 60,
          highSeconds: 900,
          proof: 'The provider says so, or its portal shows it; the order number is entered.',
          ifNot: 'Set up everything else, and bring the line up on another day.',
          fields: [textReading('who', 'Who said so, and when')],
        },
      ];

const tagEntries = (line: Line): Entry[] =>
  line.vlan === null
    ? []
    : [
        fieldEntry(
          `${line.at}/vlan`,
          `${line.vlan}${line.vlanPriority === null ? '' : `, priority ${line.vlanPriority}`}, tagged`,
        ),
      ];

/** A contract can be measured; a line without one cannot fall short. */
const rateStep = (line: Line): StepDraft[] => {
  const { rateDownMbps: down, rateUpMbps: up } = line;
  if (down === null && up === null) return [];
  return [
    {
      id: `rate:${line.id}`,
      nature: overLine(line),
      phase: 'uplink',
      title: `Measure the rate of ${line.name}`,
      needs: [`standing:${line.id}`],
      entries: [
        ...(down === null ? [] : [rateEntry(line, 'down', down, 'rateDownMbps')]),
        ...(up === null ? [] : [rateEntry(line, 'up', up, 'rateUpMbps')]),
      ],
      why: 'One run by air proves the air. Three by cable, and again in the evening, prove the line.',
      lowSeconds: 120,
      highSeconds: 300,
      proof: 'The median of three wired runs is within ten per cent of the most that a test can show.',
      ifNot:
        'Plug the laptop straight into the device in front. The same there: take the figures to the provider.',
      fields: [
        ...(down === null ? [] : [1, 2, 3].map((run) => rateReading('down', run))),
        ...(up === null ? [] : [1, 2, 3].map((run) => rateReading('up', run))),
      ],
      evidence: [{ promise: linePromiseId(line), rung: 'rate' }],
    },
  ];
};

/** Where the delay decides how fast a line feels, it is measured, and goes into the plan. */
const delayField = (line: Line): ReadingField[] =>
  'roundTripMs' in line.media[line.medium]
    ? [
        numberReading('delay', 'Round-trip time, median of ten', 'ms', {
          at: asAt(`${line.at}/media/${line.medium}/roundTripMs`),
        }),
      ]
    : [];

const rateReading = (direction: 'down' | 'up', run: number): ReadingField =>
  numberReading(`${direction}${run}`, `Run ${run} ${direction}, by cable`, 'Mb/s');

const rateEntry = (line: Line, direction: string, mbps: number, key: 'rateDownMbps' | 'rateUpMbps'): Entry =>
  entry(
    `At best ${direction}`,
    `${figure(tcpCeilingWorked(mbps, line).value)} of ${mbps} Mb/s`,
    ['Download', 'Upload', 'Goodput'],
    `${line.at}/${key}`,
  );

/** Each line: the device in front, then the WAN port, then what carries the largest packet. */
export function uplinkSteps(site: Site): StepDraft[] {
  const each = site.lines.flatMap((line): StepDraft[] => {
    const type = wanType(line.type);
    const prefix = line.box?.routes ? line.box.prefix : undefined;
    const others = site.lines.filter((each) => each !== line);
    const before = [
      ...activation(line),
      ...values(line, missingFields(line, site.problems)),
      ...medium(line.medium)
        .steps(line.media[line.medium], line)
        .map((step) => ({ ...step, evidence: [{ promise: linePromiseId(line), rung: 'light' as const }] })),
      ...(type.steps?.(line) ?? []),
    ].map((step) => ({ ...step, needs: [...(step.needs ?? ['reconnect'])] }));
    return [
      ...before,
      ...boxStep(line),
      {
        id: `uplink:${line.id}`,
        nature: {
          ...onPage,
          waitShare: 0.5,
          busy: [`line:${line.id}`],
          uses: ['router', `line:${line.id}`],
          group: `line:${line.id}`,
        },
        phase: 'uplink',
        title: `Plug in ${line.name} and bring it up: ${titleAt('/uplinks/*/type', line.type)}`,
        needs: [
          'reconnect',
          `box:${line.id}`,
          'router-moves',
          ...before.map((each) => each.id),
          ...site.networks.map((network) => `pool:${network.id}`),
        ],
        entries: [
          ...(site.lines.length > 1
            ? [
                entry(
                  'Unplugged during it',
                  `${others.map(({ name }) => name).join(' and ')}, until ${line.name} has been measured`,
                  ['WAN cable'],
                ),
              ]
            : []),
          ...type.entries(line),
          ...tagEntries(line),
          ...(prefix
            ? [
                entry(
                  'Expect a mask of',
                  maskText(prefix.length),
                  ['Subnet mask'],
                  `${line.at}/handoff/insidePrefix`,
                ),
              ]
            : []),
          fieldEntry(`${line.at}/mtuBytes`, String(line.mtuBytes)),
          fieldEntry(`${line.at}/sourceNat`, line.sourceNat ? 'on' : 'off'),
        ],
        why: 'The inside has its own addresses by now, so nothing can be mistaken for the line.',
        cautions: [],
        fields: [
          addressReading('address', 'Address as the status page shows it', { at: line.addressAt }),
          addressReading('gateway', 'Gateway', { optional: true }),
          textReading('rest', 'Mask and DNS servers', { optional: true }),
        ],
        evidence: [
          { promise: linePromiseId(line), rung: 'address' },
          ...site.networks.map((network) => ({
            promise: internetPromiseId(network),
            rung: 'address' as const,
          })),
        ],
        ...type.bringUp(line),
      },
      {
        id: `standing:${line.id}`,
        nature: overLine(line),
        phase: 'uplink',
        title: `Compare the two addresses of ${line.name}`,
        needs: [`uplink:${line.id}`],
        why: 'The address on the status page and the public address show whether another device in front does NAT.',
        lowSeconds: 60,
        highSeconds: 180,
        proof:
          site.lines.length > 1
            ? 'With every other line unplugged, both are the same, or the device in between is in the plan.'
            : 'Both are the same, or the device in between is in the plan.',
        ifNot:
          'Enter the device in between as the hand-off: Netter then says what will not work, and what to do.',
        fields: [
          addressReading('port', 'Address of the WAN port'),
          addressReading('outside', 'Address that the outside sees', {
            ...(line.box?.routes && { at: `${line.at}/handoff/outsideAddress` }),
          }),
        ],
        // The laptop is on the network that the router is managed from: it says nothing about the others.
        evidence: [
          { promise: linePromiseId(line), rung: 'outside-address' },
          ...(site.router.adminNetwork
            ? [
                {
                  promise: internetPromiseId(site.router.adminNetwork),
                  rung: 'outside-address' as const,
                },
              ]
            : []),
        ],
      },
      {
        id: `page:${line.id}`,
        nature: overLine(line),
        phase: 'uplink',
        title: `Open a page over ${line.name} alone`,
        needs: [`standing:${line.id}`],
        why: 'Two addresses can be right while names fail, or while pages begin to load and stop.',
        lowSeconds: 30,
        highSeconds: 120,
        proof:
          site.lines.length > 1
            ? 'With every other line still unplugged, a page that was never opened before opens.'
            : 'A page that was never opened before opens.',
        ifNot:
          'A number answers and a name does not: the DNS servers. A name answers and the page stops: the largest packet.',
        fields: [
          textReading('page', 'Page, and what it showed'),
          ...delayField(line),
          ...(site.lines.length > 1 ? [addressReading('outside', 'Public address during it')] : []),
        ],
        evidence: [{ promise: linePromiseId(line), rung: 'page' }],
      },
      {
        id: `size:${line.id}`,
        nature: overLine(line),
        phase: 'uplink',
        title: `Test the largest packet on ${line.name}`,
        needs: [`uplink:${line.id}`],
        entries: [
          entry(
            'Ping that must pass',
            `${pingWorked(line.mtuBytes).value} bytes, do not fragment`,
            ['-f -l on one kind of desktop, -M do -s on another, -D -s on a third'],
            `${line.at}/mtuBytes`,
          ),
          entry('Ping that must fail', `${pingWorked(line.mtuBytes).value + 1} bytes, do not fragment`, [
            'one byte more',
          ]),
          entry('If both fail, clamp TCP to', `${mssWorked(line.mtuBytes).value} bytes or less`, [
            'MSS clamping',
            'MSS fix',
          ]),
        ],
        why: 'A line that carries less than it says shows as pages that begin to load and stop.',
        lowSeconds: 30,
        highSeconds: 120,
        proof: 'The first is answered, the second is not.',
        ifNot: 'Lower the size until it passes; the largest that passes plus 28 is the MTU to enter.',
        fields: [
          numberReading('passed', 'Largest size that passed', 'bytes', {
            at: `${line.at}/mtuBytes`,
            plus: pingHeaderBytes,
          }),
        ],
        evidence: [{ promise: linePromiseId(line), rung: 'ping-number' }],
      },
      ...rateStep(line),
    ];
  });
  return site.lines.length < 2 ? each : [...each, together(site)];
}

/** Every line has been measured alone: from here on they are watched together. */
const together = (site: Site): StepDraft => ({
  id: 'lines',
  nature: (all) => ({ ...atCupboard, uses: linesOf(all) }),
  phase: 'uplink',
  title: 'Plug every line in',
  needs: site.lines.flatMap(({ id }) => [`standing:${id}`, `page:${id}`, `size:${id}`, `rate:${id}`]),
  entries: site.lines.map((line) => fieldEntry(`${line.at}/label`, line.label.trim() || line.name)),
  why: 'Each was measured while it alone carried the traffic; what follows is about all of them.',
  lowSeconds: 30,
  highSeconds: 120,
  proof: 'The status page shows each of them with its address.',
  ifNot: 'One that was up alone and is not up now: two lines in one subnet, or one MAC address on both.',
});

/** What is still asked of the provider: without it the line does not come up. */
const values = (line: Line, missing: readonly FormProblem[]): StepDraft[] =>
  missing.length === 0
    ? []
    : [
        {
          id: `values:${line.id}`,
          nature: askedFor,
          phase: 'prepare',
          needs: [],
          title: `Get missing data for ${line.name} from the provider`,
          entries: missing.map(({ at }) => fieldEntry(at, 'not known yet')),
          why: 'A value that is missing on site costs a second journey.',
          lowSeconds: 300,
          highSeconds: 1800,
          proof: 'It is entered on the Uplinks sheet, and the finding about it is gone.',
          ifNot: 'Take the call sheet along, and the telephone number under which the provider answers.',
        },
      ];
