import { clamp, filmPlaceOf, longEdge, neededOf, pictureSize, reachOf, shapeOf, type Rect } from '@bexlen/core';
import type { Estimate, FileWish } from '@bexlen/api';
import { decodeFitted, here, type Decoded } from '@bexlen/render/decode/decode';
import { checkSides, depthOf, encoded } from '@bexlen/render/encode/encode';
import { profileOf } from '@bexlen/render/decode/profile';
import { sizeOfFile } from '@bexlen/render/encode/size';
import { gamutOf, pixelsOf, type Wanted, type Watch, type Work } from '@bexlen/render/make/make';
import { sharpened } from '@bexlen/render/make/sharpening';
import type { Workshop } from '@bexlen/render/pool/workshop';

/** Squares of the picture that are made: so many across and down, of so many pixels. */
const GRID = 4;
const SIDE = 160;
/** What lies around a square and is read, at most: how large a file gets is hardly touched by what comes from further. */
const MOST_REACH = 96;
/** A picture of no more pixels than this is made whole. */
const SMALL = 1.2e6;

/**
 * About how many bytes a file will have: squares spread over the picture are made at the size of the file and encoded as one mosaic; what a file takes beside its pixels is told apart.
 */
export async function estimateOf(
  workshop: Workshop,
  work: Wanted & Pick<Work, 'metadata'> & { readonly photo: { readonly width: number; readonly height: number } },
  given: FileWish,
  watch: Watch = {},
): Promise<Estimate> {
  const { source, stack, photo, supplies } = work;
  const gamut = gamutOf(given, source);
  const wish = { ...given, gamut };
  const { geometry } = stack;
  const full = pictureSize(geometry, photo);
  const size = sizeOfFile(full, wish);
  checkSides(wish, size);
  const depth = depthOf(wish);
  const channels = source.alpha ? 4 : 3;
  const format = `${channels === 4 ? 'rgba' : 'rgb'}${depth}` as const;
  const scale = longEdge(size) / longEdge(full);
  const finished = sharpened(stack, wish.sharpen, longEdge(photo) * scale);
  const metadata = (await work.metadata?.(size)) ?? {};
  const beside = [metadata.exif, metadata.xmp, metadata.iptc, await profileOf(gamut)].reduce((sum, part) => sum + (part?.length ?? 0), 0);
  const bytesOf = async (pixels: Uint8Array, width: number, height: number): Promise<number> =>
    (await encoded(pixels, { width, height, depth, channels }, wish)).reduce((sum, part) => sum + part.length, 0);
  const fittedTo = work.fittedTo ?? ((edge: number) => decodeFitted(source, edge));
  if (size.width * size.height <= SMALL) {
    const whole = await pixelsOf(workshop, { source, stack: finished, supplies, fittedTo, gamut, size: longEdge(size) }, format, undefined, watch);
    return { ...size, bytes: (await bytesOf(whole.pixels, whole.width, whole.height)) + beside };
  }
  const decoded = await fittedTo(Math.ceil(longEdge(photo) * scale));
  const reach = Math.min(MOST_REACH, reachOf(finished, filmPlaceOf({ width: photo.width * scale, height: photo.height * scale })));
  const mosaic = new Uint8Array(GRID * GRID * SIDE * SIDE * channels * (depth / 8));
  const row = SIDE * channels * (depth / 8);
  for (let k = 0; k < GRID * GRID; k++) {
    watch.signal?.throwIfAborted();
    const place = (at: number, length: number): number => Math.round(((at + 0.5) / GRID) * length - SIDE / 2);
    const area = { x: place(k % GRID, size.width), y: place(Math.floor(k / GRID), size.height), w: SIDE, h: SIDE };
    const pixels = await squareOf(workshop, { source, stack: finished, supplies, gamut }, { decoded, photo, size, area, reach, format });
    for (let y = 0; y < SIDE; y++) mosaic.set(pixels.subarray(y * row, (y + 1) * row), (k * SIDE + y) * row);
  }
  const made = await bytesOf(mosaic, SIDE, GRID * GRID * SIDE);
  const least = await bytesOf(new Uint8Array(16 * 16 * channels * (depth / 8)), 16, 16);
  const share = (size.width * size.height) / (GRID * GRID * SIDE * SIDE);
  return { ...size, bytes: Math.round((made - least) * share + least + beside) };
}

interface Square {
  readonly decoded: Decoded;
  readonly photo: { readonly width: number; readonly height: number };
  readonly size: { readonly width: number; readonly height: number };
  readonly area: Rect;
  readonly reach: number;
  readonly format: Parameters<typeof pixelsOf>[2];
}

/** A square of the finished picture out of a decoded photo, with what it reads around it. */
async function squareOf(workshop: Workshop, work: Wanted, { decoded, photo, size, area, reach, format }: Square): Promise<Uint8Array> {
  const { geometry } = work.stack;
  const [x, y] = [clamp(area.x - reach, 0, size.width), clamp(area.y - reach, 0, size.height)];
  const patch = { x, y, w: clamp(area.x + area.w + reach, 0, size.width) - x, h: clamp(area.y + area.h + reach, 0, size.height) - y };
  const needed = neededOf(geometry, photo, { x: x / size.width, y: y / size.height, width: patch.w / size.width, height: patch.h / size.height });
  const part = cut(decoded, needed, photo);
  const shape = shapeOf(geometry, { photo, rect: part.rect, layout: part.pixels.layout }, size, patch);
  const { width, pixels } = await pixelsOf(workshop, { ...work, laid: { pixels: here(part.pixels), shape } }, format);
  const bytes = pixels.length / (width * patch.h);
  const out = new Uint8Array(area.w * area.h * bytes);
  for (let line = 0; line < area.h; line++) {
    const from = ((area.y - y + line) * width + area.x - x) * bytes;
    out.set(pixels.subarray(from, from + area.w * bytes), line * area.w * bytes);
  }
  return out;
}

/** The pixels of a decoded photo that a rectangle of it needs, and the rectangle that they are, in the photo's own pixels. */
function cut({ layout, pixels }: Decoded, { x, y, w, h }: Rect, photo: { width: number; height: number }): { pixels: Decoded; rect: Rect } {
  const [sx, sy] = [layout.width / photo.width, layout.height / photo.height];
  const [left, top] = [Math.floor(x * sx), Math.floor(y * sy)];
  const [right, bottom] = [Math.min(layout.width, Math.ceil((x + w) * sx)), Math.min(layout.height, Math.ceil((y + h) * sy))];
  const bytes = layout.channels * (layout.depth / 8);
  const [width, height] = [right - left, bottom - top];
  const out = new Uint8Array(width * height * bytes);
  for (let line = 0; line < height; line++) {
    const from = ((top + line) * layout.width + left) * bytes;
    out.set(pixels.subarray(from, from + width * bytes), line * width * bytes);
  }
  return { pixels: { layout: { ...layout, width, height }, pixels: out }, rect: { x: left / sx, y: top / sy, w: width / sx, h: height / sy } };
}
