import { createContext, useCallback, useEffect, useMemo, useState } from 'react';
import type { Look } from './theme.ts';

/** Light by day, dark in a cellar: as the system says, until somebody chooses. */
export function useLook(): { look: Look; toggle: () => void } {
  const [chosen, setChosen] = useState(() => localStorage.getItem('netter-look') as Look | null);
  const [system, setSystem] = useState<Look>(() =>
    matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light',
  );
  useEffect(() => {
    const query = matchMedia('(prefers-color-scheme: dark)');
    const follow = (): void => setSystem(query.matches ? 'dark' : 'light');
    query.addEventListener('change', follow);
    return () => query.removeEventListener('change', follow);
  }, []);
  const look = chosen ?? system;
  useEffect(() => {
    document.documentElement.dataset.look = look;
  }, [look]);
  const toggle = useCallback(() => {
    const next = look === 'dark' ? 'light' : 'dark';
    localStorage.setItem('netter-look', next);
    setChosen(next);
  }, [look]);
  return useMemo(() => ({ look, toggle }), [look, toggle]);
}

export const LookContext = createContext<{ look: Look; toggle: () => void }>({
  look: 'light',
  toggle: () => {},
});
