import TableBody from '@mui/material/TableBody';
import { lazy, Suspense, useSyncExternalStore, type ReactNode } from 'react';

const LongRows = lazy(() => import('./long-rows.tsx'));

/** Rows beyond which a table draws only those in sight. */
const longTable = 60;

export interface RowsProps {
  /** JSON Pointer of a list of the plan: the row of the field in focus is drawn wherever it is. */
  readonly at?: string;
  readonly children: readonly ReactNode[];
}

/** The rows of a table: all of a short one, of a long one those in sight. On paper there are all. */
export function Rows({ at, children }: RowsProps) {
  const printing = usePrinting();
  return children.length <= longTable || printing ? (
    <TableBody>{children}</TableBody>
  ) : (
    <Suspense fallback={null}>
      <LongRows {...(at !== undefined && { at })}>{children}</LongRows>
    </Suspense>
  );
}

const paper = typeof matchMedia === 'function' ? matchMedia('print') : undefined;
const follow = (change: () => void): (() => void) => {
  paper?.addEventListener('change', change);
  return () => paper?.removeEventListener('change', change);
};
const usePrinting = (): boolean =>
  useSyncExternalStore(
    follow,
    () => paper?.matches ?? false,
    () => false,
  );
