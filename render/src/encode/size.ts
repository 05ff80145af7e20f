import { fitted, longEdge } from '@bexlen/core';
import type { FileWish } from '@bexlen/api';

/** Pixels of a file: as a wish has them, no more than the picture has. */
export function sizeOfFile(
  full: { readonly width: number; readonly height: number },
  { edge, box, megapixels }: Pick<FileWish, 'edge' | 'box' | 'megapixels'>,
): {
  width: number;
  height: number;
} {
  const share = Math.min(
    1,
    edge === undefined ? 1 : edge / longEdge(full),
    box ? Math.min(box.width / full.width, box.height / full.height) : 1,
    megapixels === undefined ? 1 : Math.sqrt((megapixels * 1e6) / (full.width * full.height)),
  );
  return share === 1 ? full : fitted(full, Math.max(1, Math.round(longEdge(full) * share)));
}
