import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { confirmPatch, labelAt, missingOf, openOrigins, termAt } from '../../core/index.ts';
import { useSite } from '../app/analysis.ts';
import { useFocus } from '../app/focus.ts';
import { usePlan, useSession } from '../app/session.ts';
import { sheetOf, type SheetKey } from '../app/sheets.ts';

/** What a sheet decides, and who waits for it. */
const about: Partial<Record<SheetKey, readonly [decides: string, waits: string]>> = {
  site: [
    'The name under which the site is found, who opens the door, and which equipment is set up.',
    'The run sheet compares labels with the equipment, the record names the people.',
  ],
  uplinks: [
    'How each line gives the router its address, and what stands in front of it.',
    'Failover, forwards and remote access go over these lines; the run sheet enters them.',
  ],
  addresses: [
    'Which networks there are, who uses each, and which addresses they have.',
    'Rules, forwards and grants name these networks and devices.',
  ],
  wiring: [
    'Which cable joins which ports, and which VLANs pass on each.',
    'The way of every network and of lines that are carried over the cabling follows from it.',
  ],
  wifi: [
    'Which names devices join, where each leads, and the channels of the radios.',
    'Whoever joins a name is on its network, with all that the rules give it.',
  ],
  second: [
    'How each box behind the router is connected: as an access point, as a router of its own, or by air.',
    'Addresses, the order of the steps and what is reached behind it follow from it.',
  ],
  failover: [
    'What is promised for the day a line fails. The probing follows from the promise.',
    'The Bench rehearses each promise, the run sheet has it timed, Acceptance asks for the proof.',
  ],
  rules: [
    'What may pass between networks, and what is forwarded from outside.',
    'Exposure, Ask and Acceptance answer by these rules; the first row that fits decides.',
  ],
  'remote-access': [
    'Who comes in from outside, by which way, and what each may reach.',
    'Profiles, codes to scan and the days on which access ends follow from it.',
  ],
};

/** With no field in focus the column answers for the sheet: what decides here, what is missing, what waits for it. */
export function SheetColumn({ sheet }: { sheet: SheetKey }) {
  const plan = usePlan();
  const site = useSite();
  const session = useSession();
  const { goTo } = useFocus();
  const missing = missingOf(site).filter(({ at }) => sheetOf(at) === sheet);
  const origins = openOrigins(plan).filter(({ at }) => sheetOf(at) === sheet);
  const words = about[sheet];
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
                  {termAt(at)}{' '}
                  <span className="quiet">{labelAt(plan, at.slice(0, at.lastIndexOf('/')))}</span>
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
          <Typography variant="h3">What waits for it</Typography>
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
