import { useDeferredValue, useMemo } from 'react';
import { titleAt } from '../../core/index.ts';
import { usePlanPiece } from '../state/session.ts';

export type Choices = readonly (readonly [value: string, label: string])[];

/** Rows of the plan as choices; the same list as long as no name changes. The name being typed is drawn first. */
const useNames = (rows: readonly { id: string; name: string }[], unnamed: string): Choices => {
  const key = useDeferredValue(rows.map(({ id, name }) => `${id}\t${name}`).join('\n'));
  return useMemo(
    () =>
      key === ''
        ? []
        : key.split('\n').map((row) => {
            const [id = '', name = ''] = row.split('\t');
            return [id, name || unnamed] as const;
          }),
    [key, unnamed],
  );
};

export const useNetworkChoices = (): Choices =>
  useNames(
    usePlanPiece((plan) => plan.networks),
    'unnamed network',
  );
export const useUplinkChoices = (): Choices =>
  useNames(
    usePlanPiece((plan) => plan.uplinks),
    'unnamed uplink',
  );
export const useDeviceChoices = (): Choices =>
  useNames(
    usePlanPiece((plan) => plan.devices),
    'unnamed device',
  );

/** Boxes are called by their model, or by what they are for. */
function useKitNames(): readonly { id: string; name: string }[] {
  const kit = usePlanPiece((plan) => plan.kit);
  return useMemo(
    () =>
      kit.map(({ id, model, role }, index) => ({ id, name: model || titleAt(`/kit/${index}/role`, role) })),
    [kit],
  );
}

/** The rows that a reference of the catalogue can name, by the place of their list. */
export function useReferenceChoices(list: string): Choices {
  const networks = useNetworkChoices();
  const uplinks = useUplinkChoices();
  const devices = useDeviceChoices();
  const groups = useNames(
    usePlanPiece((plan) => plan.vpn.groups),
    'unnamed group',
  );
  const boxes = useKitNames();
  const kit = useNames(boxes, 'unnamed box');
  const wifi = useNames(
    usePlanPiece((plan) => plan.wifi.networks).map(({ id, ssid }) => ({ id, name: ssid })),
    'unnamed Wi-Fi network',
  );
  const radios = useNames(
    usePlanPiece((plan) => plan.wifi.radios).map(({ id, box, band }, index) => ({
      id,
      name: `${boxes.find((each) => each.id === box)?.name ?? `radio ${index + 1}`}, ${band} GHz`,
    })),
    'unnamed radio',
  );
  return (
    {
      '/networks': networks,
      '/uplinks': uplinks,
      '/devices': devices,
      '/kit': kit,
      '/vpn/groups': groups,
      '/wifi/networks': wifi,
      '/wifi/radios': radios,
    }[list] ?? []
  );
}
