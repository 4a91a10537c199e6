import { describe, expect, test } from '@jest/globals';
import type { ComponentType, ReactNode } from 'react';
import {
  emptyPlan,
  mediumNames,
  wanTypeNames,
  valueAt,
  type Plan,
  type SiteRecord,
} from '../../core/index.ts';
import { demoPlan, soundPlan } from '../../core/testing/plans.ts';
import { draw, tagsOf, wordsOf, type Tag } from '../testing/render.tsx';
import { Component as Acceptance } from './acceptance/acceptance.tsx';
import { Component as Addresses } from './addresses/addresses.tsx';
import { Component as Bench } from './bench/bench.tsx';
import BringUp from './bench/bring-up.tsx';
import { Component as Failover } from './failover/failover.tsx';
import { Component as Handover } from './handover/handover.tsx';
import { Component as Rules } from './rules/rules.tsx';
import { Component as RemoteAccess } from './remote-access/remote-access.tsx';
import { Component as RunSheet } from './run-sheet/run-sheet.tsx';
import { Component as Site } from './site/site.tsx';
import { Component as Second } from './downstream-router/downstream-router.tsx';
import JoinedSites from './remote-access/site-to-site.tsx';
import SurveySection from './uplinks/survey.tsx';
import { Component as Uplinks } from './uplinks/uplinks.tsx';
import { Component as Wifi } from './wifi/wifi.tsx';
import { Component as Wiring } from './wiring/wiring.tsx';

const editing = { Site, Uplinks, Addresses, Wiring, Wifi, Second, Failover, Rules, RemoteAccess };
const sheets = { ...editing, Bench, RunSheet, Acceptance, Handover };

let ids = 0;
const plans: [string, Plan][] = [
  ...['farrow-sound', 'hollin-edge', 'weir-street', 'mill-lane', 'larch-house'].map(
    (name): [string, Plan] => [name, demoPlan(name)],
  ),
  ['a new site', emptyPlan('New site', () => `id${(ids += 1)}`)],
];
/** One plan for every WAN type and every medium. */
const kinds: [string, Plan][] = [
  ...wanTypeNames.map((type): [string, Plan] => [
    type,
    soundPlan((plan) => {
      plan.uplinks[0]!.type = type;
    }),
  ]),
  ...mediumNames.map((medium): [string, Plan] => [
    medium,
    soundPlan((plan) => {
      plan.uplinks[0]!.medium = medium;
    }),
  ]),
];

const controls = (markup: string): Tag[] =>
  tagsOf(markup).filter(({ name }) => ['input', 'select', 'textarea'].includes(name));
const places = (markup: string): string[] =>
  tagsOf(markup).flatMap(({ attributes }) =>
    attributes['data-at'] === undefined ? [] : [attributes['data-at']],
  );

/** Each sheet of each plan is drawn once, however much is asked of it. */
const drawings = new Map<Plan, Map<ComponentType, string>>();
function drawn(plan: Plan, Sheet: ComponentType): string {
  const known = drawings.get(plan) ?? new Map<ComponentType, string>();
  drawings.set(plan, known);
  const markup = known.get(Sheet) ?? draw(plan, <Sheet />);
  known.set(Sheet, markup);
  return markup;
}

