import Button from '@mui/material/Button';
import FormLabel from '@mui/material/FormLabel';
import InputBase from '@mui/material/InputBase';
import { memo, useId, useState, type ComponentProps, type ReactNode } from 'react';
import {
  fieldAt,
  rateOf,
  valueAt,
  type Field as CatalogueField,
  type NumberField,
  type ReferenceField,
  type SwitchField,
  type TextField,
  type At,
} from '../../core/index.ts';
import { useMark } from '../state/analysis.ts';
import { useFocus, useIsFocused } from '../state/focus.ts';
import { usePlanPiece, useSession } from '../state/session.ts';
import { useVaultDialog } from '../state/vault.ts';
import { useReferenceChoices, type Choices } from './choices.ts';
import { Input, Select, Tick } from './inputs.tsx';
import { SeverityMark } from './severity.tsx';

/** The value at a pointer of the plan: a field is drawn anew only when its own value changes. */
const useValue = (at: string): unknown => usePlanPiece((plan) => valueAt(plan, at));

/** Choices beyond which a list is drawn only when its field is entered. */
const longList = 12;

interface FieldProps {
  /** JSON Pointer of the field: term, sentence, unit and bounds stand in the catalogue. */
  readonly at: At;
  /** In a table the column heading is the visible label. */
  readonly bare?: boolean;
  /** Whose field it is, where several of one name stand beside each other. */
  readonly of?: string;
  /** What can be chosen for a reference, where not every row of its list can. */
  readonly choices?: Choices;
  /** Shown while it is empty, where what stands in depends on other fields. */
  readonly placeholder?: string;
}

interface Props<Kind extends CatalogueField> extends FieldProps {
  readonly field: Kind;
}

/** The control of a field of the plan, made from its catalogue entry. */
export const Field = memo(function Field(props: FieldProps) {
  const field = fieldAt(props.at);
  switch (field?.kind) {
    case 'text':
    case 'notes':
      return props.choices ? (
        <Choice {...props} field={field} choices={props.choices} />
      ) : (
        <Text {...props} field={field} />
      );
    case 'secret':
      return <Secret {...props} field={field} />;
    case 'list':
      return <List {...props} field={field} />;
    case 'number':
      return <Figure {...props} field={field} />;
    case 'switch':
      return <Switch {...props} field={field} />;
    case 'choice':
      return <Choice {...props} field={field} choices={field.choices} />;
    case 'choices':
      return <Several {...props} field={field} choices={field.choices} />;
    case 'references':
      return <References {...props} field={field} />;
    case 'reference':
      return props.choices ? (
        <Choice {...props} field={field} choices={withNone(field, props.choices)} />
      ) : (
        <Reference {...props} field={field} />
      );
    default:
      throw new Error(`No field of the plan stands at ${props.at}.`);
  }
});

/** A ruled line with its label, and the mark of the gravest finding on it. */
function Line({
  at,
  field,
  of,
  bare,
  children,
  id,
}: Props<CatalogueField> & { children: ReactNode; id: string }) {
  const mark = useMark(at);
  const focused = useIsFocused(at);
  const classes = ['field', bare && 'field-bare', mark && `field-${mark}`, focused && 'field-focus']
    .filter(Boolean)
    .join(' ');
  return (
    <div className={classes}>
      {!bare && (
        <FormLabel htmlFor={id} className="field-label">
          {of ? `${field.term} of ${of}` : field.term}
        </FormLabel>
      )}
      <div className="field-value">
        {children}
        {!bare && field.kind === 'number' && field.unit !== '' && <span className="unit">{field.unit}</span>}
      </div>
      {mark && (
        <span className="field-mark" id={`${id}-finding`}>
          <SeverityMark severity={mark} />
        </span>
      )}
    </div>
  );
}

