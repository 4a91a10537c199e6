import { createBrowserRouter, Navigate, Outlet, type RouteObject } from 'react-router';
import { Broken } from './broken.tsx';
import { SignInPage } from '../parts/sign-in.tsx';
import { sitePages } from '../sheets/index.ts';
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
      ...sitePages.map(({ key, load }): RouteObject => ({ path: key, lazy: load })),
    ],
  },
  { path: '*', Component: Broken },
];

export const router = createBrowserRouter([{ Component: Page, ErrorBoundary: Broken, children: pages }]);
