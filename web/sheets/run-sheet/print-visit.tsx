import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { createPortal } from 'react-dom';
import { houseCard, labelStrip, wifiCode, type RunStep } from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { useSession, useSnapshot } from '../../state/session.ts';
import { keepRevision, sentence } from '../../state/api.ts';
import { reveal, useVault, useVaultDialog } from '../../state/vault.ts';
import { useVisit } from '../../state/visit.ts';
import { spanText } from '../../state/time.ts';
import '../../parts/paper-page.css';

type Page = 'run-sheet' | 'labels' | 'house-card';

/** A code with which guests join, drawn. */
interface Code {
  readonly ssid: string;
  readonly picture: string;
  /** For who cannot scan; empty where the network is open. */
  readonly passphrase: string;
}

const titles: Record<Page, string> = {
  'run-sheet': 'Run sheet, A4',
  labels: 'Labels, to cut out',
  'house-card': 'Customer card',
};

/** What goes along on paper, and what stays in the house: A4, black and white. */
export default function PrintVisit() {
  const session = useSession();
  const { revision } = useSnapshot();
  const [page, setPage] = useState<Page>();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [codes, setCodes] = useState<readonly Code[]>([]);
  const [problem, setProblem] = useState('');
  const { state } = useVault();
  const openVault = useVaultDialog();
  const guests = useSite().wifi.networks.filter(
    ({ network, security, secret }) =>
      network?.purpose === 'guests' && (security === 'open' || secret.trim() !== ''),
  );
  const withCodes = async (): Promise<void> => {
    if (state !== 'open' && guests.some(({ security }) => security !== 'open')) {
      openVault(guests[0]?.secret.trim());
      return;
    }
    try {
      const { toString } = await import('qrcode');
      setCodes(
        await Promise.all(
          guests.map(async (each): Promise<Code> => {
            const passphrase = each.security === 'open' ? '' : await reveal(session.id, each.secret.trim());
            return {
              ssid: each.ssid,
              passphrase,
              picture: await toString(wifiCode(each, passphrase), {
                type: 'svg',
                margin: 2,
                errorCorrectionLevel: 'M',
              }),
            };
          }),
        ),
      );
      setProblem('');
      setPage('house-card');
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  useEffect(() => {
    if (page === undefined) return;
    if (page === 'run-sheet') keepRevision(session.id, revision, 'print');
    window.print();
    setPage(undefined);
    setCodes([]);
  }, [page, session.id, revision]);
  return (
    <>
      <Button
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        onClick={({ currentTarget }) => setAnchor(currentTarget)}
      >
        Print …
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {(Object.keys(titles) as Page[]).map((each) => (
          <MenuItem
            key={each}
            onClick={() => {
              setAnchor(null);
              setPage(each);
            }}
          >
            {titles[each]}
          </MenuItem>
        ))}
        {guests.length > 0 && (
          <MenuItem
            onClick={() => {
              setAnchor(null);
              void withCodes();
            }}
          >
            House card with the Wi-Fi of guests, to scan
          </MenuItem>
        )}
      </Menu>
      {problem !== '' && <span role="alert">{problem}</span>}
      {page !== undefined && createPortal(<Paper page={page} codes={codes} />, document.body)}
    </>
  );
}

function Paper({ page, codes }: { page: Page; codes: readonly Code[] }) {
  return (
    <article className={`paper-page paper-${page}`} aria-label={titles[page]}>
      {page === 'run-sheet' ? (
        <RunSheetPaper />
      ) : page === 'labels' ? (
        <LabelPaper />
      ) : (
        <HouseCardPaper codes={codes} />
      )}
    </article>
  );
}

function RunSheetPaper() {
  const site = useSite();
  const visit = useVisit();
  const { revision } = useSnapshot();
  return (
    <>
      <Typography variant="h1">
        Run sheet: {site.about.name || 'Unnamed site'}, revision {revision}
      </Typography>
      <ol className="paper-steps">
        {visit?.steps.map((step) => (
          <PaperStep key={step.id} step={step} done={visit.stateOf(step).done} />
        ))}
      </ol>
    </>
  );
}

const PaperStep = ({ step, done }: { step: RunStep; done: boolean }) => (
  <li>
    <p>
      <span className="paper-box">{done ? '☒' : '☐'}</span> <strong>{step.title}</strong>{' '}
      {spanText(step.lowSeconds, step.highSeconds)}
    </p>
    {step.cautions.map((caution) => (
      <p key={caution}>
        <strong>Caution:</strong> {caution}
      </p>
    ))}
    {step.entries.length > 0 && (
      <Table>
        <TableBody>
          {step.entries.map((entry) => (
            <TableRow key={entry.label + entry.value}>
              <TableCell component="th" scope="row">
                {entry.label}
              </TableCell>
              <TableCell className="mono">{entry.value}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    )}
    <p>{step.proof}</p>
    {step.fields.length > 0 && (
      <p className="paper-fields">
        {step.fields.map((field) => (
          <span key={field.key}>
            {field.label}
            {field.unit && `, ${field.unit}`}:{' '}
            {field.kind === 'choice'
              ? field.choices.map(({ title }) => `☐ ${title}`).join('  ')
              : '____________'}
          </span>
        ))}
      </p>
    )}
  </li>
);

function LabelPaper() {
  const site = useSite();
  return (
    <>
      <Typography variant="h1">Labels: {site.about.name || 'Unnamed site'}</Typography>
      <ul className="paper-labels">
        {labelStrip(site).map(({ title, text }) => (
          <li key={`${title}${text}`}>
            <strong>{title}</strong>
            <span className="mono">{text}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

function HouseCardPaper({ codes }: { codes: readonly Code[] }) {
  const card = houseCard(useSite());
  return (
    <>
      <Typography variant="h1">{card.title}</Typography>
      {codes.map(({ ssid, picture, passphrase }) => (
        <section key={ssid} className="paper-code">
          <Typography variant="h2">Wi-Fi for guests: {ssid}</Typography>
          <div role="img" aria-label={`Code to join ${ssid}`} dangerouslySetInnerHTML={{ __html: picture }} />
          {passphrase !== '' && <p className="mono">{passphrase}</p>}
        </section>
      ))}
      {card.parts.map(({ heading, rows }) => (
        <section key={heading}>
          <Typography variant="h2">{heading}</Typography>
          <Table>
            <TableBody>
              {rows.map(([label, value]) => (
                <TableRow key={label + value}>
                  <TableCell component="th" scope="row">
                    {label}
                  </TableCell>
                  <TableCell>{value}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </section>
      ))}
    </>
  );
}