/** What every control of the plan has: its name, its place, and the focus that Workings follow. */
function useControl({ at, field, of }: Props<CatalogueField>) {
  const session = useSession();
  const focus = useFocus();
  const mark = useMark(at);
  const id = useId();
  return {
    id,
    edit: (value: unknown) => session.edit(at, value),
    settle: session.settle,
    control: {
      id,
      'data-at': at,
      'aria-label': of ? `${field.term} of ${of}` : field.term,
      'aria-invalid': mark === 'blocker',
      ...(mark && { 'aria-describedby': `${id}-finding` }),
      title: field.says,
      onFocus: () => focus.place.set(at),
    },
  };
}

/** What is shown while a field is empty: what that means, or an example. */
const standIn = ({ field, placeholder }: Props<CatalogueField>): string | undefined =>
  placeholder ??
  (field.kind === 'number' && field.usual ? String(field.usual.value) : (field.emptyMeans ?? field.example));

/** Text that goes on in the next line of the screen: a copy of it below the control gives the height, unmeasured. */
function GrowingText({ mono, ...props }: ComponentProps<'textarea'> & { readonly mono: boolean }) {
  return (
    <span className={mono ? 'grow mono' : 'grow'} data-text={props.value}>
      <InputBase inputComponent="textarea" inputProps={{ rows: 1, ...props }} />
    </span>
  );
}

/** Texts that may be longer go on in the next line of the screen. */
const longLine = 100;

function Text(props: Props<TextField>) {
  const { field } = props;
  const value = String(useValue(props.at) ?? '');
  const { id, edit, settle, control } = useControl(props);
  const common = {
    ...control,
    value,
    onBlur: settle,
    maxLength: field.longest,
    spellCheck: !field.mono,
    autoComplete: 'off',
    placeholder: standIn(props),
  };
  return (
    <Line {...props} id={id}>
      {field.kind === 'notes' || field.longest >= longLine ? (
        <GrowingText
          {...common}
          mono={field.mono}
          onChange={({ target }) =>
            edit(field.kind === 'notes' ? target.value : target.value.replace(/\n/g, ' '))
          }
        />
      ) : (
        <Input
          {...common}
          className={field.mono ? 'typed mono' : 'typed'}
          onChange={({ target }) => edit(target.value)}
        />
      )}
    </Line>
  );
}

/** The name under which the vault keeps a secret, and the way to it. */
function Secret(props: Props<TextField>) {
  const open = useVaultDialog();
  const name = String(useValue(props.at) ?? '');
  return (
    <div className="secret-field">
      <Text placeholder={props.field.emptyMeans ?? 'name in the vault'} {...props} />
      <Button onClick={() => open(name)} aria-label={`Vault, for ${props.field.term}`}>
        Vault
      </Button>
    </div>
  );
}

/** A figure with the beginning of a unit of rates. */
const takesRate = (text: string): boolean => /^\d+(?:[.,]\d*)? ?[kmg]?i?(?:b[a-z]{0,4})?\/?s?$/i.test(text);

/** A figure; one that its field cannot have is kept as typed and marked. Empty is allowed. */
function Figure(props: Props<NumberField>) {
  const { least, most, whole, says } = props.field;
  const stored = useValue(props.at) as number | null;
  const { id, edit, settle, control } = useControl(props);
  // "1." and "-" are on the way to a number: they stay as typed until the field is left.
  const [typed, setTyped] = useState<string>();
  const rate = props.field.unit === 'Mb/s';
  const take = (text: string): void => {
    const clean = text.replace(',', '.').trim();
    if (rate && takesRate(clean)) {
      // A unit may be typed with it: MB/s and kb/s become Mb/s when the field is left.
      setTyped(clean);
      edit(rateOf(clean) ?? null);
      return;
    }
    if (!/^-?\d*(?:\.\d*)?$/.test(clean)) return;
    setTyped(clean);
    edit(/\d/.test(clean) ? Number(clean) : null);
  };
  const means = (text: string): number => (rate ? (rateOf(text) ?? 0) : Number(text));
  return (
    <Line {...props} id={id}>
      <Input
        {...control}
        className="typed mono"
        value={typed !== undefined && means(typed) === (stored ?? 0) ? typed : (stored ?? '')}
        onChange={({ target }) => take(target.value)}
        onBlur={() => {
          setTyped(undefined);
          settle();
        }}
        placeholder={standIn(props)}
        title={`${says} ${least} to ${most}${whole ? ', whole' : ''}.`}
        inputMode="decimal"
        autoComplete="off"
        maxLength={20}
      />
    </Line>
  );
}

