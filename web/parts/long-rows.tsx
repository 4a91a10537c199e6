import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import useMediaQuery from '@mui/material/useMediaQuery';
import {
  defaultRangeExtractor,
  useVirtualizer,
  useWindowVirtualizer,
  type Range,
} from '@tanstack/react-virtual';
import { useEffect, useLayoutEffect, useRef, useState, type ReactNode } from 'react';
import { useFocus } from '../state/focus.ts';
import { useSignal } from '../state/signal.ts';
import type { RowsProps } from './rows-in-sight.tsx';

/** Number of the row in which a place lies; -1 for a place elsewhere. */
const rowAt = (list: string, place: string): number =>
  place.startsWith(`${list}/`) ? parseInt(place.slice(list.length + 1), 10) : -1;

/** Those rows of a long table that are in sight, and the one in focus. */
export default function LongRows({ at, children }: RowsProps) {
  const start = useRef<HTMLTableSectionElement>(null);
  const focused = useSignal(useFocus().place, (place) => (at === undefined ? -1 : rowAt(at, place)));
  // On a small screen the whole page scrolls, else the sheet.
  const small = useMediaQuery('(max-width: 980px)', { noSsr: true });
  // What stands above the table in what scrolls; it changes when something there is opened.
  const [above, setAbove] = useState(0);
  const options = {
    count: children.length,
    estimateSize: () => 36,
    overscan: 6,
    scrollMargin: above,
    useFlushSync: false,
    rangeExtractor: (range: Range) => {
      const shown = defaultRangeExtractor(range);
      // The keyboard goes on from the row in focus: it and its neighbours stay.
      const near = [focused - 1, focused, focused + 1].filter((row) => row >= 0 && row < range.count);
      return focused < 0 ? shown : [...new Set([...shown, ...near])].sort((a, b) => a - b);
    },
  };
  const sheet = useVirtualizer<HTMLElement, HTMLTableSectionElement>({
    ...options,
    enabled: !small,
    getScrollElement: () => start.current?.closest<HTMLElement>('.sheet') ?? null,
  });
  const page = useWindowVirtualizer<HTMLTableSectionElement>({ ...options, enabled: small });
  const virtual = small ? page : sheet;
  const measureAbove = (): void => {
    const scroller = small ? document.documentElement : start.current?.closest('.sheet');
    if (!scroller || !start.current) return;
    const top = small ? 0 : scroller.getBoundingClientRect().top;
    setAbove(Math.round(start.current.getBoundingClientRect().top - top + scroller.scrollTop));
  };
  useLayoutEffect(measureAbove);
  useEffect(() => virtual.measure(), [virtual, above]);
  const shown = virtual.getVirtualItems();
  let end = above;
  const gap = (to: number, key: string): ReactNode => {
    const height = to - end;
    return height <= 0 ? null : (
      <TableBody key={key} aria-hidden>
        <TableRow className="rows-gap">
          <TableCell style={{ height }} />
        </TableRow>
      </TableBody>
    );
  };
  return (
    <>
      <TableBody ref={start} />
      {shown.flatMap((item) => {
        const before = gap(item.start, `before-${item.index}`);
        end = item.end;
        return [
          before,
          <TableBody key={item.key} data-index={item.index} ref={virtual.measureElement}>
            {children[item.index]}
          </TableBody>,
        ];
      })}
      {gap(above + virtual.getTotalSize(), 'after')}
    </>
  );
}
