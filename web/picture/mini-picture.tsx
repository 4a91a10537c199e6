import { Link } from 'react-router';
import { nodeOf } from '../../core/index.ts';
import { usePlace } from '../state/focus.ts';
import { SitePicture } from './site-picture.tsx';
import { useMarks, usePicture } from './use-picture.ts';

/** The picture at the edge of every sheet: where findings are, and where the field in focus is. */
export function MiniPicture() {
  const drawn = usePicture('edge');
  const marks = useMarks(drawn);
  const place = usePlace();
  if (!drawn) return null;
  const here = place === '' ? undefined : nodeOf(drawn.site, place);
  return (
    <Link to="picture" className="mini-picture" title="Picture of the site" aria-label="Picture of the site">
      <SitePicture
        picture={drawn.picture}
        layout={drawn.layout}
        marks={marks}
        selected={here && drawn.shown(here)}
      />
    </Link>
  );
}
