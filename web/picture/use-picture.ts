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
import { analysisWorker, useAnalysis, useSite } from '../state/analysis.ts';

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

/** Lays the picture out in this thread, where it is waited for: the other one is busy with findings. */
const layOutHere = async (site: Site, open: ReadonlySet<string>) => {
  const { layoutOf, pictureOf } = await import('./lay-out.ts');
  const picture = pictureOf(site, open);
  return { picture, layout: layoutOf(picture) };
};

/**
 * The picture of the open site, as it is folded here; undefined while it is laid out. At the edge of a sheet it can
 * wait for the thread that has the findings; large it is wanted at once.
 */
export function usePicture(place: 'large' | 'edge'): DrawnPicture | undefined {
  const site = useSite();
  const analysis = useAnalysis();
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const [drawn, setDrawn] = useState<Pick<DrawnPicture, 'picture' | 'layout'>>();
  const ready = place === 'large' ? site : analysis;
  useEffect(() => {
    if (!ready) return undefined;
    let current = true;
    void (place === 'large' ? layOutHere(site, open) : analysisWorker().picture([...open])).then(
      (found) => current && found && setDrawn(found),
      () => {},
    );
    return () => {
      current = false;
    };
    // At the edge it follows the findings, not every key that is typed.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [ready, open, place]);
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
