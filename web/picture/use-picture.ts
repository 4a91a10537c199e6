import { useMemo, useState } from 'react';
import {
  nodeOf,
  pictureOf,
  severityOrder,
  shownAs,
  type Layout,
  type Picture,
  type Severity,
  type Site,
} from '../../core/index.ts';
import { useAnalysis, useSite } from '../app/analysis.ts';
import { useLayout } from './site-picture.tsx';

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

/** The picture of the open site, as it is folded here. */
export function usePicture(): DrawnPicture {
  const site = useSite();
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const picture = useMemo(() => pictureOf(site, open), [site, open]);
  const layout = useLayout(picture);
  return {
    site,
    picture,
    layout,
    open,
    toggle: (id) => setOpen(new Set(open.has(id) ? [...open].filter((each) => each !== id) : [...open, id])),
    shown: (id) => shownAs(picture, site, id),
  };
}

/** The gravest finding at each node. */
export function useMarks({ site, shown }: DrawnPicture): ReadonlyMap<string, Severity> {
  const findings = useAnalysis()?.findings;
  const marks = new Map<string, Severity>();
  for (const { at, severity } of findings ?? []) {
    const id = nodeOf(site, at);
    if (id === undefined || severity === 'advice') continue;
    const place = shown(id);
    const known = marks.get(place);
    if (!known || severityOrder[severity] < severityOrder[known]) marks.set(place, severity);
  }
  return marks;
}
