import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { lazy, Suspense } from 'react';
import { useSearchParams } from 'react-router';
import { SheetHead } from '../../parts/sheet-head.tsx';
import { FaultBench } from './fault-bench.tsx';
import '../../parts/panel.css';

const parts = [
  ['failure', 'Uplink fault', FaultBench],
  ['years', 'Availability', lazy(() => import('./random-years.tsx'))],
  ['line', 'Uplink start', lazy(() => import('./bring-up.tsx'))],
  ['inside', 'LAN fault', lazy(() => import('./inside-bench.tsx'))],
  ['client', 'Remote user', lazy(() => import('./client-bench.tsx'))],
] as const;

/** The simulated site: one instrument at a time. */
export function Component() {
  const [search, setSearch] = useSearchParams();
  const wanted = search.get('part');
  const [part, , Part] = parts.find(([key]) => key === wanted) ?? parts[0];
  return (
    <>
      <SheetHead
        title="Bench"
        says="The site, simulated: let a line, a cable or a radio fail, bring a line up, or connect from outside, before anyone drives out."
      />
      <Tabs
        value={part}
        aria-label="Parts of the bench"
        onChange={(_, next: string) => setSearch({ part: next }, { replace: true })}
      >
        {parts.map(([key, title]) => (
          <Tab key={key} value={key} label={title} />
        ))}
      </Tabs>
      <Suspense fallback={<p className="quiet">Opening …</p>}>
        <Part />
      </Suspense>
    </>
  );
}
