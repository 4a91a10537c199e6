import { mdiCheck, mdiContentCopy } from '@mdi/js';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import { Icon } from './severity.tsx';

/** Copies one value; the tick says that it was done. */
export function CopyButton({ value, what }: { value: string; what: string }) {
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
      onClick={() => void copy()}
    >
      <Icon path={done ? mdiCheck : mdiContentCopy} />
    </IconButton>
  );
}
