import { createBrowserRouter, Navigate, Outlet, type RouteObject } from 'react-router';
import { Broken } from './broken.tsx';
import { SignInPage } from './sign-in.tsx';
import { SitesPage } from './sites-page.tsx';
import { UpkeepNote } from './upkeep-note.tsx';

/** Every page, with what every page says. */
function Page() {
  return (
    <>
      <UpkeepNote />
      <Outlet />
    </>
  );
}

const pages: RouteObject[] = [
  { path: '/', Component: SitesPage, ErrorBoundary: Broken },
  { path: '/sign-in', Component: SignInPage, ErrorBoundary: Broken },
  { path: '/new', lazy: () => import('../brief/brief-page.tsx'), ErrorBoundary: Broken },
  { path: '/data', lazy: () => import('./data-page.tsx'), ErrorBoundary: Broken },
  {
    path: '/sites/:id',
    lazy: async () => ({ Component: (await import('./site-page.tsx')).SitePage }),
    ErrorBoundary: Broken,
    children: [
      { index: true, element: <Navigate to="picture" replace /> },
      { path: 'picture', lazy: () => import('../sheets/picture.tsx') },
      { path: 'site', lazy: () => import('../sheets/site.tsx') },
      { path: 'uplinks', lazy: () => import('../sheets/uplinks.tsx') },
      { path: 'addresses', lazy: () => import('../sheets/addresses.tsx') },
      { path: 'wiring', lazy: () => import('../sheets/wiring.tsx') },
      { path: 'wifi', lazy: () => import('../sheets/wifi.tsx') },
      { path: 'second', lazy: () => import('../sheets/second.tsx') },
      { path: 'failover', lazy: () => import('../sheets/failover.tsx') },
      { path: 'rules', lazy: () => import('../sheets/rules.tsx') },
      { path: 'remote-access', lazy: () => import('../sheets/remote-access.tsx') },
      { path: 'bench', lazy: () => import('../sheets/bench.tsx') },
      { path: 'run-sheet', lazy: () => import('../sheets/run-sheet.tsx') },
      { path: 'found', lazy: () => import('../sheets/found.tsx') },
      { path: 'cabinet', lazy: () => import('../sheets/cabinet.tsx') },
      { path: 'acceptance', lazy: () => import('../sheets/acceptance.tsx') },
      { path: 'handover', lazy: () => import('../sheets/handover.tsx') },
      { path: 'ask', lazy: () => import('../sheets/ask.tsx') },
      { path: 'history', lazy: () => import('../sheets/history.tsx') },
    ],
  },
  { path: '*', Component: Broken },
];

export const router = createBrowserRouter([{ Component: Page, ErrorBoundary: Broken, children: pages }]);
