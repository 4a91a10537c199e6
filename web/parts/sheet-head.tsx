import type { ReactNode } from 'react';

/** Title of a sheet, what it is for in one line, and what belongs at its right edge. */
export function SheetHead({
  title,
  says,
  children,
}: {
  title: string;
  says: ReactNode;
  children?: ReactNode;
}) {
  return (
    <header className="sheet-head">
      <div>
        <h2>{title}</h2>
        <p className="quiet">{says}</p>
      </div>
      {children && <div className="sheet-tools">{children}</div>}
    </header>
  );
}
