import { failoverPromiseId } from '../terms/promise.ts';
import { linesForKind, switchOf } from '../failover/predict.ts';
import { pingRange } from '../failover/rehearse.ts';
import { formatAddress } from '../net/address.ts';
import { pingCommands } from '../readings/outage.ts';
import type { Line, Site } from '../site/model.ts';
import { entry, type Entry, type StepDraft, fieldEntry } from '../terms/step.ts';

/** What is written on the plug of a line, or its name. */
export const labelOf = (line: Line): string => line.label.trim() || line.name;

/** How each line is watched, what traffic does on a change, and then the proof: pulled, timed, and back. */
export function failoverSteps(site: Site): StepDraft[] {
  const [first, second] = site.lines;
  if (!first || !second) return [];
  const watched = site.lines.map((line) => `watch:${line.id}`);
  return [
    ...site.lines.map((line) => watchStep(site, line)),
    changeStep(site),
    warnStep(site, first, second),
    pullStep(site, first, second),
    backStep(site, first),
    brownOutStep(site, first, second),
    ...secondNetworkStep(site, first),
  ].map((step) => ({
    ...step,
    needs: step.needs ?? ['save', ...watched],
  }));
}

const evidenceOf = (site: Site, line: Line, rung: 'line-pulled' | 'fail-back'): StepDraft['evidence'] =>
  site.failover.promises
    .filter((promise) => linesForKind(site, promise.network, promise.kind)[0] === line)
    .map((promise) => ({ promise: failoverPromiseId(promise), rung }));

function watchStep(site: Site, line: Line): StepDraft {
  const watch = site.failover.watches[site.lines.indexOf(line)]!;
  const { window } = watch;
  return {
    id: `watch:${line.id}`,
    phase: 'rules',
    title: `Let the router watch ${line.name}`,
    needs: [`uplink:${line.id}`],
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
    phase: 'proof',
    title: 'Tell the people on site what will stop, and for how long',
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
    proof: 'Somebody who is in charge has said yes, and to what minute.',
    ifNot: 'Take the quiet hour instead.',
    cautions: [
      'Alarm and emergency lines are never part of a test: find out first what depends on the router.',
    ],
  };
}

const rangeText = (range: ReturnType<typeof pingRange>): string =>
  range ? `${range.fromSeconds} to ${range.toSeconds} s` : 'nothing comes back';

function pullStep(site: Site, line: Line, backup: Line): StepDraft {
  const target = site.failover.watches[1]?.targets.find(({ reach, host }) => reach === 'beyond' && host);
  const address = target?.host ? formatAddress(target.host) : 'an address beyond the provider';
  return {
    id: `pull:${line.id}`,
    phase: 'proof',
    title: `Pull ${labelOf(line)} and time the change to ${backup.name}`,
    needs: ['warn-people', 'failover-rules'],
    entries: [
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
    reading: 'Paste what the ping printed, or type the gap in seconds',
    evidence: evidenceOf(site, line, 'line-pulled') ?? [],
  };
}

function backStep(site: Site, line: Line): StepDraft {
  return {
    id: `plug-in:${line.id}`,
    phase: 'proof',
    title: `Plug ${labelOf(line)} in and wait for the way back`,
    needs: [`pull:${line.id}`],
    why: 'A site that stays on its backup uses up the data, and the next failure finds nothing.',
    lowSeconds: site.failover.back === 'hold' ? site.failover.backHoldSeconds : 60,
    highSeconds: site.failover.backHoldSeconds + 300,
    proof: `By itself the outside sees the address of ${line.name} again, and the ping has no gap worth the name.`,
    ifNot: 'It stays on the backup: the line answers and is held, or somebody has to switch back by hand.',
    reading: 'Gap in seconds, and how long the way back took',
    evidence: evidenceOf(site, line, 'fail-back') ?? [],
  };
}

function brownOutStep(site: Site, line: Line, backup: Line): StepDraft {
  return {
    id: `brown-out:${line.id}`,
    phase: 'proof',
    title: `Let ${line.name} be up but useless`,
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
    cautions: [
      ...(line.medium === 'fibre' ? ['Never look into a fibre or a port. Put the cap on.'] : []),
      ...(line.medium === 'dsl' ? ['A telephone pair can carry ringing voltage.'] : []),
    ],
    reading: 'Paste what the ping printed, or type the gap in seconds',
    evidence: evidenceOf(site, line, 'line-pulled') ?? [],
  };
}

function secondNetworkStep(site: Site, line: Line): StepDraft[] {
  const admin = site.router.adminNetwork;
  const other =
    site.failover.promises.find(({ network }) => network !== admin)?.network ??
    site.networks.find((network) => network !== admin);
  if (!other) return [];
  return [
    {
      id: `second-network:${line.id}`,
      phase: 'proof',
      title: `Pull ${labelOf(line)} once more, from a device on ${other.name}`,
      needs: [`brown-out:${line.id}`],
      why: 'A rule that moves one network says nothing about the next.',
      lowSeconds: 60,
      highSeconds: 300,
      proof: `On ${other.name} it is back within the time that was promised.`,
      ifNot: `Ask Netter "from ${other.name} to internet when ${line.name} is down" and compare the rules.`,
      reading: 'Paste what the ping printed, or type the gap in seconds',
      evidence:
        evidenceOf(site, line, 'line-pulled')?.filter(({ promise }) =>
          site.failover.promises.some(
            (each) => failoverPromiseId(each) === promise && each.network === other,
          ),
        ) ?? [],
    },
  ];
}
