import { fieldAt } from '../../core/index.ts';

/** What the field in focus is: one sentence, its bounds and usual value, and the words under which boxes hide it. */
export function FieldFacts({ at }: { at: string }) {
  const field = fieldAt(at);
  if (!field) return null;
  const { says, alsoCalled, emptyMeans } = field;
  return (
    <div className="field-facts">
      <p>
        {says}
        {field.kind === 'number' && ` ${field.least} to ${field.most}${field.unit && ` ${field.unit}`}.`}
        {field.kind === 'number' &&
          field.usual &&
          ` Usually ${field.usual.value}${field.unit && ` ${field.unit}`} (${field.usual.source}).`}
        {field.kind === 'secret' && ' The plan holds its name in the vault, never the secret.'}
        {emptyMeans !== undefined && ` Empty: ${emptyMeans}.`}
      </p>
      {alsoCalled.length > 0 && <p className="quiet">Also called: {alsoCalled.join(', ')}.</p>}
    </div>
  );
}
