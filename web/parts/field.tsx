import { memo, useId, useState, type ComponentProps, type ReactNode } from 'react';
import { valueAt } from '../../core/index.ts';
import { useMark } from '../app/analysis.ts';
import { useFocus, useIsFocused } from '../app/focus.ts';
import { usePlanPiece, useSession } from '../app/session.ts';
import { SeverityMark } from './severity.tsx';

/** The value at a pointer of the plan: a field is drawn anew only when its own value changes. */
const useValue = (at: string): unknown => usePlanPiece((plan) => valueAt(plan, at));

/** Choices beyond which a list is drawn only when its field is entered. */
const longList = 12;

interface FieldProps {
  readonly at: string;
  readonly label: string;
  readonly hint?: string;
  readonly unit?: string;
  /** Addresses, numbers and names of machines: the face with clear zeros. */
  readonly mono?: boolean;
  /** In a table the column heading is the visible label. */
  readonly bare?: boolean;
}

/** A ruled line with its label, and the mark of the gravest finding on it. */
function Line({ at, label, bare, unit, children, id }: FieldProps & { children: ReactNode; id: string }) {
  const mark = useMark(at);
  const focused = useIsFocused(at);
  const classes = ['field', bare && 'field-bare', mark && `field-${mark}`, focused && 'field-focus']
    .filter(Boolean)
    .join(' ');
  return (
    <div className={classes}>
      {!bare && (
        <label htmlFor={id} className="field-label">
          {label}
        </label>
      )}
      <div className="field-value">
        {children}
        {unit && <span className="unit">{unit}</span>}
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
function useControl({ at, label, hint }: FieldProps) {
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
      'aria-label': label,
      'aria-invalid': mark === 'blocker',
      ...(mark && { 'aria-describedby': `${id}-finding` }),
      ...(hint !== undefined && { title: hint }),
      onFocus: () => focus.place.set(at),
    },
  };
}

/** Text that goes on in the next line of the screen: a copy of it below the control gives the height, unmeasured. */
function GrowingText({ mono, ...props }: ComponentProps<'textarea'> & { readonly mono: boolean }) {
  return (
    <span className={mono ? 'grow mono' : 'grow'} data-text={props.value}>
      <textarea rows={1} {...props} />
    </span>
  );
}

export const TextField = memo(function TextField(
  props: FieldProps & {
    readonly multiline?: boolean;
    /** One line of text that may go on in the next line of the screen. */
    readonly wrap?: boolean;
    readonly maxLength?: number;
    readonly placeholder?: string;
  },
) {
  const value = String(useValue(props.at) ?? '');
  const { id, edit, settle, control } = useControl(props);
  const common = {
    ...control,
    value,
    onBlur: settle,
    maxLength: props.maxLength ?? (props.mono ? 64 : 200),
    spellCheck: !props.mono,
    autoComplete: 'off',
    placeholder: props.placeholder,
  };
  return (
    <Line {...props} id={id}>
      {props.multiline || props.wrap ? (
        <GrowingText
          {...common}
          mono={props.mono === true}
          onChange={({ target }) => edit(props.wrap ? target.value.replace(/\n/g, ' ') : target.value)}
        />
      ) : (
        <input
          {...common}
          className={props.mono ? 'typed mono' : 'typed'}
          onChange={({ target }) => edit(target.value)}
        />
      )}
    </Line>
  );
});

/** A number in digits; anything else is not taken, and a title says so. Empty is allowed. */
export const NumberField = memo(function NumberField(
  props: FieldProps & {
    readonly highest: number;
    readonly lowest?: number;
    readonly decimals?: boolean;
    readonly placeholder?: string;
  },
) {
  const stored = useValue(props.at) as number | null;
  const { id, edit, settle, control } = useControl(props);
  // "1." and "-" are on the way to a number: they stay as typed until the field is left.
  const [typed, setTyped] = useState<string>();
  const form = props.decimals ? /^-?\d*(?:\.\d*)?$/ : /^-?\d*$/;
  const take = (text: string): void => {
    const clean = text.replace(',', '.').trim();
    if (!form.test(clean) || (clean.startsWith('-') && (props.lowest ?? 0) >= 0)) return;
    const value = clean === '' || clean === '-' || clean === '.' ? null : Number(clean);
    if (value !== null && value > props.highest) return;
    setTyped(clean);
    edit(value);
  };
  return (
    <Line {...props} id={id}>
      <input
        {...control}
        className="typed mono"
        value={typed !== undefined && Number(typed) === (stored ?? 0) ? typed : (stored ?? '')}
        onChange={({ target }) => take(target.value)}
        onBlur={() => {
          setTyped(undefined);
          settle();
        }}
        placeholder={props.placeholder}
        title={props.hint ?? `Digits, up to ${props.highest}`}
        inputMode="decimal"
        autoComplete="off"
      />
    </Line>
  );
});

/** Several values in one line, separated by commas; what is typed is kept as typed. */
export const ListField = memo(function ListField(props: FieldProps & { readonly placeholder?: string }) {
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
        placeholder={props.placeholder}
        spellCheck={false}
        autoComplete="off"
      />
    </Line>
  );
});

export const ChoiceField = memo(function ChoiceField(
  props: FieldProps & { readonly choices: readonly (readonly [value: string, label: string])[] },
) {
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
      <select
        {...control}
        className={`choice ${props.mono ? 'mono' : ''}`}
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
      </select>
    </Line>
  );
});

export const SwitchField = memo(function SwitchField(
  props: FieldProps & { readonly on?: string; readonly off?: string },
) {
  const value = useValue(props.at) === true;
  const { id, edit, settle, control } = useControl(props);
  return (
    <Line {...props} id={id}>
      <input
        {...control}
        type="checkbox"
        className="tick"
        checked={value}
        onChange={(event) => {
          edit(event.target.checked);
          settle();
        }}
      />
      <span className="tick-word">{value ? (props.on ?? 'yes') : (props.off ?? 'no')}</span>
    </Line>
  );
});
