import type { PlanValues } from '../plan/schema.ts';
import { capitalized } from '../base/text.ts';
import type { Kit, Network } from './parts.ts';

type WifiValues = PlanValues['wifi'];

export interface WifiNetwork extends Omit<WifiValues['networks'][number], 'network'> {
  readonly at: `/wifi/networks/${number}`;
  readonly network: Network | undefined;
}

export interface WifiRadio extends Omit<WifiValues['radios'][number], 'box' | 'width' | 'networks'> {
  readonly at: `/wifi/radios/${number}`;
  readonly box: Kit | undefined;
  /** What it is called where it is spoken of. */
  readonly name: string;
  /** MHz. */
  readonly width: number;
  /** The names that it serves. */
  readonly networks: readonly WifiNetwork[];
}

/** A room in which Wi-Fi is promised. */
export interface WifiRoom extends Omit<WifiValues['rooms'][number], 'wifi' | 'radio'> {
  readonly at: `/wifi/rooms/${number}`;
  readonly wifi: WifiNetwork | undefined;
  readonly radio: WifiRadio | undefined;
}

export interface WifiHeard extends Omit<WifiValues['heard'][number], 'width'> {
  readonly at: `/wifi/heard/${number}`;
  readonly width: number;
}

export interface Wifi {
  readonly networks: readonly WifiNetwork[];
  readonly radios: readonly WifiRadio[];
  readonly heard: readonly WifiHeard[];
  readonly rooms: readonly WifiRoom[];
}

/** Wi-Fi as the plan has it, resolved. */
export function compileWifi(values: WifiValues, kit: readonly Kit[], inside: readonly Network[]): Wifi {
  const networks = values.networks.map((row, index): WifiNetwork => ({
    ...row,
    at: `/wifi/networks/${index}`,
    network: inside.find(({ id }) => id === row.network),
  }));
  const radios = values.radios.map((row, index): WifiRadio => {
    const box = kit.find(({ id }) => id === row.box);
    return {
      ...row,
      at: `/wifi/radios/${index}`,
      box,
      name: `${box ? box.model || capitalized(box.role) : `Radio ${index + 1}`}, ${row.band} GHz`,
      width: Number(row.width),
      networks: row.networks.length === 0 ? networks : networks.filter(({ id }) => row.networks.includes(id)),
    };
  });
  return {
    networks,
    radios,
    rooms: values.rooms.map((row, index) => ({
      ...row,
      at: `/wifi/rooms/${index}`,
      wifi: networks.find(({ id }) => id === row.wifi),
      radio: radios.find(({ id }) => id === row.radio),
    })),
    heard: values.heard.map((row, index) => ({
      ...row,
      at: `/wifi/heard/${index}`,
      width: Number(row.width),
    })),
  };
}
