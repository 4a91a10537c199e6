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
import type { Told } from './plan.ts';

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
  const settings: Record<string, unknown> = {
    dhcp: { tiedMac: value(line.tiedMac, 'settings/dhcp/tiedMac') ?? '' },
    static: {
      address: type === 'static' ? (value(line.address, 'settings/static/address') ?? '') : '',
      prefixLength: line.prefixLength ? String(value(line.prefixLength, 'settings/static/prefixLength')) : '',
      gateway: value(line.gateway, 'settings/static/gateway') ?? '',
      resolvers: value(line.resolvers, 'settings/static/resolvers') ?? [],
      routedBlock: value(line.routedBlock, 'settings/static/routedBlock') ?? '',
    },
    pppoe: {
      userName: type === 'pppoe' ? (value(line.userName, 'settings/pppoe/userName') ?? '') : '',
      secret: type === 'pppoe' ? password : '',
      expectedAddress: type === 'pppoe' ? (value(line.address, 'settings/pppoe/expectedAddress') ?? '') : '',
    },
    cellular: {
      apn: value(line.apn, 'settings/cellular/apn') ?? '',
      userName: type === 'cellular' ? (value(line.userName, 'settings/cellular/userName') ?? '') : '',
      authentication: type === 'cellular' && line.userName ? 'chap' : 'none',
      secret: type === 'cellular' ? password : '',
      cardNumber: value(line.cardNumber, 'settings/cellular/cardNumber') ?? '',
      pinSecret: pin,
      capGigabytes: value(line.capGigabytes, 'settings/cellular/capGigabytes') ?? null,
    },
    'ds-lite': { gatewayName: value(line.aftr, 'settings/ds-lite/gatewayName') ?? '' },
    ...(type === 'l2tp' || type === 'pptp'
      ? {
          [type]: {
            server: value(line.server, `settings/${type}/server`) ?? '',
            userName: value(line.userName, `settings/${type}/userName`) ?? '',
            secret: password,
          },
        }
      : {}),
  };
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
      ...(line.aftr ? ['translator'] : []),
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
  if (medium === 'router') return "Somebody else's router";
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
