import { fileName } from '../../core/index.ts';

/** Hands a file to the browser's own saving. */
export function download(name: string, parts: BlobPart[], type: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob(parts, { type }));
  link.download = fileName(name);
  link.click();
  URL.revokeObjectURL(link.href);
}
