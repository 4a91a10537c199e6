import { titleAt } from '../../plan/places.ts';
import {
  kitSchema,
  uplinkSchema,
  type KitItem,
  type MediumName,
  type UplinkPlan,
} from '../../plan/schema.ts';
import { capitalized, slug } from '../../base/text.ts';
import type { Facts, FoundSecret, LineFacts, Said } from '../../intake/letter/facts.ts';
import { holdsOf, takerOf } from '../../wan-types/facts.ts';
import { wanType } from '../../wan-types/index.ts';
import type { LineFact } from '../../wan-types/profile.ts';
import type { Told } from './plan.ts';

/** What a letter can say of a line that a WAN type holds. */
const statedFacts = [
  'address',
  'prefixLength',
  'gateway',
  'resolvers',
  'routedBlock',
  'userName',
  'apn',
  'cardNumber',
  'capGigabytes',
  'tiedMac',
  'translator',
  'server',
] as const satisfies readonly LineFact[];

const lineTitles: Partial<Record<MediumName, string>> = {
  dsl: 'DSL',
  router: 'Building network',
  wireless: 'Wireless',
};

const titleOf = ({ medium }: LineFacts): string =>
  medium ? (lineTitles[medium.value] ?? capitalized(medium.value)) : 'Line';

/** Names that tell the lines apart: two of one medium are numbered. */
export function lineTitlesOf(lines: readonly LineFacts[]): string[] {
  const titles = lines.map(titleOf);
  return titles.map((title, index) =>
    titles.filter((each) => each === title).length > 1
      ? `${title} ${titles.slice(0, index + 1).filter((each) => each === title).length}`
      : title,
  );
}

/** Under which name the vault keeps a secret of a line. */
const secretName = (lineTitle: string, kind: FoundSecret['kind']): string =>
  `${slug(lineTitle)}-${kind === 'pin' ? 'pin' : 'password'}`;

interface MadeLine {
  readonly uplink: UplinkPlan;
  readonly kit: KitItem[];
}

/** One uplink of the plan from what was said of it, and the box in front of it. */
export function lineOf(
  line: LineFacts,
  {
    title,
    secrets,
    newId,
    tell,
  }: { title: string; secrets: readonly FoundSecret[]; newId: () => string; tell: Told },
): MadeLine {
  const type = line.type?.value ?? 'unknown';
  const id = newId();
  const value = <T>(said: Said<T> | undefined, place: string): T | undefined => {
    if (said) tell(`/uplinks/${id}/${place}`, said.from);
    return said?.value;
  };
  const own = secrets.filter(({ lineKey }) => lineKey === line.key);
  const password = own.some(({ kind }) => kind === 'password') ? secretName(title, 'password') : '';
  const pin = own.some(({ kind }) => kind === 'pin') ? secretName(title, 'pin') : '';
  const settings: Record<string, Record<string, unknown>> = {};
  const stated = new Set<LineFact>();
  const enter = (fact: LineFact, made: unknown, from?: string): void => {
    const taker = takerOf(type, fact);
    const key = taker && holdsOf(taker)[fact];
    if (!taker || key === undefined) return;
    (settings[taker] ??= {})[key] = made;
    if (taker === type) stated.add(fact);
    if (from !== undefined) tell(`/uplinks/${id}/settings/${taker}/${key}`, from);
  };
  for (const fact of statedFacts) {
    const said = line[fact];
    if (said) enter(fact, fact === 'prefixLength' ? String(said.value) : said.value, said.from);
  }
  if (password !== '') enter('password', password);
  if (pin !== '') enter('pin', pin);
  Object.assign((settings[type] ??= {}), wanType(type).implied?.(stated));
  const mode = line.box?.value ?? 'none';
  const boxName = mode === 'none' ? '' : boxNameOf(line, mode);
  const uplink = uplinkSchema.parse({
    id,
    name: title,
    medium: value(line.medium, 'medium') ?? 'unknown',
    papers: [
      ...(line.user ? ['user'] : []),
      ...(line.address || line.block ? ['block'] : []),
      ...(line.apn ? ['apn'] : []),
      ...(line.vlan ? ['vlan'] : []),
      ...(line.translator ? ['translator'] : []),
      ...(line.server ? ['server'] : []),
    ],
    activation: value(line.activation, 'activation') ?? 'unknown',
    vlan: value(line.vlan, 'vlan') ?? null,
    vlanPriority: value(line.vlanPriority, 'vlanPriority') ?? null,
    type: value(line.type, 'type') ?? 'unknown',
    settings,
    handoff: {
      mode: value(line.box, 'handoff/mode') ?? 'none',
      name: boxName,
      ...(mode === 'routes' && {
        insidePrefix: value(line.insidePrefix, 'handoff/insidePrefix') ?? '',
        insideAddress: value(line.insideAddress, 'handoff/insideAddress') ?? '',
      }),
    },
    mtuBytes: value(line.mtuBytes, 'mtuBytes') ?? null,
    rateDownMbps: value(line.downMbps, 'rateDownMbps') ?? null,
    rateUpMbps: value(line.upMbps, 'rateUpMbps') ?? null,
    notes: line.notes
      .map(({ value: note }) => note)
      .join(' · ')
      .slice(0, 200),
  });
  const kit =
    mode === 'none' && line.medium?.value !== 'fibre'
      ? []
      : [
          kitSchema.parse({
            id: newId(),
            role:
              line.medium?.value === 'fibre' && mode !== 'routes'
                ? 'ont'
                : mode === 'routes'
                  ? 'other'
                  : 'modem',
            adminAddress: line.insideAddress?.value ?? '',
            notes: boxName || `In front of ${title}`,
          }),
        ];
  return { uplink, kit };
}

function boxNameOf(line: LineFacts, mode: 'bridged' | 'routes'): string {
  const medium = line.medium?.value;
  if (medium === 'router') return 'Router of another party';
  const title = medium ? titleAt('/uplinks/*/medium', medium).replace(/ \(.*$/, '') : 'Provider';
  return mode === 'routes' ? `${title} box` : `${title} modem`;
}

/** Lines in the order in which they are used: the backup last. */
export const inOrder = ({ lines }: Facts): LineFacts[] => [
  ...lines.filter(({ backup }) => !backup),
  ...lines.filter(({ backup }) => backup),
];

/** The secrets of the lines, under the names that the plan has for them. */
export function vaultSecretsOf(
  { secrets }: { readonly secrets: readonly FoundSecret[] },
  facts: Facts,
): { readonly name: string; readonly value: string; readonly says: string }[] {
  const lines = inOrder(facts);
  const titles = lineTitlesOf(lines);
  return secrets.flatMap(({ lineKey, kind, value, says }) => {
    const index = lines.findIndex(({ key }) => key === lineKey);
    return index < 0 ? [] : [{ name: secretName(titles[index]!, kind), value, says }];
  });
}
