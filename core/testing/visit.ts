import { formatAddress, parseAddress } from '../base/net/address.ts';
import { hostsOf, parsePrefix } from '../base/net/prefix.ts';
import { pingRange } from '../behaviour/failover/rehearse.ts';
import { pingWorked, tcpCeilingWorked } from '../base/worked/packets.ts';
import { fibreBudget } from '../behaviour/media/fibre.ts';
import { valuesFromText } from '../intake/readings/fields.ts';
import { judgeValues } from '../intake/readings/judge.ts';
import { runSheet } from '../answers/run-sheet/sheet.ts';
import type { SiteRecord } from '../answers/run-sheet/record.ts';
import type { Line, Site } from '../site/model.ts';
import type { ReadingField, Values } from '../behaviour/domain-types/reading.ts';
import type { RunStep } from '../behaviour/domain-types/step.ts';
import type { Verdict } from '../behaviour/domain-types/verdict.ts';
import { good } from './plans.ts';

const graver: Record<Verdict['kind'], number> = { good: 0, doubt: 1, bad: 2 };

/** What is said of a text that was typed for a step: the gravest word about one of its figures. */
export function judgedText(site: Site, stepId: string, text: string): Verdict | undefined {
  const step = runSheet(site).find(({ id }) => id === stepId)!;
  return judgeValues(site, step, valuesFromText(step.fields, text))
    .map(({ verdict }) => verdict)
    .sort((a, b) => graver[b.kind] - graver[a.kind])[0];
}

/** What a sound site shows in a field of a step. */
function soundValue(site: Site, step: RunStep, field: ReadingField): string {
  const line: Line | undefined = site.lines.find(({ id }) => id === step.id.split(':')[1]);
  const backup = site.lines.find((each) => each !== line);
  switch (field.kind) {
    case 'choice':
      return field.choices.find((choice) => choice.good)!.value;
    case 'sha256':
      return '0'.repeat(64);
    case 'address': {
      const [prefix] = field.within?.prefixes ?? [];
      if (prefix !== undefined) {
        const { first, last } = hostsOf(good(parsePrefix(prefix)));
        return formatAddress({
          ...first,
          value: first.value + 4n > last.value ? last.value : first.value + 4n,
        });
      }
      if (step.id === 'laptop') {
        const { factory } = site.router;
        if (!factory) return '192.0.2.10';
        return formatAddress(field.key === 'gateway' ? factory.host : hostsOf(factory.prefix).last);
      }
      const seen =
        step.id.startsWith('pull') || step.id.startsWith('second') || step.id.startsWith('brown')
          ? backup
          : line;
      if (field.key === 'outside')
        return seen?.publicAddressKnown ? formatAddress(seen.publicAddress) : '198.51.100.200';
      if (field.key === 'gateway') return line?.gateway ? formatAddress(line.gateway) : '100.64.0.1';
      if (line?.addressKnown) return formatAddress(line.address);
      if (line?.box?.routes) return formatAddress(line.address);
      return line?.translators.includes('carrier') ? '100.64.3.4' : '198.51.100.200';
    }
    case 'number': {
      if (field.key === 'gap') {
        const how = step.id.startsWith('brown') ? 'beyond' : 'pull';
        const range = line && backup && pingRange(site, line, backup, how);
        return String(range?.fromSeconds ?? 0);
      }
      if (field.key === 'passed') return String(pingWorked(line!.mtuBytes).value);
      const rate = /^(down|up)\d$/.exec(field.key)?.[1];
      if (rate && line)
        return String(
          Math.floor(
            Number(tcpCeilingWorked((rate === 'down' ? line.rateDownMbps : line.rateUpMbps)!, line).value) *
              10,
          ) / 10,
        );
      if (field.unit === 'dBm' && step.id.startsWith('light')) {
        const budget = line && fibreBudget(line.media.fibre);
        return String(budget ? (budget.expectedDbm[0] + budget.expectedDbm[1]) / 2 : -18);
      }
      if (field.key === 'margin') return '9';
      if (field.key === 'snr') return '38';
      if (field.key === 'before') return '-70';
      if (field.key === 'after') return '-65';
      return String(field.limits?.least ?? 1);
    }
    case 'text':
      return field.key === 'version' && site.router.kit?.firmware ? site.router.kit.firmware : 'seen';
  }
}

/** Values of a step as a sound site gives them. */
export const soundValues = (site: Site, step: RunStep): Values =>
  Object.fromEntries(step.fields.map((field) => [field.key, soundValue(site, step, field)]));

/** An address from which a try of a step counts: an allowed source, or one that is not. */
export function soundSource(site: Site, step: RunStep): string {
  const forward = site.forwards.find(({ id }) => id === step.id.split(':')[1]);
  if (step.id.startsWith('outside:') && forward?.allowed.kind === 'some')
    return formatAddress(hostsOf(forward.allowed.prefixes[0]!).first);
  return step.evidence.length > 0 ? formatAddress(good(parseAddress('198.51.100.231'))) : '';
}

/** Records of steps that were done on a sound site, in their order. */
export const soundRecords = (site: Site, steps: readonly RunStep[]): SiteRecord[] =>
  steps.map((step, index) => ({
    id: index + 1,
    kind: 'tick',
    subject: step.id,
    at: `2026-03-02T09:${String(index % 60).padStart(2, '0')}:00Z`,
    initials: 'AB',
    reading: '',
    values: soundValues(site, step),
    seenFrom: soundSource(site, step),
    revision: 1,
  }));
