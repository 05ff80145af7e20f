import { useEffect } from 'react';
import type { FileWithPath } from 'file-selector';
import { isPhotoName } from '@bexlen/api';
import { importFiles } from './sending';

/** Files that were dropped. Of a folder only what can be read is taken, into a roll of its name. */
function inFolders(all: readonly FileWithPath[]): { files: File[]; roll: string | undefined } {
  const folderOf = ({ path = '' }: FileWithPath): string | undefined => /^\.?\/?([^/]+)\/.+/.exec(path)?.[1];
  const folders = new Set(all.map(folderOf));
  const [folder] = folders;
  if (folders.size === 1 && folder !== undefined && folder !== '.') return { files: all.filter(({ name }) => isPhotoName(name)), roll: folder };
  return { files: all.filter((file) => folderOf(file) === undefined || isPhotoName(file.name)), roll: undefined };
}

/** What reads folders comes once the shelf stands: a drop has to be read at once, or it is gone. */
let readFolders: ((event: Event) => Promise<(FileWithPath | DataTransferItem)[]>) | undefined;

/** Photos dropped on the page or pasted into it. */
export function useFilesFromOutside(): void {
  useEffect(() => {
    const over = (event: DragEvent): void => event.preventDefault();
    void import('file-selector').then(
      ({ fromEvent }) => (readFolders = fromEvent),
      () => undefined,
    );
    const take = async (event: DragEvent): Promise<void> => {
      const dropped = readFolders ? await readFolders(event) : [...(event.dataTransfer?.files ?? [])];
      const { files, roll } = inFolders(dropped.filter((file) => file instanceof File));
      if (files.length > 0) importFiles(files, roll);
    };
    const drop = (event: DragEvent): void => {
      if (!event.dataTransfer?.types.includes('Files')) return;
      event.preventDefault();
      void take(event);
    };
    const paste = (event: ClipboardEvent): void => {
      const files = [...(event.clipboardData?.files ?? [])];
      if (files.length === 0) return;
      event.preventDefault();
      importFiles(files);
    };
    window.addEventListener('dragover', over);
    window.addEventListener('drop', drop);
    window.addEventListener('paste', paste);
    return () => {
      window.removeEventListener('dragover', over);
      window.removeEventListener('drop', drop);
      window.removeEventListener('paste', paste);
    };
  }, []);
}
