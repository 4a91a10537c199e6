import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import {
  besidePlan,
  findSite,
  formatAddress,
  formatPrefix,
  pasteWords,
  readPaste,
  replacementPatch,
  type Beside,
  type Found,
  type Site,
} from '../../../core/index.ts';
import { useSite } from '../../state/analysis.ts';
import { kept } from '../../state/kept.ts';
import { usePlan, useSession } from '../../state/session.ts';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { TextArea } from '../../parts/inputs.tsx';
import './discovery.css';

const hints: readonly (readonly [string, string])[] = [
  ['The laptop', 'its address listing and its routes'],
  ['The way out', 'a trace to any address on the internet, without names'],
  ['From outside', 'the address that a page on the internet shows, alone on a line'],
  ['The router', 'its status page, its lists of leases, neighbours and forwards, as text'],
  ['The box in front', 'the text of its status page'],
  ['Wi-Fi around', 'what a scan of it prints'],
];

/** Pastes of one site, kept on this machine until they are taken away. */
function usePastes(): [readonly string[], (pastes: readonly string[]) => void] {
  const { id } = useSession();
  const key = `netter-found-${id}`;
  const [pastes, setPastes] = useState<readonly string[]>(() => {
    try {
      const before: unknown = JSON.parse(kept.getItem(key) ?? '[]');
      return Array.isArray(before) ? before.filter((each) => typeof each === 'string') : [];
    } catch {
      return [];
    }
  });
  return [
    pastes,
    (next) => {
      setPastes(next);
      kept.setItem(key, JSON.stringify(next));
    },
  ];
}

/** The site as its own devices tell it, beside the plan, and what is taken over. */
export function Component() {
  const [pastes, setPastes] = usePastes();
  const [text, setText] = useState('');
  const plan = usePlan();
  const site = useSite();
  const session = useSession();
  const [problem, setProblem] = useState<string>();
  const read = useMemo(() => pastes.map(readPaste), [pastes]);
  const found = useMemo(() => findSite(read), [read]);
  const rows = useMemo(() => besidePlan(plan, site, found), [plan, site, found]);
  const job = replacementPatch(plan, found);
  const unused = read.flatMap((paste) => paste.unused);
  const add = (): void => {
    if (text.trim() === '') return;
    setPastes([...pastes, text]);
    setText('');
  };
  return (
    <>
      <SheetHead
        title="What is here?"
        says="Paste what the devices on site say of themselves. Netter puts the site together as it is today, beside the plan."
      />
      <section className="found" aria-label="Pastes">
        <dl className="found-hints">
          {hints.map(([what, how]) => (
            <div key={what}>
              <dt>{what}</dt>
              <dd>{how}</dd>
            </div>
          ))}
        </dl>
        <TextArea
          className="boxed mono"
          rows={4}
          value={text}
          maxLength={200_000}
          aria-label="Paste one listing or page"
          onChange={({ target }) => setText(target.value)}
        />
        <div className="row-actions">
          <Button variant="contained" onClick={add} disabled={text.trim() === ''}>
            Add this paste
          </Button>
          {text.trim() !== '' && <span className="quiet">{pasteWords(readPaste(text))}</span>}
        </div>
        {pastes.length > 0 && (
          <ol className="found-pastes">
            {read.map((paste, index) => (
              <li key={index}>
                {pasteWords(paste)}{' '}
                <Button
                  className="plain"
                  variant="text"
                  aria-label={`Remove: paste ${index + 1}`}
                  onClick={() => setPastes(pastes.filter((_, each) => each !== index))}
                >
                  Remove
                </Button>
              </li>
            ))}
          </ol>
        )}
      </section>
      {pastes.length > 0 && (
        <>
          <div className="pair">
            <Chain title="As found" boxes={foundChain(found)} />
            <Chain title="As planned" boxes={plannedChain(site)} />
          </div>
          {found.translations > 1 && (
            <p>
              {found.translations} translations are on the way: forwards end at the outermost one, and each
              needs its own.
            </p>
          )}
          {found.contradictions.map((says) => (
            <p key={says} className="caution" role="alert">
              <strong>Contradiction:</strong> {says}
            </p>
          ))}
          {job.length > 0 && (plan.visit.kind !== 'replacement' || plan.visit.oldAddress === '') && (
            <p>
              Another router works here today.{' '}
              <Button onClick={() => setProblem(session.patch(job))}>Make this job a replacement</Button>
            </p>
          )}
          {problem && <p role="alert">{problem}</p>}
          <BesideTable rows={rows} patch={(beside) => setProblem(session.patch(beside.take!.patch))} />
          {unused.length > 0 && (
            <details className="found-unused">
              <summary>
                {unused.length} {unused.length === 1 ? 'line was' : 'lines were'} not used
              </summary>
              <pre className="mono">{unused.join('\n')}</pre>
            </details>
          )}
        </>
      )}
    </>
  );
}

