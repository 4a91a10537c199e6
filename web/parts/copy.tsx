import { mdiCheck, mdiContentCopy } from '@mdi/js';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import { useFocus } from '../state/focus.ts';
import { Icon } from './severity.tsx';

/** Copies one value; the tick says that it was done. In focus, Workings answer for where the value comes from. */
export function CopyButton({ value, what, at }: { value: string; what: string; at?: string | undefined }) {
  const focus = useFocus();
  const [done, setDone] = useState(false);
  const copy = async (): Promise<void> => {
    await navigator.clipboard.writeText(value);
    setDone(true);
    setTimeout(() => setDone(false), 1500);
  };
  return (
    <IconButton
      size="small"
      className="row-button"
      aria-label={done ? `${what} copied` : `Copy ${what}`}
      onFocus={() => at !== undefined && focus.place.set(at)}
      onClick={() => void copy()}
    >
      <Icon path={done ? mdiCheck : mdiContentCopy} />
    </IconButton>
  );
}
