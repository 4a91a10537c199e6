import { medium } from '../../behaviour/media/index.ts';
import { atCupboard, withPeople, onPage, linesOf, pulling } from '../../behaviour/domain-types/nature.ts';
import { failoverPromiseId } from '../../behaviour/domain-types/promise.ts';
import { linesForKind, switchOf } from '../../behaviour/failover/predict.ts';
import { pingRange } from '../../behaviour/failover/rehearse.ts';
import { formatAddress } from '../../base/net/address.ts';
import { pingCommands } from '../../intake/readings/outage.ts';
import type { Line, Network, Site } from '../../site/model.ts';
import { addressReading, numberReading, type ReadingField } from '../../behaviour/domain-types/reading.ts';
import {
  entry,
  type Entry,
  type RunStep,
  type StepDraft,
  fieldEntry,
} from '../../behaviour/domain-types/step.ts';
import { fromReading } from './from-reading.ts';

/** What is written on the plug of a line, or its name. */
export const labelOf = (line: Line): string => line.label.trim() || line.name;

/** A line that is pulled, what takes over, and the networks from which the change is timed. */
interface Change {
  readonly line: Line;
  readonly backup: Line;
  readonly networks: readonly Network[];
}

/** Every line that some promise begins on; without promises the first line, seen from where the router is managed. */
function changesOf(site: Site): Change[] {
  const [first, second] = site.lines;
  if (!first || !second) return [];
  const admin = site.router.adminNetwork;
  const changes = site.lines.flatMap((line): Change[] => {
    const kept = site.failover.promises.filter(
      ({ network, kind }) => linesForKind(site, network, kind)[0] === line,
    );
    const backup = kept.flatMap(({ network, kind }) => linesForKind(site, network, kind)[1] ?? [])[0];
    const networks = [...new Set(kept.map(({ network }) => network))];
    // The laptop is there already.
    networks.sort((a, b) => Number(b === admin) - Number(a === admin));
    return networks.length === 0
      ? []
      : [{ line, backup: backup ?? (line === first ? second : first), networks }];
  });
  const from = admin ?? site.networks[0];
  if (changes.length > 0 || !from) return changes;
  const other = site.networks.find((network) => network !== from);
  return [{ line: first, backup: second, networks: other ? [from, other] : [from] }];
}

/** How each line is watched, what traffic does on a change, and then the proof: pulled, timed, and back. */
export function failoverSteps(site: Site): StepDraft[] {
  const [first, second] = site.lines;
  if (!first || !second) return [];
  return [
    ...site.lines.map((line) => watchStep(site, line)),
    changeStep(site),
    warnStep(site, first, second),
    ...changesOf(site).flatMap((change) => [
      pullStep(site, change),
      backStep(site, change),
      brownOutStep(site, change),
      ...change.networks.slice(1).map((network) => againStep(site, change, network)),
    ]),
  ];
}

/** Ids of the steps in which a line is pulled: the power cut comes after them. */
export const pulledIds = (site: Site): string[] =>
  changesOf(site).flatMap(({ line, networks }) => [
    `brown-out:${line.id}`,
    ...networks.slice(1).map((network) => `second-network:${line.id}:${network.id}`),
  ]);

const evidenceOf = (
  site: Site,
  line: Line,
  rung: 'line-pulled' | 'fail-back',
  from?: Network,
): RunStep['evidence'] =>
  site.failover.promises
    .filter(({ network, kind }) => linesForKind(site, network, kind)[0] === line)
    .filter(({ network }) => !from || network === from)
    .map((promise) => ({ promise: failoverPromiseId(promise), rung }));

/** Where the change was timed, the gap, and what the outside saw meanwhile. */
const gapFields = (network: Network): ReadingField[] => [
  fromReading(network),
  numberReading('gap', 'Gap', 's'),
  addressReading('outside', 'Public address during it', { optional: true }),
];

