import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import useSWR from 'swr';
import type { Plan } from '../../core/index.ts';
import { ApiError, getJson, recoverSite, sentence, type SiteDocument } from '../state/api.ts';
import { isSignedOut, SignIn } from '../parts/sign-in.tsx';
import { Drafts, holdWindow, leftToTake, livingWindows } from '../state/drafts.ts';
import { kept } from '../state/kept.ts';
import { SessionContext, SiteSession } from '../state/session.ts';
import { Shell } from './shell.tsx';

let openings = 0;
/** This window, as drafts know it. */
const windowName = holdWindow();

/** Opens one site. Each opening asks the server anew: what an earlier one was told may be old by now. */
export function SitePage() {
  const { id = '' } = useParams();
  const [problem, setProblem] = useState<unknown>();
  const [opening] = useState(() => (openings += 1));
  const { data, error, mutate } = useSWR(
    [`/api/sites/${id}`, opening] as const,
    ([url]) => getJson<SiteDocument>(url),
    { revalidateIfStale: false, revalidateOnFocus: true, revalidateOnReconnect: false },
  );
  if (isSignedOut(error)) return <SignIn done={() => void mutate()} />;
  if (error !== undefined)
    return (
      <main className="page">
        <Typography variant="h1">This site did not open</Typography>
        <p role="alert">{sentence(error)}</p>
        {recoverable(error) && (
          <p>
            <Button variant="contained" onClick={() => void recoverSite(id).then(() => mutate(), setProblem)}>
              Go on from revision {recoverable(error)}
            </Button>
          </p>
        )}
        {problem !== undefined && <p role="alert">{sentence(problem)}</p>}
        <p>
          <Link to="/">All sites</Link>
        </p>
      </main>
    );
  if (!data || data.id !== id) return <main className="page quiet">Opening …</main>;
  return <OpenSite key={id} document={data} />;
}

/** The newest revision of a damaged site that can be read; 0 where there is none. */
const recoverable = (error: unknown): number =>
  error instanceof ApiError && error.body.error === 'damaged-site' ? (error.body.newestReadable ?? 0) : 0;

function OpenSite({ document: found }: { document: SiteDocument }) {
  const drafts = useMemo(() => new Drafts(found.id, windowName, kept), [found.id]);
  // The session owns the plan from here on: a later answer of the list must not replace what is being typed.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const session = useMemo(() => new SiteSession(found, drafts), [found.id]);
  useEffect(() => {
    let current = true;
    session.follow(found);
    // What a window left behind that crashed: taken up as if it had just been typed.
    void drafts.left(livingWindows).then(async (left) => {
      const revisionAt = (revision: number): Promise<Plan | undefined> =>
        getJson<SiteDocument>(`/api/sites/${found.id}/revisions/${revision}`).then(
          ({ plan }) => plan,
          () => undefined,
        );
      for (const { draft, drop } of left) {
        const open = await leftToTake(draft, found.revision, revisionAt);
        if (!current) return;
        // One step: taking it up keeps it under the name of this window.
        drop();
        if (open) session.takeUp(open.draft, open.base);
      }
    });
    return () => {
      current = false;
    };
  }, [session, drafts, found]);
  useEffect(() => {
    const leave = (event: BeforeUnloadEvent): void => {
      if (session.snapshot().save.kind === 'saved') return;
      void session.flush();
      event.preventDefault();
    };
    window.addEventListener('beforeunload', leave);
    return () => {
      window.removeEventListener('beforeunload', leave);
      void session.flush();
    };
  }, [session]);
  return (
    <SessionContext value={session}>
      <Shell />
    </SessionContext>
  );
}