/** Several values in one line, separated by commas; what is typed is kept as typed. */
function List(props: Props<TextField>) {
  const values = (useValue(props.at) ?? []) as string[];
  const { id, edit, settle, control } = useControl(props);
  const focused = useIsFocused(props.at);
  return (
    <Line {...props} id={id}>
      <GrowingText
        {...control}
        mono
        value={values.join(focused ? ',' : ', ')}
        onChange={({ target }) =>
          edit(target.value === '' ? [] : target.value.replace(/\n/g, ',').split(','))
        }
        onBlur={() => {
          const tidy = values.map((value) => value.trim()).filter((value) => value !== '');
          if (tidy.join() !== values.join()) edit(tidy);
          settle();
        }}
        placeholder={standIn(props)}
        spellCheck={false}
        autoComplete="off"
      />
    </Line>
  );
}

const withNone = ({ emptyMeans }: ReferenceField, choices: Choices): Choices =>
  emptyMeans === undefined ? choices : [['', emptyMeans], ...choices];

function Reference(props: Props<ReferenceField>) {
  return <Choice {...props} choices={withNone(props.field, useReferenceChoices(props.field.to))} />;
}

function Choice(props: Props<CatalogueField> & { readonly choices: Choices }) {
  const value = String(useValue(props.at) ?? '');
  const { id, edit, settle, control } = useControl(props);
  const known = props.choices.some(([each]) => each === value);
  // A long list is drawn when the field is entered; until then the chosen one is enough to be seen.
  const [entered, setEntered] = useState(false);
  const drawn =
    entered || props.choices.length <= longList
      ? props.choices
      : props.choices.filter(([each]) => each === value);
  return (
    <Line {...props} id={id}>
      <Select
        {...control}
        value={value}
        onPointerDown={() => setEntered(true)}
        onFocus={() => {
          setEntered(true);
          control.onFocus();
        }}
        onChange={(event) => {
          edit(event.target.value);
          settle();
        }}
      >
        {!known && <option value={value}>{value === '' ? 'choose …' : 'no longer there'}</option>}
        {drawn.map(([each, label]) => (
          <option key={each} value={each}>
            {label}
          </option>
        ))}
      </Select>
    </Line>
  );
}

/** Any of several, each with a box to tick. */
function Several({ at, field, bare, choices }: Props<CatalogueField> & { readonly choices: Choices }) {
  const session = useSession();
  const focus = useFocus();
  const mark = useMark(at);
  const chosen = (useValue(at) ?? []) as string[];
  return (
    <div
      className={['field', bare && 'field-bare', mark && `field-${mark}`].filter(Boolean).join(' ')}
      data-at={at}
      tabIndex={-1}
      role="group"
      aria-label={field.term}
      title={field.says}
    >
      {!bare && <span className="field-label">{field.term}</span>}
      <span className={bare ? 'ticks' : 'ticks ticks-row'}>
        {choices.map(([name, title]) => (
          <label key={name}>
            <Tick
              checked={chosen.includes(name)}
              onFocus={() => focus.place.set(at)}
              onChange={({ target }) => {
                session.edit(at, target.checked ? [...chosen, name] : chosen.filter((each) => each !== name));
                session.settle();
              }}
            />{' '}
            {title}
          </label>
        ))}
      </span>
    </div>
  );
}

function References(props: Props<ReferenceField>) {
  return <Several {...props} choices={useReferenceChoices(props.field.to)} />;
}

function Switch(props: Props<SwitchField>) {
  const { on, off } = props.field;
  const value = useValue(props.at) === true;
  const { id, edit, settle, control } = useControl(props);
  return (
    <Line {...props} id={id}>
      <Tick
        {...control}
        checked={value}
        onChange={(event) => {
          edit(event.target.checked);
          settle();
        }}
      />
      <span className="tick-word">{value ? on : off}</span>
    </Line>
  );
}
