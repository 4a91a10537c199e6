import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { siteFormats, type SiteFormatName } from '../../core/index.ts';
import { useSources } from '../app/sources.ts';
import { download } from './download.ts';

/** A button that saves the site that is open as a file in an open format. */
export function SaveFile({
  format,
  title,
  before,
  children,
}: {
  format: SiteFormatName;
  title?: string;
  /** Runs before the file is saved. */
  before?: () => void;
  children: ReactNode;
}) {
  const sources = useSources();
  const { fileName, write, mediaType, says } = siteFormats[format];
  const save = (): void => {
    before?.();
    const made = sources();
    download(fileName(made), [write(made)], mediaType);
  };
  return (
    <Button onClick={save} title={title ?? says}>
      {children}
    </Button>
  );
}
