import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { folderFormats, siteFormats, type FolderFormatName, type SiteFormatName } from '../../core/index.ts';
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

/** The same for files that belong together: a folder, packed as ZIP. */
export function SaveFolder({ format, children }: { format: FolderFormatName; children: ReactNode }) {
  const sources = useSources();
  const { write, says } = folderFormats[format];
  const save = async (): Promise<void> => {
    const { strToU8, zipSync } = await import('fflate');
    const made = sources();
    const files = [...write(made)].map(([name, text]) => [name, strToU8(text)] as const);
    download(
      `${made.siteId}-${format}.zip`,
      [zipSync(Object.fromEntries(files)) as BlobPart],
      'application/zip',
    );
  };
  return (
    <Button onClick={() => void save()} title={says}>
      {children}
    </Button>
  );
}
