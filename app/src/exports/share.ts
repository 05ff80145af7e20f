import { formatOf, type ExportJob } from '@bexlen/api';
import { exportUrl } from '../state/server';
import { say } from '../words';

const TYPES: Partial<Record<ExportJob['format'], string>> = { pdf: 'application/pdf', ora: 'image/openraster' };
const typeOf = (format: ExportJob['format']): string => TYPES[format] ?? formatOf(format as Parameters<typeof formatOf>[0]).type;

/** Whether this device hands files of a format on by a sheet of its own (Web Share, level 2). */
export function canShare(format: ExportJob['format']): boolean {
  if (typeof navigator === 'undefined' || typeof navigator.canShare !== 'function') return false;
  return navigator.canShare({ files: [new File([''], 'file', { type: typeOf(format) })] });
}

/** Whether this device takes pictures of a format onto its clipboard (Clipboard API), and has no sheet of its own for them. */
export const canCopy = (format: ExportJob['format']): boolean =>
  !canShare(format) && SEEN.has(format) && typeof ClipboardItem !== 'undefined' && typeof navigator.clipboard?.write === 'function';
/** Formats that a browser can draw. */
const SEEN = new Set<ExportJob['format']>(['jpeg', 'png', 'webp', 'avif']);

/**
 * Copies a finished picture, as a PNG, which is what clipboards take.
 * @returns a sentence on what came of it.
 */
export async function copy({ id }: Pick<ExportJob, 'id'>): Promise<string> {
  const asPng = async (): Promise<Blob> => {
    const answer = await fetch(exportUrl(id));
    const picture = await createImageBitmap(await answer.blob());
    const canvas = new OffscreenCanvas(picture.width, picture.height);
    canvas.getContext('2d')?.drawImage(picture, 0, 0);
    return canvas.convertToBlob({ type: 'image/png' });
  };
  try {
    // Promised at once: the browser asks for a tap that was just now.
    await navigator.clipboard.write([new ClipboardItem({ 'image/png': asPng() })]);
    return say.exports.thePictureIsOnTheClipboard;
  } catch {
    return say.exports.thePictureCouldNotBeCopied;
  }
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
      if (!answer.ok) return say.exports.theFileCouldNotBeLoaded;
      fetched = { id, file: new File([await answer.blob()], fileName, { type: typeOf(format) }) };
    }
    await navigator.share({ files: [fetched.file] });
    return undefined;
  } catch (error) {
    const { name } = error as Error;
    // It was put away.
    if (name === 'AbortError') return undefined;
    if (name === 'NotAllowedError' && fetched?.id === id) return say.exports.theFileIsReadyTapShare;
    return say.exports.theFileCouldNotBeShared;
  } finally {
    underWay = false;
  }
}
