import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import CssBaseline from '@mui/material/CssBaseline';
import GlobalStyles from '@mui/material/GlobalStyles';
import { ThemeProvider } from '@mui/material/styles';
import { StrictMode, useMemo } from 'react';
import { createRoot } from 'react-dom/client';
import { RouterProvider } from 'react-router';
import { SWRConfig } from 'swr';
import '@fontsource/atkinson-hyperlegible-next/latin-400.css';
import '@fontsource/atkinson-hyperlegible-next/latin-600.css';
import '@fontsource/atkinson-hyperlegible-next/latin-700.css';
import '@fontsource/atkinson-hyperlegible-mono/latin-400.css';
import '@fontsource/atkinson-hyperlegible-mono/latin-600.css';
// What every part uses, in this order: later ones say what differs.
import './look.css';
import '../parts/severity.css';
import './page.css';
import './shell.css';
import '../workings/sums.css';
import '../parts/sheet-head.css';
import '../parts/field.css';
import '../parts/verdict.css';
import '../parts/rows.css';
import '../parts/common.css';
import './small.css';
import '../parts/tables.css';
import { getJson } from '../state/api.ts';
import { openKept } from '../state/kept.ts';
import { LookContext, useLook } from '../state/look.ts';
import { router } from './routes.tsx';
import { colours, themeFor } from '../state/theme.ts';

// The server gives each page a nonce, without which the browser refuses the library's styles.
const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce;
// They stand before the product's own, which say what differs.
const cache = createCache({ key: 'n', prepend: true, ...(nonce !== undefined && { nonce }) });

function App() {
  const look = useLook();
  const theme = useMemo(() => themeFor(look.look), [look.look]);
  return (
    <CacheProvider value={cache}>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        <GlobalStyles styles={{ ':root': colours(look.look) }} />
        <SWRConfig value={{ fetcher: getJson, revalidateOnFocus: false, shouldRetryOnError: false }}>
          <LookContext value={look}>
            <RouterProvider router={router} />
          </LookContext>
        </SWRConfig>
      </ThemeProvider>
    </CacheProvider>
  );
}

// What was typed and not saved is read first: the first thing that is drawn may be made of it.
await openKept();
createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
