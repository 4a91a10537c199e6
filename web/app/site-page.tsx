import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import useSWR from 'swr';
import type { SiteDocument } from './api.ts';
import { getJson, sentence } from './api.ts';
import { isSignedOut, SignIn } from './sign-in.tsx';
import { SessionContext, SiteSession } from './session.ts';
import { Shell } from './shell.tsx';

let openings = 0;

/** Opens one site. Each opening asks the server anew: what an earlier one was told may be old by now. */
export function SitePage() {
  const { id = '' } = useParams();
  const [opening] = useState(() => (openings += 1));
  const { data, error, mutate } = useSWR(
    [`/api/sites/${id}`, opening] as const,
    ([url]) => getJson<SiteDocument>(url),
    { revalidateIfStale: false, revalidateOnReconnect: false },
  );
  if (isSignedOut(error)) return <SignIn done={() => void mutate()} />;
  if (error !== undefined)
    return (
      <main className="page">
        <h1>This site did not open</h1>
        <p role="alert">{sentence(error)}</p>
        <p>
          <Link to="/">All sites</Link>
        </p>
      </main>
    );
  if (!data || data.id !== id) return <main className="page quiet">Opening …</main>;
  return <OpenSite key={id} document={data} />;
}

function OpenSite({ document: found }: { document: SiteDocument }) {
  // The session owns the plan from here on: a later answer of the list must not replace what is being typed.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const session = useMemo(() => new SiteSession(found), [found.id]);
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
