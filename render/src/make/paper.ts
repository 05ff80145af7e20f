import type { SheetWish } from '@bexlen/api';

/** A sheet of paper and how many pictures stand beside each other on it. */
export type Paper = Pick<SheetWish, 'page' | 'upright' | 'columns'>;

/** Sizes of paper in points, upright. */
const PAGES = { a4: [595.28, 841.89], letter: [612, 792] } as const;
export const MARGIN = 36;
export const GAP = 14;
/** What the title takes at the head of each page, and the words below each picture. */
const TITLE = 30;
const WORDS = 26;

/** Where a picture lies, in points from the left and the top of its page, beginning with 0. Its words stand below it. */
export interface Spot {
  readonly page: number;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** The room that is cut out along the marks: picture, words, and half of what lies around. */
  readonly cut: { readonly left: number; readonly top: number; readonly right: number; readonly bottom: number };
}

export function pageSize({ page, upright }: Paper): [number, number] {
  const [short, long] = PAGES[page];
  return upright ? [short, long] : [long, short];
}
/** The width of a column, in points. */
export const columnWidth = (paper: Paper): number => (pageSize(paper)[0] - 2 * MARGIN - (paper.columns - 1) * GAP) / paper.columns;

/**
 * Lays pictures out in rows: each as wide as its column, each row as high as the highest picture in it, so that no row is higher than it need be. An upright picture
 * is no higher than its column is wide, and what goes beyond the foot of a page begins the next one.
 * @param sizes of the pictures, in any unit.
 */
export function laidOut(paper: Paper, sizes: readonly { readonly width: number; readonly height: number }[]): Spot[] {
  const [, pageHeight] = pageSize(paper);
  const column = columnWidth(paper);
  const [first, last] = [MARGIN + TITLE, pageHeight - MARGIN];
  const highest = Math.min(column, last - first - WORDS);
  const rows = Array.from({ length: Math.ceil(sizes.length / paper.columns) }, (_, i) => sizes.slice(i * paper.columns, (i + 1) * paper.columns));
  let [page, y] = [0, first];
  return rows.flatMap((row) => {
    const fitted = row
      .map(({ width, height }) => Math.min(column / width, highest / height))
      .map((k, i) => [(row[i]?.width ?? 0) * k, (row[i]?.height ?? 0) * k] as const);
    const high = Math.max(...fitted.map(([, height]) => height));
    if (y > first && y + high + WORDS > last) [page, y] = [page + 1, first];
    const top = y;
    y += high + WORDS + GAP;
    return fitted.map(([width, height], i) => {
      const left = MARGIN + i * (column + GAP);
      const cut = { left: left - GAP / 2, top: top - GAP / 2, right: left + column + GAP / 2, bottom: top + high + WORDS + GAP / 2 };
      return { page, x: left + (column - width) / 2, y: top + high - height, width, height, cut };
    });
  });
}
