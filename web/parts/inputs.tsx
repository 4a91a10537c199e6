import Checkbox from '@mui/material/Checkbox';
import InputBase from '@mui/material/InputBase';
import NativeSelect from '@mui/material/NativeSelect';
import type { ComponentProps, ReactElement } from 'react';

/** One line of text. Everything but the class belongs to the control itself. */
export const Input = ({ className, ref, ...control }: ComponentProps<'input'>): ReactElement => (
  <InputBase className={className} inputRef={ref} inputProps={control} />
);

/** Several lines of text. */
export const TextArea = ({ className, ref, ...control }: ComponentProps<'textarea'>): ReactElement => (
  <InputBase
    className={className === undefined ? 'text-area' : `text-area ${className}`}
    inputRef={ref}
    inputComponent="textarea"
    inputProps={control}
  />
);

const plain = <InputBase />;

/** One of several. The list is the browser's own: it opens at once, by any key, and on a telephone as there. */
export const Select = ({ className, children, ref, ...control }: ComponentProps<'select'>): ReactElement => (
  <NativeSelect
    className={className === undefined ? 'choice' : `choice ${className}`}
    input={plain}
    inputRef={ref}
    inputProps={control}
  >
    {children}
  </NativeSelect>
);

/** A box to tick. */
export const Tick = ({
  checked,
  disabled,
  onChange,
  ...control
}: Pick<ComponentProps<'input'>, 'onChange' | 'onFocus' | 'title' | 'id'> & {
  readonly checked: boolean;
  readonly disabled?: boolean;
}): ReactElement => (
  <Checkbox
    checked={checked}
    disabled={disabled ?? false}
    onChange={onChange}
    slotProps={{ input: control }}
  />
);
