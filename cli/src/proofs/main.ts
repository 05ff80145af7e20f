/**
 * Proof sheets: every kind of layer at its shown setting, a quarter of it, the far ends of its params and all its variants, over photos that show its faults, small
 * and at 1:1 where most new steps are. Prints what stands out. `npm run proofs [KIND...]` writes them to proofs/.
 */
import fs from 'node:fs/promises';
import path from 'node:path';
import sharp, { type OverlayOptions } from 'sharp';
import { emptyStack, kinds, newLayer, type Bytes, type Kind, type KindLayer, type Stack } from '@bexlen/core';
import { decode, here, type Decoded } from '@bexlen/render/decode/decode';
import { Workshop } from '@bexlen/render/pool/workshop';
import { makesSteps, photosFor, settingsOf, type Setting } from './settings';
import { shareUnder, smoothPlaces, stepsOf, tonesOf, type Steps, type Tones } from './steps';

const root = path.resolve(import.meta.dirname, '../../..');
const OUT = path.join(root, 'proofs');
const CELL = { width: 300, height: 200 };
const GAP = 6;
const LABEL = 18;
const COLUMNS = 6;
/** Shares of a picture that are told of: new steps, and pixels newly under level 3. */
const MANY_STEPS = 5e-4;
const MANY_CRUSHED = 0.01;
const CRUSHED = 3;

interface Photo extends Decoded {
  readonly name: string;
  readonly tones: Tones;
  readonly smooth: Uint8Array;
  /** Pixels as a screen has them. */
  readonly seen: Bytes;
}

const photos = new Map<string, Promise<Photo>>();
const photo = (name: string): Promise<Photo> => {
  const known = photos.get(name) ?? open(name);
  photos.set(name, known);
  return known;
};

async function open(name: string): Promise<Photo> {
  const decoded = await decode({ file: path.join(root, 'demo', `${name}.jpg`), depth: 8, alpha: false });
  const tones = tonesOf(decoded.layout.width, decoded.layout.height, decoded.pixels);
  const { width, height } = decoded.layout;
  const data = await sharp(decoded.pixels, { raw: { width, height, channels: 3 } })
    .ensureAlpha()
    .raw()
    .toBuffer();
  return { name, ...decoded, tones, smooth: smoothPlaces(tones), seen: { width, height, data } };
}

const workshop = new Workshop({ worker: path.join(root, 'build/worker.mjs'), kernels: path.join(root, 'build/kernels.wasm') }, 2);

async function rendered(of: Photo, stack: Stack): Promise<Buffer> {
  const pool = await workshop.hire();
  await pool.open(here(of));
  const { pixels } = await pool.render(stack, 'rgb8');
  const copy = Buffer.from(pixels);
  await workshop.takeBack(pool);
  return copy;
}

function layerOf(kind: Kind, of: Photo, { params, strength }: Setting): KindLayer {
  const layer = newLayer(kind.id as KindLayer['kind'], 'proof', of.seen);
  return { ...layer, params: { ...layer.params, ...params }, strength };
}

interface Cell {
  readonly setting: Setting;
  readonly steps: Steps;
  readonly small: Buffer;
  readonly close: Buffer;
}

async function cellOf(kind: Kind, of: Photo, given: Setting): Promise<Cell> {
  const { width, height } = of.layout;
  const layer = layerOf(kind, of, given);
  const pixels = await rendered(of, { ...emptyStack, layers: [layer] });
  const tones = tonesOf(width, height, pixels);
  const steps = stepsOf(of.smooth, tones, CELL);
  const image = sharp(pixels, { raw: { width, height, channels: 3 } });
  const crushed = shareUnder(tones, CRUSHED) - shareUnder(of.tones, CRUSHED);
  const told = [
    ...(steps.share > MANY_STEPS && !makesSteps(kind) ? [`${(100 * steps.share).toFixed(2)} % new steps`] : []),
    ...(crushed > MANY_CRUSHED ? [`${(100 * crushed).toFixed(1)} % newly black`] : []),
  ];
  if (told.length > 0) console.log(`${kind.id}, ${given.label}, ${of.name}: ${told.join(', ')}`);
  return {
    setting: given,
    steps,
    small: await image.clone().resize(CELL.width, CELL.height, { fit: 'contain', background: '#777' }).png().toBuffer(),
    close: await image
      .extract({ left: steps.worst.x, top: steps.worst.y, ...CELL })
      .png()
      .toBuffer(),
  };
}

const labelled = (text: string): Buffer =>
  Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${CELL.width}" height="${LABEL}"><text x="2" y="13" font-family="sans-serif" font-size="12" fill="#eee">${text.replace(/&/g, '&amp;')}</text></svg>`,
  );

async function sheet(kind: Kind): Promise<void> {
  const settings = settingsOf(kind);
  const pieces: OverlayOptions[] = [];
  const pitch = { x: CELL.width + GAP, y: 2 * CELL.height + LABEL + GAP };
  let row = 0;
  for (const name of photosFor(kind)) {
    const of = await photo(name);
    for (const [i, setting] of settings.entries()) {
      const { steps, small, close } = await cellOf(kind, of, setting);
      const [left, top] = [(i % COLUMNS) * pitch.x, (row + Math.floor(i / COLUMNS)) * pitch.y];
      const label = labelled(`${setting.label} · ${(100 * steps.share).toFixed(2)} % steps`);
      pieces.push({ input: label, left, top }, { input: small, left, top: top + LABEL }, { input: close, left, top: top + LABEL + CELL.height });
    }
    row += Math.ceil(settings.length / COLUMNS);
  }
  const size = { width: Math.min(COLUMNS, settings.length) * pitch.x, height: row * pitch.y };
  await sharp({ create: { ...size, channels: 3, background: '#444' } })
    .composite(pieces)
    .png({ compressionLevel: 3 })
    .toFile(path.join(OUT, `${kind.id}.png`));
}

const wanted = process.argv.slice(2);
await fs.mkdir(OUT, { recursive: true });
const all = (kinds as readonly unknown[] as readonly Kind[]).filter(({ id }) => wanted.length === 0 || wanted.includes(id));
for (const kind of all) await sheet(kind);
await workshop.close();
console.log(`${all.length} sheets in proofs/`);
