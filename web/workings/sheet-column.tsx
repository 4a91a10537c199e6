import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { confirmPatch, labelAt, missingOf, openOrigins } from '../../core/index.ts';
import { useSite } from '../state/analysis.ts';
import { useFocus } from '../state/focus.ts';
import { usePlan, useSession } from '../state/session.ts';
import { sheetNamed, sheetOf, type SheetKey } from '../sheets/index.ts';

/** With no field in focus the column answers for the sheet: what decides here, what is missing, what waits for it. */
export function SheetColumn({ sheet }: { sheet: SheetKey }) {
  const plan = usePlan();
  const site = useSite();
  const session = useSession();
  const { goTo } = useFocus();
  const missing = missingOf(site).filter(({ at }) => sheetOf(at) === sheet);
  const origins = openOrigins(plan).filter(({ at }) => sheetOf(at) === sheet);
  const words = sheetNamed(sheet)?.about;
  return (
    <>
      <Typography variant="h2">This sheet</Typography>
      {words && <p>{words[0]}</p>}
      {missing.length > 0 && (
        <>
          <Typography variant="h3">Missing</Typography>
          <ul className="column-list">
            {missing.slice(0, 10).map(({ at }) => (
              <li key={at}>
                <button type="button" className="link" onClick={() => goTo(at)}>
                  {labelAt(plan, at)}
                </button>
              </li>
            ))}
            {missing.length > 10 && <li className="quiet">and {missing.length - 10} more</li>}
          </ul>
        </>
      )}
      {origins.length > 0 && (
        <>
          <Typography variant="h3">Not confirmed yet: {origins.length}</Typography>
          <p className="quiet">Set by the brief. A value that you change counts as confirmed.</p>
          <ul className="column-list">
            {origins.slice(0, 8).map(({ id, at, says }) => (
              <li key={id}>
                <button type="button" className="link" onClick={() => goTo(at)} title={says}>
                  {labelAt(plan, at)}
                </button>
              </li>
            ))}
            {origins.length > 8 && <li className="quiet">and {origins.length - 8} more</li>}
          </ul>
          <Button onClick={() => session.patch(confirmPatch(plan, new Set(origins.map(({ id }) => id))))}>
            Confirm all of this sheet
          </Button>
        </>
      )}
      {words && (
        <>
          <Typography variant="h3">Used by</Typography>
          <p className="quiet">{words[1]}</p>
        </>
      )}
    </>
  );
}

/** Where the value in focus came from, until somebody confirms it. */
export function OriginNote({ at }: { at: string }) {
  const plan = usePlan();
  const session = useSession();
  const origin = at === '' ? undefined : openOrigins(plan).find((each) => each.at === at);
  if (!origin) return null;
  return (
    <div className="origin">
      <p>
        {origin.says} <span className="quiet">Not confirmed yet.</span>
      </p>
      <Button onClick={() => session.patch(confirmPatch(plan, new Set([origin.id])))}>Confirm</Button>
    </div>
  );
}
