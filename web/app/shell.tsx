import { mdiHistory, mdiKeyboardOutline, mdiRedo, mdiSafe, mdiUndo } from '@mdi/js';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import { lazy, Suspense, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { FiguresContext, figuresSignal, toggleFigures } from '../parts/figures.tsx';
import { planJson } from '../../core/index.ts';
import { download } from '../parts/download.ts';
import { Icon, SeverityMark } from '../parts/severity.tsx';
import { clockText } from '../state/time.ts';
import { Workings } from '../workings/workings.tsx';
import { AnalysisContext, Analyst, useAnalysis, type Analysis } from '../state/analysis.ts';
import { AskLine } from './ask-line.tsx';
import type { Command } from './ask-search.ts';
import { FocusContext, focusWhenThere } from '../state/focus.ts';
import { LookButton } from '../parts/look-button.tsx';
import { RecordsContext, useRecordsOf } from '../state/records.ts';
import { usePlanPiece, useSession, useSnapshot, type Snapshot } from '../state/session.ts';
import { MiniPicture } from '../picture/mini-picture.tsx';
import { SecretsNote } from './secrets-note.tsx';
import { pageNamed, sheetOf, sheets, type SheetKey } from '../sheets/index.ts';
import { Signal } from '../state/signal.ts';
import { useSources } from '../state/sources.ts';
import { useVaultDialog, VaultContext } from '../state/vault.ts';

const ShortcutsDialog = lazy(async () => ({ default: (await import('./shortcuts.tsx')).ShortcutsDialog }));
const VaultDialog = lazy(async () => ({ default: (await import('./vault-dialog.tsx')).VaultDialog }));
const ConflictDialog = lazy(async () => ({ default: (await import('./conflict.tsx')).ConflictDialog }));

/** The binder: the sheets in working order, the sheet that is open, and the Workings beside it. */
export function Shell() {
  const session = useSession();
  const records = useRecordsOf(session.id);
  const navigate = useNavigate();
  const location = useLocation();
  const [analysis] = useState(() => new Signal<Analysis | undefined>(undefined));
  const [place] = useState(() => new Signal(''));
  const [figures] = useState(figuresSignal);
  const [help, setHelp] = useState(false);
  /** Name of the secret for which the vault is open; undefined while it is closed. */
  const [vaultFor, setVaultFor] = useState<string>();
  const openVault = useCallback((name = '') => setVaultFor(name), []);
  const pending = useRef('');
  const sheet = location.pathname.split('/')[3] ?? 'site';
  const width = pageNamed(sheet)?.width;
  const wide = width === 'wide';
  const bare = width === 'bare';

  // Whoever keeps the way to a field goes from the sheet that is open by then.
  const sheetNow = useRef(sheet);
  useLayoutEffect(() => {
    sheetNow.current = sheet;
  });
  const goTo = useCallback(
    (wantedPlace: string) => {
      place.set(wantedPlace);
      const wanted = sheetOf(wantedPlace);
      if (wanted === sheetNow.current) {
        focusWhenThere(wantedPlace);
        return;
      }
      pending.current = wantedPlace;
      void navigate(`/sites/${session.id}/${wanted}`);
    },
    [navigate, session.id, place],
  );
  const focus = useMemo(() => ({ place, goTo }), [place, goTo]);

  useEffect(() => {
    if (pending.current === '') {
      place.set('');
      return;
    }
    const wanted = pending.current;
    pending.current = '';
    focusWhenThere(wanted);
  }, [sheet, place]);

  const nextFinding = useCallback(
    (backwards: boolean) => {
      const findings = analysis.get()?.findings ?? [];
      if (findings.length === 0) return;
      const here = findings.findIndex((finding) => finding.at === place.get());
      const next = here < 0 ? 0 : (here + (backwards ? -1 : 1) + findings.length) % findings.length;
      goTo(findings[next]!.at);
    },
    [analysis, place, goTo],
  );

  const commands = useMemo<readonly Command[]>(
    () => [
      { title: 'Next finding', words: 'blocker warning', key: 'F8', run: () => nextFinding(false) },
      {
        title: 'Show or hide all values',
        words: 'usual values advanced',
        key: 'F7',
        run: () => toggleFigures(figures),
      },
      { title: 'Open the vault', words: 'password secret key pin', key: '', run: () => openVault() },
      { title: 'Shortcuts', words: 'keyboard keys help', key: 'F1', run: () => setHelp(true) },
      { title: 'Undo', words: 'back', key: 'Ctrl Z', run: session.undo },
      { title: 'Redo', words: 'again', key: 'Ctrl Shift Z', run: session.redo },
      { title: 'Save at once', words: 'store write', key: 'Ctrl S', run: () => void session.flush() },
      {
        title: 'Revisions',
        words: 'history restore older',
        key: '',
        run: () => void navigate(`/sites/${session.id}/history`),
      },
      {
        title: 'What is here?',
        words: 'found paste listing old router',
        key: '',
        run: () => void navigate(`/sites/${session.id}/found`),
      },
      {
        title: 'One step at a time',
        words: 'cabinet telephone',
        key: '',
        run: () => void navigate(`/sites/${session.id}/cabinet`),
      },
      { title: 'All sites', words: 'list home', key: '', run: () => void navigate('/') },
      { title: 'New site', words: 'brief letter', key: '', run: () => void navigate('/new') },
    ],
    [figures, navigate, nextFinding, openVault, session],
  );
  const keys = { enableOnFormTags: true, preventDefault: true } as const;
  useHotkeys('mod+z', session.undo, keys);
  useHotkeys(['mod+shift+z', 'mod+y'], session.redo, keys);
  useHotkeys('mod+s', () => void session.flush(), keys);
  useHotkeys('f1', () => setHelp(true), keys);
  useHotkeys('f7', () => toggleFigures(figures), keys, [figures]);
  useHotkeys(
    sheets.map(({ shortcut: [, code] }) => `alt+${code}`),
    (event) => {
      const pressed = event.code.replace(/^(?:Digit|Numpad)/, '').toLowerCase();
      const chosen = sheets.find(({ shortcut: [, code] }) => code === pressed);
      if (chosen) void navigate(`/sites/${session.id}/${chosen.key}`);
    },
    keys,
    [session.id],
  );
  useHotkeys(['f8', 'shift+f8'], (event) => nextFinding(event.shiftKey), keys, [nextFinding]);

  return (
    <AnalysisContext value={analysis}>
      <RecordsContext value={records}>
        <FocusContext value={focus}>
          <FiguresContext value={figures}>
            <VaultContext value={openVault}>
              <Analyst />
              <a className="skip" href="#sheet">
                To the sheet
              </a>
              <header className={bare ? 'top top-bare' : 'top'}>
                <SiteName />
                {!bare && <AskLine commands={commands} />}
                {!bare && <TopTools help={() => setHelp(true)} />}
              </header>
              <SaveNote />
              <SecretsNote />
              <div className={bare ? 'binder binder-bare' : wide ? 'binder binder-wide' : 'binder'}>
                {!bare && <SheetRail sheet={sheet} />}
                <main id="sheet" className="sheet" tabIndex={-1}>
                  <Suspense fallback={<p className="quiet">Opening …</p>}>
                    <Outlet />
                  </Suspense>
                </main>
                {!wide && !bare && <Workings sheet={sheet as SheetKey} />}
              </div>
              <Suspense fallback={null}>
                <Conflict />
                {help && <ShortcutsDialog open close={() => setHelp(false)} />}

                {vaultFor !== undefined && (
                  <VaultDialog open name={vaultFor} close={() => setVaultFor(undefined)} />
                )}
              </Suspense>
            </VaultContext>
          </FiguresContext>
        </FocusContext>
      </RecordsContext>
    </AnalysisContext>
  );
}

/** Two windows on one site, and what each has: only where that is so. */
function Conflict() {
  const conflict = useSnapshot().save.kind === 'conflict';
  return conflict ? <ConflictDialog /> : null;
}

function SiteName() {
  const name = usePlanPiece((plan) => plan.site.name) || 'Unnamed site';
  useEffect(() => {
    document.title = `${name} · Netter`;
  }, [name]);
  return (
    <div className="top-site">
      <Link to="/" className="top-home" title="All sites">
        Sites
      </Link>
      <Typography variant="h1" title={name}>
        {name}
      </Typography>
    </div>
  );
}

function TopTools({ help }: { help: () => void }) {
  const session = useSession();
  const snapshot = useSnapshot();
  const openVault = useVaultDialog();
  return (
    <div className="top-tools">
      <SaveWord snapshot={snapshot} />
      <Tool
        label="Undo"
        title="Undo (Ctrl Z)"
        icon={mdiUndo}
        disabled={!snapshot.canUndo}
        onClick={session.undo}
      />
      <Tool
        label="Redo"
        title="Redo (Ctrl Shift Z)"
        icon={mdiRedo}
        disabled={!snapshot.canRedo}
        onClick={session.redo}
      />
      <IconButton
        size="small"
        className="row-button"
        component={Link}
        to="history"
        aria-label="Revisions"
        title="Revisions"
      >
        <Icon path={mdiHistory} />
      </IconButton>
      <Tool label="Vault" title="Vault: passwords, PINs, keys" icon={mdiSafe} onClick={() => openVault()} />
      <LookButton />
      <Tool label="Shortcuts" title="Shortcuts (F1)" icon={mdiKeyboardOutline} onClick={help} />
    </div>
  );
}

function Tool({
  label,
  title,
  icon,
  disabled = false,
  onClick,
}: {
  label: string;
  title: string;
  icon: string;
  disabled?: boolean;
  onClick: () => void;
}) {
  return (
    <IconButton
      size="small"
      className="row-button"
      aria-label={label}
      title={title}
      disabled={disabled}
      onClick={onClick}
    >
      <Icon path={icon} />
    </IconButton>
  );
}

function SheetRail({ sheet: sheetKey }: { sheet: string }) {
  const analysis = useAnalysis();
  const accepted = analysis?.accepted ?? [];
  const paper = accepted.filter((each) => each.promise.paper.kept).length;
  const onSite = accepted.filter((each) => each.accepted).length;
  const count = (key: SheetKey, severity: 'blocker' | 'warning'): number =>
    analysis?.findings.filter((finding) => finding.severity === severity && sheetOf(finding.at) === key)
      .length ?? 0;
  return (
    <nav className="rail" aria-label="Sheets">
      <ol>
        {sheets.map(({ key, title, shortcut }, index) => {
          const blockers = count(key, 'blocker');
          const warnings = count(key, 'warning');
          return (
            <li key={key}>
              <NavLink to={key} title={`Alt ${shortcut[0]}`}>
                <span className="rail-number">{index + 1}</span>
                <span className="rail-title">{title}</span>
                {blockers > 0 ? (
                  <SeverityMark short severity="blocker" count={blockers} />
                ) : (
                  warnings > 0 && <SeverityMark short severity="warning" count={warnings} />
                )}
              </NavLink>
            </li>
          );
        })}
      </ol>
      {sheetKey !== 'picture' && <MiniPicture />}
      {accepted.length > 0 && (
        <div className="rail-foot">
          <p className="rail-foot-title">Promises</p>
          <Tally label="on paper" value={paper} of={accepted.length} />
          <Tally label="on site" value={onSite} of={accepted.length} />
        </div>
      )}
    </nav>
  );
}

/** A count as strokes on a scale: one box a promise, filled or not. */
function Tally({ label, value, of }: { label: string; value: number; of: number }) {
  return (
    <div className="tally">
      <span>{label}</span>
      <meter min={0} max={of} value={value} aria-label={`Promises kept ${label}`} />
      <span className="mono">
        {value}/{of}
      </span>
    </div>
  );
}

function SaveWord({ snapshot: { save, revision, savedAt } }: { snapshot: Snapshot }) {
  const words = {
    saved: `saved ${clockText(savedAt)}`,
    unsaved: 'typing …',
    saving: 'saving …',
    failed: 'not saved',
    conflict: 'changed elsewhere',
  }[save.kind];
  return (
    <span className={`save save-${save.kind}`} role="status">
      <span className="mono">revision {revision}</span>, {words}
    </span>
  );
}

/** Why what is typed is not saved, and what can be done with it meanwhile. */
function SaveNote() {
  const session = useSession();
  const { save } = useSnapshot();
  const sources = useSources();
  if (save.kind !== 'failed') return null;
  return (
    <div role="alert" className="note save-note">
      <p>{save.says}</p>
      <div className="row-actions">
        <Button onClick={() => void session.flush()}>Try again</Button>
        <Button
          title="What is typed here, as a plan file"
          onClick={() => {
            const made = sources();
            download(planJson.fileName(made), [planJson.write(made)], planJson.mediaType);
          }}
        >
          Save what is typed as a file
        </Button>
      </div>
    </div>
  );
}