function watchStep(site: Site, line: Line): StepDraft {
  const watch = site.failover.watches[site.lines.indexOf(line)]!;
  const { window } = watch;
  return {
    id: `watch:${line.id}`,
    nature: onPage,
    phase: 'rules',
    title: `Let the router watch ${line.name}`,
    needs: ['lines', `uplink:${line.id}`],
    entries: [
      ...watch.targets.map((target, index) =>
        entry(
          `Target ${index + 1}`,
          `${target.name}, by ${target.method === 'name' ? 'a name look-up' : target.method}, over this line only`,
          ['Health check', 'Tracking', 'Ping target', 'Bind to interface'],
          `${target.at}/host`,
        ),
      ),
      fieldEntry(`${watch.at}/intervalSeconds`, `${watch.intervalSeconds} s`),
      fieldEntry(`${watch.at}/timeoutSeconds`, `${watch.timeoutSeconds} s`),
      fieldEntry(`${watch.at}/downAfter`, `${watch.downAfter} lost in a row`),
      ...(window?.lossPercent !== undefined
        ? [
            fieldEntry(
              `${watch.at}/windowLossPercent`,
              `${window.lossPercent} % of the last ${window.probes}`,
            ),
          ]
        : []),
      fieldEntry(`${watch.at}/upAfter`, `${watch.upAfter} answered in a row, then ${watch.holdSeconds} s`),
    ],
    why: 'A line that has link and an address and passes nothing looks healthy to everybody but the people on it.',
    lowSeconds: 60,
    highSeconds: 180,
    proof: 'Its page shows the line as up, with answers from each target.',
    ifNot: 'No answers from a target that a laptop can ping: the router asks over another line. Bind it.',
  };
}

function changeStep(site: Site): StepDraft {
  const { sharing, sessions, rules, back, backHoldSeconds, quietHour, notification } = site.failover;
  const ways: Record<typeof back, string> = {
    'at-once': 'as soon as it counts as up',
    hold: `after ${backHoldSeconds} s of being up`,
    'quiet-hour': `at ${quietHour} o'clock`,
    'by-hand': 'by hand',
  };
  return {
    id: 'failover-rules',
    nature: onPage,
    phase: 'rules',
    title: 'Enter what may use which line',
    needs: site.lines.map((line) => `watch:${line.id}`),
    entries: [
      sharing === 'order'
        ? fieldEntry('/failover/sharing', site.lines.map(({ name }) => name).join(', then '))
        : fieldEntry(
            '/failover/sharing',
            site.lines.map(({ name, weight }) => `${name} ${weight}`).join(', '),
          ),
      ...rules.map((rule): Entry =>
        entry(
          `${rule.network?.name ?? 'All networks'}${rule.ports ? `, ports ${rule.ports.first}-${rule.ports.last}` : ''}`,
          rule.lines.length === 0 ? 'refused' : `${rule.lines.map(({ name }) => name).join(', then ')} only`,
          ['Policy route', 'Routing rule'],
          rule.at,
        ),
      ),
      fieldEntry('/failover/sessions', sessions === 'end' ? 'are ended' : 'are kept'),
      fieldEntry('/failover/back', ways[back]),
      ...(notification ? [fieldEntry('/failover/notification', notification)] : []),
    ],
    why: 'A rule for one port is not a rule for all traffic: what was promised has to move as a whole.',
    lowSeconds: 60,
    highSeconds: 300,
    proof: 'The rules are there in this order; the default applies to everything else.',
    ifNot: 'Order of the rules: the first that fits counts.',
  };
}

function warnStep(site: Site, first: Line, second: Line): StepDraft {
  const range = pingRange(site, first, second, 'beyond');
  const waiting = site.failover.rules
    .filter(({ lines }) => !lines.includes(second))
    .map(({ network }) => network?.name ?? 'everybody');
  return {
    id: 'warn-people',
    nature: withPeople,
    phase: 'proof',
    title: 'Tell the people on site what will stop, and for how long',
    needs: [
      'save',
      ...site.lines.map((line) => `watch:${line.id}`),
      ...site.networks.map(({ id }) => `internet:${id}`),
    ],
    entries: [
      entry('Everybody', `nothing for up to ${range ? Math.ceil(range.toSeconds) : '?'} s, twice`, [
        'Maintenance notice',
      ]),
      ...(waiting.length > 0
        ? [entry(waiting.join(', '), 'nothing until the line is plugged in again', ['Maintenance notice'])]
        : []),
      entry('Calls', 'a running call ends', ['Maintenance notice']),
    ],
    why: 'A card in a terminal and a call to the coastguard do not wait for a test.',
    proof: 'A person in charge has agreed to a minute.',
    ifNot: 'Take the quiet hour instead.',
    cautions: [
      'Alarm and emergency lines are never part of a test: find out first what depends on the router.',
    ],
  };
}

const rangeText = (range: ReturnType<typeof pingRange>): string =>
  range ? `${range.fromSeconds} to ${range.toSeconds} s` : 'nothing comes back';

