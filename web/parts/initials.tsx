import { useState } from 'react';
import { kept } from '../state/kept.ts';
import { Input } from './inputs.tsx';

/** Who holds the laptop: kept on this machine, and put on every record. */
export function Initials() {
  const [initials, setInitials] = useState(() => kept.getItem('netter-initials') ?? '');
  return (
    <label className="initials">
      Initials
      <Input
        data-initials
        className="mono boxed"
        value={initials}
        maxLength={8}
        size={4}
        autoComplete="off"
        onChange={(event) => {
          setInitials(event.target.value);
          kept.setItem('netter-initials', event.target.value);
        }}
      />
    </label>
  );
}
