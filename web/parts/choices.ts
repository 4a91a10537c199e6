import { useDeferredValue, useMemo } from 'react';
import { usePlanPiece } from '../app/session.ts';

export type Choices = readonly (readonly [value: string, label: string])[];

export const protocolChoices: Choices = [
  ['tcp', 'tcp'],
  ['udp', 'udp'],
  ['both', 'both'],
];

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
