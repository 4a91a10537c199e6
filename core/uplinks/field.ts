/** A field of a WAN type or of a medium, as the sheet shows it. */
export type SettingField = {
  readonly key: string;
  readonly label: string;
  readonly hint: string;
} & (
  | { readonly kind: 'text' | 'list' | 'switch' | 'secret' }
  | {
      readonly kind: 'number';
      readonly unit: string;
      readonly lowest?: number;
      readonly highest: number;
      readonly decimals?: true;
    }
  | { readonly kind: 'choice'; readonly choices: readonly (readonly [value: string, label: string])[] }
);
