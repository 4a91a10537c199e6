import { useEffect, useState } from 'react';
import {
  nodeOf,
  severityOrder,
  shownAs,
  type Layout,
  type Picture,
  type Severity,
  type Site,
} from '../../core/index.ts';
import { analysisWorker, useAnalysis, useSite } from '../app/analysis.ts';

export interface DrawnPicture {
  readonly site: Site;
  readonly picture: Picture;
  readonly layout: Layout;
  /** Groups that are not folded. */
  readonly open: ReadonlySet<string>;
  readonly toggle: (id: string) => void;
  /** The node as the picture shows it: itself, or the group that it is folded into. */
  readonly shown: (id: string) => string;
}

/** The picture of the open site, as it is folded here; undefined while it is laid out. */
export function usePicture(): DrawnPicture | undefined {
  const site = useSite();
  const analysis = useAnalysis();
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const [drawn, setDrawn] = useState<Pick<DrawnPicture, 'picture' | 'layout'>>();
  useEffect(() => {
    if (!analysis) return undefined;
    let current = true;
    void analysisWorker()
      .picture([...open])
      .then(
        (found) => current && found && setDrawn(found),
        () => {},
      );
    return () => {
      current = false;
    };
  }, [analysis, open]);
  return (
    drawn && {
      ...drawn,
      site,
      open,
      toggle: (id) =>
        setOpen(new Set(open.has(id) ? [...open].filter((each) => each !== id) : [...open, id])),
      shown: (id) => shownAs(drawn.picture, site, id),
    }
  );
}

/** The gravest finding at each node. */
export function useMarks(drawn: DrawnPicture | undefined): ReadonlyMap<string, Severity> {
  const findings = useAnalysis()?.findings;
  const marks = new Map<string, Severity>();
  if (!drawn) return marks;
  const { site, shown } = drawn;
  for (const { at, severity } of findings ?? []) {
    const id = nodeOf(site, at);
    if (id === undefined || severity === 'advice') continue;
    const place = shown(id);
    const known = marks.get(place);
    if (!known || severityOrder[severity] < severityOrder[known]) marks.set(place, severity);
  }
  return marks;
}
