import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useMemo, useState } from 'react';
import { mergePlans, type Plan } from '../../core/index.ts';
import { ReachChanges } from '../parts/reach-changes.tsx';
import { sentence } from '../state/api.ts';
import { MergeTable, type MergeChoices } from './merge-table.tsx';

/** Three states of one plan: what both began from, as it is here, and as it comes from elsewhere. */
export interface ThreeWays {
  readonly name: string;
  readonly base: Plan;
  readonly mine: Plan;
  readonly theirs: Plan;
}

/** A plan that comes from elsewhere and the one here become one; a person chooses where both changed a value. */
export function MergeDialog({
  ways: { name, base, mine, theirs },
  save,
  close,
}: {
  ways: ThreeWays;
  save: (plan: Plan) => Promise<void>;
  close: () => void;
}) {
  const { conflicts, fromMine, fromTheirs, resolve } = useMemo(
    () => mergePlans(base, mine, theirs),
    [base, mine, theirs],
  );
  const [choices, setChoices] = useState<MergeChoices>({});
  const [problem, setProblem] = useState('');
  const chosen = useMemo(() => resolve(choices), [resolve, choices]);
  const send = (): void => {
    save(chosen).then(close, (error: unknown) => setProblem(sentence(error)));
  };
  return (
    <Dialog open onClose={close} aria-labelledby="merge-title" fullWidth maxWidth="md">
      <DialogTitle id="merge-title">Merge {name || 'the site'}</DialogTitle>
      <DialogContent>
        <p>
          Changed here only: {fromMine.length}. Changed there only: {fromTheirs.length}. Changed on both
          sides: {conflicts.length}.{' '}
          {conflicts.length === 0 ? 'Both sides can be kept whole.' : 'Choose for each of the last.'} What was
          here before stays among the revisions.
        </p>
        <MergeTable conflicts={conflicts} choices={choices} choose={setChoices} />
        <p className="quiet">Merged as chosen, beside the plan as it is here:</p>
        <ReachChanges before={mine} after={chosen} />
        {problem && <p role="alert">{problem}</p>}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Cancel</Button>
        <Button variant="contained" autoFocus onClick={send}>
          Merge as chosen
        </Button>
      </DialogActions>
    </Dialog>
  );
}