function pullStep(site: Site, { line, backup, networks }: Change): StepDraft {
  const [network] = networks;
  const target = site.failover.watches[site.lines.indexOf(backup)]?.targets.find(
    ({ reach, host }) => reach === 'beyond' && host,
  );
  const address = target?.host ? formatAddress(target.host) : 'an address beyond the provider';
  return {
    id: `pull:${line.id}`,
    nature: pulling(line),
    phase: 'proof',
    title: `Pull ${labelOf(line)} and time the change to ${backup.name}`,
    needs: ['warn-people', 'failover-rules'],
    entries: [
      entry('On', `a device on ${network!.name}`, ['Laptop']),
      entry('Note first', `the outside address over ${line.name}`, ['What is my address']),
      ...pingCommands(address).map(({ system, command }) =>
        entry(`On ${system}`, command, ['Run, and leave running']),
      ),
      entry('Then pull', `the cable labelled ${labelOf(line)}, at the router`, ['WAN cable']),
      entry('Expect a gap of', rangeText(pingRange(site, line, backup, 'pull')), ['Outage']),
    ],
    why: `A page that says "configured" has never carried a packet. ${switchOf(backup).says}.`,
    lowSeconds: 60,
    highSeconds: 300,
    proof: `It is back within the time that was promised, and the outside sees the address of ${backup.name}.`,
    ifNot:
      'No answer at all: source NAT or the route of the backup. Addresses answer, names do not: the DNS servers. Much later than expected: the router ignores loss of link, and only the probes decide.',
    fields: gapFields(network!),
    evidence: evidenceOf(site, line, 'line-pulled', network),
  };
}

function backStep(site: Site, { line }: Change): StepDraft {
  return {
    id: `plug-in:${line.id}`,
    nature: (all) => ({
      // Nobody has to watch while the line is held back.
      ...atCupboard,
      waitShare: 0.8,
      uses: linesOf(all),
      busy: linesOf(all),
      route: line.id,
    }),
    phase: 'proof',
    title: `Plug ${labelOf(line)} in and time switching back`,
    needs: [`pull:${line.id}`],
    why: 'A site that stays on its backup uses up the data, and the next failure finds nothing.',
    lowSeconds: site.failover.back === 'hold' ? site.failover.backHoldSeconds : 60,
    highSeconds: site.failover.backHoldSeconds + 300,
    proof: `The public address is again that of ${line.name}, and the ping shows no gap.`,
    ifNot: 'It stays on the backup: the line answers and is held, or it must be switched back by hand.',
    fields: [
      numberReading('gap', 'Gap', 's'),
      numberReading('back', 'Until traffic was back on its line', 's'),
      addressReading('outside', 'Address that the outside sees afterwards', { optional: true }),
    ],
    evidence: evidenceOf(site, line, 'fail-back'),
  };
}

function brownOutStep(site: Site, { line, backup, networks }: Change): StepDraft {
  return {
    id: `brown-out:${line.id}`,
    nature: pulling(line),
    phase: 'proof',
    title: `Disconnect ${line.name} upstream`,
    needs: [`plug-in:${line.id}`],
    entries: [
      entry(
        'Unplug',
        line.box
          ? `the side of ${line.box.name} that goes outside; its cable to the router stays`
          : 'the line where it enters the building; the cable to the router stays',
        ['Drop cable', 'Fibre', 'Antenna'],
      ),
      entry('Expect a gap of', rangeText(pingRange(site, line, backup, 'beyond')), ['Outage']),
    ],
    why: 'This is how lines mostly fail: link and address are there, and nothing passes. A pulled cable does not show it.',
    lowSeconds: 60,
    highSeconds: 300,
    proof: 'The gap is within the time that was promised.',
    ifNot: 'No switch: the probe target is too near. Use one beyond the provider.',
    cautions: [...(medium(line.medium).unplugCautions ?? [])],
    fields: gapFields(networks[0]!),
    evidence: evidenceOf(site, line, 'line-pulled', networks[0]),
  };
}

const againStep = (site: Site, { line }: Change, network: Network): StepDraft => ({
  id: `second-network:${line.id}:${network.id}`,
  nature: pulling(line),
  phase: 'proof',
  title: `Pull ${labelOf(line)} once more, from a device on ${network.name}`,
  needs: [`brown-out:${line.id}`],
  why: 'A rule that moves one network says nothing about the next.',
  lowSeconds: 60,
  highSeconds: 300,
  proof: `On ${network.name} it is back within the time that was promised.`,
  ifNot: `Ask Netter "from ${network.name} to internet when ${line.name} is down" and compare the rules.`,
  fields: gapFields(network),
  evidence: evidenceOf(site, line, 'line-pulled', network),
});
