/** What every field of a WAN type or of a medium has. */
interface Base {
  readonly key: string;
  readonly label: string;
  readonly hint: string;
}
interface NumberRange {
  readonly unit: string;
  readonly lowest?: number;
  readonly highest: number;
  readonly decimals?: true;
}
type Choices = readonly (readonly [value: string, label: string])[];

/** A field of a WAN type or of a medium, as the sheet shows it. */
export type SettingField = Base &
  (
    | { readonly kind: 'text' | 'list' | 'switch' | 'secret' }
    | ({ readonly kind: 'number' } & NumberRange)
    | { readonly kind: 'choice'; readonly choices: Choices }
  );

type Maker = (key: string, label: string, hint: string) => SettingField;
export const textField: Maker = (key, label, hint) => ({ kind: 'text', key, label, hint });
/** Several values, separated by commas. */
export const listField: Maker = (key, label, hint) => ({ kind: 'list', key, label, hint });
export const switchField: Maker = (key, label, hint) => ({ kind: 'switch', key, label, hint });
/** The name under which the vault keeps a secret, never the secret. */
export const secretField: Maker = (key, label, hint) => ({ kind: 'secret', key, label, hint });
export const numberField = (key: string, label: string, hint: string, range: NumberRange): SettingField => ({
  kind: 'number',
  key,
  label,
  hint,
  ...range,
});
export const choiceField = (key: string, label: string, hint: string, choices: Choices): SettingField => ({
  kind: 'choice',
  key,
  label,
  hint,
  choices,
});
