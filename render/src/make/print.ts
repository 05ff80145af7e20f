import { createWriteStream } from 'node:fs';
import fs from 'node:fs/promises';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { longEdge } from '@bexlen/core';
import type { SheetWish } from '@bexlen/api';
import type { Workshop } from '../pool/workshop';
import { make, type Work } from './make';
import { columnWidth, GAP, laidOut, MARGIN, pageSize, type Spot } from './paper';

/** Dots to the inch in which pictures of a sheet are made. */
const DPI = 220;
const POINTS = 72;

/** A picture of a sheet that is made: a JPEG and its size. */
export interface Print {
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly name: string;
  readonly line: string;
}

export type Laid = Pick<SheetWish, 'title' | 'page' | 'upright' | 'columns' | 'marks'>;

/** Files of the faces, in the folder of fonts. */
const FACES = {
  label: 'barlow-semi-condensed-latin-400-normal.woff',
  strong: 'barlow-semi-condensed-latin-600-normal.woff',
  figure: 'spline-sans-mono-latin-400-normal.woff',
};

async function newDocument(title: string, size: [number, number], fonts: string): Promise<PDFKit.PDFDocument> {
  // Few print, and it takes a quarter of a second to load.
  const { default: PDFDocument } = await import('pdfkit');
  const document = new PDFDocument({ size, margin: 0, autoFirstPage: false, info: { Title: title, Producer: 'Bexlen' } });
  for (const [name, file] of Object.entries(FACES)) document.registerFont(name, path.join(fonts, file));
  return document;
}

/** What of a picture of a sheet is known before it is made. */
export interface Cell extends Pick<Print, 'name' | 'line'> {
  readonly work: Pick<Work, 'source' | 'stack' | 'supplies'>;
  /** Its size in pixels as a whole. */
  readonly width: number;
  readonly height: number;
}

/** Makes the pictures of a sheet one after another, each as large as it is printed, into a folder; and lays them out. Returns the bytes written. */
export async function printed(
  workshop: Workshop,
  sheet: Laid,
  cells: readonly Cell[],
  to: string,
  { folder, fonts, watch = {} }: Printing,
): Promise<number> {
  const edge = printEdge(sheet);
  const prints: Print[] = [];
  for (const [i, { work, ...cell }] of cells.entries()) {
    const file = path.join(folder, `${i}.jpg`);
    const size = Math.min(edge, longEdge(cell));
    const progress = (share: number): void => watch.progress?.((i + share) / cells.length, i);
    const wish = { format: 'jpeg', quality: 88, gamut: 'srgb' } as const;
    await make(workshop, { ...work, wish, size, to: file }, { ...(watch.signal && { signal: watch.signal }), progress });
    prints.push({ ...cell, file });
  }
  return writeSheet(sheet, prints, to, fonts);
}

interface Printing {
  /** Where pictures lie until the sheet is done; whoever made it removes it. */
  readonly folder: string;
  /** Where the faces lie. */
  readonly fonts: string;
  /** Told of each step: 0..1 of all, and which picture is being made. */
  readonly watch?: { readonly signal?: AbortSignal; readonly progress?: (share: number, cell: number) => void };
}

/** Lays pictures out on pages, each with its name and a line of values below. Returns the bytes written. */
async function writeSheet(sheet: Laid, prints: readonly Print[], to: string, fonts: string): Promise<number> {
  const page = pageSize(sheet);
  const spots = laidOut(sheet, prints);
  const document = await newDocument(sheet.title, page, fonts);
  const written = pipeline(document, createWriteStream(to));
  const count = (spots.at(-1)?.page ?? 0) + 1;
  const one = (font: string, size: number, text: string, x: number, y: number, room: number, align: 'left' | 'right' = 'left'): void =>
    void document
      .font(font)
      .fontSize(size)
      .fillColor('#222')
      .text(text, x, y, { width: room, height: size * 1.4, ellipsis: true, lineBreak: false, align });
  let begun = -1;
  for (const [i, print] of prints.entries()) {
    const { page: at, x, y, width, height, cut } = spots[i] as Spot;
    if (at !== begun) {
      begun = at;
      document.addPage();
      one('strong', 15, sheet.title, MARGIN, MARGIN - 6, page[0] - 2 * MARGIN - 60);
      one('figure', 9, `${at + 1} / ${count}`, page[0] - MARGIN - 60, MARGIN - 2, 60, 'right');
    }
    document.image(print.file, x, y, { width, height });
    const [left, room] = [cut.left + GAP / 2, cut.right - cut.left - GAP];
    one('strong', 9.5, print.name, left, y + height + 4, room);
    one('figure', 7.5, print.line, left, y + height + 16, room);
    if (sheet.marks) cutMarks(document, cut);
  }
  if (prints.length === 0) document.addPage();
  document.end();
  await written;
  return (await fs.stat(to)).size;
}

/** How far a mark for cutting goes to each side of its corner, in points. */
const MARK = 5;
/** A small cross at each corner of what is cut out. */
function cutMarks(document: PDFKit.PDFDocument, { left, top, right, bottom }: Spot['cut']): void {
  document.lineWidth(0.4).strokeColor('#777');
  for (const x of [left, right])
    for (const y of [top, bottom])
      document
        .moveTo(x - MARK, y)
        .lineTo(x + MARK, y)
        .moveTo(x, y - MARK)
        .lineTo(x, y + MARK)
        .stroke();
}

/** Long edge in pixels of the pictures of a sheet. */
const printEdge = (sheet: Laid): number => Math.ceil((columnWidth(sheet) / POINTS) * DPI);
