import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMemo, useState } from 'react';
import { mergePlans } from '../../core/index.ts';
import { ReachChanges } from '../parts/reach-changes.tsx';
import { dayText } from '../state/time.ts';
import { MergeTable, type MergeChoices } from './merge-table.tsx';
import { useSession, useSnapshot } from '../state/session.ts';

const valuesChanged = (count: number): string =>
  `${count} ${count === 1 ? 'value was' : 'values were'} changed`;

/** Two windows changed one site: both are shown, and nothing is overwritten before a person chooses. */
export function ConflictDialog() {
  const session = useSession();
  const { save, plan } = useSnapshot();
  const theirs = save.kind === 'conflict' ? save.theirs : undefined;
  const merge = useMemo(
    () => theirs && mergePlans(session.base(), plan, theirs.plan),
    [theirs, plan, session],
  );
  const [choices, setChoices] = useState<MergeChoices>({});
  const chosen = useMemo(() => merge?.resolve(choices), [merge, choices]);
  if (!theirs || !merge || !chosen) return null;
  const { conflicts, fromMine, fromTheirs } = merge;
  return (
    <Dialog open aria-labelledby="conflict-title">
      <DialogTitle id="conflict-title">This site was changed elsewhere</DialogTitle>
      <DialogContent>
        <p>
          Revision {theirs.revision} was saved {dayText(theirs.savedAt)} in another window. Here,{' '}
          {valuesChanged(fromMine.length + conflicts.length)} since this window opened the site; there,{' '}
          {valuesChanged(fromTheirs.length + conflicts.length)}.
          {conflicts.length === 0
            ? ' They are different values, so both can be kept.'
            : ' Some were changed on both sides: choose for each.'}
        </p>
        <MergeTable conflicts={conflicts} choices={choices} choose={setChoices} />
        <p className="quiet">Kept as chosen, beside the plan as it was here:</p>
        <ReachChanges before={plan} after={chosen} />
      </DialogContent>
      <DialogActions>
        <Button onClick={() => session.settleConflict(theirs.plan, theirs)}>Keep the other version</Button>
        <Button onClick={() => session.settleConflict(plan, theirs)}>Keep this version</Button>
        <Button variant="contained" autoFocus onClick={() => session.settleConflict(chosen, theirs)}>
          Keep both, as chosen
        </Button>
      </DialogActions>
    </Dialog>
  );
}
