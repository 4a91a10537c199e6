import { fileName } from '../../core/index.ts';

/** Hands a file to the browser's own saving. */
export const download = (name: string, parts: BlobPart[], type: string): void =>
  saveBlob(name, new Blob(parts, { type }));

export function saveBlob(name: string, blob: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = fileName(name);
  link.click();
  URL.revokeObjectURL(link.href);
}