describe.each(Object.entries(sheets))('the sheet %s', (_title, Sheet) => {
  test.each(plans)(
    '%s: is drawn with a heading, and nothing that only a program would say',
    (_name, plan) => {
      const markup = drawn(plan, Sheet);
      expect(markup).toMatch(/<h2[^>]*>[^<]+<\/h2>/);
      expect(wordsOf(markup)).not.toMatch(/undefined|NaN|\[object|Infinity/);
    },
  );

  test.each(plans)('%s: every control and every button has a name', (_name, plan) => {
    const markup = drawn(plan, Sheet);
    const labelled = new Set(
      tagsOf(markup).flatMap(({ name, attributes }) =>
        name === 'label' && attributes.for ? [attributes.for] : [],
      ),
    );
    // A control within a label has its name from there.
    for (const { attributes } of controls(markup.replace(/<label[^>]*>.*?<\/label>/gs, ''))) {
      const named = attributes['aria-label'] || labelled.has(attributes.id ?? '') || attributes.placeholder;
      expect([attributes, Boolean(named)]).toEqual([attributes, true]);
    }
    for (const [, attributes, inner] of markup.matchAll(/<button([^>]*)>(.*?)<\/button>/gs))
      expect(/aria-label="[^"]+"/.test(attributes!) || wordsOf(inner!).trim() !== '').toBe(true);
  });
});

describe.each(Object.entries(editing))('the fields of %s', (_title, Sheet) => {
  test.each([...plans, ...kinds])(
    '%s: each stands for a place that the plan has, and no place twice',
    (_name, plan) => {
      const fields = controls(drawn(plan, Sheet)).flatMap(({ attributes }) => attributes['data-at'] ?? []);
      for (const at of fields) expect([at, valueAt(plan, at)]).not.toEqual([at, undefined]);
      expect(new Set(fields).size).toBe(fields.length);
    },
  );
});

test('nothing of a plan is out of reach: every value has a field on some sheet', () => {
  const leaves = (value: unknown, at: string): string[] =>
    Array.isArray(value) && value.every((each) => typeof each === 'string')
      ? [at]
      : typeof value === 'object' && value !== null
        ? Object.entries(value).flatMap(([key, inner]) => leaves(inner, `${at}/${key}`))
        : [at];
  /** What the program keeps for itself, and what another type or medium would show. */
  const unseen = /^\/(format|version)$|^\/origins|\/(id|takenAt|heightMetres|cell|vlanPriority)$|\/answers\//;
  // There once the row, the hand-off, the pool or the question that it belongs to is there.
  const later =
    /^\/[a-z]+$|\/(services|papers)$|\/handoff\/|\/dhcp\/(from|to|leaseMinutes)$|^\/forwards\/\d+\/(protocol|insidePorts|service|until|acceptedBy)$|^\/reach\/|^\/(devices|routes)\/\d+\/notes$|\/readings\/\d+\/(gainDbi|cable|cableMetres)$|\/uplinks\/\d+\/(weight|standby)$|^\/failover\/(quietHour|backHoldSeconds|ownResolvers|updateSeconds|ttlSeconds)$|^\/vpn\/groups\/\d+\/grants\/\d+\/network$|^\/vpn\/peers\/\d+\/|^\/vpn\/(pool|pool6|port|endpoints|publicKey|secret|resolver|keepAliveSeconds|mtuBytes|clientDownMbps|roundTripMs|authority\/pem|authority\/secret|certificates|groups|peers|runs|sites|hub)$|^\/vpn\/sites\/\d+\/(backupEndpoint|backSeconds|nameSeconds)$|^\/kit\/\d+\/card\/|^\/visit\/(oldRouter|oldAddress)$|^\/wiring\/runs\/\d+\/(toDevice|pairs|shielded)$|^\/second\/\d+\/(inside|translates|port|metres|sight|gain|signal|forwards)$/;
  for (const [, plan] of plans) {
    const seen = new Set([
      ...Object.values(editing).flatMap((Sheet) => places(drawn(plan, Sheet))),
      ...places(draw(plan, <JoinedSites />)),
      ...plan.uplinks.flatMap((uplink, index) =>
        uplink.medium === 'cellular' ? places(draw(plan, <SurveySection index={index} />)) : [],
      ),
    ]);
    const wanted = leaves(plan, '').filter((at) => {
      const [, index, of, kind] = /^\/uplinks\/(\d+)\/(settings|media)\/([^/]+)\//.exec(at) ?? [];
      const uplink = plan.uplinks[Number(index)];
      const current = of === 'settings' ? uplink?.type : uplink?.medium;
      return (kind === undefined || kind === current) && !unseen.test(at) && !later.test(at);
    });
    expect(wanted.filter((at) => !seen.has(at))).toEqual([]);
  }
});

describe('few fields at a time', () => {
  /** What a person meets: every control that is drawn while all figures are folded. */
  const inputs = (plan: Plan, sheet: ReactNode): number =>
    controls(draw(plan, sheet, [], { folded: true })).length;

  test('a line with DHCP, two lines, a failover of two promises, a new site: within their budgets', () => {
    const dhcp = soundPlan((plan) => {
      plan.uplinks[0]!.type = 'dhcp';
      plan.uplinks[0]!.medium = 'cable';
    });
    expect(inputs(dhcp, <Uplinks />)).toBeLessThanOrEqual(6);
    expect(inputs(demoPlan('farrow-sound'), <Uplinks />)).toBeLessThanOrEqual(30);
    expect(inputs(demoPlan('farrow-sound'), <Failover />)).toBeLessThanOrEqual(20);
    expect(
      inputs(
        emptyPlan('New site', () => `n${(ids += 1)}`),
        <Site />,
      ),
    ).toBeLessThanOrEqual(8);
  });

  test('what is folded says its values in words', () => {
    const words = wordsOf(draw(demoPlan('farrow-sound'), <Failover />, [], { folded: true }));
    expect(words).toMatch(
      /Probes two targets, \S+ \(ping\) and \S+ \(DNS query\), every \d+ s: down after \d+ lost, back after \d+ s good/,
    );
    expect(wordsOf(draw(demoPlan('farrow-sound'), <Uplinks />, [], { folded: true }))).toContain(
      'source NAT on',
    );
  });
});

describe('the survey', () => {
  test('shows its verdict and the working behind it', () => {
    const words = wordsOf(draw(demoPlan('farrow-sound'), <SurveySection index={1} />));
    expect(words).toContain('roof space, band 20 is the better one: 18.9 Mb/s more');
    expect(words).toContain('median of 3 31.2 Mb/s');
  });

  test('a reading that cannot be is said to be one, beside it', () => {
    const plan = demoPlan('farrow-sound');
    Object.assign(plan.uplinks[1]!.media.cellular.readings[0]!, { rsrpDbm: -60, rssiDbm: -70 });
    expect(wordsOf(draw(plan, <SurveySection index={1} />))).toContain('cannot be more than the whole');
  });
});

describe('what a person is told', () => {
  const record = (id: number, kind: SiteRecord['kind'], subject: string, reading = ''): SiteRecord => ({
    id,
    kind,
    subject,
    at: '2026-03-02T09:00:00Z',
    initials: 'AB',
    reading,
    seenFrom: '',
    revision: 1,
  });

  test('a blocker is named by word beside its field, not by colour alone', () => {
    const plan = demoPlan('hollin-edge');
    const markup = draw(plan, <Addresses />);
    const field = tagsOf(markup).find(({ attributes }) => attributes['data-at'] === '/networks/0/prefix')!;
    expect(field.attributes['aria-invalid']).toBe('true');
    const mark = markup.slice(markup.indexOf(`id="${field.attributes['aria-describedby']}"`));
    expect(wordsOf(mark).slice(0, 60)).toContain('Blocker');
  });

  test('the run sheet goes on where it stopped, and says who did what', () => {
    const plan = demoPlan('farrow-sound');
    const words = wordsOf(
      draw(plan, <RunSheet />, [record(1, 'tick', 'kit', 'labels read'), record(2, 'tick', 'power')]),
    );
    expect(words).toMatch(/ 2 of \d+ done/);
    expect(words).toMatch(/done 2 Mar \d\d:\d\d AB|done \d\d:\d\d AB/);
  });

  test('the run sheet of a plan with blockers warns before anyone drives out', () => {
    expect(wordsOf(draw(demoPlan('hollin-edge'), <RunSheet />))).toMatch(
      /5 blockers\. Resolve them before the visit/,
    );
  });

  test('the record lists every network, device and line, and what was not proven', () => {
    const plan = demoPlan('farrow-sound');
    const words = wordsOf(draw(plan, <Handover />));
    for (const { name } of [...plan.networks, ...plan.devices, ...plan.uplinks])
      expect(words).toContain(name);
    for (const { purpose } of plan.forwards) expect(words).toContain(purpose);
    expect(words).toContain('Fibre, PPPoE with user name, farrow-sound@line.example 7 203.0.113.9');
  });

  test('no secret is on any sheet: only the name under which the vault keeps it', () => {
    const plan = soundPlan((each) => {
      each.uplinks[0]!.type = 'pppoe';
      each.uplinks[0]!.settings.pppoe.secret = 'fibre-login';
    });
    const field = controls(draw(plan, <Uplinks />)).find(
      ({ attributes }) => attributes['data-at'] === '/uplinks/0/settings/pppoe/secret',
    )!;
    expect(field.attributes.placeholder).toBe('name in the vault');
    expect(field.attributes.value).not.toMatch(/hunter|password/);
  });

  test('a line nobody knows cannot be brought up on the Bench, and the sheet says what to do', () => {
    const plan = soundPlan((each) => {
      each.uplinks[0]!.type = 'unknown';
    });
    expect(wordsOf(draw(plan, <BringUp />))).toContain('Settle its WAN type on the Uplinks sheet first');
    expect(wordsOf(draw({ ...plan, uplinks: [] }, <BringUp />))).toContain('no uplink to bring up');
  });

  test('an empty list says what to do instead of showing an empty table', () => {
    const plan = emptyPlan('New site', () => `n${(ids += 1)}`);
    expect(wordsOf(draw(plan, <Rules />))).toContain('No port is forwarded');
    expect(wordsOf(draw({ ...plan, uplinks: [] }, <Uplinks />))).toContain('the likely types are ranked');
    expect(wordsOf(draw({ ...plan, networks: [] }, <Addresses />))).toContain('No inside network yet');
  });
});
