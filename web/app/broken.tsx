import Typography from '@mui/material/Typography';
import { Link, useRouteError } from 'react-router';

/** Where a page fails or does not exist: a sentence and the way back. What was saved is on the server. */
export function Broken() {
  const error = useRouteError();
  return (
    <main className="page">
      <Typography variant="h1">{error ? 'This page failed' : 'There is nothing at this address'}</Typography>
      <p>
        {error
          ? 'What was saved is kept. Load the page again; if it fails again, open another sheet.'
          : 'The site may have been removed.'}
      </p>
      {error instanceof Error && <p className="mono quiet">{error.message}</p>}
      <p>
        <Link to="/">All sites</Link>
      </p>
    </main>
  );
}
