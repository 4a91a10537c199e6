import { ownTexts } from '../../wan-types/facts.ts';
import { openOrigins } from '../../editing/brief/origins.ts';
import { acceptance } from '../../answers/acceptance/judge.ts';
import { endingsOf } from '../formats/calendar.ts';
import { isDay } from '../../base/days.ts';
import type { Plan } from '../../plan/schema.ts';
import type { SiteRecord } from '../../answers/run-sheet/record.ts';
import type { Site } from '../../site/model.ts';

/** What the list of sites shows of one of them, beside its name and its findings. */
export interface Desk {
  /** What ends on a day: keys, certificates, forwards, exceptions; the first first. */
  readonly dates: readonly { readonly day: string; readonly says: string }[];
  /** Lines that the provider has not switched on, or of which something is to be asked. */
  readonly awaiting: readonly string[];
  /** Promises, and how many of them are proven on site. */
  readonly promises: number;
  readonly proven: number;
  /** Values that a brief set and nobody confirmed. */
  readonly unconfirmed: number;
  /** Hosts that are probed over the lines. */
  readonly probes: readonly string[];
}

/** More dates than this are not shown in a list. */
const mostDates = 20;

/** What is due on a site, as far as its plan and its record tell. */
export function deskOf(plan: Plan, site: Site, records: readonly SiteRecord[]): Desk {
  const dates = [
    ...endingsOf(site).map(({ day, says }) => ({ day, says: says.replace(`${site.about.name}: `, '') })),
    ...plan.forwards.flatMap(({ until, purpose }) =>
      isDay(until) ? [{ day: until, says: `the forward "${purpose || 'unnamed'}" ends` }] : [],
    ),
    ...plan.exceptions.flatMap(({ until, reason }) =>
      isDay(until) ? [{ day: until, says: `the exception "${reason || 'without a reason'}" ends` }] : [],
    ),
  ].sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));
  const accepted = acceptance(site, records);
  return {
    dates: dates.slice(0, mostDates),
    awaiting: plan.uplinks
      .filter(({ activation }) => activation === 'not-yet')
      .map(({ name }) => name || 'unnamed uplink'),
    promises: accepted.length,
    proven: accepted.filter((each) => each.accepted).length,
    unconfirmed: openOrigins(plan).length,
    probes: plan.uplinks.flatMap(({ watch }) => watch.targets.map(({ host }) => host)),
  };
}

/** Longest text by which a site is found. */
const longestWords = 60_000;

/** Every word by which a site may be looked for: names, people, addresses, serial and MAC numbers, models. */
export function wordsOf(plan: Plan): string {
  const { site } = plan;
  const words = [
    site.name,
    site.customer,
    site.street,
    site.town,
    site.postcode,
    ...plan.contacts.flatMap(({ name, phone, email }) => [name, phone, email]),
    ...plan.kit.flatMap(({ model, serial, mac, adminAddress }) => [model, serial, mac, adminAddress]),
    ...plan.uplinks.flatMap(({ name, settings, handoff, notes }) => [
      name,
      ...ownTexts(settings),
      handoff.outsideAddress,
      notes,
    ]),
    ...plan.networks.flatMap(({ name, prefix }) => [name, prefix]),
    ...plan.vpn.endpoints.map(({ host }) => host),
    ...plan.vpn.peers.flatMap(({ person, name, address }) => [person, name, address]),
    ...plan.vpn.sites.flatMap(({ name, endpoint }) => [name, endpoint]),
    ...plan.forwards.map(({ purpose }) => purpose),
    ...plan.wifi.networks.map(({ ssid }) => ssid),
    ...plan.second.flatMap(({ place, address, inside }) => [place, address, inside]),
    ...plan.wiring.runs.map(({ label }) => label),
    ...plan.devices.flatMap(({ name, mac, address }) => [name, mac, address]),
  ];
  return words
    .filter((word) => word !== '')
    .join('\n')
    .toLowerCase()
    .slice(0, longestWords);
}
