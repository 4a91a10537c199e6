import { useLocation, useSearchParams } from 'react-router';

/** The question that the sheet Ask answers; empty on other sheets. */
export function useAsked(): string {
  const { pathname } = useLocation();
  const [search] = useSearchParams();
  return pathname.endsWith('/ask') ? (search.get('q') ?? '') : '';
}
