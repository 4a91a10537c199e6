import type { PlanValues } from '../plan/schema.ts';
import type { Kit, Network } from './parts.ts';

type WifiValues = PlanValues['wifi'];

export interface WifiNetwork extends Omit<WifiValues['networks'][number], 'network'> {
  readonly at: string;
  readonly network: Network | undefined;
}

export interface WifiRadio extends Omit<WifiValues['radios'][number], 'box' | 'width'> {
  readonly at: string;
  readonly box: Kit | undefined;
  /** What it is called where it is spoken of. */
  readonly name: string;
  /** MHz. */
  readonly width: number;
}

export interface WifiHeard extends Omit<WifiValues['heard'][number], 'width'> {
  readonly at: string;
  readonly width: number;
}

export interface Wifi {
  readonly networks: readonly WifiNetwork[];
  readonly radios: readonly WifiRadio[];
  readonly heard: readonly WifiHeard[];
}

/** Wi-Fi as the plan has it, resolved. */
export const compileWifi = (values: WifiValues, kit: readonly Kit[], networks: readonly Network[]): Wifi => ({
  networks: values.networks.map((row, index) => ({
    ...row,
    at: `/wifi/networks/${index}`,
    network: networks.find(({ id }) => id === row.network),
  })),
  radios: values.radios.map((row, index) => {
    const box = kit.find(({ id }) => id === row.box);
    return {
      ...row,
      at: `/wifi/radios/${index}`,
      box,
      name: `${box ? box.model || box.role : `radio ${index + 1}`}, ${row.band} GHz`,
      width: Number(row.width),
    };
  }),
  heard: values.heard.map((row, index) => ({ ...row, at: `/wifi/heard/${index}`, width: Number(row.width) })),
});
