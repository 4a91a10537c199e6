import { emptyPlan } from '../../plan/defaults.ts';
import { parsePrefix } from '../../base/net/prefix.ts';
import { valueAt } from '../../plan/pointer.ts';
import { contactSchema, planSchema, type Plan } from '../../plan/schema.ts';
import { valueOf } from '../../base/result.ts';
import type { Brief, Facts } from '../../intake/letter/facts.ts';
import { keptValue, placeToday } from './origins.ts';
import { withFailover } from './plan-failover.ts';
import { boxesOf, wifiOf } from './plan-boxes.ts';
import { insideOf } from './plan-inside.ts';
import { inOrder, lineOf, lineTitlesOf } from './plan-lines.ts';
import { withForwards, withRemoteAccess } from './plan-outside.ts';
import { takeFixes } from './take-fixes.ts';

/** Notes where a value came from; the place names rows by their ids. */
export type Told = (place: string, from: string) => void;

/**
 * The whole plan of a brief: lines, networks with their addresses, devices, forwards, remote access, failover from the
 * promise. What is not known stays empty and is a finding; where each value came from stands with the plan.
 */
export function planOfBrief({ secrets }: Pick<Brief, 'secrets'>, facts: Facts, newId: () => string): Plan {
  const told = new Map<string, string>();
  const tell: Told = (place, from) => void (told.has(place) || told.set(place, from));
  const tools = { newId, tell };
  const name = facts.site.name?.value ?? 'New site';
  const lines = inOrder(facts);
  const titles = lineTitlesOf(lines);
  const made = lines.map((line, index) => lineOf(line, { title: titles[index]!, secrets, ...tools }));
  const taken = lines.flatMap(({ insidePrefix }) =>
    insidePrefix ? (valueOf(parsePrefix(insidePrefix.value)) ?? []) : [],
  );
  const { networks, devices } = insideOf(facts, { name, taken, ...tools });
  const empty = emptyPlan(name, newId);
  const behind = boxesOf(facts, {
    network: networks.find(({ purpose }) => purpose === 'staff')?.id ?? '',
    router: empty.kit.find(({ role }) => role === 'router')?.id ?? '',
    ...tools,
  });
  for (const [key, said] of Object.entries(facts.site)) tell(`/site/${key}`, said.from);
  if (facts.branches) tell('/site/notes', facts.branches.from);
  if (facts.oldRouter) tell('/visit/oldRouter', facts.oldRouter.from);
  const base: Plan = {
    ...empty,
    site: {
      ...empty.site,
      ...Object.fromEntries(Object.entries(facts.site).map(([key, said]) => [key, said.value])),
      name,
      notes: facts.branches
        ? `One of ${facts.branches.value} sites: connect them on Remote access once both are here.`
        : '',
    },
    contacts: facts.contacts.map(({ name, role, phone, email }) =>
      contactSchema.parse({ id: newId(), name, role, phone, email }),
    ),
    kit: [...empty.kit, ...made.flatMap(({ kit }) => kit), ...behind.kit],
    second: behind.second,
    wifi: wifiOf(facts, empty.wifi, { networks, kit: behind.kit, ...tools }),
    wiring: { ...empty.wiring, runs: behind.runs },
    router: { ...empty.router, adminNetwork: networks.find(({ purpose }) => purpose === 'staff')?.id ?? '' },
    visit: {
      ...empty.visit,
      ...(facts.oldRouter && { kind: 'replacement' as const, oldRouter: facts.oldRouter.value }),
      ...(facts.oldRouter && { oldAddress: facts.networks[0]?.routerAddress?.value ?? '' }),
    },
    uplinks: made.map(({ uplink }) => uplink),
    networks,
    devices,
  };
  const open = withRemoteAccess(withForwards(base, facts, tools), facts, tools);
  const plan = takeFixes(withFailover(open, facts, tools));
  return planSchema.parse({ ...plan, origins: originsOf(plan, told, newId) });
}

function originsOf(plan: Plan, told: ReadonlyMap<string, string>, newId: () => string): Plan['origins'] {
  return [...told].flatMap(([place, says]) => {
    const at = placeToday(plan, place);
    return at === undefined
      ? []
      : [{ id: newId(), place, value: keptValue(valueAt(plan, at)), says: says.slice(0, 300) }];
  });
}
