import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import {
  accessEvents,
  accessList,
  compareListing,
  endingsOf,
  noteHandshakes,
  parseListing,
  type AccessEvent,
  type AccessState,
} from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { useSession } from '../../state/session.ts';
import { SaveFile } from '../../parts/save-file.tsx';
import { PasteOrDrop } from '../../parts/paste-or-drop.tsx';
import { FaultList } from '../../parts/severity.tsx';
import { today } from '../../state/time.ts';
import '../../parts/panel.css';

const stateWords: readonly (readonly [AccessState, string])[] = [
  ['in', 'in'],
  ['ends-soon', 'ending soon'],
  ['ended', 'expired, still active on the router'],
  ['silent', 'silent for long'],
  ['no-key', 'without a key'],
  ['revoked', 'revoked'],
];

/** Remote access today, what happened to whose access, and whether the router agrees. */
export default function AccessSection() {
  const site = useSite();
  const day = today();
  const list = accessList(site, day);
  const events = accessEvents(site);
  const endings = endingsOf(site);
  if (list.length === 0 && events.length === 0) return null;
  const counts = stateWords.flatMap(([state, words]) => {
    const count = list.filter((each) => each.state === state).length;
    return count > 0 ? [`${count} ${words}`] : [];
  });
  const next = events.find((each) => each.day > day);
  return (
    <section aria-labelledby="access">
      <Typography variant="h3" id="access">
        Remote access today
      </Typography>
      <p>
        {list.length} {list.length === 1 ? 'device' : 'devices'}: {counts.join(', ')}.
        {next && (
          <>
            {' '}
            Next: <span className="mono">{next.day}</span>, {next.who}, {next.what}.
          </>
        )}
      </p>
      <Events events={events} day={day} />
      <div className="row-actions">
        <SaveFile format="access-csv">Save the list as CSV</SaveFile>
        {endings.length > 0 && (
          <SaveFile format="calendar">Save all {endings.length} endings as a calendar</SaveFile>
        )}
      </div>
      <RouterList />
    </section>
  );
}

/** The history of access; its rows are drawn once somebody opens it, for hundreds of people have thousands. */
function Events({ events, day }: { events: readonly AccessEvent[]; day: string }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="access-events" onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary>Changes of access, and what will: {events.length}</summary>
      {open && (
        <Table className="losses" aria-label="Changes of access">
          <TableHead>
            <TableRow>
              <TableCell>Day</TableCell>
              <TableCell>Who</TableCell>
              <TableCell>What</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {events.map((each) => (
              <TableRow key={each.day + each.who + each.what} className={each.day > day ? 'to-come' : ''}>
                <TableCell className="mono">{each.day}</TableCell>
                <TableCell>{each.who}</TableCell>
                <TableCell>{each.what}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </details>
  );
}

/** Peer list of the router: keys that nobody has any more, blocks that are too wide, and when each was last seen. */
function RouterList() {
  const session = useSession();
  const site = useSite();
  const [text, setText] = useState('');
  if (site.vpn.way !== 'wireguard') return null;
  const day = today();
  const parsed = text.trim() === '' ? undefined : parseListing(text, day);
  const compared = parsed?.ok ? compareListing(site, parsed.value, day) : undefined;
  const fresh = compared?.seen.filter(({ index, day: seen }) => site.vpn.peers[index]!.lastSeen < seen);
  const takeOver = (): void => {
    session.patch(noteHandshakes(fresh ?? []));
  };
  return (
    <>
      <Typography variant="h4" className="sub">
        Peer list of the router
      </Typography>
      <PasteOrDrop label="Peer list of the router" value={text} onText={setText} />
      {parsed && !parsed.ok && <p role="alert">{parsed.problem.says}</p>}
      {compared && (
        <div role="status">
          <p>
            {compared.known} of its peers are in the plan.
            {compared.faults.length === 0 && ' Router and plan agree.'}
          </p>
          <FaultList faults={compared.faults} />
          {fresh && fresh.length > 0 && (
            <Button onClick={takeOver}>
              Note when {fresh.length === 1 ? 'one was' : `${fresh.length} were`} last seen
            </Button>
          )}
        </div>
      )}
    </>
  );
}
