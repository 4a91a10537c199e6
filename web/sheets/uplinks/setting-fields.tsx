import { asAt, fieldsBelow } from '../../../core/index.ts';
import { Field } from '../../parts/field.tsx';

/** The fields right below a place of the plan: the settings of one WAN type, or of one medium. */
export function SettingFields({ at }: { at: string }) {
  return fieldsBelow(at)
    .filter(({ field }) => field.kind !== 'rows')
    .map((each) => {
      const place = asAt(`${at}/${each.at.split('/').at(-1)}`);
      return <Field key={place} at={place} />;
    });
}
