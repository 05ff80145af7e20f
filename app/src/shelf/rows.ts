interface Sized {
  readonly width: number;
  readonly height: number;
}

export interface Framed<T> {
  readonly it: T;
  readonly width: number;
  readonly height: number;
}

const GAP = 8;
/** A row may be so much higher than wished before a photo less stands in it. */
const STRETCH = 1.35;

/** Photos in their own proportions, in rows of even height that fill the width. The last row is not stretched. */
export function rowsOf<T extends Sized>(photos: readonly T[], width: number, height: number): Framed<T>[][] {
  const rows: Framed<T>[][] = [];
  let row: T[] = [];
  const close = (fill: boolean): void => {
    const shape = row.reduce((sum, photo) => sum + photo.width / photo.height, 0);
    const fitting = (width - GAP * (row.length - 1)) / shape;
    const h = fill ? fitting : Math.min(fitting, height);
    rows.push(row.map((photo) => ({ it: photo, height: h, width: (h * photo.width) / photo.height })));
    row = [];
  };
  for (const photo of photos) {
    row.push(photo);
    const shape = row.reduce((sum, it) => sum + it.width / it.height, 0);
    if ((width - GAP * (row.length - 1)) / shape <= height * STRETCH) close(true);
  }
  if (row.length > 0) close(false);
  return rows;
}
