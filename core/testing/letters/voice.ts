import type { Dice, LineTruth } from './truth.ts';

export type Label =
  | 'medium' | 'type' | 'userName' | 'password' | 'vlan' | 'rate' | 'down' | 'up' | 'address' | 'mask' | 'gateway'
  | 'dns' | 'dns1' | 'dns2' | 'mtu' | 'apn' | 'pin' | 'cap' | 'aftr'; // prettier-ignore

/** How one country writes letters about lines. The words are those of letters and forms (common practice, no source). */
export interface Voice {
  readonly language: string;
  /** What stands before a value. */
  readonly labels: Readonly<Record<Label, readonly string[]>>;
  readonly media: Readonly<Record<LineTruth['medium'], readonly string[]>>;
  readonly types: Readonly<Record<LineTruth['type'], readonly string[]>>;
  readonly units: readonly string[];
  /** A figure as this country writes it. */
  readonly figure: (value: number, dice: Dice) => string;
  readonly greetings: readonly string[];
  readonly closings: readonly string[];
  /** Headings over the main line and over the one that takes over. */
  readonly mainHeads: readonly string[];
  readonly backupHeads: readonly string[];
  /** Rows that say nothing of the line; `dice` gives their figures. */
  readonly noise: readonly ((dice: Dice) => string)[];
  /** Sentences for the same facts; what a `{name}` stands for is filled in. */
  readonly sentences: Readonly<
    Partial<
      Record<
        | 'open'
        | 'rates'
        | 'vlan'
        | 'login'
        | 'fixed'
        | 'dns'
        | 'apn'
        | 'mtu'
        | 'cap'
        | 'aftr'
        | 'address'
        | 'pin'
        | 'dhcp',
        readonly string[]
      >
    >
  >;
  readonly separately: readonly string[];
  /** An order that no longer holds; its rate and its VLAN are not the line's. */
  readonly cancelled: readonly string[];
  /** A figure put right: `{old}` and `{new}`. */
  readonly vlanCorrected: readonly string[];
}

const comma = (value: number): string => String(value).replace('.', ',');
/** 1.000 and 2,5. */
export const dotted = (value: number, dice: Dice): string =>
  value >= 1000 && dice.chance(0.5) ? comma(value).replace(/^(\d+)(\d{3})/, '$1.$2') : comma(value);
/** 1 000 and 2,5. */
export const spaced = (value: number, dice: Dice): string =>
  value >= 1000 && dice.chance(0.5) ? comma(value).replace(/^(\d+)(\d{3})/, '$1 $2') : comma(value);
/** 1,000 and 2.5. */
export const english = (value: number, dice: Dice): string =>
  value >= 1000 && dice.chance(0.5) ? String(value).replace(/^(\d+)(\d{3})/, '$1,$2') : String(value);
