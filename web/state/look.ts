import { createContext, useCallback, useEffect, useMemo, useState } from 'react';
import { looks, type Look } from './theme.ts';

const darkQuery = '(prefers-color-scheme: dark)';
const contrastQuery = '(prefers-contrast: more)';
const systemLook = (): Look =>
  matchMedia(contrastQuery).matches ? 'contrast' : matchMedia(darkQuery).matches ? 'dark' : 'light';

/** As the system says, until somebody chooses. */
export function useLook(): { look: Look; toggle: () => void } {
  const [chosen, setChosen] = useState<Look | undefined>(() =>
    looks.find((each) => each === localStorage.getItem('netter-look')),
  );
  const [system, setSystem] = useState<Look>(systemLook);
  useEffect(() => {
    const follow = (): void => setSystem(systemLook());
    const queries = [darkQuery, contrastQuery].map((query) => matchMedia(query));
    queries.forEach((query) => query.addEventListener('change', follow));
    return () => queries.forEach((query) => query.removeEventListener('change', follow));
  }, []);
  const look = chosen ?? system;
  useEffect(() => {
    document.documentElement.dataset.look = look;
  }, [look]);
  const toggle = useCallback(() => {
    const next = looks[(looks.indexOf(look) + 1) % looks.length]!;
    localStorage.setItem('netter-look', next);
    setChosen(next);
  }, [look]);
  return useMemo(() => ({ look, toggle }), [look, toggle]);
}

export const LookContext = createContext<{ look: Look; toggle: () => void }>({
  look: 'light',
  toggle: () => {},
});
