import Typography from '@mui/material/Typography';
import { useLayoutEffect, useRef, useState, type ReactNode } from 'react';

/** Title of a sheet, what it is for in one line, what belongs at its right edge, and its parts where they are many. */
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
        <Typography variant="h2">{title}</Typography>
        <p className="quiet">{says}</p>
      </div>
      {children && <div className="sheet-tools">{children}</div>}
      <PartLinks />
    </header>
  );
}

/** A sheet with fewer parts is seen at a glance. */
const fewestParts = 6;

/** Links to the parts of a long sheet, read from its headings as parts come and go. */
function PartLinks() {
  const place = useRef<HTMLElement>(null);
  const [parts, setParts] = useState<readonly (readonly [id: string, title: string])[]>([]);
  // Before the first paint: nothing below may move once it is seen.
  useLayoutEffect(() => {
    const sheet = place.current?.closest('.sheet');
    if (!sheet) return;
    const gather = (): void => {
      const found = [...sheet.querySelectorAll('h3[id]')].map(
        ({ id, textContent }) => [id, textContent ?? ''] as const,
      );
      setParts((before) => (before.join() === found.join() ? before : found));
    };
    gather();
    const observer = new MutationObserver(gather);
    observer.observe(sheet, { childList: true, subtree: true });
    return () => observer.disconnect();
  }, []);
  return (
    <nav
      ref={place}
      aria-label="Parts of this sheet"
      className="part-links"
      hidden={parts.length < fewestParts}
    >
      {parts.map(([id, title]) => (
        <a key={id} href={`#${id}`}>
          {title}
        </a>
      ))}
    </nav>
  );
}
