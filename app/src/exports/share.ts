import { formatOf, type ExportJob } from '@bexlen/api';
import { exportUrl } from '../state/server';

const TYPES: Partial<Record<ExportJob['format'], string>> = { pdf: 'application/pdf', ora: 'image/openraster' };
const typeOf = (format: ExportJob['format']): string => TYPES[format] ?? formatOf(format as Parameters<typeof formatOf>[0]).type;

/** Whether this device hands files of a format on by a sheet of its own (Web Share, level 2). */
export function canShare(format: ExportJob['format']): boolean {
  if (typeof navigator === 'undefined' || typeof navigator.canShare !== 'function') return false;
  return navigator.canShare({ files: [new File([''], 'file', { type: typeOf(format) })] });
}

/** The last file that was fetched: where the device forgot the tap meanwhile, the next one finds it at hand. */
let fetched: { readonly id: string; readonly file: File } | undefined;

let underWay = false;

/**
 * Hands a finished file to the device's own sheet.
 * @returns a sentence where that did not go, with what to do; nothing where it did, or was put away.
 */
export async function share({ id, fileName, format }: Pick<ExportJob, 'id' | 'fileName' | 'format'>): Promise<string | undefined> {
  // The sheet is on its way: whoever taps twice means once.
  if (underWay) return undefined;
  underWay = true;
  try {
    if (fetched?.id !== id) {
      const answer = await fetch(exportUrl(id));
      if (!answer.ok) return 'The file could not be loaded. Make it again, or try later.';
      fetched = { id, file: new File([await answer.blob()], fileName, { type: typeOf(format) }) };
    }
    await navigator.share({ files: [fetched.file] });
    return undefined;
  } catch (error) {
    const { name } = error as Error;
    // It was put away.
    if (name === 'AbortError') return undefined;
    if (name === 'NotAllowedError' && fetched?.id === id) return 'The file is ready. Tap Share once more.';
    return 'The file could not be shared. Download it instead.';
  } finally {
    underWay = false;
  }
}
