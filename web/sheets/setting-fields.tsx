import Button from '@mui/material/Button';
import { valueAt, type SettingField } from '../../core/index.ts';
import { usePlanPiece } from '../app/session.ts';
import { useVaultDialog } from '../app/vault.ts';
import { ChoiceField, ListField, NumberField, SwitchField, TextField } from '../parts/field.tsx';

/** The fields that a WAN type or a medium brings, as its registry entry lists them. */
export function SettingFields({ at, fields }: { at: string; fields: readonly SettingField[] }) {
  return fields.map((field) => {
    const common = { key: field.key, at: `${at}/${field.key}`, label: field.label, hint: field.hint };
    switch (field.kind) {
      case 'switch':
        return <SwitchField {...common} key={field.key} />;
      case 'list':
        return <ListField {...common} key={field.key} />;
      case 'number':
        return (
          <NumberField
            {...common}
            key={field.key}
            unit={field.unit}
            highest={field.highest}
            lowest={field.lowest ?? 0}
            decimals={field.decimals === true}
          />
        );
      case 'choice':
        return <ChoiceField {...common} key={field.key} choices={field.choices} />;
      case 'secret':
        return <SecretField {...common} key={field.key} />;
      case 'text':
        return <TextField {...common} key={field.key} mono wrap maxLength={255} />;
    }
  });
}

/** The name under which the vault keeps a secret, and the way to it. */
function SecretField(props: { at: string; label: string; hint: string }) {
  const open = useVaultDialog();
  const name = usePlanPiece((plan) => String(valueAt(plan, props.at) ?? ''));
  return (
    <div className="secret-field">
      <TextField {...props} placeholder="name in the vault" mono />
      <Button onClick={() => open(name)} aria-label={`Vault, for ${props.label}`}>
        Vault
      </Button>
    </div>
  );
}
