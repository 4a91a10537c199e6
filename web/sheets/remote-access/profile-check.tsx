import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { checkProfile, parseProfile } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { PasteOrDrop } from '../../parts/paste-or-drop.tsx';
import { FaultList } from '../../parts/severity.tsx';

/** Check a client profile: every fault of it, named against the plan. */
export default function ProfileCheck() {
  const site = useSite();
  const [text, setText] = useState('');
  const parsed = text.trim() === '' ? undefined : parseProfile(text);
  const checked = parsed?.ok ? checkProfile(site, parsed.value) : undefined;
  return (
    <section aria-labelledby="profile-check">
      <Typography variant="h3" id="profile-check">
        Check a client profile
      </Typography>
      <PasteOrDrop label="Check a client profile" value={text} onText={setText} />
      {parsed && !parsed.ok && <p role="alert">{parsed.problem.says}</p>}
      {checked && (
        <div role="status">
          <p>
            {checked.peer && (
              <>
                It belongs to <strong>{checked.peer.name}</strong>.{' '}
              </>
            )}
            {checked.faults.length === 0
              ? 'Nothing is wrong with it.'
              : checked.faults.length === 1
                ? 'One thing is wrong with it:'
                : `${checked.faults.length} things are wrong with it:`}
          </p>
          <FaultList faults={checked.faults} />
        </div>
      )}
    </section>
  );
}
