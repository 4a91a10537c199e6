import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { lazy, Suspense, useEffect, useRef, useState, type DragEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import useSWR, { useSWRConfig } from 'swr';
import useSWRInfinite from 'swr/infinite';
import type { Plan } from '../../core/index.ts';
import {
  createSite,
  getJson,
  postJson,
  saveSite,
  sentence,
  type SiteDocument,
  type SiteRow,
} from '../state/api.ts';
import type { ThreeWays } from './merge-dialog.tsx';
import { DeskFilter, SiteTable, type ListShow, type ListSort } from './sites-table.tsx';
import { LookButton } from '../parts/look-button.tsx';
import { isSignedOut, SignIn } from '../parts/sign-in.tsx';
import { Input } from '../parts/inputs.tsx';

const MergeDialog = lazy(async () => ({ default: (await import('./merge-dialog.tsx')).MergeDialog }));

/** A site here that a plan from a file may be another state of. */
interface Alike {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly base: number;
  readonly same: boolean;
}

const pageSize = 50;
/** The core comes when a site is made or opened: the list shows without it. */
const core = () => import('./begin.ts');

interface Page {
  readonly rows: SiteRow[];
  readonly total: number;
}

/** For so long the list asks again while something in it is not counted: a plan may be too heavy for it. */
const longestCountMs = 60_000;

/** All sites: open one, begin a new one, or bring one in from a file. */
export function SitesPage() {
  const navigate = useNavigate();
  const [search, setSearch] = useState('');
  const [wanted, setWanted] = useState('');
  const [problem, setProblem] = useState<string>();
  /** A plan from a file, and the site here that it may be another state of. */
  const [known, setKnown] = useState<{ plan: Plan; site: Alike }>();
  const [merging, setMerging] = useState<{ id: string; revision: number; ways: ThreeWays }>();
  const file = useRef<HTMLInputElement>(null);
  const [opened] = useState(() => performance.now());
  useEffect(() => {
    document.title = 'Sites · Netter';
  }, []);
  useEffect(() => {
    const timer = setTimeout(() => setWanted(search), 150);
    return () => clearTimeout(timer);
  }, [search]);
  const [show, setShow] = useState<ListShow>('all');
  const [sort, setSort] = useState<ListSort>('saved');
  const isCounting = (pages: Page[] | undefined): boolean =>
    performance.now() - opened < longestCountMs &&
    (pages ?? []).some((page) => page.rows.some(({ blockers }) => blockers === null));
  const list = useSWRInfinite<Page>(
    (page) =>
      `/api/sites?search=${encodeURIComponent(wanted)}&show=${show}&sort=${sort}&offset=${page * pageSize}&limit=${pageSize}`,
    {
      keepPreviousData: true,
      // What was saved just now is being counted.
      refreshInterval: (pages: Page[] | undefined) => (isCounting(pages) ? 1_000 : 0),
    },
  );
  const { mutate: askAgain } = useSWRConfig();
  // What is due is counted with the rest.
  useEffect(() => {
    void askAgain('/api/due');
  }, [list.data, askAgain]);
  const rows = list.data?.flatMap((page) => page.rows) ?? [];
  const total = list.data?.at(-1)?.total ?? 0;

  const open = async (make: () => Promise<{ id: string }>): Promise<void> => {
    try {
      const { id } = await make();
      await navigate(`/sites/${id}/site`);
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  const bringIn = async (chosen: File | undefined): Promise<void> => {
    if (!chosen) return;
    const plan = (await core()).readPlan(await chosen.text());
    if (!plan.ok) {
      setProblem(
        `${chosen.name} was not brought in. ${plan.problem.says}${plan.problem.at ? ` (${plan.problem.at})` : ''}`,
      );
      return;
    }
    try {
      const { sites } = await postJson<{ sites: Alike[] }>('/api/sites/alike', { plan: plan.value });
      if (sites[0]) setKnown({ plan: plan.value, site: sites[0] });
      else await open(() => createSite(plan.value));
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  const beginMerge = async ({ plan, site }: { plan: Plan; site: Alike }): Promise<void> => {
    try {
      const [here, base] = await Promise.all([
        getJson<SiteDocument>(`/api/sites/${site.id}`),
        getJson<SiteDocument>(`/api/sites/${site.id}/revisions/${site.base}`),
      ]);
      setKnown(undefined);
      setMerging({
        id: site.id,
        revision: here.revision,
        ways: { name: site.name, base: base.plan, mine: here.plan, theirs: plan },
      });
    } catch (error) {
      setProblem(sentence(error));
    }
  };
  const onDrop = (event: DragEvent): void => {
    event.preventDefault();
    void bringIn(event.dataTransfer.files[0]);
  };

  if (isSignedOut(list.error)) return <SignIn done={() => void list.mutate()} />;
  return (
    <main className="page" onDragOver={(event) => event.preventDefault()} onDrop={onDrop}>
      <header className="page-head">
        <Typography variant="h1">Netter</Typography>
        <p className="quiet">Edge routers, from survey to handover.</p>
        <Link to="/data" className="page-link">
          Data
        </Link>
        <LookButton />
      </header>
      <div className="page-tools">
        <Input
          type="search"
          className="search"
          aria-label="Find a site"
          placeholder="Find by name, customer, address, serial …"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
        <Button variant="contained" component={Link} to="/new">
          New site
        </Button>
        <Button onClick={() => file.current?.click()}>Import a plan file …</Button>
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          hidden
          aria-label="Plan file"
          onChange={(event) => void bringIn(event.target.files?.[0]).finally(() => (event.target.value = ''))}
        />
      </div>
      <DeskFilter show={show} choose={setShow} sort={sort} order={setSort} />
      {problem && (
        <div role="alert" className="note">
          <p>{problem}</p>
          <Button onClick={() => setProblem(undefined)}>Dismiss</Button>
        </div>
      )}
      {known && (
        <div role="alert" className="note">
          <p>
            {known.site.same
              ? `This is revision ${known.site.base} of ${known.site.name || 'a site'}, which is here already as revision ${known.site.revision}.`
              : `${known.site.name || 'A site'} is here already, as revision ${known.site.revision}. The file differs from it.`}
          </p>
          <div className="row-actions">
            <Button variant="contained" onClick={() => void beginMerge(known)}>
              Merge it into that site
            </Button>
            <Button onClick={() => void open(() => createSite(known.plan))}>
              Bring it in as a site of its own
            </Button>
            <Button onClick={() => setKnown(undefined)}>Cancel</Button>
          </div>
        </div>
      )}
      {merging && (
        <Suspense fallback={null}>
          <MergeDialog
            ways={merging.ways}
            close={() => setMerging(undefined)}
            save={async (merged) => {
              await saveSite(merging.id, merging.revision, merged);
              await navigate(`/sites/${merging.id}/site`);
            }}
          />
        </Suspense>
      )}
      <DamageNote />
      {list.error && <p role="alert">{sentence(list.error)}</p>}
      {list.data && rows.length === 0 && (
        <p className="empty">
          {wanted === ''
            ? show === 'all'
              ? 'No sites yet. Begin a new one, or drop a plan file here.'
              : 'No matching sites.'
            : `No site matches "${wanted}": a name, a person, an address, a serial or MAC number is looked for.`}
        </p>
      )}
      {rows.length > 0 && <SiteTable rows={rows} />}
      {rows.length < total && (
        <p>
          <Button onClick={() => void list.setSize(list.size + 1)}>
            Show {Math.min(pageSize, total - rows.length)} more of {total}
          </Button>
        </p>
      )}
    </main>
  );
}

/** Says when something in the data folder cannot be read; the page of data has what and the way out. */
function DamageNote() {
  const { data } = useSWR<{ integrity: { damaged: unknown[]; tables: unknown[] } | null }>('/api/integrity');
  const found = data?.integrity;
  if (!found || found.damaged.length + found.tables.length === 0) return null;
  return (
    <p role="alert" className="note">
      {found.damaged.length > 0
        ? `${found.damaged.length} ${found.damaged.length === 1 ? 'site' : 'sites'} in the data folder cannot be read as last saved.`
        : 'A part of the data folder cannot be read.'}{' '}
      Everything else works. <Link to="/data">What is damaged, and what to do</Link>
    </p>
  );
}