interface ChainBox {
  readonly name: string;
  readonly facts: readonly string[];
}

function foundChain(found: Found): ChainBox[] {
  const networks = found.networks.map(
    ({ prefix, hosts }) =>
      `${formatPrefix(prefix)}, ${hosts.length} ${hosts.length === 1 ? 'host' : 'hosts'} seen`,
  );
  return [
    { name: 'Inside', facts: networks.length > 0 ? networks : ['nothing seen yet'] },
    ...found.boxes.map((box, index) => ({
      name: box.page?.model || (index === 0 ? 'Router' : 'Router in front'),
      facts: [
        formatAddress(box.address),
        ...(box.outside ? [`outer side ${formatAddress(box.outside)}`] : []),
        ...(box.translates ? ['translates'] : []),
        ...(box === found.main && found.boxes.length > 1 ? ['the main one'] : []),
      ],
    })),
    ...(found.carrier ? [{ name: 'Provider', facts: ['translates too'] }] : []),
    { name: 'Internet', facts: [found.outside ? `sees ${formatAddress(found.outside)}` : 'not asked yet'] },
  ];
}

function plannedChain(site: Site): ChainBox[] {
  const [line] = site.lines;
  return [
    {
      name: 'Inside',
      facts: site.networks.map(({ name, prefix }) => `${name} ${prefix ? formatPrefix(prefix) : ''}`),
    },
    {
      name: site.router.kit?.model || 'Router',
      facts: site.router.adminNetwork?.routerAddress
        ? [formatAddress(site.router.adminNetwork.routerAddress)]
        : [],
    },
    ...(line?.box
      ? [
          {
            name: line.box.name,
            facts: line.box.routes
              ? [line.box.address ? formatAddress(line.box.address) : '', 'translates']
              : ['bridged'],
          },
        ]
      : []),
    ...(line?.translators.includes('carrier') ? [{ name: 'Provider', facts: ['translates too'] }] : []),
    {
      name: 'Internet',
      facts: [
        line
          ? line.publicAddressKnown
            ? `sees ${formatAddress(line.publicAddress)}`
            : 'address not known'
          : 'no line yet',
      ],
    },
  ];
}

function Chain({ title, boxes }: { title: string; boxes: readonly ChainBox[] }) {
  return (
    <section aria-label={title}>
      <Typography variant="h3">{title}</Typography>
      <ol className="found-chain">
        {boxes.map(({ name, facts }) => (
          <li key={`${name}${facts.join()}`}>
            <strong>{name}</strong>
            {facts
              .filter((fact) => fact !== '')
              .map((fact) => (
                <span key={fact} className="mono">
                  {fact}
                </span>
              ))}
          </li>
        ))}
      </ol>
    </section>
  );
}

function BesideTable({ rows, patch }: { rows: readonly Beside[]; patch: (row: Beside) => void }) {
  if (rows.length === 0) return <p className="empty">Nothing to compare yet.</p>;
  return (
    <Table className="found-rows">
      <TableHead>
        <TableRow>
          <TableCell>What</TableCell>
          <TableCell>Found</TableCell>
          <TableCell>Planned</TableCell>
          <TableCell>
            <span className="skip">Use value</span>
          </TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((row) => (
          <TableRow key={row.what + row.found} className={row.differs ? 'found-differs' : ''}>
            <TableCell component="th" scope="row">
              {row.what}
            </TableCell>
            <TableCell className="mono">{row.found}</TableCell>
            <TableCell className="mono">{row.differs ? row.planned : 'the same'}</TableCell>
            <TableCell>
              {row.take && (
                <Button
                  title={row.take.says}
                  aria-label={`Use value: ${row.take.says}`}
                  onClick={() => patch(row)}
                >
                  Use value
                </Button>
              )}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
