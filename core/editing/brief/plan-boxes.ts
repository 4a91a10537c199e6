import {
  kitSchema,
  radioSchema,
  roomSchema,
  runSchema,
  secondSchema,
  switchPortSchema,
  wifiNetworkSchema,
  type KitItem,
  type NetworkPlan,
  type Plan,
  type RunPlan,
  type SecondPlan,
} from '../../plan/schema.ts';
import { boxName } from '../../intake/letter/boxes.ts';
import type { Facts } from '../../intake/letter/facts.ts';
import type { Told } from './plan.ts';

/** Boxes behind the router: what each is, how it is connected, and the cable to it, as far as the text says. */
export function boxesOf(
  { boxes, switches }: Facts,
  {
    network,
    router,
    newId,
    tell,
  }: { readonly network: string; readonly router: string; readonly newId: () => string; readonly tell: Told },
): { readonly kit: KitItem[]; readonly second: SecondPlan[]; readonly runs: RunPlan[] } {
  const kit: KitItem[] = [];
  const second: SecondPlan[] = [];
  const runs: RunPlan[] = [];
  for (const [index, box] of boxes.entries()) {
    const [id, row] = [newId(), newId()];
    kit.push(
      kitSchema.parse({
        id,
        role: box.kind === 'router' ? 'other' : 'access-point',
        model: boxName(
          box,
          boxes.slice(0, index).filter((each) => each.kind === box.kind && each.place === '').length,
        ),
      }),
    );
    tell(`/kit/${id}/model`, box.from);
    const way = box.kind === 'router' ? 'undecided' : box.kind;
    second.push(
      secondSchema.parse({
        id: row,
        box: id,
        network,
        way,
        dhcp: way === 'undecided',
        place: box.place,
        cable: box.cable === undefined ? (way === 'bridge' ? 'no' : 'unknown') : box.cable ? 'yes' : 'no',
        port: way === 'access-point' ? 'lan' : 'unknown',
        metres: box.airMetres ?? null,
        sight: box.sight ?? 'unknown',
      }),
    );
    tell(`/second/${row}/way`, box.from);
    if (box.cable !== undefined) tell(`/second/${row}/cable`, box.from);
    if (box.airMetres !== undefined) tell(`/second/${row}/metres`, box.from);
    if (box.sight) tell(`/second/${row}/sight`, box.from);
    if (box.category || box.cableMetres !== undefined) {
      const run = runSchema.parse({
        id: newId(),
        fromBox: router,
        toBox: id,
        category: box.category ?? 'unknown',
        metres: box.cableMetres ?? null,
      });
      runs.push(run);
      tell(`/wiring/runs/${run.id}/category`, box.from);
    }
  }
  for (const { place, ports, poePorts, poeWatts, from } of switches) {
    const id = newId();
    kit.push(
      kitSchema.parse({
        id,
        role: 'switch',
        model: place === '' ? 'Switch' : `Switch, ${place}`,
        poeWatts: poeWatts ?? null,
        ports: Array.from({ length: ports }, (_, index) =>
          switchPortSchema.parse({
            id: newId(),
            name: String(index + 1),
            rateMbps: 1000,
            poe: index < poePorts ? 'gives' : 'none',
          }),
        ),
      }),
    );
    tell(`/kit/${id}/model`, from);
  }
  return { kit, second, runs };
}

/** Wi-Fi networks on the networks whose they are, and the rooms in which something is promised. */
export function wifiOf(
  { wifi, rooms, boxes }: Facts,
  none: Plan['wifi'],
  {
    networks,
    kit,
    newId,
    tell,
  }: {
    readonly networks: readonly NetworkPlan[];
    /** The boxes, in the order of the facts. */ readonly kit: readonly KitItem[];
    readonly newId: () => string;
    readonly tell: Told;
  },
): Plan['wifi'] {
  const idOf = (guests: boolean): string =>
    networks.find(({ purpose }) => purpose === (guests ? 'guests' : 'staff'))?.id ??
    (guests ? '' : (networks[0]?.id ?? ''));
  const made = wifi.map(
    ({ ssid, guests, hidden, terms, security, until, from }): Plan['wifi']['networks'][number] => {
      const id = newId();
      tell(`/wifi/networks/${id}/ssid`, from);
      return wifiNetworkSchema.parse({
        id,
        ssid,
        network: idOf(guests),
        hidden,
        terms,
        isolation: guests,
        ...(security && { security }),
        ...(until !== undefined && { until }),
      });
    },
  );
  return {
    ...none,
    networks: made,
    radios: boxes.flatMap(({ bands = [], from }, index) =>
      bands.map((band) => {
        const id = newId();
        tell(`/wifi/radios/${id}/band`, from);
        return radioSchema.parse({ id, box: kit[index]!.id, band });
      }),
    ),
    rooms: rooms.map(({ name, guests, mbps, from }) => {
      const id = newId();
      tell(`/wifi/rooms/${id}/wantedMbps`, from);
      return roomSchema.parse({
        id,
        name,
        wifi: made.find(({ network }) => network === idOf(guests))?.id ?? '',
        wantedMbps: mbps,
      });
    }),
  };
}
