import Button from '@mui/material/Button';
import { useState, type ReactNode } from 'react';
import type { FolderFormatName, SiteFormatName } from '../../core/index.ts';
import { useSources } from '../state/sources.ts';
import { download } from './download.ts';

const fileFormats = () => import('./file-formats.ts');

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
  const [says, setSays] = useState<string>();
  const save = async (): Promise<void> => {
    before?.();
    const { siteFormats } = await fileFormats();
    const { fileName, write, mediaType } = siteFormats[format];
    const made = sources();
    download(fileName(made), [write(made)], mediaType);
  };
  return (
    <Button
      onClick={() => void save()}
      // Whoever comes near reads what the file is, and has its writer at hand.
      onPointerEnter={() => void fileFormats().then(({ siteFormats }) => setSays(siteFormats[format].says))}
      title={title ?? says}
    >
      {children}
    </Button>
  );
}

/** The same for files that belong together: a folder, packed as ZIP. */
export function SaveFolder({ format, children }: { format: FolderFormatName; children: ReactNode }) {
  const sources = useSources();
  const [says, setSays] = useState<string>();
  const save = async (): Promise<void> => {
    const [{ strToU8, zipSync }, { folderFormats }] = await Promise.all([import('fflate'), fileFormats()]);
    const { write } = folderFormats[format];
    const made = sources();
    const files = [...write(made)].map(([name, text]) => [name, strToU8(text)] as const);
    download(
      `${made.siteId}-${format}.zip`,
      [zipSync(Object.fromEntries(files)) as BlobPart],
      'application/zip',
    );
  };
  return (
    <Button
      onClick={() => void save()}
      onPointerEnter={() =>
        void fileFormats().then(({ folderFormats }) => setSays(folderFormats[format].says))
      }
      title={says}
    >
      {children}
    </Button>
  );
}
