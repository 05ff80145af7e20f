/**
 * Makes the demo photos that hold more than sRGB out of the other ones: two in Display P3, whose strong colours are led on into what that holds beyond sRGB, and a
 * digital negative of a camera that does not exist.
 */
import fs from 'node:fs';
import sharp from 'sharp';
import { decodeRgb, encodeRgb, linearToOklab, luma, oklabToLinear, type Rgb } from '../core/src/pixels/colour';
import { linearIn } from '../core/src/pixels/gamut';
import { profileOf, withJpegProfile } from '../render/src/decode/profile';
import { madeDng } from '../server/test/dng';

interface Part {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** A part of a demo photo, as encoded sRGB, one pixel after another. */
async function partOf(
  name: string,
  part: Part,
  width: number,
  blur?: number,
): Promise<{ width: number; height: number; at: (x: number, y: number) => Rgb }> {
  const { data, info } = await sharp(`demo/${name}.jpg`)
    .extract(part)
    .resize({ width })
    .blur(blur ?? false)
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const value = (i: number): number => (data[i] as number) / 255;
  return { ...info, at: (x, y) => [0, 1, 2].map((c) => value(3 * (y * info.width + x) + c)) as unknown as Rgb };
}

/** Chroma below which a colour stays as it is, and how steeply it grows from there. */
const KNEE = 0.07;

/** A colour of sRGB led on: the stronger it is, the further it goes, as far as Display P3 holds it. Encoded Display P3. */
function ledOn(rgb: Rgb, growth: number): Rgb {
  const [lightness, a, b] = linearToOklab(decodeRgb(rgb));
  const chroma = Math.hypot(a, b);
  const wanted = chroma <= KNEE ? 1 : (KNEE + (chroma - KNEE) * growth) / chroma;
  const at = (share: number): Rgb => linearIn('display-p3', oklabToLinear([lightness, a * share, b * share]));
  const fits = (share: number): boolean => at(share).every((v) => v >= -1e-6 && v <= 1 + 1e-6);
  let share = wanted;
  while (share > 1 && !fits(share)) share = Math.max(1, share - 0.01);
  return encodeRgb(at(share).map((v) => Math.min(1, Math.max(0, v))) as unknown as Rgb);
}

async function wide(from: string, to: string, part: Part, growth: number): Promise<void> {
  const { width, height, at } = await partOf(from, part, 1600);
  const out = Buffer.alloc(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) ledOn(at(x, y), growth).forEach((v, c) => (out[3 * (y * width + x) + c] = Math.round(v * 255)));
  // The pixels are Display P3 already: the encoder is not to convert them, and the profile is put in behind it.
  const jpeg = await sharp(out, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 92, chromaSubsampling: '4:4:4' })
    .toBuffer();
  fs.writeFileSync(to, Buffer.concat(withJpegProfile(jpeg, await profileOf('display-p3'))));
}

/** What a lens blurs, in pixels: without it a mosaic makes colours of fine detail. */
const LENS = 0.8;

/** The sky of the negative is brighter than its sensor can hold, the shade is a stop too dark. */
async function negative(from: string, to: string, part: Part): Promise<void> {
  const { width, height, at } = await partOf(from, part, 960, LENS);
  const even = (n: number): number => n - (n % 2);
  const scene = (x: number, y: number): Rgb => {
    const light = decodeRgb(at(x, y));
    const over = 0.5 + 2.2 * Math.max(0, luma(light) - 0.35);
    return light.map((v) => v * over) as unknown as Rgb;
  };
  fs.writeFileSync(to, madeDng(even(width), even(height), scene));
}

await wide('lantern-lane', 'demo/wide/lanterns.jpg', { left: 420, top: 150, width: 1380, height: 1035 }, 2.2);
await wide('orchard-avenue', 'demo/wide/last-green.jpg', { left: 200, top: 100, width: 1500, height: 1125 }, 2);
await negative('tower-path', 'demo/wide/tower-door.dng', { left: 500, top: 200, width: 1500, height: 1000 });
